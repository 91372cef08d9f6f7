import { readFileSync } from 'node:fs';
import { compilePlan, loadModel } from '../src/index.ts';
import { hidden, levelOf, matchOf, posteriorOf } from './search-through.ts';
import type { Trial } from './search-through.ts';

const TEXT = readFileSync('examples/meadow-year.vole', 'utf8');
const MONTHS = 24;

/** The Meadow year, counted at the end of each month with an error of 12 %; strike and bite are hidden. */
function meadowYear(): Trial {
  const loaded = loadModel(TEXT).loaded!;
  const date = (month: number): string => new Date(Date.UTC(2031, 3 + month, 0)).toISOString().slice(0, 10);
  return {
    model: { text: TEXT, loaded },
    compiled: compilePlan(loaded.plan),
    text: `match Counts\nobserved "made-up.csv"\ntime is date\nvoles from column voles, error 12 %\nfind strike 0.05 to 0.4 per day\nfind bite 0.08 to 0.25\nby sequential monte carlo, 100 draws, at most 1500 runs\n`,
    table: (numbers) =>
      `date,voles\n${Array.from({ length: MONTHS }, (_, i) => `${date(i)},${numbers?.[i] ?? 0}`).join('\n')}\n`,
  };
}

/** One repetition: the hidden values, the middle nine tenths of their posteriors, and whether they lie inside. */
export interface Repetition {
  readonly unknowns: readonly {
    readonly parameter: string;
    readonly hidden: number;
    readonly low: number;
    readonly high: number;
    readonly isInside: boolean;
  }[];
}

/** Counts of the Meadow year are made with hidden values, which are then sought, so many times. */
export function meadowYears(repetitions: number): Repetition[] {
  const trial = meadowYear();
  return Array.from({ length: repetitions }, (_, number) => {
    const { values, table } = hidden(trial, number);
    const posterior = posteriorOf(trial, matchOf(trial, table, number + 1));
    return {
      unknowns: values.map((value, unknown) => {
        const sorted = posterior.draws
          .map((draw, i) => ({ value: draw[unknown]!, weight: posterior.weights[i]! }))
          .sort((a, b) => a.value - b.value);
        const level = levelOf(posterior, unknown, value, 0.5);
        return {
          parameter: posterior.parameters[unknown]!,
          hidden: value,
          low: quantileOf(sorted, 0.05),
          high: quantileOf(sorted, 0.95),
          isInside: level >= 0.05 && level <= 0.95,
        };
      }),
    };
  });
}

function quantileOf(sorted: readonly { readonly value: number; readonly weight: number }[], level: number): number {
  let sum = 0;
  for (const { value, weight } of sorted) if ((sum += weight) >= level) return value;
  return sorted.at(-1)?.value ?? NaN;
}
