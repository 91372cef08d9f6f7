import { execFileSync, spawn, spawnSync } from 'node:child_process';
import {
  appendFileSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { asyncBufferFromFile, parquetMetadataAsync, parquetReadObjects } from 'hyparquet';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

const VOLE = fileURLToPath(new URL('../bin/vole.mjs', import.meta.url));
let folder = '';
const file = (name: string, text: string): string => {
  const path = join(folder, name);
  writeFileSync(path, text);
  return path;
};
const vole = (...args: string[]) => spawnSync(process.execPath, [VOLE, ...args], { encoding: 'utf8' });
const out = (name: string): string => join(folder, name);
const table = (study: string, name: string): Record<string, string>[] => {
  const [head, ...lines] = readFileSync(join(out(study), name), 'utf8')
    .trim()
    .split('\n');
  const names = head!.split(',');
  return lines.map((line) => Object.fromEntries(line.split(',').map((cell, i) => [names[i]!, cell])));
};

const BANK = `model Bank
clock
  end after 40 steps
parameter bite = 0.05, from 0 to 1
parameter founders = 30, whole from 1 to 500
agent Vole
  start founders
  behaviour go
    if chance(bite)
      remove self
    if chance(0.04)
      create 1 Vole
order
  go in turn
measure voles = count Vole
summary low = min of voles
summary gone = time of min of voles
`;
const SWEEP = `study Bites
  note Made-up numbers.
  vary bite 0.02, 0.05, 0.2
  vary founders 10, 40
  5 seeds each
  keep every 10 steps
  outcome crash: low < 5
`;

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'vole-study-'));
  execFileSync(process.execPath, [VOLE, '--help']);
  file('bank.vole', BANK);
  file('bank.study', SWEEP);
});
afterAll(() => rmSync(folder, { recursive: true }));

describe('vole study', () => {
  it('runs a study that stands in the text of its model', () => {
    const own = file('inside.vole', `${BANK}\n${SWEEP}\nscenario Hunted\n  bite = 0.4\n`);
    expect(vole('check', own).stdout).toContain('0 errors');
    expect(vole('study', own, '--out', out('inside')).status).toBe(0);
    const beside = file(
      'sweep-beside.study',
      SWEEP.replace('study Bites\n', 'study Bites\n  model "bank-beside.vole"\n'),
    );
    file('bank-beside.vole', BANK);
    expect(vole('study', beside, '--out', out('beside-model')).status).toBe(0);
    expect(table('inside', 'summaries.csv')).toEqual(table('beside-model', 'summaries.csv'));
  });

  it('says which studies a text has, where it has several, and what is wrong in them', () => {
    const two = file(
      'two.vole',
      `${BANK}\n${SWEEP}\n${SWEEP.replace('Bites', 'More bites').replace('bite 0.02', 'byte 0.02')}`,
    );
    expect(vole('study', two, '--out', out('two')).stderr).toContain('“Bites”, “More bites”; choose one with --study');
    expect(vole('study', two, '--study', 'None', '--out', out('two')).stderr).toContain('has no study “None”');
    expect(vole('study', file('without-study.vole', BANK), '--out', out('none')).stderr).toContain(
      'has no study; write',
    );
    const checked = vole('check', two);
    expect([checked.status, checked.stdout]).toEqual([
      1,
      expect.stringContaining('two.vole:29:8: error: The model has no parameter “byte”'),
    ]);
    expect(vole('study', two, '--study', 'more bites', '--out', out('two')).status).toBe(1);
    expect(vole('study', two, '--study', 'bites', '--out', out('two')).status).toBe(0);
  });

  it('writes points, summaries, rows and what was run, in the order of the design', () => {
    const { status, stderr } = vole('study', join(folder, 'bank.study'), '--out', out('a'));
    expect([status, stderr]).toEqual([0, expect.stringContaining('30 runs of 6 points') as string]);
    expect(readdirSync(out('a')).sort()).toEqual(['points.csv', 'rows.csv', 'study.json', 'summaries.csv']);
    expect(table('a', 'points.csv')[4]).toEqual({ point: '5', bite: '0.2', founders: '10' });
    const summaries = table('a', 'summaries.csv');
    expect(Object.keys(summaries[0]!)).toEqual(
      'run,point,seed,steps,outcome,bite,founders,low,gone [steps],crash'.split(','),
    );
    expect(summaries.map(({ run }) => Number(run))).toEqual(Array.from({ length: 30 }, (_, i) => i + 1));
    for (const { low, crash } of summaries) expect(crash).toBe(Number(low) < 5 ? '1' : '0');
    const rows = table('a', 'rows.csv');
    expect(rows.length).toBe(150);
    expect(rows[5]).toMatchObject({ run: '2', point: '1', seed: '2', step: '0', voles: '10' });
    expect(JSON.parse(readFileSync(join(out('a'), 'study.json'), 'utf8'))).toMatchObject({
      study: 'Bites',
      text: SWEEP,
      model: 'bank.vole',
      runs: 30,
      failed: 0,
      seedsOfPoints: 5,
    });
  });

  it('gives the numbers that vole run gives for a point', () => {
    const { stdout } = vole(
      'run',
      join(folder, 'bank.vole'),
      '--set',
      'bite=0.2',
      'founders=40',
      '--seeds',
      '1..5',
      '--summary',
    );
    const alone = stdout.trim().split('\n').slice(1);
    const study = table('a', 'summaries.csv').filter(({ point }) => point === '6');
    expect(study.map((row) => [row['seed'], row['steps'], row['low'], row['gone [steps]']].join(','))).toEqual(
      alone.map((line) => line.split(',').slice(1).join(',')),
    );
  });

  it('gives the same bytes with any number of workers', () => {
    for (const workers of ['1', '3'])
      expect(vole('study', join(folder, 'bank.study'), '--out', out(`w${workers}`), '--workers', workers).status).toBe(
        0,
      );
    for (const name of readdirSync(out('a'))) {
      const [a, one, three] = ['a', 'w1', 'w3'].map((study) => readFileSync(join(out(study), name), 'utf8'));
      expect([name, one === a, three === a]).toEqual([name, true, true]);
    }
  });

  it('keeps what is done at Ctrl C, refuses to begin again there, and goes on to the same bytes', async () => {
    const long = file(
      'long.study',
      SWEEP.replace('5 seeds', '400 seeds').replace('study Bites', 'study Long\n  model "bank.vole"'),
    );
    expect(vole('study', long, '--out', out('whole')).status).toBe(0);
    const child = spawn(process.execPath, [VOLE, 'study', long, '--out', out('broken'), '--workers', '1']);
    let told = '';
    let isAsked = false;
    child.stderr.on('data', (chunk: Buffer) => {
      told += chunk.toString();
      if (isAsked || !/\d+ of 2400 runs\n/.test(told)) return;
      isAsked = true;
      child.kill('SIGINT');
    });
    const code = await new Promise((resolve) => child.on('exit', resolve));
    expect(code).toBe(130);
    expect(told).toMatch(/stopped with \d+ of 2400 runs, which are kept; .* --resume goes on/);
    expect(readdirSync(out('broken'))).toEqual(['runs.blocks']);
    expect(vole('study', long, '--out', out('broken')).stderr).toContain('--resume goes on with it');
    // Runs of a study that says something else are not taken for its own.
    const text = readFileSync(long, 'utf8');
    writeFileSync(long, text.replace('0.2\n', '0.3\n'));
    const other = vole('study', long, '--out', out('broken'), '--resume');
    expect([other.status, other.stderr]).toEqual([
      2,
      expect.stringContaining('runs of another study, model or version') as string,
    ]);
    writeFileSync(long, text);
    // A crash in the middle of a write leaves half a block behind.
    appendFileSync(join(out('broken'), 'runs.blocks'), Buffer.from([200, 1, 0, 0, 86, 79, 76, 69, 1]));
    const again = vole('study', long, '--out', out('broken'), '--resume');
    expect([again.status, again.stderr]).toEqual([0, expect.stringContaining('2400 runs') as string]);
    for (const name of readdirSync(out('whole')))
      expect([
        name,
        readFileSync(join(out('broken'), name), 'utf8') === readFileSync(join(out('whole'), name), 'utf8'),
      ]).toEqual([name, true]);
    expect(existsSync(join(out('broken'), 'runs.blocks'))).toBe(false);
    expect(vole('study', long, '--out', out('broken'), '--resume').stderr).toContain('holds a finished study');
  });

  it('finds the variance indices of the Ishigami function by a model whose summary it is', () => {
    file(
      'ishigami.vole',
      `model A function of three numbers
clock
  end after 1 step
parameter u = 0.5, from 0 to 1
parameter v = 0.5, from 0 to 1
parameter w = 0.5, from 0 to 1
measure y = sin(180 deg * (2 * u - 1)) + 7 * sin(180 deg * (2 * v - 1))^2 + 0.1 * (3.141592653589793 * (2 * w - 1))^4 * sin(180 deg * (2 * u - 1))
summary f = last of y
`,
    );
    const study = file(
      'ishigami.study',
      'study Ishigami\nvary u 0 to 1\nvary v 0 to 1\nvary w 0 to 1\nsobol indices of 1024\n1 seed\n',
    );
    expect(vole('study', study, '--out', out('ishigami')).status).toBe(0);
    const indices = table('ishigami', 'indices.csv');
    const of = (factor: string, index: string): number =>
      Number(indices.find((row) => row['factor'] === factor && row['index'] === index)!['value']);
    // A. Saltelli et al., Global Sensitivity Analysis (2008), section 4: a = 7, b = 0.1.
    const wanted: Record<string, readonly [number, number]> = {
      u: [0.3139, 0.5576],
      v: [0.4424, 0.4424],
      w: [0, 0.2437],
    };
    for (const [factor, [first, total]] of Object.entries(wanted)) {
      expect(Math.abs(of(factor, 'first index') - first)).toBeLessThan(0.03);
      expect(Math.abs(of(factor, 'total index') - total)).toBeLessThan(0.03);
    }
  });

  it('compares scenarios by pairs of runs with the same seed', () => {
    const study = file(
      'scenarios.study',
      'study Two ways\nmodel "bank.vole"\n12 seeds each\nscenario As it is\nscenario Hungry\n  bite = 0.2\n',
    );
    expect(vole('study', study, '--out', out('scenarios')).status).toBe(0);
    const lows = (point: string): number[] =>
      table('scenarios', 'summaries.csv')
        .filter((row) => row['point'] === point)
        .map((row) => Number(row['low']));
    const [calm, hungry] = [lows('1'), lows('2')];
    const differences = hungry.map((low, i) => low - calm[i]!);
    const [found] = table('scenarios', 'differences.csv');
    expect(found).toMatchObject({ summary: 'low', a: 'As it is', b: 'Hungry', seeds: '12' });
    expect(Number(found!['difference'])).toBeCloseTo(differences.reduce((sum, x) => sum + x, 0) / 12, 10);
    expect(Number(found!['ahead'])).toBe(
      differences.filter((x) => x > 0).length / 12 + differences.filter((x) => x === 0).length / 24,
    );
    expect(table('scenarios', 'points.csv')[1]).toEqual({ point: '2', scenario: 'Hungry', bite: '0.2' });
  });

  it('lays the timeline lines of a scenario over the model: the same runs as of a model that has them', () => {
    file('laid.vole', `${BANK}\ntimeline\n  at 10 steps: bite = 0.5\n`);
    const study = file(
      'laid.study',
      'study Laid\nmodel "bank.vole"\n4 seeds each\nscenario As it is\nscenario Late hunger\n  at 10 steps: bite = 0.5\n',
    );
    expect(vole('study', study, '--out', out('laid')).status).toBe(0);
    const { stdout } = vole('run', join(folder, 'laid.vole'), '--seeds', '1..4', '--summary');
    const late = table('laid', 'summaries.csv').filter(({ point }) => point === '2');
    const alone = stdout.trim().split('\n').slice(1);
    expect(late.map((row) => `${row['low']},${row['gone [steps]']}`)).toEqual(
      alone.map((line) => line.split(',').slice(3).join(',')),
    );
    expect(table('laid', 'points.csv')[1]).toEqual({
      point: '2',
      scenario: 'Late hunger',
      timeline: 'at 10 steps: bite = 0.5',
    });
  });

  it('stops at a wanted precision, with the same seeds at each point however many workers there are', () => {
    const study = file(
      'until.study',
      'study Until\nmodel "bank.vole"\nvary bite 0.03, 0.2\nuntil mean of low is known within 5 %, at most 60 seeds\n',
    );
    for (const workers of ['1', '3'])
      expect(vole('study', study, '--out', out(`until${workers}`), '--workers', workers).status).toBe(0);
    expect(readFileSync(join(out('until1'), 'summaries.csv'), 'utf8')).toBe(
      readFileSync(join(out('until3'), 'summaries.csv'), 'utf8'),
    );
    const { seedsOfPoints } = JSON.parse(readFileSync(join(out('until1'), 'study.json'), 'utf8')) as {
      seedsOfPoints: number[];
    };
    // Of the first point the interval is narrow enough at the second look and not at the first; the second point takes all it may.
    expect(seedsOfPoints).toEqual([30, 60]);
    const lows = table('until1', 'summaries.csv')
      .filter(({ point }) => point === '1')
      .map(({ low }) => Number(low));
    const halfWidth = (values: readonly number[], student: number): number => {
      const mean = values.reduce((sum, x) => sum + x, 0) / values.length;
      const variance = values.reduce((sum, x) => sum + (x - mean) ** 2, 0) / (values.length - 1);
      return (student * Math.sqrt(variance / values.length)) / mean;
    };
    // Student's t at 95 % with 19 and 29 degrees of freedom.
    expect(halfWidth(lows.slice(0, 20), 1.7291)).toBeGreaterThan(0.05);
    expect(halfWidth(lows, 1.6991)).toBeLessThanOrEqual(0.05);
  });

  it('writes Parquet that another reader reads, with the settings of the study inside', async () => {
    expect(vole('study', join(folder, 'bank.study'), '--out', out('parquet'), '--parquet').status).toBe(0);
    const buffer = await asyncBufferFromFile(join(out('parquet'), 'rows.parquet'));
    const read = await parquetReadObjects({ file: buffer });
    expect(
      read.map((row) => Object.fromEntries(Object.entries(row).map(([name, value]) => [name, String(value)]))),
    ).toEqual(table('a', 'rows.csv'));
    const { key_value_metadata: facts } = await parquetMetadataAsync(buffer);
    expect(facts!.find(({ key }) => key === 'text')!.value).toBe(SWEEP);
  });

  it('says which record cannot be written while other threads still send theirs, and goes on once it can', () => {
    file('held.vole', `${BANK}record Vole: number every 1 step\n`);
    const study = file('held.study', 'study Held\nvary bite 0.05, 0.2\n20 seeds each\nkeep records\n');
    const inTheWay = join(out('held'), 'records', 'Vole', 'run-000004.csv');
    mkdirSync(inTheWay, { recursive: true });
    const { status, stderr } = vole('study', study, '--out', out('held'), '--workers', '3');
    expect(stderr).toMatch(/vole: .*run-000004\.csv is a folder.*--resume goes on once it can be\s*$/);
    expect(stderr).not.toContain('    at ');
    expect(status).toBe(2);
    rmSync(inTheWay, { recursive: true });
    expect(vole('study', study, '--out', out('held'), '--resume').status).toBe(0);
    expect(readdirSync(join(out('held'), 'records', 'Vole'))).toHaveLength(40);
  });

  it('writes what each run recorded into a file of its own, with any number of workers the same, and as Parquet', async () => {
    file('kept.vole', `${BANK}record Vole: number every 10 steps\n`);
    const study = file('kept.study', 'study Kept\nvary bite 0.05, 0.2\n2 seeds each\nkeep records\n');
    const names = ['run-000001.csv', 'run-000002.csv', 'run-000003.csv', 'run-000004.csv'];
    const written = ['1', '3'].map((workers) => {
      expect(vole('study', study, '--out', out(`kept${workers}`), '--workers', workers).status).toBe(0);
      const records = join(out(`kept${workers}`), 'records', 'Vole');
      expect(readdirSync(records).sort()).toEqual(names);
      return names.map((name) => readFileSync(join(records, name), 'utf8'));
    });
    expect(written[1]).toEqual(written[0]);
    expect(written[0]![2]!.split('\n').slice(0, 2)).toEqual(['run,point,seed,step,Vole,number', '3,2,1,0,1,1']);
    // The same as a run alone.
    expect(vole('run', join(folder, 'kept.vole'), '--set', 'bite=0.2', '--record', out('alone')).status).toBe(0);
    const withoutKeys = (csv: string, keys: number): string[] =>
      csv
        .trim()
        .split('\n')
        .map((line) => line.split(',').slice(keys).join(','));
    expect(withoutKeys(written[0]![2]!, 3)).toEqual(
      withoutKeys(readFileSync(join(out('alone'), 'Vole.csv'), 'utf8'), 2),
    );
    expect(vole('study', study, '--out', out('keptP'), '--parquet').status).toBe(0);
    const buffer = await asyncBufferFromFile(join(out('keptP'), 'records', 'Vole', 'run-000003.parquet'));
    expect((await parquetReadObjects({ file: buffer })).length).toBe(written[0]![2]!.trim().split('\n').length - 1);
  });

  it.each([
    ['an error in it', 'study S\nmodel "bank.vole"\nvary bit 0.1\n1 seed', 'study/parameter', 1],
    ['no model beside it', 'study S\nmodel "none.vole"\n1 seed', 'is not beside it', 2],
    ['no model named', 'study S\n1 seed', 'does not say which model', 2],
    ['a model that is no file there', 'study S\nmodel "../vole/bank.vole"\n1 seed', 'is not beside it', 2],
  ] as const)('tells of %s', (_, text, words, code) => {
    const path = file('wrong.study', text);
    const { status, stderr } = vole('study', path, '--out', out('wrong'));
    expect([status, stderr]).toEqual([code, expect.stringContaining(words) as string]);
  });

  it('tells runs that fail, goes on, and ends with 1', () => {
    file(
      'fails.vole',
      BANK.replace('measure voles = count Vole', 'measure voles = count Vole / (if count Vole < 12 then 0 else 1)'),
    );
    const study = file('fails.study', 'study Fails\nvary bite 0, 0.3\n4 seeds each\n');
    const { status, stderr } = vole('study', study, '--out', out('fails'));
    const outcomes = table('fails', 'summaries.csv').map(({ outcome }) => outcome);
    expect(outcomes.length).toBe(8);
    expect([status, outcomes.includes('failed'), outcomes.includes('ended')]).toEqual([1, true, true]);
    expect(stderr).toMatch(/; \d stopped before their end/);
  });
});
