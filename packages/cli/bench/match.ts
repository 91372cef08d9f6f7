import { readFileSync } from 'node:fs';
import type { FinishedRun, Proposer, StudyJob } from '@vole/core';
import { MatchSearch, readCsv, readMatch, runStudy } from '@vole/core';
import { modelOrExplain } from '../src/model-file.ts';
import { ThreadExecutor } from '../src/thread-executor.ts';

/**
 * Times a search for two unknowns of the Meadow year beside the very same runs made one after the other with nobody looking at them, on the same threads,
 * in turns. `npm run bench -- match` runs it.
 */

/** With `quick` one. */
const ROUNDS = process.argv.includes('quick') ? 1 : 5;
const FOLDER = 'examples';

const model = (await modelOrExplain(`${FOLDER}/meadow-year.vole`))!;
const text = readFileSync(`${FOLDER}/meadow-year.match`, 'utf8');
const table = 'meadow-year-trap-counts.csv';
const { match } = readMatch(text, model, new Map([[table, readCsv(readFileSync(`${FOLDER}/${table}`, 'utf8'))]]));
if (!match?.search) throw new Error('The example seeks nothing.');

/** Seconds that the runs of a proposer take. */
async function seconds(proposer: Proposer, runs: number): Promise<number> {
  const executor = new ThreadExecutor(model, runs);
  const from = performance.now();
  const kept: FinishedRun[] = [];
  const sink = { take: (run: FinishedRun) => void kept.push(run), flush: () => Promise.resolve() };
  await runStudy({ proposer, executor, sink, toleratesFailures: true });
  return (performance.now() - from) / 1000;
}

const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
const searches: number[] = [];
const plain: number[] = [];
for (let round = 0; round < ROUNDS; round++) {
  const search = new MatchSearch(match, model.loaded.plan);
  const jobs: StudyJob[] = [];
  const noted: Proposer = {
    next() {
      const job = search.next();
      if (job) jobs.push(job);
      return job;
    },
    took: (run) => search.took(run),
  };
  searches.push(await seconds(noted, match.search.mostRuns));
  const left = [...jobs];
  plain.push(await seconds({ next: () => left.shift() }, jobs.length));
  console.log(
    `${jobs.length} runs: search ${searches.at(-1)!.toFixed(1)} s, the runs alone ${plain.at(-1)!.toFixed(1)} s, ratio ${(searches.at(-1)! / plain.at(-1)!).toFixed(3)}`,
  );
}
console.log(`medians of ${ROUNDS} rounds: ratio ${(median(searches) / median(plain)).toFixed(3)}`);
