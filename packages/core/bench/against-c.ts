import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { CompiledPlan, Plan } from '../src/index.ts';
import { compilePlan, loadModel, Run } from '../src/index.ts';
import { median } from './median.ts';
import { births } from './workloads/births.ts';
import { contactAtOnce, contactInOneTurn, contactInTurn } from './workloads/plane-contact.ts';
import { ties } from './workloads/ties.ts';

/**
 * Times models against yardsticks in C: whole runs, CPU time, in turns on the same machine, medians of five rounds after one that warms up.
 * Letters as arguments choose; `quick` makes one round, `keep` makes the ratios of this run the baseline.
 */

interface Yardstick {
  readonly letter: string;
  /** The C program, in yardsticks/. */
  readonly program: string;
  /** The text, or the name of a file beside the program. */
  readonly text: string;
  readonly seeds?: number;
  /** The ratio that is aimed at. */
  readonly goal: number;
}

const FOLDER = 'packages/core/bench/yardsticks';
const BASELINE = 'packages/core/bench/baseline.json';
const YARDSTICKS: readonly Yardstick[] = [
  { letter: 'A', program: 'mixing', text: modelNamed('mixing'), goal: 1.5 },
  { letter: 'B', program: 'plane-contact-in-turn', text: contactInTurn.text, goal: 1.4 },
  { letter: 'T', program: 'plane-contact-one-turn', text: contactInOneTurn, goal: 1.4 },
  { letter: 'b', program: 'plane-contact-at-once', text: contactAtOnce.text, goal: 1.2 },
  { letter: 'C', program: 'grid-sight', text: modelNamed('grid-sight'), goal: 1.5 },
  { letter: 'D', program: 'ties', text: ties.text, goal: 1.8 },
  { letter: 'E', program: 'trails', text: modelNamed('trails'), goal: 2 },
  {
    letter: 'e',
    program: 'trails',
    text: modelNamed('trails').replace('cells of 1', 'cells of 1, single precision'),
    goal: 2,
  },
  { letter: 'F', program: 'births', text: births.text, goal: 1.8 },
  { letter: 'G', program: 'many-mixings', text: modelNamed('many-mixings'), seeds: 50, goal: 1.8 },
];

function modelNamed(name: string): string {
  return readFileSync(join(FOLDER, `${name}.vole`), 'utf8');
}

interface Reading {
  readonly ms: number;
  readonly agentSteps: number;
  /** The first measure at the end, which says whether both are the same model. */
  readonly sum: number;
}

function cpuMs(): number {
  const { user, system } = process.cpuUsage();
  return (user + system) / 1000;
}

function readGenerated(compiled: CompiledPlan, plan: Plan, seeds: number): Reading {
  const parameters = plan.parameters.map(({ value }) => value);
  let agentSteps = 0;
  let sum = 0;
  const from = cpuMs();
  for (let seed = 1; seed <= seeds; seed++) {
    const executable = seeds === 1 ? compiled.executable() : compiled.shared();
    const run = new Run(executable, parameters, seed);
    while (!run.hasEnded) {
      plan.kinds.forEach((_, kind) => (agentSteps += executable.living(kind)));
      run.next();
    }
    sum += run.valueAt(run.rowCount - 1, 0) / seeds;
  }
  return { ms: cpuMs() - from, agentSteps, sum };
}

function readYardstick(program: string): Reading {
  const [ms, agentSteps, sum] = execFileSync(program, { encoding: 'utf8' }).split(' ').map(Number);
  return { ms: ms!, agentSteps: agentSteps!, sum: sum! };
}

function built(program: string, folder: string): string {
  const to = join(folder, program);
  const flags = ['-O3', '-march=native', '-o', to, join(FOLDER, `${program}.c`), '-lm'];
  execFileSync('gcc', flags, { stdio: 'inherit' });
  return to;
}

/** Median, in nanoseconds an agent and step. */
function medianCost(readings: readonly Reading[]): number {
  return median(readings.map(({ ms, agentSteps }) => (ms * 1e6) / agentSteps));
}

function compare(yardstick: Yardstick, folder: string, rounds: number): number {
  const { letter, program, text, seeds = 1, goal } = yardstick;
  const { loaded, diagnostics } = loadModel(text);
  if (!loaded) throw new Error(diagnostics.map((d) => d.message).join('\n'));
  const compiled = compilePlan(loaded.plan);
  const binary = built(program, folder);
  readGenerated(compiled, loaded.plan, seeds);
  const generated: Reading[] = [];
  const byC: Reading[] = [];
  for (let round = 0; round < rounds; round++) {
    byC.push(readYardstick(binary));
    generated.push(readGenerated(compiled, loaded.plan, seeds));
  }
  const [code, c] = [medianCost(generated), medianCost(byC)];
  const before = baseline[`${letter} to C`];
  const was = before === undefined ? '' : ` (was ${before.toFixed(2)})`;
  console.log(
    `${letter}  ${program.padEnd(22)} ratio ${(code / c).toFixed(2)}${was}, goal ${goal}   generated ${code.toFixed(1)} ns, C ${c.toFixed(1)} ns an agent and step   at the end ${generated[0]!.sum.toFixed(0)} and ${byC[0]!.sum.toFixed(0)}`,
  );
  return Number((code / c).toFixed(3));
}

const baseline = JSON.parse(readFileSync(BASELINE, 'utf8')) as Readonly<Record<string, number>>;
const letters = process.argv.slice(3).filter((word) => /^[A-Za-z]$/.test(word));
const rounds = process.argv.includes('quick') ? 1 : 5;
if (spawnSync('gcc', ['--version']).status !== 0)
  console.log('Not measured: gcc, which builds the yardsticks, is not here.');
else {
  const folder = mkdtempSync(join(tmpdir(), 'vole-yardsticks-'));
  const measured: Record<string, number> = {};
  try {
    for (const yardstick of YARDSTICKS)
      if (letters.length === 0 || letters.includes(yardstick.letter))
        measured[`${yardstick.letter} to C`] = compare(yardstick, folder, rounds);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
  if (process.argv.includes('keep'))
    writeFileSync(BASELINE, `${JSON.stringify({ ...baseline, ...measured }, null, 2)}\n`);
}
