import { readFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import type { GeneratedRun } from '../src/index.ts';
import { compilePlan, loadModel, Run } from '../src/index.ts';
import { helpersFor, HelpingCrew } from '../src/javascript/helping.ts';
import { median } from './median.ts';
import { contactAtOnce } from './workloads/plane-contact.ts';

/** Times large runs with one thread and with others that help it, in turns: medians of five rounds after one that warms up, by the clock, the start left out. */

const ROUNDS = 5;
const HELPERS = helpersFor(availableParallelism(), 1);

/** The same text with another end, so that a round takes a second or two. */
function ending(text: string, steps: number): string {
  return text.replace(/end after \d+ steps/, `end after ${steps} steps`);
}

const WALKERS = `model Walkers\nclock\n  end after 30 steps\nspace Field: plane 2000 by 2000, wrapping\nagent Vole\n  start 1000000 anywhere\n  states mood\n    Calm\n      chance 0.1: Loud\n    Loud\n      chance 0.1: Calm\n  behaviour roam\n    turn by uniform(-30 deg, 30 deg)\n    move by 1\norder\n  roam in turn\n  mood in turn\nmeasure calm = count Vole where it.mood is Calm\n`;
const FIELD = `model Field\nclock\n  end after 40 steps\nspace Bank: grid 1000 by 1000, 8 neighbours, wrapping\nfield scent on Bank\n  start uniform(0, 1)\n  grow 0.01\n  spread 50 %\n  fade 10 %\n  keep 0 to 1\nagent Vole\n  start 1 anywhere\norder\n  scent\nmeasure all_ = sum of scent\n`;

const RUNS: readonly (readonly [title: string, text: string])[] = [
  ['mixing, a million agents', readFileSync('packages/core/bench/yardsticks/mixing.vole', 'utf8')],
  ['a million that turn, walk and change', WALKERS],
  ['plane contact all at once, 200,000', ending(contactAtOnce.text, 40)],
  ['a field of a million cells', FIELD],
];

function timed(executable: GeneratedRun, parameters: readonly number[]): number {
  const run = new Run(executable, parameters, 1);
  const from = performance.now();
  run.runTo();
  return performance.now() - from;
}

const crew = new HelpingCrew(() =>
  Array.from({ length: HELPERS }, () => {
    const helper = new Worker(new URL('./helper.mjs', import.meta.url));
    helper.unref();
    return helper;
  }),
);
crew.call();
while (crew.helpers < HELPERS) await new Promise((wait) => setTimeout(wait, 5));
console.log(`${HELPERS} helping`);
for (const [title, text] of RUNS) {
  const { loaded, diagnostics } = loadModel(text);
  if (!loaded) throw new Error(diagnostics.map(({ message }) => message).join('\n'));
  const { plan } = loaded;
  const parameters = plan.parameters.map(({ value }) => value);
  const compiled = compilePlan(plan);
  const ways = [compiled.executable(), compiled.executable(crew)].map((executable) => ({
    executable,
    times: [] as number[],
  }));
  for (let round = 0; round <= ROUNDS; round++)
    for (const { executable, times } of ways) {
      const time = timed(executable, parameters);
      if (round > 0) times.push(time);
    }
  const [alone, helped] = ways.map(({ times }) => median(times)) as [number, number];
  console.log(
    `${title.padEnd(38)} alone ${alone.toFixed(0).padStart(5)} ms   helped ${helped.toFixed(0).padStart(5)} ms   ${(alone / helped).toFixed(2)} times as quick`,
  );
}
