import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

const VOLE = fileURLToPath(new URL('../bin/vole.mjs', import.meta.url));
let folder = '';
const file = (name: string, content: string | Uint8Array): string => {
  const path = join(folder, name);
  writeFileSync(path, content);
  return path;
};
const out = (name: string): string => join(folder, name);
const vole = (...args: string[]) => spawnSync(process.execPath, [VOLE, ...args], { encoding: 'utf8' });
const table = (study: string, name: string): Record<string, string>[] => {
  const [head, ...lines] = readFileSync(join(out(study), name), 'utf8')
    .trim()
    .split('\n');
  const names = head!.split(',');
  return lines.map((line) => Object.fromEntries(line.split(',').map((cell, i) => [names[i]!, cell])));
};

/** A level that stays: with a normal prior and normal errors the posterior is known exactly. */
const LEVEL = `model Level
clock
  step 1 day from 2031-03-01
  end after 20 days
parameter height = 0, from -100 to 100
parameter voles = 1, whole from 1 to 100000
variable level = 0
behaviour stand
  level = height
agent Vole
  start voles
  has weight = 1
  behaviour grow
    weight += uniform(-1, 1)
order
  stand
  grow in turn
measure level_seen = level
`;
const COUNTS = '# made up\nday;seen\n02.03.2031;2,5\n08.03.2031;3,5\n15.03.2031;\n20.03.2031;9\n';
const MATCH = `match Level
model "level.vole"
observed "counts.csv"
  time is date, written day.month.year
  level_seen from column seen, error 0.5, called pond
hold out from 2031-03-20
`;

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'vole-match-'));
  file('level.vole', LEVEL);
  file('counts.csv', COUNTS);
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe('vole match', () => {
  it('scores a model as it stands: used and held out apart, and what it gives in place of each observation', () => {
    const path = file('plain.match', `${MATCH}set height = 3\n8 seeds\n`);
    const { status, stderr } = vole('match', path, '--out', out('plain'));
    expect(stderr).toContain('8 runs; scores and what is predicted are in');
    expect(status).toBe(0);
    expect(readdirSync(out('plain')).sort()).toEqual(['match.json', 'predictive.csv', 'runs.blocks', 'scores.csv']);
    const predicted = table('plain', 'predictive.csv');
    expect(predicted.map((row) => [row['series'], row['time [days]'], row['observed'], row['held_out']])).toEqual([
      ['pond', '1', '2.5', '0'],
      ['pond', '7', '3.5', '0'],
      ['pond', '19', '9', '1'],
    ]);
    for (const { median, low90, high90 } of predicted) {
      expect(Math.abs(Number(median) - 3)).toBeLessThan(0.15);
      // Of normal errors with a standard deviation of 0.5.
      expect(Math.abs((Number(high90) - Number(low90)) / (2 * 1.645 * 0.5) - 1)).toBeLessThan(0.2);
    }
    const score = (name: string): number =>
      Number(table('plain', 'scores.csv').find((row) => row.score === name)!.value);
    expect(score('points')).toBe(2);
    expect(score('held out points')).toBe(1);
    expect(Math.abs(score('bias'))).toBeLessThan(0.15);
    expect(score('held out bias')).toBeLessThan(-5.8);
    expect(JSON.parse(readFileSync(join(out('plain'), 'match.json'), 'utf8'))).toMatchObject({
      match: 'Level',
      model: 'level.vole',
      runs: 8,
    });
  });

  const SOUGHT = `${MATCH}find height normal(0, 2)\nby sequential monte carlo, 200 draws, at most 5000 runs\n`;

  it('finds the exact posterior, the same bytes with any number of threads', () => {
    const path = file('sought.match', SOUGHT);
    for (const workers of ['1', '3'])
      expect(vole('match', path, '--out', out(`sought${workers}`), '--workers', workers).status).toBe(0);
    for (const name of ['posterior.csv', 'scores.csv', 'predictive.csv', 'match.json'])
      expect(readFileSync(join(out('sought3'), name), 'utf8')).toBe(readFileSync(join(out('sought1'), name), 'utf8'));
    const draws = table('sought1', 'posterior.csv').map(
      ({ height, weight }) => [Number(height), Number(weight)] as const,
    );
    const mean = draws.reduce((sum, [height, weight]) => sum + height * weight, 0);
    const sd = Math.sqrt(draws.reduce((sum, [height, weight]) => sum + weight * (height - mean) ** 2, 0));
    // Two observations of 2.5 and 3.5; precisions 2 / 0.25 and 1 / 4.
    const exact = { mean: 24 / 8.25, sd: 1 / Math.sqrt(8.25) };
    expect(Math.abs(mean - exact.mean) / exact.sd).toBeLessThan(0.25);
    expect(sd / exact.sd).toBeGreaterThan(0.75);
    expect(sd / exact.sd).toBeLessThan(1.3);
  }, 60_000);

  it('is broken off by a signal with what it has, and gone on with to the same files', async () => {
    const path = file('slow.match', `${SOUGHT}set voles = 4000\n`);
    const running = spawn(process.execPath, [VOLE, 'match', path, '--out', out('slow')], {
      stdio: ['ignore', 'ignore', 'pipe'],
    });
    let told = '';
    let isAsked = false;
    running.stderr.on('data', (data: Buffer) => {
      told += data.toString();
      if (isAsked || !/[1-9]\d+ of at most 5000 runs/.test(told)) return;
      // Once: a second one would end it at once.
      isAsked = true;
      running.kill('SIGINT');
    });
    const code = await new Promise((resolve) => running.on('close', resolve));
    expect(told).toMatch(/stopped with \d+ runs, which are kept; .* --resume goes on/);
    expect(code).toBe(130);
    expect(existsSync(join(out('slow'), 'match.json'))).toBe(false);
    expect(vole('match', path, '--out', out('slow')).stderr).toContain('--resume goes on with it');
    expect(vole('match', path, '--out', out('slow'), '--resume').status).toBe(0);
    for (const name of ['posterior.csv', 'scores.csv', 'predictive.csv'])
      expect(readFileSync(join(out('slow'), name), 'utf8')).toBe(readFileSync(join(out('sought1'), name), 'utf8'));
  }, 120_000);

  it('uses its runs again for another text, and for more runs: the same files as without them', () => {
    const journal = (folder: string): number => statSync(join(out(folder), 'runs.blocks')).size;
    const sought = (folder: string, text: string, ...more: string[]): number | null =>
      vole('match', file('again.match', text), '--out', out(folder), ...more).status;
    const by = (words: string): string => SOUGHT.replace(/^by .*$/m, `by ${words}`);
    const small = by('rejection, 100 draws, at most 600 runs, seed 1');
    const large = by('rejection, 100 draws, at most 900 runs, seed 1');
    expect(sought('used', small)).toBe(0);
    const before = journal('used');
    expect(sought('used', small, '--resume')).toBe(0);
    expect(journal('used')).toBe(before);
    expect(sought('used', large, '--resume')).toBe(0);
    expect(sought('anew', large)).toBe(0);
    for (const name of ['posterior.csv', 'scores.csv', 'predictive.csv', 'match.json'])
      expect(readFileSync(join(out('used'), name), 'utf8')).toBe(readFileSync(join(out('anew'), name), 'utf8'));
    // Of 900 runs, those that show what is predicted are others than before; the rest was there.
    expect(journal('used') - before).toBeLessThan(0.6 * journal('anew'));
    const other = vole('match', file('other.match', `${small}set voles = 7\n`), '--out', out('used'), '--resume');
    expect(other.status).toBe(2);
    expect(other.stderr).toContain('has runs of another study, model or version of the engine');
  }, 120_000);

  it.each<[string, string, RegExp, number]>([
    ['a table that is not there', MATCH.replace('counts.csv', 'count.csv'), /There is no table “count.csv”/, 1],
    ['a table elsewhere', MATCH.replace('counts.csv', '../counts.csv'), /There is no table “..\/counts.csv”/, 1],
    ['a model that is not there', MATCH.replace('level.vole', 'hill.vole'), /“hill.vole”, which is not beside it/, 2],
    [
      'a mistake, with its line',
      MATCH.replace('level_seen', 'level_see'),
      /wrong.match:5:3: error: “level_see” is not known here/,
      1,
    ],
    [
      'runs that all fail',
      `${MATCH.replace('level_seen', 'level_seen / 0')}3 seeds\n`,
      /scores and what is predicted/,
      0,
    ],
  ])('tells of %s', (_, text, said, code) => {
    const { status, stderr } = vole('match', file('wrong.match', text), '--out', out('wrong'));
    expect(stderr).toMatch(said);
    expect(status).toBe(code);
    rmSync(out('wrong'), { recursive: true, force: true });
  });

  it('says why nothing was found, and leaves intervals empty that one run cannot have', () => {
    file('late.csv', 'day;seen\n02.03.2041;2,5\n');
    const late = file('late.match', SOUGHT.replace('counts.csv', 'late.csv').replace(/hold out.*\n/, ''));
    const { status, stderr } = vole('match', late, '--out', out('late'));
    expect(stderr).toContain('nothing was found: the runs do not reach any of the observations that are used');
    expect(status).toBe(2);
    expect(vole('match', file('one.match', `${MATCH}1 seeds\n`), '--out', out('one')).stderr).toContain('1 run;');
    expect(table('one', 'scores.csv').find(({ score }) => score === 'bias')).toMatchObject({ low: '', high: '' });
  });

  it('tells of an empty table and of one in another encoding', () => {
    file('counts2.csv', '# only a remark\n');
    const path = file('empty.match', MATCH.replace('counts.csv', 'counts2.csv'));
    expect(vole('match', path, '--out', out('empty')).stderr).toContain(
      'counts2.csv cannot be read. This file holds no table',
    );
    file('counts2.csv', 'day,seen,seen\n1,2,3\n');
    expect(vole('match', path, '--out', out('empty')).stderr).toContain('Two columns have the name “seen”');
    file('counts2.csv', Uint8Array.from([0x64, 0x61, 0x79, 0x2c, 0xe9, 0x0a]));
    expect(vole('match', path, '--out', out('empty')).stderr).toContain('counts2.csv is no text in UTF-8');
  });
});
