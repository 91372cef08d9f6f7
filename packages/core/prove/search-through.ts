import type { CompiledPlan } from '../src/index.ts';
import { MatchSearch, readMatch, sheetRows, simulate } from '../src/index.ts';
import type { StudiedModel } from '../src/index.ts';
import type { Posterior } from '../src/studies/match/calibration/match-search.ts';
import { drawnFromPrior, valuesAt } from '../src/studies/match/calibration/candidates.ts';
import { matchedSeries } from '../src/studies/match/match-runs.ts';
import { writtenOf } from '../src/studies/match/ensemble.ts';
import type { MatchDefinition } from '../src/studies/match/read-match.ts';

/** A model, and a match that seeks its unknowns in a table of which the values are made up anew each time. */
export interface Trial {
  readonly model: StudiedModel;
  readonly compiled: CompiledPlan;
  /** Of the match; it reads the table “made-up.csv”. */
  readonly text: string;
  /** The table with some numbers in it, one for each row; without numbers it still has its times. */
  readonly table: (numbers?: ArrayLike<number>) => string;
}

/** The match of a trial over a table. @throws Error with what is wrong in its text */
export function matchOf({ model, text }: Trial, table: string, luck: number): MatchDefinition {
  const [header, ...rows] = sheetRows(table);
  const { match, diagnostics } = readMatch(
    text.replace(/runs$/m, `runs, seed ${luck}`),
    model,
    new Map([['made-up.csv', { header: header!.cells, rows }]]),
  );
  if (!match) throw new Error(diagnostics.map(({ message }) => message).join(' '));
  return match;
}

/** Hidden values drawn from the priors, and the table that an observer writes of a run with them. @param number of the repetition */
export function hidden(trial: Trial, number: number): { readonly values: number[]; readonly table: string } {
  const { model, compiled } = trial;
  const { plan } = model.loaded;
  const match = matchOf(trial, trial.table(), 1);
  const values = valuesAt(
    drawnFromPrior(match.unknowns.length, HIDDEN, number),
    match.unknowns.map(({ prior }) => prior),
  );
  const parameters = plan.parameters.map(({ name, value, unitFactor }) => {
    const unknown = match.unknowns.findIndex(({ parameter }) => parameter === name);
    return unknown < 0 ? value : values[unknown]! * unitFactor;
  });
  const seed = HIDDEN + number;
  const outcome = simulate(compiled, { parameters, seed, every: 1 });
  if (!outcome || 'failure' in outcome) throw new Error('A hidden run failed');
  const [series] = matchedSeries(match, [{ result: outcome.result, parameters }], plan, outcome.result.steps);
  return {
    values,
    table: trial.table(writtenOf(series!.exact[0]!, series!.observations, series!.error, { seed, series: 0, draw: 0 })),
  };
}

const HIDDEN = 7_000_000;

/** The posterior of a match, its runs made here one after another. */
export function posteriorOf(trial: Trial, match: MatchDefinition): Posterior {
  return searched(trial, match).posterior!;
}

/** A search brought to its end. */
export function searched({ model, compiled }: Trial, match: MatchDefinition): MatchSearch {
  const search = new MatchSearch(match, model.loaded.plan);
  for (let job = search.next(); job; job = search.next())
    search.took({ point: job.point, seed: job.seed, outcome: simulate(compiled, job)! });
  return search;
}

/** Share of a posterior below a value; of draws that have it, a part by luck. @param luck from 0 to 1 */
export function levelOf({ draws, weights }: Posterior, unknown: number, value: number, luck: number): number {
  return draws.reduce((sum, draw, i) => {
    if (draw[unknown]! < value) return sum + weights[i]!;
    return draw[unknown] === value ? sum + luck * weights[i]! : sum;
  }, 0);
}
