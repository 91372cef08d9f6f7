// What the scripts that make up observed data share: a run with hidden values by the command line, and luck of their own.
import { execFileSync } from 'node:child_process';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const here = dirname(fileURLToPath(import.meta.url));

/** Rows of one run of a model, its steps in order: the value of a measure after so many steps; a run that ended by itself stays as it was. */
export function runOf(model, hidden, seed) {
  const settings = Object.entries(hidden).flatMap(([name, value]) => ['--set', `${name}=${value}`]);
  const command = [join(here, '../packages/cli/bin/vole.mjs'), 'run', join(here, model), '--seed', String(seed)];
  const csv = execFileSync(process.execPath, [...command, ...settings], { encoding: 'utf8' });
  const [header, ...lines] = csv.trim().split('\n');
  const columns = header.split(',');
  const rows = lines.map((line) => line.split(',').map(Number));
  return (name, step) => rows[Math.min(step, rows.length - 1)][columns.indexOf(name)];
}

/** Hidden values in words. */
export function wordsOf(hidden) {
  return Object.entries(hidden)
    .map(([name, value]) => `${name} ${value}`)
    .join(', ');
}

/** Luck that is the same on every machine. */
export function luckOf(seed) {
  let state = seed;
  const unit = () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return (state + 0.5) / 4294967296;
  };
  return {
    standardNormal: () => Math.sqrt(-2 * Math.log(unit())) * Math.cos(2 * Math.PI * unit()),
    poisson: (mean) => {
      let [count, left] = [0, Math.exp(-mean)];
      for (let product = unit(); product > left; product *= unit()) count++;
      return count;
    },
  };
}
