// Makes the observed data of the demo: runs the Meadow year with hidden values of its parameters, takes the voles at the end of each
// month, and adds an error of counting. Run it again with `node examples/make-trap-counts.mjs`; it writes the same file.
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { here, luckOf, runOf, wordsOf } from './made-up.mjs';

const HIDDEN = { strike: '0.23 per day', bite: '0.16', kestrels: '5', founders: '280' };
const SEED = 20310301;
const ERROR = 0.12;
const GAP = '2031-08-31';

const at = runOf('meadow-year.vole', HIDDEN, SEED);
const { standardNormal } = luckOf(SEED);

const rows = [];
for (let month = 3; month < 27; month++) {
  const end = new Date(Date.UTC(2031, month, 0));
  const day = Math.round((end.getTime() - Date.UTC(2031, 2, 1)) / 86_400_000);
  const date = end.toISOString().slice(0, 10);
  const counted = Math.round(at('voles', day) * Math.exp(ERROR * standardNormal()));
  rows.push(`${date},${date === GAP ? '' : counted}`);
}

writeFileSync(
  join(here, 'meadow-year-trap-counts.csv'),
  [
    '# Made-up data: monthly estimates of the voles in a meadow of Hollowmere, which does not exist.',
    `# Made by examples/make-trap-counts.mjs from one run of the Meadow year (seed ${SEED}) with ${wordsOf(HIDDEN)}, and an error of counting of ${ERROR * 100} %.`,
    'date,voles',
    ...rows,
    '',
  ].join('\n'),
);
