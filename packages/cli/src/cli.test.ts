import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

const VOLE = fileURLToPath(new URL('../bin/vole.mjs', import.meta.url));
const MEADOW = fileURLToPath(new URL('../../../examples/meadow-year.vole', import.meta.url));
let folder = '';
const file = (name: string, text: string): string => {
  const path = join(folder, name);
  writeFileSync(path, text);
  return path;
};
const vole = (...args: string[]) => spawnSync(process.execPath, [VOLE, ...args], { encoding: 'utf8' });

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'vole-'));
  execFileSync(process.execPath, [VOLE, '--help']);
});
afterAll(() => rmSync(folder, { recursive: true }));

describe('vole check', () => {
  it('is content with the example', () => {
    const { stdout, status } = vole('check', MEADOW);
    expect(stdout).toMatch(/0 errors, 0 warnings\n$/);
    expect(status).toBe(0);
  });
  it('shows place, piece, reason and repair, and ends with 1', () => {
    const path = file('wrong.vole', 'model W\nclock\n  end after 5 steps\nparameter bite = 0.1\nmeasure m = bits\n');
    const { stdout, status } = vole('check', path);
    expect(stdout).toContain(`${path}:5:13: error: “bits” is not known here. [name/unknown]`);
    expect(stdout).toContain('  5 | measure m = bits\n    |             ^^^^');
    expect(stdout).toContain('- Write “bite”');
    expect(status).toBe(1);
  });
  it('gives the same as JSON', () => {
    const { stdout, status } = vole('check', join(folder, 'wrong.vole'), '--json');
    const findings = JSON.parse(stdout) as { code: string; start: { line: number; column: number } }[];
    expect(findings.find((f) => f.code === 'name/unknown')!.start).toEqual({ line: 5, column: 13 });
    expect(status).toBe(1);
  });
  it('says that a file is not there', () => {
    const { stderr, status } = vole('check', join(folder, 'none.vole'));
    expect(stderr).toContain('there is no file');
    expect(status).toBe(2);
  });
  it('refuses a file of five megabytes in words', () => {
    const { stdout, status } = vole('check', file('large.vole', 'x '.repeat(2_500_000)));
    expect(stdout).toContain('text/too-long');
    expect(stdout.length).toBeLessThan(2000);
    expect(status).toBe(1);
  });
});

describe('vole run', () => {
  it('writes tidy rows to standard output and progress to standard error', () => {
    const { stdout, stderr, status } = vole('run', MEADOW, '--seeds', '3..4', '--steps', '20', '--every', '10');
    const lines = stdout.trimEnd().split('\n');
    expect(lines[0]).toBe('run,seed,step,time,voles,nests,cover');
    expect(lines.slice(1).map((line) => line.split(',').slice(0, 4).join(','))).toEqual(['1,3,0,0', '1,3,10,10', '1,3,20,20', '2,4,0,0', '2,4,10,10', '2,4,20,20']);
    expect(stderr).toContain('run 2 of 2, seed 4: 20 steps');
    expect(status).toBe(0);
  });
  it('gives the same rows alone as among others, and other rows for another seed', () => {
    const rows = (...args: string[]): string[] => vole('run', MEADOW, '--steps', '30', ...args).stdout.trimEnd().split('\n').slice(1).map((line) => line.split(',').slice(1).join(','));
    const both = rows('--seeds', '5..6');
    expect(both.filter((line) => line.startsWith('6,'))).toEqual(rows('--seed', '6'));
    expect(rows('--seed', '5').map((line) => line.slice(2))).not.toEqual(rows('--seed', '6').map((line) => line.slice(2)));
  });
  it('stops at the first failing seed, in the order of the seeds', () => {
    const path = file('late.vole', 'model F\nclock\n  end after 9 steps\nagent A\n  start 1\n  has k = 1\n  behaviour go\n    k = 1 / whole(0, 4)\nmeasure m = sum of it.k over A\n');
    const failing = (stderr: string): string => /seed (\d+): /.exec(stderr.split('\n').find((line) => line.includes('error:')) ?? '')?.[1] ?? 'none';
    const { stderr, stdout, status } = vole('run', path, '--seeds', '1..12');
    const alone = Array.from({ length: 12 }, (_, i) => vole('run', path, '--seed', String(i + 1)).status);
    expect(failing(stderr)).toBe(String(alone.indexOf(1) + 1));
    expect(stdout.trimEnd().split('\n').length).toBe(1 + 10 * alone.indexOf(1));
    expect(status).toBe(1);
  });
  it('takes values with their units, and summaries', () => {
    const run = (setting: string): string => vole('run', MEADOW, '--steps', '40', '--summary', '--set', setting).stdout;
    expect(run('strike=0.7 per week')).toBe(run('strike=0.1'));
    expect(run('strike=0.1')).not.toBe(run('strike=0.2'));
    expect(run('strike=0.1').split('\n')[0]).toBe('run,seed,steps,peak,peak_day,at_end,low_cover,died_out');
  });
  it('writes a file only when it is complete', () => {
    const out = join(folder, 'rows.csv');
    expect(vole('run', MEADOW, '--steps', '5', '--out', out).status).toBe(0);
    expect(readFileSync(out, 'utf8').split('\n')).toHaveLength(8);
    expect(existsSync(`${out}.part`)).toBe(false);
  });
  it('stops with the place in the text when the run fails, and leaves no half file', () => {
    const path = file('fails.vole', 'model F\nclock\n  end after 9 steps\nagent A\n  start 1\n  has k = 3\n  behaviour go\n    k -= 1\n    let z = 1 / k\n    k += 0 * z\nmeasure m = sum of it.k over A\n');
    const out = join(folder, 'fails.csv');
    const { stderr, status } = vole('run', path, '--out', out);
    expect(stderr).toContain(`seed 1: ${path}:9:13: error: In step 3, A.go: a division came out as`);
    expect(status).toBe(1);
    expect(existsSync(out) || existsSync(`${out}.part`)).toBe(false);
  });
  const wrong: [string, string[], string][] = [
    ['an unknown parameter', ['--set', 'bight=1'], 'no parameter “bight”'],
    ['a word where a number should be', ['--set', 'strike=high'], '“high” is no number'],
    ['a value outside its bounds', ['--set', 'kestrels=61'], 'goes from 0 to 60'],
    ['a seed that is none', ['--seed', '-1'], 'whole number'],
    ['a range that goes down', ['--seeds', '9..3'], '1..40'],
    ['an option that does not exist', ['--sed', '3'], '--sed'],
  ];
  for (const [name, args, said] of wrong) {
    it(`refuses ${name}`, () => {
      const { stderr, stdout, status } = vole('run', MEADOW, ...args);
      expect(stderr).toContain(said);
      expect(stdout).toBe('');
      expect(status).not.toBe(0);
    });
  }
});

describe('vole checks', () => {
  const model = (checks: string): string => `model K\nclock\n  step 1 day\n  end after 30 days\nparameter p = 0.5, from 0 to 1\nagent A\n  start 40\n  has v = 0\n  behaviour go\n    if chance(p)\n      v += 1\nmeasure total = sum of it.v over A\n${checks}`;
  it('is green for the example', () => {
    const { stdout, status } = vole('checks', MEADOW);
    expect(stdout).toMatch(/^green {2}Nobody hunts, nobody is taken: last of voles > 0: 20 of 20 runs\n$/);
    expect(status).toBe(0);
  });
  it('holds conditions in every run or a share of them, and means within bounds', () => {
    const path = file('checks.vole', model('check Nothing without chance\n  with p = 0, over 5 seeds for 10 days\n  expect last of total is 0 in every run\ncheck Theory\n  over 20 seeds for 10 days\n  expect last of total from 190 to 210\n  expect last of total from 150 to 250 in at least 90 % of runs\n'));
    const { stdout, status } = vole('checks', path);
    expect(stdout).toContain('green  Nothing without chance: last of total is 0: 5 of 5 runs\n');
    expect(stdout).toMatch(/green {2}Theory: last of total from 190 to 210: mean \d+\.?\d* of 20 runs; last of total from 150 to 250: 20 of 20 runs\n/);
    expect(status).toBe(0);
  });
  it('is red with the seeds to look at, and ends with 1', () => {
    const { stdout, status } = vole('checks', file('red.vole', model('check Wrong\n  over 3 seeds for 10 days\n  expect last of total is 0\n')));
    expect(stdout).toBe('red    Wrong: last of total is 0: 0 of 3 runs; not with seed 1, 2, 3\n');
    expect(status).toBe(1);
  });
});

describe('vole format and info', () => {
  it('formats to standard output, or the file itself', () => {
    const path = file('loose.vole', 'model L\nclock\n      end after   3 steps\nparameter P=1\nmeasure m=p\n');
    const tidy = 'model L\nclock\n  end after 3 steps\nparameter P = 1\nmeasure m = P\n';
    expect(vole('format', path).stdout).toBe(tidy);
    expect(readFileSync(path, 'utf8')).not.toBe(tidy);
    expect(vole('format', path, '--write').status).toBe(0);
    expect(readFileSync(path, 'utf8')).toBe(tidy);
  });
  it('says what a model is made of', () => {
    const { stdout } = vole('info', MEADOW);
    expect(stdout).toContain('clock: a step is 1 days, at most 730 steps');
    expect(stdout).toContain('space Meadow: plane 120 by 120 m, wrapping');
    expect(stdout).toContain('parameter strike = 0.2 per day, from 0 to 1   rate at which a kestrel takes a vole in its sight');
    expect(stdout).toContain('field grass: 60 by 60 cells');
    expect(stdout).toContain('agent Vole: 300 at the start; energy, age, sex; life: Pup, Adult, Nesting');
    expect(stdout).toContain('Kestrel.soar all at once');
  });
});
