/** A parameter and the values it takes in a study, in the unit in which it is shown. */
export interface Factor {
  readonly parameter: string;
  readonly values: readonly number[];
}

export type FactorReading = { readonly values: readonly number[] } | { readonly problem: string };

export const MAX_FACTOR_VALUES = 1000;
const NUMBER = String.raw`(-?\d+(?:\.\d+)?(?:e[+-]?\d+)?)`;
const BY_STEP = new RegExp(String.raw`^(?:from\s+)?${NUMBER}\s+to\s+${NUMBER}\s+by\s+${NUMBER}$`, 'i');
const BY_COUNT = new RegExp(String.raw`^(\d+)\s+values?\s+from\s+${NUMBER}\s+to\s+${NUMBER}$`, 'i');

/**
 * Reads the values of a factor: a list `2, 6, 12`, a range by step `0 to 0.4 by 0.05`, or by count `9 values from 0 to 0.4`. Both ends of
 * a range belong to it.
 */
export function readFactorValues(text: string): FactorReading {
  const trimmed = text.trim().replace(/\s+/g, ' ');
  const byStep = BY_STEP.exec(trimmed);
  if (byStep) return rangeByStep(Number(byStep[1]), Number(byStep[2]), Number(byStep[3]));
  const byCount = BY_COUNT.exec(trimmed);
  if (byCount) return rangeByCount(Number(byCount[1]), Number(byCount[2]), Number(byCount[3]));
  const pieces = trimmed.split(/\s*,\s*|\s+and\s+/).filter((piece) => piece !== '');
  const values = pieces.map((piece) => (/^(yes|no)$/i.test(piece) ? (piece.toLowerCase() === 'yes' ? 1 : 0) : Number(piece)));
  const wrong = pieces.find((_, i) => !Number.isFinite(values[i]));
  if (pieces.length === 0) return { problem: 'Write values: “2, 6, 12”, “0 to 0.4 by 0.05” or “9 values from 0 to 0.4”.' };
  if (wrong !== undefined) return { problem: `“${wrong}” is no number. Write “2, 6, 12”, “0 to 0.4 by 0.05” or “9 values from 0 to 0.4”.` };
  return limited(values);
}

function rangeByStep(from: number, to: number, by: number): FactorReading {
  if (!(by > 0) || to < from) return { problem: 'A range goes up: “0 to 0.4 by 0.05”.' };
  const steps = Math.floor((to - from) / by + 1e-9);
  if (steps + 1 > MAX_FACTOR_VALUES) return { problem: `That would be ${steps + 1} values; at most ${MAX_FACTOR_VALUES} are taken.` };
  return limited(Array.from({ length: steps + 1 }, (_, i) => tidy(from + i * by)));
}

function rangeByCount(count: number, from: number, to: number): FactorReading {
  if (count > MAX_FACTOR_VALUES) return { problem: `That would be ${count} values; at most ${MAX_FACTOR_VALUES} are taken.` };
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

/** Every combination of the factors' values, the last factor changing fastest. */
export function combinationsOf(factors: readonly Factor[]): number[][] {
  return factors.reduce<number[][]>((before, factor) => before.flatMap((combination) => factor.values.map((value) => [...combination, value])), [[]]);
}
