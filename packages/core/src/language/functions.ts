import type { Dimension, NumberType, Type } from './types.ts';
import { ANGLE, number, PLAIN_NUMBER, power, WHOLE_NUMBER } from './types.ts';

/** How the dimension of an argument is bound: `same` ones share one dimension, which the result may have too. */
type ArgumentRule = 'same' | 'plain' | 'whole' | 'angle' | 'any';

export interface FunctionForm {
  readonly args: readonly ArgumentRule[];
  readonly names: readonly string[];
  readonly draws: boolean;
  readonly repeatsLast?: boolean;
  readonly result: (same: Dimension | undefined, allWhole: boolean) => Type;
}

const asSame = (same: Dimension | undefined): NumberType => number(same);
const asSameWhole = (same: Dimension | undefined, allWhole: boolean): NumberType => number(same, allWhole);
const asPlain = (): NumberType => PLAIN_NUMBER;
const asWhole = (): NumberType => WHOLE_NUMBER;

function form(
  names: string,
  args: readonly ArgumentRule[],
  result: FunctionForm['result'],
  more: Partial<FunctionForm> = {},
): FunctionForm {
  return { names: names.split(' '), args, result, draws: false, ...more };
}
function law(names: string, args: readonly ArgumentRule[], result: FunctionForm['result']): FunctionForm {
  return form(names, args, result, { draws: true });
}

/** Functions of numbers, and distributions. `pick`, `distance`, `bearing` and `ahead` have rules of their own in the checker. */
export const FUNCTIONS: ReadonlyMap<string, FunctionForm> = new Map([
  ['abs', form('x', ['same'], asSameWhole)],
  ['min', form('a b', ['same', 'same'], asSameWhole, { repeatsLast: true })],
  ['max', form('a b', ['same', 'same'], asSameWhole, { repeatsLast: true })],
  ['clip', form('x from to', ['same', 'same', 'same'], asSameWhole)],
  ['mod', form('x by', ['same', 'same'], asSameWhole)],
  ['round', form('x', ['plain'], asWhole)],
  ['floor', form('x', ['plain'], asWhole)],
  ['ceiling', form('x', ['plain'], asWhole)],
  ['sqrt', form('x', ['same'], (same) => number(same && power(same, 0.5)))],
  ['exp', form('x', ['plain'], asPlain)],
  ['log', form('x', ['plain'], asPlain)],
  ['sin', form('angle', ['angle'], asPlain)],
  ['cos', form('angle', ['angle'], asPlain)],
  ['tan', form('angle', ['angle'], asPlain)],
  ['swing', form('from to', ['angle', 'angle'], () => number(ANGLE))],
  ['uniform', law('from to', ['same', 'same'], asSame)],
  ['normal', law('mean sd', ['same', 'same'], asSame)],
  ['lognormal', law('mean sd', ['same', 'same'], asSame)],
  ['exponential', law('mean', ['same'], asSame)],
  ['gamma', law('mean shape', ['same', 'plain'], asSame)],
  ['beta', law('a b', ['plain', 'plain'], asPlain)],
  ['weibull', law('scale shape', ['same', 'plain'], asSame)],
  ['triangular', law('from peak to', ['same', 'same', 'same'], asSame)],
  ['poisson', law('mean', ['plain'], asWhole)],
  ['binomial', law('trials chance', ['whole', 'plain'], asWhole)],
  ['whole', law('from to', ['whole', 'whole'], asWhole)],
  ['chance', law('p', ['plain'], () => ({ is: 'yesno' }))],
]);

/** Functions that look at more than their arguments, such as the clock or the acting agent; the checker has rules of its own for them. */
export const SPECIAL_FUNCTIONS = ['pick', 'distance', 'bearing', 'ahead'] as const;

/** How a function is written, for messages: “gamma(mean, shape)”. */
export function writtenForm(name: string, known: FunctionForm): string {
  return `“${name}(${known.names.join(', ')}${known.repeatsLast ? ', ...' : ''})”`;
}
