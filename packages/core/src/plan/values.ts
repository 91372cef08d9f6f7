import { mix } from '../engine/random/stream.ts';
import type { ExecutableTimelineLine } from '../engine/executable.ts';
import type { RunContext } from '../engine/run-context.ts';
import type { Gathering } from '../measures/numeric/gather.ts';
import { gather } from '../measures/numeric/gather.ts';
import type * as P from './plan.ts';

export { MOST_ITEMS } from '../language/limits.ts';

/** What single operations of a plan mean; both engines and the summaries go by it. */

/** Draws of a random cell, or agent, before looking on from the last one for an empty cell, or listing those that fit. */
export const TRIES = 32;

export function clockValue(which: P.ClockValue, context: RunContext): number {
  switch (which) {
    case 'now':
      return context.now;
    case 'step length':
      return context.clock.stepLength;
    case 'end of step':
      return context.end;
    case 'hour':
      return context.hour;
    case 'weekday':
      return context.weekday;
    case 'month':
      return context.month;
    case 'year':
      return context.year;
    case 'day of year':
      return context.dayOfYear;
    case 'date':
      return context.date;
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

/** The timeline's conditions with their values as questions to the executable. */
export function askWhen(
  when: P.TimelineWhen,
  ask: (body: P.AskedBody) => () => number,
): ExecutableTimelineLine['when'] {
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
export function noteText(forms: readonly P.LoggedForm[], numbers: readonly number[]): string {
  const words: string[] = [];
  for (let i = 0; i < forms.length; i++) {
    const form = forms[i]!;
    if (!form.comma) words.push(loggedWords(form, numbers[i]!));
    else if (Number.isNaN(numbers[i]!)) {
      words.push('nowhere');
      i++;
    } else words.push(`${loggedWords(form, numbers[i]!)},`);
  }
  return words.join(' ');
}

function loggedWords({ text, options, kind, unit }: P.LoggedForm, value: number): string {
  if (text !== undefined) return text;
  if (options?.[value] !== undefined) return options[value];
  if (kind !== undefined) return value === 0 ? 'nobody' : `${kind} ${value}`;
  const number = String(Number(value.toPrecision(6)));
  return unit ? `${number} ${unit}` : number;
}

/** When a message that is sent after a delay is due; one without a delay has none. At least one step later (S5). */
export function dueAfter(delay: number, context: RunContext): number {
  return context.end + (delay > 0 ? delay : 0.5 * context.stepLength);
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
  context: RunContext,
  fn: Gathering,
  measure: number,
  time: number,
  level: number | undefined,
): number {
  const width = context.row.length;
  const { isTaking } = context;
  const latest = isTaking ? context.rowCount : context.rowCount - 1;
  const first = Math.max(0, Math.floor(latest - time / context.stepLength + 1e-9) + 1);
  const values: number[] = [];
  for (let row = first; row < context.rowCount; row++) values.push(context.rows[row * width + measure]!);
  if (isTaking) values.push(context.row[measure]!);
  const present = Float64Array.from(values.filter((value) => !Number.isNaN(value)));
  return gather(fn, present, present.length, level);
}
