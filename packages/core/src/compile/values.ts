import * as math from '../engine/math.ts';
import type { ScriptTimelineLine } from '../engine/script.ts';
import type { World } from '../engine/world.ts';
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

export function pureFunction(fn: P.PureFunction, args: readonly number[]): number {
  const [a = 0, b = 0, c = 0] = args;
  switch (fn) {
    case 'abs':
      return Math.abs(a);
    case 'min':
      return b < a ? b : a;
    case 'max':
      return b > a ? b : a;
    case 'clip':
      return math.clip(a, b, c);
    case 'mod':
      return math.mod(a, b);
    case 'round':
      return math.roundHalfUp(a);
    case 'floor':
      return Math.floor(a);
    case 'ceiling':
      return Math.ceil(a);
    case 'sqrt':
      return Math.sqrt(a);
    case 'exp':
      return math.exp(a);
    case 'log':
      return math.log(a);
    case 'sin':
      return math.sinDegrees(a);
    case 'cos':
      return math.cosDegrees(a);
    case 'tan':
      return math.tanDegrees(a);
    case 'swing':
      return math.swing(a, b);
    case 'power':
      return math.power(a, b);
    case 'chance of rate':
      return math.chanceOfRate(a);
    case 'heading':
      return math.heading(a);
  }
}

/** The timeline's conditions with their values as questions to the script. */
export function askWhen(when: P.TimelineWhen, ask: (body: P.ValueBody) => () => number): ScriptTimelineLine['when'] {
  switch (when.is) {
    case 'at':
      return { is: 'at', time: ask(when.time) };
    case 'from':
      return { is: 'from', from: ask(when.from), to: ask(when.to) };
    case 'every':
      return { is: 'every', period: ask(when.period) };
    case 'every year on':
      return when;
    default:
      return { is: when.is, condition: ask(when.condition) };
  }
}
