import type { Plan } from '@vole/core';
import { timeOfDate } from '@vole/core';

/** Where a run is to go: a step, the moment at which a condition of the model language holds, or why it cannot. */
export type RunToWish = { readonly step: number } | { readonly condition: string } | { readonly problem: string };

/** Reads what a modeler wrote behind “run to”; nothing was meant if it is empty. */
export function readRunTo(text: string, plan: Pick<Plan, 'clock'>, stepLimit: number): RunToWish | undefined {
  const wish = text.trim();
  if (wish === '') return undefined;
  const last = stepLimit.toLocaleString('en-GB');
  if (/^\d{4}-\d{1,2}-\d{1,2}$/.test(wish)) {
    if (!plan.clock.start)
      return { problem: 'The model has no calendar: write a step, or give the clock a first day.' };
    const time = timeOfDate(wish, plan);
    if (time === undefined) return { problem: `“${wish}” is no date. Dates read year-month-day: 2031-03-01.` };
    const step = Math.ceil(time / plan.clock.stepLength - 1e-9) + 0;
    return step >= 0 && step <= stepLimit
      ? { step }
      : { problem: `${wish} is not within the run, which has ${last} steps.` };
  }
  if (!/^[-+]?[\d,]*\.?\d+(e[-+]?\d+)?$/i.test(wish)) return { condition: wish };
  const number = Number(wish.replaceAll(',', ''));
  return Number.isInteger(number) && number >= 0 && number <= stepLimit
    ? { step: number }
    : { problem: `“${wish}” is no step of the run. Steps are whole numbers from 0 to ${last}.` };
}
