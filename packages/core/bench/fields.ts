import type { GeneratedRun } from '../src/index.ts';
import { compilePlan, loadModel, Run } from '../src/index.ts';
import { median } from './median.ts';

/** Times what fields do by themselves, with kernels in WebAssembly and in JavaScript in turns: medians of five rounds, in CPU time a cell and step. */

const SIDE = 700;
const STEPS = 30;
const ROUNDS = 5;

const FIELDS: readonly (readonly [title: string, lines: string])[] = [
  ['grows within bounds', '  start uniform(0, 1)\n  grow 0.03\n  keep 0 to 1'],
  [
    'grows, spreads, fades, keeps within bounds',
    '  start uniform(0, 1)\n  grow 0.01\n  spread 0.5\n  fade 10 %\n  keep 0 to 1',
  ],
  [
    'becomes, by how many of eight neighbours are so',
    '  start chance(0.4)\n  becomes yes when (count cells next to here where ground at it) is 3\n  becomes no when (count cells next to here where ground at it) < 2 or (count cells next to here where ground at it) > 3',
  ],
  [
    'becomes, by a neighbour and by chances',
    '  start if chance(0.6) then heather else if chance(0.01) then burning else bare\n  becomes bare when ground is burning\n  becomes burning when ground is heather and (any cells next to here where ground at it is burning)\n  becomes heather when ground is bare and chance(0.02)',
  ],
];

function text(lines: string): string {
  return `model Field\nclock\n  end after ${STEPS} steps\nspace Bank: grid ${SIDE} by ${SIDE}, 8 neighbours, wrapping\nfield ground on Bank\n${lines}\nagent Vole\n  start 1 anywhere\norder\n  ground\nmeasure voles = count Vole\n`;
}

/** Nanoseconds a cell and step, once the first step has compiled what there is to compile. */
function cost(executable: GeneratedRun): number {
  const run = new Run(executable, [], 1);
  run.next();
  const from = process.cpuUsage();
  run.runTo();
  const { user, system } = process.cpuUsage(from);
  return ((user + system) * 1000) / (SIDE * SIDE * (STEPS - 1));
}

for (const [title, lines] of FIELDS) {
  const { loaded, diagnostics } = loadModel(text(lines));
  if (!loaded) throw new Error(diagnostics.map(({ message }) => message).join('\n'));
  const engines = (['WebAssembly', 'JavaScript'] as const).map((engine) => ({
    engine,
    compiled: compilePlan(loaded.plan, false, engine),
    costs: [] as number[],
  }));
  for (let round = 0; round < ROUNDS; round++)
    for (const { compiled, costs } of engines) costs.push(cost(compiled.executable()));
  console.log(
    `${title.padEnd(48)} ${engines.map(({ engine, costs }) => `${engine} ${median(costs).toFixed(2)} ns`).join('   ')}   a cell and step`,
  );
}
