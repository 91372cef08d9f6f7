import { readFileSync } from 'node:fs';
import type { AskedStudy, Design, FinishedRun, Plan, Question } from '../src/index.ts';
import { answerTo, blockOf, loadModel, plainCourse, StudyResults } from '../src/index.ts';

/** Times the questions that the page asks of a large study: 10,000 runs of 10 measures, 200 kept rows each. `npm run bench -- studies` runs it first. */

const RUNS = 10_000;
const ROWS = 200;
const MEASURES = 10;
const SEEDS_A_POINT = 50;
const RUNS_A_BLOCK = 250;
const ROUNDS = 5;
const TEXT = readFileSync('packages/core/bench/much-measured.vole', 'utf8');

/** Runs with walks as rows, quickly made up. */
function madeUp(): AskedStudy {
  const { loaded } = loadModel(TEXT);
  const plan: Plan = loaded!.plan;
  const points = RUNS / SEEDS_A_POINT;
  const design: Design = {
    is: 'every combination',
    factors: [{ parameter: 'pull', values: Array.from({ length: points }, (_, i) => i / points) }],
    seeds: Array.from({ length: SEEDS_A_POINT }, (_, i) => i + 1),
  };
  let state = 1;
  const drawn = (): number => (state = (state * 16807) % 2147483647) / 2147483647;
  const results = new StudyResults();
  const runs: FinishedRun[] = [];
  for (let run = 0; run < RUNS; run++) {
    const place = Math.floor(run / SEEDS_A_POINT);
    const rows = new Float64Array(ROWS * MEASURES);
    for (let i = 0; i < rows.length; i++) rows[i] = (rows[i - MEASURES] ?? 0) + drawn() - 0.5;
    const seed = (run % SEEDS_A_POINT) + 1;
    const summaries = Float64Array.from({ length: MEASURES }, drawn);
    runs.push({
      point: `pull=${place / points}`,
      seed,
      outcome: { result: { seed, steps: ROWS - 1, rows, every: 1, summaries, refused: 0 } },
    });
  }
  for (let from = 0; from < RUNS; from += RUNS_A_BLOCK) results.add(blockOf(runs.slice(from, from + RUNS_A_BLOCK)));
  return { plan, design, results, text: TEXT };
}

const QUESTIONS: readonly Question[] = [
  { is: 'fan', course: plainCourse(3), lines: 200 },
  { is: 'fan', course: plainCourse(3), lines: 0, point: 'pull=0.5' },
  { is: 'outcomes' },
  { is: 'points', most: 10_000 },
  { is: 'groups', by: [0] },
  { is: 'effects', summary: 2 },
  { is: 'run table', filter: 's3 > 0.5', sort: { by: 's2', down: true }, from: 0, count: 400 },
  { is: 'runs', point: 'pull=0.5' },
  { is: 'distribution', summary: 2 },
  { is: 'enough', summary: 2 },
  { is: 'apart', course: plainCourse(3) },
  { is: 'outcome', condition: 'max of m3 > 5' },
  { is: 'differences', base: 0 },
  { is: 'difference fan', course: plainCourse(3), base: 0, other: 1 },
];

const study = madeUp();
console.log(
  `${RUNS} runs of ${MEASURES} measures, ${ROWS} rows; ms, median of ${ROUNDS} (slowest), each as if new runs had just come`,
);
const nothing = blockOf([]);
for (const question of QUESTIONS) {
  const times = Array.from({ length: ROUNDS }, () => {
    study.results.add(nothing);
    const from = performance.now();
    answerTo(study, question);
    return performance.now() - from;
  }).sort((a, b) => a - b);
  console.log(
    `${question.is.padEnd(16)} ${times[ROUNDS >> 1]!.toFixed(0).padStart(6)} (${times[ROUNDS - 1]!.toFixed(0)})`,
  );
}
