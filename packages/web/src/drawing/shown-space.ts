import type { Plan } from '@vole/core';
import { useLive } from '../simulation/live-handle.ts';
import { useAppSelector } from '../store/store.ts';

/** Which of a model's spaces is drawn; a model with several shows one at a time. */
export function shownSpace(plan: Plan | undefined, wanted: number): number {
  return Math.min(wanted, Math.max(0, (plan?.spaces.length ?? 0) - 1));
}

export function useShownSpace(): number {
  const plan = useLive((state) => state.plan);
  return shownSpace(
    plan,
    useAppSelector((state) => state.watch.space),
  );
}

/** Whether a kind, field or zone lies on the space that is drawn. Without a space all are drawn. */
export function liesOn(plan: Plan, part: { readonly space: number }, space: number): boolean {
  return plan.spaces.length === 0 || part.space === space;
}
