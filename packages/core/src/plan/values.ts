import { mix } from '../engine/random/stream.ts';
import type { ScriptTimelineLine } from '../engine/script.ts';
import type { World } from '../engine/world.ts';
import type { Gathering } from '../measures/numeric/gather.ts';
import { gather } from '../measures/numeric/gather.ts';
import type * as P from './plan.ts';

/** What single operations of a plan mean; both engines and the summaries go by it. */

/** Draws of a random cell before looking on from the last one for an empty cell. */
export const CELL_TRIES = 32;

export function clockValue(which: P.ClockValue, world: World): number {
  switch (which) {
    case 'now':
      return world.now;
    case 'step length':
      return world.clock.stepLength;
    case 'end of step':
      return world.end;
    case 'hour':
      return world.hour;
    case 'weekday':
      return world.weekday;
    case 'month':
      return world.month;
    case 'year':
      return world.year;
    case 'day of year':
      return world.dayOfYear;
    case 'date':
      return world.date;
  }
}

export function binaryFunction(fn: Exclude<P.BinaryFunction, 'and' | 'or'>, a: number, b: number): number {
  switch (fn) {
    case '+':
      return a + b;
    case '-':
      return a - b;
    case '*':
      return a * b;
    case '/':
      return a / b;
    case '<':
      return a < b ? 1 : 0;
    case '<=':
      return a <= b ? 1 : 0;
    case '>':
      return a > b ? 1 : 0;
    case '>=':
      return a >= b ? 1 : 0;
    case 'is':
      return a === b ? 1 : 0;
    case 'is not':
      return a !== b ? 1 : 0;
  }
}

/** The timeline's conditions with their values as questions to the script. */
export function askWhen(when: P.TimelineWhen, ask: (body: P.AskedBody) => () => number): ScriptTimelineLine['when'] {
  switch (when.is) {
    case 'at':
      return { is: 'at', time: ask(when.time) };
    case 'from':
      return { is: 'from', from: ask(when.from), to: ask(when.to) };
    case 'every':
      return { is: 'every', period: ask(when.period) };
    case 'every year on':
    case 'every day':
      return when;
    default:
      return { is: when.is, condition: ask(when.condition) };
  }
}

/** The words of a `log` line. */
export function noteText(
  values: readonly { readonly text?: string; readonly options?: readonly string[] }[],
  numbers: readonly number[],
): string {
  return values
    .map((value, i) => value.text ?? value.options?.[numbers[i]!] ?? String(Number(numbers[i]!.toPrecision(6))))
    .join(' ');
}

/** When a message that is sent after a delay is due; one without a delay has none. At least one step later (S5). */
export function dueAfter(delay: number, world: World): number {
  return world.end + (delay > 0 ? delay : 0.5 * world.stepLength);
}

/** The key of the luck with which a message is taken up: of its reaction, the round, and its place among those of its receiver. */
export function deliveryKey(key: number, round: number, ordinal: number): number {
  return mix(mix(key ^ Math.imul(round + 1, 0x9e3779b1)) + Math.imul(ordinal + 1, 0x85ebca6b));
}

/** The keys of the luck with which exact start shares are drawn, and with which those drawn enter their state. */
export function startKeys(kind: number, machine: number): { readonly draw: number; readonly enter: number } {
  const key = mix(mix(kind + 0x7f4a7c15) + machine);
  return { draw: key, enter: mix(key ^ 0x3c6ef35f) };
}

/** Gathers the values of a measure in the rows later than a time before the latest one (S27); empty ones are passed over, as in summaries. */
export function recentOf(
  world: World,
  fn: Gathering,
  measure: number,
  time: number,
  level: number | undefined,
): number {
  const width = world.row.length;
  const { isTaking } = world;
  const latest = isTaking ? world.rowCount : world.rowCount - 1;
  const first = Math.max(0, Math.floor(latest - time / world.stepLength + 1e-9) + 1);
  const values: number[] = [];
  for (let row = first; row < world.rowCount; row++) values.push(world.rows[row * width + measure]!);
  if (isTaking) values.push(world.row[measure]!);
  const present = Float64Array.from(values.filter((value) => !Number.isNaN(value)));
  return gather(fn, present, present.length, level);
}
