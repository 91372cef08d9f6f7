import type { CheckedModel, ParameterSymbol } from '../../language/checked.ts';
import { readParameter } from '../../language/parameter-input.ts';
import { FUNCTIONS } from '../../language/functions.ts';
import type { FactorReading } from '../design/factors.ts';
import { readFactor } from '../design/factors.ts';
import type { Spread, SpreadLaw } from '../design/spread.ts';
import { SPREAD_LAWS, spreadQuantile } from '../design/spread.ts';

/** How a factor is spread in a sampled design, or why what was written spreads nothing. */
export type SpreadReading = { readonly spread: Spread } | { readonly problem: string };

const RANGE = /^(?:from\s+)?(.+?)\s+to\s+(.+?)(,?\s+logarithmic)?$/i;
const LAW = /^([a-z]+)\s*\((.*)\)$/i;

/** Whether what was written is a range or a distribution, from which values are drawn, and not values one by one. */
export function isSpread(text: string): boolean {
  return LAW.test(text.trim()) || (RANGE.test(text.trim()) && !/\bby\b|\bvalues?\b/i.test(text));
}

/**
 * Reads how a factor is spread: a range `0 to 0.4`, `0.01 to 10, logarithmic`, a distribution of the language such as `normal(0.2, 0.05)`,
 * or values of which each comes equally often.
 */
export function readSpread(model: CheckedModel, parameter: ParameterSymbol, text: string): SpreadReading {
  const trimmed = text.trim().replace(/\s+/g, ' ');
  const law = LAW.exec(trimmed);
  if (parameter.type.is === 'number' && law) return readLaw(model, parameter, law[1]!.toLowerCase(), law[2]!);
  const range = isSpread(trimmed) ? RANGE.exec(trimmed) : undefined;
  if (!range || parameter.type.is !== 'number') {
    const reading: FactorReading = readFactor(model, parameter, trimmed);
    return 'problem' in reading ? reading : { spread: { is: 'values', values: reading.values } };
  }
  const ends = [range[1]!, range[2]!].map((piece) => shown(model, parameter, piece));
  for (const end of ends) if ('problem' in end) return end;
  const [low, high] = ends.map((end) => ('value' in end ? end.value : NaN)) as [number, number];
  if (!(low < high)) return { problem: `A range goes up, not from ${low} to ${high}.` };
  if (range[3] && !(low > 0)) return { problem: 'A logarithmic range begins above 0.' };
  if (parameter.whole && !range[3]) return { spread: { is: 'whole', low, high } };
  return { spread: { is: range[3] ? 'logarithmic' : 'uniform', low, high } };
}

/** What can be written to spread a parameter, within its bounds if it has some. */
export function spreadHint({ min, max, unit }: ParameterSymbol): string {
  return min === undefined || max === undefined
    ? 'Write “0 to 0.4”, “normal(0.2, 0.05)” or values with commas.'
    : `Write “${shownValue(min, unit.factor)} to ${shownValue(max, unit.factor)}”, a distribution that lies within, or values with commas.`;
}

function shownValue(value: number, factor: number): number {
  return Number((value / factor).toPrecision(12));
}

/** A value in the unit in which the parameter is shown. */
function shown(
  model: CheckedModel,
  parameter: ParameterSymbol,
  piece: string,
): { value: number } | { problem: string } {
  const reading = readParameter(model, parameter, piece);
  return 'problem' in reading ? reading : { value: shownValue(reading.value, parameter.unit.factor) };
}

function readLaw(model: CheckedModel, parameter: ParameterSymbol, name: string, list: string): SpreadReading {
  const pieces = list.split(',').map((piece) => piece.trim());
  if (name === 'uniform') {
    if (pieces.length !== 2) return { problem: 'Write “uniform(0, 0.4)”.' };
    return readSpread(model, parameter, `${pieces[0]} to ${pieces[1]}`);
  }
  const law = SPREAD_LAWS.find((each) => each === name);
  if (!law) return { problem: `“${name}” spreads no factor; ${['uniform', ...SPREAD_LAWS].join(', ')} do.` };
  const names = FUNCTIONS.get(law)!.names;
  const given = names.map((wanted, i) => {
    const called = pieces.find((piece) => piece.toLowerCase().replace(/\s/g, '').startsWith(`${wanted}=`));
    return called ? called.slice(called.indexOf('=') + 1).trim() : pieces[i];
  });
  if (pieces.length !== names.length || given.some((piece) => !piece))
    return { problem: `“${law}” takes ${names.length} numbers: ${law}(${names.join(', ')}).` };
  // Spreads and shapes are no values of the parameter, and need not lie within its bounds.
  const free = { ...parameter, min: undefined, max: undefined, whole: false };
  const numbers = given.map((piece, i) =>
    ['shape', 'a', 'b'].includes(names[i]!) ? plainNumber(piece!) : shown(model, free, piece!),
  );
  for (const number of numbers) if ('problem' in number) return number;
  const spread: Spread = { is: 'law', law, numbers: numbers.map((number) => ('value' in number ? number.value : NaN)) };
  const problem = soundness(law, spread, parameter);
  return problem === undefined ? { spread } : { problem };
}

function plainNumber(piece: string): { value: number } | { problem: string } {
  const value = Number(piece);
  return piece !== '' && Number.isFinite(value) ? { value } : { problem: `“${piece}” is no number.` };
}

/** Why a law gives no usable values, if it does not. */
function soundness(
  law: SpreadLaw,
  spread: Spread,
  { whole, name, min, max, unit }: ParameterSymbol,
): string | undefined {
  const [low, high] = [spreadQuantile(spread, 0), spreadQuantile(spread, 1)];
  if (!Number.isFinite(low) || !Number.isFinite(high) || !(low < high))
    return `“${law}” with these numbers has no spread.`;
  if (whole) return `“${name}” takes whole numbers, and ${law} draws fractions; write a range or a list.`;
  if ((min !== undefined && low * unit.factor < min) || (max !== undefined && high * unit.factor > max))
    return `“${name}” goes from ${min! / unit.factor} to ${max! / unit.factor}, and ${law} would draw values outside, from about ${Number(low.toPrecision(3))} to ${Number(high.toPrecision(3))}.`;
  return undefined;
}
