import type { Leg, Plan } from '@vole/core';
import { shownNumber } from '../words/numbers.ts';

/** A place nearer to a named one than this share of the map has its name. */
const AT_NAME = 1e-3;

/** The parts of a journey in words, and the time that all takes. */
export function journeyWords(
  plan: Plan,
  space: number,
  legs: readonly Leg[],
): { readonly parts: readonly string[]; readonly whole: number } {
  const time = (value: number): string => `${shownNumber(value)} ${plan.clock.unitLabel}`;
  const parts = legs.map((leg) => {
    const to = placeName(plan, space, leg);
    if (leg.is === 'walk') return `on foot to ${to}, ${time(leg.time)}`;
    const wait = leg.wait > 0 ? `, after a wait of ${time(leg.wait)}` : '';
    return `by ${plan.lines[leg.line]!.name} to ${to}, ${time(leg.time)}${wait}`;
  });
  return { parts, whole: legs.reduce((sum, leg) => sum + leg.time + (leg.is === 'ride' ? leg.wait : 0), 0) };
}

function placeName(plan: Plan, space: number, { x, y }: Leg): string {
  const { lanes, unitLabel } = plan.spaces[space]!;
  const near = AT_NAME * Math.max(lanes?.width ?? 0, lanes?.height ?? 0);
  const named = lanes?.places.find((place) => Math.hypot(place.x - x, place.y - y) <= near);
  return named?.name ?? `(${shownNumber(x)}, ${shownNumber(y)}) ${unitLabel}`.trim();
}
