import { compilePlan, loadModel } from '../src/index.ts';
import { drawUnit } from '../src/engine/random/laws.ts';
import { RandomStream } from '../src/engine/random/stream.ts';
import { hidden, levelOf, matchOf, posteriorOf } from './search-through.ts';
import type { Trial } from './search-through.ts';

/** A bank of burrows in Hollowmere that voles leave one by one: small enough to be searched through hundreds of times. */
const TEXT = `model Fading bank
clock
  step 1 day
  end after 10 days
parameter risk = 0.1, from 0 to 1
parameter founders = 100, whole from 1 to 1000
agent Vole
  start founders
  behaviour fade
    if chance(risk)
      remove self
order
  fade in turn
measure voles = count Vole
`;
const TIMES = [1, 3, 6, 10];

/** @param by how what agrees is found, as a match says it */
export function fading(by: string): Trial {
  const loaded = loadModel(TEXT).loaded!;
  return {
    model: { text: TEXT, loaded },
    compiled: compilePlan(loaded.plan),
    text: `match Fading\nobserved "made-up.csv"\ntime is days\nvoles from column voles, error poisson\nfind risk 0.02 to 0.3\nfind founders 50 to 150\n${by}\n`,
    table: (numbers) => `day,voles\n${TIMES.map((time, i) => `${time},${numbers?.[i] ?? 0}`).join('\n')}\n`,
  };
}

/** How often the level of a hidden value in its posterior falls into each part of 0 to 1, for each unknown. */
export interface RankHistogram {
  readonly parameters: readonly string[];
  readonly counts: readonly (readonly number[])[];
  /** Chi-square of each against even counts, with parts less one degrees of freedom. */
  readonly chiSquare: readonly number[];
}

const PARTS = 10;

/**
 * Simulation-based calibration: hidden values are drawn from the priors, a run is observed, its posterior is found; the levels of the hidden values in
 * their posteriors are then evenly spread. Source: S. Talts et al., Validating Bayesian inference algorithms with simulation-based calibration (2018).
 * @param searched what is searched through for the hidden values, where it is not the same
 */
export function rankHistogram(trial: Trial, repetitions: number, searched = trial): RankHistogram {
  const counts: number[][] = [];
  let parameters: readonly string[] = [];
  for (let number = 0; number < repetitions; number++) {
    const { values, table } = hidden(trial, number);
    const posterior = posteriorOf(searched, matchOf(searched, table, number + 1));
    parameters = posterior.parameters;
    values.forEach((value, unknown) => {
      const stream = RandomStream.of(number, 0, unknown);
      const level = levelOf(posterior, unknown, value, drawUnit(stream.word(), stream.word()));
      counts[unknown] ??= new Array<number>(PARTS).fill(0);
      counts[unknown][Math.min(PARTS - 1, Math.floor(level * PARTS))]!++;
    });
  }
  const even = repetitions / PARTS;
  return {
    parameters,
    counts,
    chiSquare: counts.map((each) => each.reduce((sum, count) => sum + ((count - even) * (count - even)) / even, 0)),
  };
}
