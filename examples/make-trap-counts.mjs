// Makes the observed data of the demo: runs the Meadow year with hidden values of its parameters, takes the voles at the end of each
// month, and adds an error of counting. Run it again with `node examples/make-trap-counts.mjs`; it writes the same file.
import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const here = dirname(fileURLToPath(import.meta.url));
const HIDDEN = { strike: '0.23 per day', bite: '0.16', kestrels: '5', founders: '280' };
const SEED = 20310301;
const ERROR = 0.12;
const GAP = '2031-08-31';

const settings = Object.entries(HIDDEN).flatMap(([name, value]) => ['--set', `${name}=${value}`]);
const csv = execFileSync(
  process.execPath,
  [
    join(here, '../packages/cli/bin/vole.mjs'),
    'run',
    join(here, 'meadow-year.vole'),
    '--seed',
    String(SEED),
    ...settings,
  ],
  { encoding: 'utf8' },
);
const [header, ...lines] = csv.trim().split('\n');
const columns = header.split(',');
const voles = new Map(
  lines
    .map((line) => line.split(','))
    .map((cells) => [Number(cells[columns.indexOf('step')]), Number(cells[columns.indexOf('voles')])]),
);

let state = SEED;
function unit() {
  state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
  return (state + 0.5) / 4294967296;
}
function standardNormal() {
  return Math.sqrt(-2 * Math.log(unit())) * Math.cos(2 * Math.PI * unit());
}

const rows = [];
for (let month = 3; month < 27; month++) {
  const end = new Date(Date.UTC(2031, month, 0));
  const day = Math.round((end.getTime() - Date.UTC(2031, 2, 1)) / 86_400_000);
  const date = end.toISOString().slice(0, 10);
  const counted = Math.round((voles.get(day) ?? 0) * Math.exp(ERROR * standardNormal()));
  rows.push(`${date},${date === GAP ? '' : counted}`);
}

const said = Object.entries(HIDDEN)
  .map(([name, value]) => `${name} ${value}`)
  .join(', ');
writeFileSync(
  join(here, 'meadow-year-trap-counts.csv'),
  [
    '# Made-up data: monthly estimates of the voles in a meadow of Hollowmere, which does not exist.',
    `# Made by examples/make-trap-counts.mjs from one run of the Meadow year (seed ${SEED}) with ${said}, and an error of counting of ${ERROR * 100} %.`,
    'date,voles',
    ...rows,
    '',
  ].join('\n'),
);
