import type { CheckedModel, ParameterSymbol } from '../../language/checked.ts';
import { readParameter } from '../../language/parameter-input.ts';

/** A parameter and the values it takes in a study, in the unit in which it is shown; yes is 1, no is 0, a choice is its place in the list. */
export interface Factor {
  readonly parameter: string;
  readonly values: readonly number[];
}

/** The values of a factor in the unit in which they are shown, or why what was typed gives none. */
export type FactorReading = { readonly values: readonly number[] } | { readonly problem: string };

export const MAX_FACTOR_VALUES = 1000;
const BY_STEP = /^(?:from\s+)?(.+?)\s+to\s+(.+?)\s+by\s+(.+)$/i;
const BY_COUNT = /^(\d+)\s+values?\s+from\s+(.+?)\s+to\s+(.+)$/i;

/**
 * Reads the values of a factor: a list `2, 6, 12`, `open, covered` or `no, yes`, a range by step `0 to 0.4 by 0.05`, or by count
 * `9 values from 0 to 0.4`. Each value is read as the command line reads it, with or without its unit. Both ends of a range belong to it.
 */
export function readFactor(model: CheckedModel, parameter: ParameterSymbol, text: string): FactorReading {
  const { unit } = parameter;
  const trimmed = text.trim().replace(/\s+/g, ' ');
  const shown = (piece: string): FactorReading => {
    const reading = readParameter(model, parameter, piece);
    return 'problem' in reading ? reading : { values: [tidy(reading.value / unit.factor)] };
  };
  const byStep = BY_STEP.exec(trimmed);
  const byCount = BY_COUNT.exec(trimmed);
  const pieces = byCount
    ? byCount.slice(2)
    : byStep
      ? byStep.slice(1)
      : trimmed.split(/\s*,\s*|\s+and\s+/).filter((piece) => piece !== '');
  if (pieces.length === 0) return { problem: wanted(parameter) };
  if ((byStep || byCount) && parameter.type.is !== 'number') return { problem: wanted(parameter) };
  // The step of a range is no value of the parameter, and need not lie within its bounds.
  const step =
    byStep && readParameter(model, { ...parameter, min: undefined, max: undefined, whole: false }, pieces.pop()!);
  if (step && 'problem' in step) return step;
  const values: number[] = [];
  for (const piece of pieces) {
    const reading = shown(piece);
    if ('problem' in reading) return { problem: `${reading.problem} ${wanted(parameter)}` };
    values.push(...reading.values);
  }
  const [from = 0, to = 0] = values;
  if (step) return wholes(parameter, rangeByStep(from, to, step.value / unit.factor));
  if (byCount) return wholes(parameter, rangeByCount(Number(byCount[1]), from, to));
  return limited(values);
}

function wanted(parameter: ParameterSymbol): string {
  const { type } = parameter;
  if (type.is === 'yesno') return 'Write “no, yes”.';
  if (type.is === 'choice') return `Write some of “${type.options.join(', ')}”.`;
  return 'Write “2, 6, 12”, “0 to 0.4 by 0.05” or “9 values from 0 to 0.4”.';
}

/** Between whole ends of a range there may be fractions. */
function wholes({ whole, name }: ParameterSymbol, reading: FactorReading): FactorReading {
  const fraction = whole && 'values' in reading ? reading.values.find((value) => !Number.isInteger(value)) : undefined;
  return fraction === undefined ? reading : { problem: `“${name}” takes whole numbers, not ${fraction}.` };
}

function rangeByStep(from: number, to: number, by: number): FactorReading {
  if (!(by > 0) || to < from) return { problem: 'A range goes up: “0 to 0.4 by 0.05”.' };
  const steps = Math.floor((to - from) / by + 1e-9);
  if (steps + 1 > MAX_FACTOR_VALUES)
    return { problem: `That would be ${steps + 1} values; at most ${MAX_FACTOR_VALUES} are taken.` };
  return limited(Array.from({ length: steps + 1 }, (_, i) => tidy(from + i * by)));
}

function rangeByCount(count: number, from: number, to: number): FactorReading {
  if (count > MAX_FACTOR_VALUES)
    return { problem: `That would be ${count} values; at most ${MAX_FACTOR_VALUES} are taken.` };
  if (count < 1) return { problem: 'At least one value is needed.' };
  if (count === 1) return { values: [from] };
  return limited(Array.from({ length: count }, (_, i) => tidy(from + ((to - from) * i) / (count - 1))));
}

/** Takes off the dust of binary fractions, so that 3 * 0.05 reads 0.15. */
function tidy(value: number): number {
  return Number(value.toPrecision(12));
}

function limited(values: readonly number[]): FactorReading {
  const twice = values.find((value, i) => values.indexOf(value) !== i);
  if (twice !== undefined) return { problem: `${twice} stands there twice.` };
  return values.length > MAX_FACTOR_VALUES ? { problem: `At most ${MAX_FACTOR_VALUES} values are taken.` } : { values };
}

export function combinationCount(factors: readonly Factor[]): number {
  return factors.reduce((count, factor) => count * factor.values.length, 1);
}

/** One combination of the factors' values, the last factor changing fastest; made when it is asked for, as there may be very many. */
export function combinationAt(factors: readonly Factor[], index: number): number[] {
  const combination: number[] = [];
  let rest = index;
  for (let f = factors.length - 1; f >= 0; f--) {
    const { values } = factors[f]!;
    combination[f] = values[rest % values.length]!;
    rest = Math.floor(rest / values.length);
  }
  return combination;
}
