// Makes the observed data of the Whistle craze: runs it with hidden values of its parameters; each week the singers are heard on a walk
// that passes a tenth of the colony (a Poisson count), every fourth week some voles are asked whether they never sang (a share with its
// standard deviation). Run it again with `node examples/make-whistle-counts.mjs`; it writes the same file.
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { here, luckOf, runOf, wordsOf } from './made-up.mjs';

const HIDDEN = { meetings: '5 per day', catching: '12 %' };
const SEED = 20310401;
const COLONY = 1000;
const WALK = 0.1;
const ASKED = 40;
const WEEKS = 28;

const at = runOf('whistle-craze.vole', HIDDEN, SEED);
const { standardNormal, poisson } = luckOf(SEED);

const table = Array.from({ length: WEEKS }, (_, i) => {
  const day = 7 * (i + 1);
  const date = new Date(Date.UTC(2031, 3, 1 + day)).toISOString().slice(0, 10);
  const heard = poisson(WALK * at('singing', day));
  if ((i + 1) % 4 !== 0) return `${date},${heard},,`;
  const share = at('unaware', day) / COLONY;
  const sd = Math.max(0.01, Math.sqrt((share * (1 - share)) / ASKED));
  const never = Math.min(100, Math.max(0, 100 * (share + sd * standardNormal())));
  return `${date},${heard},${never.toFixed(1)},${(100 * sd).toFixed(1)}`;
});

writeFileSync(
  join(here, 'whistle-craze-counts.csv'),
  [
    '# Made-up data: singers heard on a weekly walk through the colony of Hollowmere, which does not exist, and the share in % that never sang.',
    `# Made by examples/make-whistle-counts.mjs from one run of the Whistle craze (seed ${SEED}) with ${wordsOf(HIDDEN)}; the walk passes a tenth of the colony, ${ASKED} voles are asked every fourth week.`,
    'date,heard,never sang,sd',
    ...table,
    '',
  ].join('\n'),
);
