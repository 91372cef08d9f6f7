import { readFileSync, writeFileSync } from 'node:fs';
import { Bench } from 'tinybench';
import { compilePlan, loadModel, Run, simulate } from '../src/index.ts';
import { births } from './workloads/births.ts';
import { gridSight } from './workloads/grid-sight.ts';
import { manyRuns, mixing, mixingText } from './workloads/mixing.ts';
import { contactAtOnce, contactInTurn } from './workloads/plane-contact.ts';
import { ties } from './workloads/ties.ts';
import { trails } from './workloads/trails.ts';
import type { Workload } from './workloads/workload.ts';

/**
 * Times the seven workloads of the architecture page: generated code against the same model written by hand, both in one run, medians of
 * so many rounds. Letters as arguments choose workloads; `scale` and `text` the tables of docs/speed.md. Each ratio is shown beside the one of
 * the baseline; `keep` makes those of this run the baseline.
 */

const WORKLOADS: readonly Workload[] = [
  mixing,
  contactInTurn,
  contactAtOnce,
  gridSight,
  ties,
  trails,
  births,
  manyRuns,
];
const ROUNDS = process.argv.includes('quick') ? 1 : 3;

interface Timing {
  readonly median: number;
  readonly low: number;
  readonly high: number;
}

function timingOf(times: readonly number[]): Timing {
  const sorted = [...times].sort((a, b) => a - b);
  return { median: sorted[Math.floor(sorted.length / 2)]!, low: sorted[0]!, high: sorted[sorted.length - 1]! };
}

/** Ratios of generated code to the same by hand, by the letter of the workload. */
const BASELINE = 'packages/core/bench/baseline.json';
const baseline = JSON.parse(readFileSync(BASELINE, 'utf8')) as Readonly<Record<string, number>>;
const measured: Record<string, number> = {};

/** A ratio, and what it was. */
function besideBaseline(letter: string, ratio: number): string {
  const before = baseline[letter];
  return `${ratio.toFixed(2)}${before === undefined ? '' : ` (was ${before.toFixed(2)})`}`;
}

async function timeBoth(workload: Workload): Promise<void> {
  const { loaded, diagnostics } = loadModel(workload.text);
  if (!loaded) throw new Error(diagnostics.map((d) => d.message).join('\n'));
  const compiled = compilePlan(loaded.plan);
  const every = workload.steps;
  const parameters = loaded.plan.parameters.map((parameter) => parameter.value);
  let byCode = NaN;
  let byHand = NaN;
  let seed = 0;
  const generated = (): void => {
    const runs = workload.seeds ?? 1;
    let sum = 0;
    for (let i = 0; i < runs; i++) {
      const outcome = simulate(compiled, { parameters, seed: 1 + i + (seed++ % 3) * runs, every });
      if (!outcome || !('result' in outcome)) throw new Error(JSON.stringify(outcome));
      sum += outcome.result.rows[loaded.plan.measures.length]!;
    }
    byCode = sum / runs;
  };
  // In turns, so that a machine that slows down for a while slows both.
  const times: [number[], number[]] = [[], []];
  for (let round = 0; round < ROUNDS; round++) {
    const bench = new Bench({ iterations: 1, time: 0, warmup: false });
    bench.add('by hand', () => void (byHand = workload.byHand(1 + (seed++ % 3))));
    bench.add('generated', generated);
    await bench.run();
    bench.tasks.forEach((task, i) => times[i]!.push(task.result!.latency.min));
  }
  const [hand, code] = times.map(timingOf);
  const ratio = code!.median / hand!.median;
  measured[workload.letter] = Number(ratio.toFixed(3));
  const setUp = performance.now();
  const executable = compiled.executable();
  new Run(executable, parameters, 1);
  const started = performance.now() - setUp;
  console.log(
    `${workload.letter}  ${workload.title.padEnd(28)} ratio ${besideBaseline(workload.letter, ratio)}   generated ${said(code!)}   by hand ${said(hand!)}   set-up ${started.toFixed(0)} ms, ${(executable.bytes / 1e6).toFixed(1)} MB   first measure at the end ${byCode.toFixed(0)} and ${byHand.toFixed(0)}`,
  );
}

function said({ median, low, high }: Timing): string {
  return `${median.toFixed(0)} ms (${low.toFixed(0)} to ${high.toFixed(0)})`;
}

/** Time an agent and step takes, from ten thousand agents to a million. */
function scale(): void {
  const plane = (agents: number): string =>
    `model Roaming\nclock\n  end after 40 steps\nspace S: plane ${Math.sqrt(agents).toFixed(3)} by ${Math.sqrt(agents).toFixed(3)}, wrapping\nagent Vole\n  start ${agents} anywhere\n  has near = 0\n  behaviour roam\n    turn by normal(0 deg, 40 deg)\n    move by 0.5\n  behaviour look\n    near = count Vole within 1\norder\n  roam all at once\n  look all at once\nmeasure near = mean of it.near over Vole\nshow Vole: dot\n`;
  for (const agents of [10_000, 30_000, 100_000, 300_000, 1_000_000]) {
    const cells = [mixingText(agents, 40), plane(agents)].map((text) => {
      const { loaded } = loadModel(text);
      const compiled = compilePlan(loaded!.plan);
      const times = Array.from({ length: 3 }, () => {
        const executable = compiled.executable();
        const run = new Run(executable, [], 1);
        const start = performance.now();
        run.runTo();
        return { perStep: (performance.now() - start) / run.step, bytes: executable.bytes };
      }).sort((a, b) => a.perStep - b.perStep);
      const { perStep, bytes } = times[1]!;
      return `${perStep.toFixed(2)} ms a step, ${((perStep * 1e6) / agents).toFixed(0)} ns an agent, ${(bytes / 1e6).toFixed(0)} MB`;
    });
    console.log(`${agents.toLocaleString('en-GB').padStart(9)} agents   mixing: ${cells[0]}   neighbours: ${cells[1]}`);
  }
}

/** Checking and compiling a model of a thousand lines. */
function thousandLines(): void {
  const kinds = Array.from(
    { length: 50 },
    (_, i) =>
      `agent Kind${i}\n  start 10 anywhere\n  has energy = normal(1, 0.2)\n  has age = 0 days\n  states life\n    Young\n      after 20 days: Old\n    Old\n      rate 0.1 per day when energy > 1: Young\n  behaviour go\n    turn by normal(0 deg, 40 deg)\n    move by 1.5 m\n    with v = nearest Kind${i} within 5 m where it.energy > energy\n      v.energy -= 0.01\n      energy += 0.01\n    if energy < 0\n      remove self\n    age += step`,
  );
  const order = Array.from({ length: 50 }, (_, i) => `  Kind${i}.go in turn\n  Kind${i}.life in turn`);
  const text = `model Long\nclock\n  step 1 day\n  end after 10 days\nspace S: plane 100 m by 100 m, wrapping\n${kinds.join('\n')}\norder\n${order.join('\n')}\nmeasure all_ = count Kind0\n`;
  const times = Array.from({ length: 7 }, () => {
    const start = performance.now();
    const { loaded } = loadModel(text);
    const checked = performance.now();
    compilePlan(loaded!.plan).executable();
    return [checked - start, performance.now() - checked] as const;
  }).sort((a, b) => a[0] + a[1] - b[0] - b[1]);
  const [check, compile] = times[3]!;
  console.log(
    `${text.split('\n').length} lines: checked and lowered in ${check.toFixed(0)} ms, compiled in ${compile.toFixed(0)} ms (median of 7; the first ${Math.max(...times.map(([a, b]) => a + b)).toFixed(0)} ms)`,
  );
}

const wanted = process.argv.slice(2).filter((word) => word !== 'quick' && word !== 'keep');
const isAll = wanted.length === 0;
for (const workload of WORKLOADS) if (isAll || wanted.includes(workload.letter)) await timeBoth(workload);
if (process.argv.includes('keep'))
  writeFileSync(BASELINE, `${JSON.stringify({ ...baseline, ...measured }, null, 2)}\n`);
if (isAll || wanted.includes('scale')) scale();
if (isAll || wanted.includes('text')) thousandLines();
