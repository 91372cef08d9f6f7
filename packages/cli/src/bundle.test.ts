import { execFileSync, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Bundle, BundleStudy } from '@vole/core';
import {
  ENGINE_VERSION,
  fileMark,
  loadModel,
  readBundle,
  Rerun,
  compilePlan,
  resultName,
  simulate,
  writeBundle,
} from '@vole/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { PEN_MODEL } from '../test/pen-model.ts';

const VOLE = fileURLToPath(new URL('../bin/vole.mjs', import.meta.url));
let folder = '';
const at = (name: string): string => join(folder, name);
const vole = (...args: string[]) => spawnSync(process.execPath, [VOLE, ...args], { encoding: 'utf8', cwd: folder });

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'vole-bundle-'));
  execFileSync(process.execPath, [VOLE, '--help']);
});
afterAll(() => rmSync(folder, { recursive: true }));

const STUDY: BundleStudy = {
  name: 'Bites',
  kind: 'vary',
  seeds: [1, 2, 3],
  every: 2,
  parameters: { bite: 0.2 },
  factors: [{ parameter: 'bite', values: [0.2, 0.6] }],
  digest: '',
  isDone: true,
};

/** A study with the numbers that come of it, as a page would have it in a bundle. */
async function finished(
  study: BundleStudy,
): Promise<{ readonly study: BundleStudy; readonly tables: Record<string, string> }> {
  const rerun = Rerun.of(study, PEN_MODEL, new Map());
  if ('problem' in rerun) throw new Error(rerun.problem);
  const compiled = compilePlan(loadModel(PEN_MODEL).loaded!.plan);
  do {
    for (let job = rerun.proposer.next(); job; job = rerun.proposer.next()) {
      const run = { point: job.point, seed: job.seed, outcome: simulate(compiled, job)! };
      rerun.take(run);
      rerun.proposer.took?.(run);
    }
  } while (await rerun.proposer.more?.());
  const tables = Object.entries(rerun.tables()).map(([what, csv]) => [resultName(study.kind, 1, what), csv]);
  return {
    study: { ...study, digest: rerun.digest('') },
    tables: Object.fromEntries(tables) as Record<string, string>,
  };
}

async function bundle(name: string, parts: Partial<Bundle> = {}): Promise<string> {
  const { study, tables } = await finished(STUDY);
  const whole: Bundle = {
    engine: ENGINE_VERSION,
    project: { name: 'Pen', notes: 'what I saw', match: 'match Seen\n' },
    model: PEN_MODEL,
    files: {},
    studies: [study],
    observed: [
      { name: 'seen.csv', csv: 'day,meals\n1,2\n' },
      { name: '../outside.csv', csv: 'day\n1\n' },
      { name: 'model.vole', csv: 'day\n2\n' },
    ],
    tables,
    ...parts,
  };
  writeFileSync(at(name), writeBundle(whole));
  return at(name);
}

describe('vole verify', () => {
  it('runs every study again and finds every number the same', async () => {
    const { stdout, status } = vole('verify', await bundle('right.voleparade'));
    expect(stdout).toBe('same       Bites: 6 runs, every number the same to the bit\n');
    expect(status).toBe(0);
    const json = vole('verify', at('right.voleparade'), '--json', '--workers', '1');
    expect(JSON.parse(json.stdout)).toMatchObject({
      project: 'Pen',
      holds: true,
      studies: [{ study: 'Bites', kind: 'vary', runs: 6, same: true }],
    });
  });

  it('says where a table differs first, and that a checksum is another one', async () => {
    const { study, tables } = await finished(STUDY);
    const rows = tables['vary-rows.csv']!.split('\n');
    rows[4] = rows[4]!.replace(/\d+$/, '77');
    const changed = vole(
      'verify',
      await bundle('changed.voleparade', { tables: { ...tables, 'vary-rows.csv': rows.join('\n') } }),
    );
    expect(changed.stdout).toMatch(
      /^other {6}Bites: 6 runs, other numbers; vary-rows.csv differs first in line 5: “.*,77” in/,
    );
    expect(changed.status).toBe(1);
    const wrong = { ...study, digest: 'f'.repeat(32) };
    const other = vole('verify', await bundle('other.voleparade', { studies: [wrong], engine: '2' }));
    expect(other.stdout).toContain('its checksum is another one');
    expect(other.stdout).toContain(`made by engine version 2, this is version ${ENGINE_VERSION}`);
    expect(other.status).toBe(1);
  });

  it('takes no study for the same that cannot be held against or run', async () => {
    const broken = { ...STUDY, name: 'Broken', text: 'model\n', digest: 'f'.repeat(32) };
    const { stdout, status } = vole(
      'verify',
      await bundle('half.voleparade', { studies: [STUDY, broken], tables: {} }),
    );
    expect(stdout).toBe(
      'not known  Bites: it was not finished when the bundle was made\nnot known  Broken: the text of its model has errors\n',
    );
    expect(status).toBe(1);
    const { study } = await finished(STUDY);
    const moved = { ...study, files: { 'rain.csv': fileMark('day,rain\n1,2\n'), 'old.osm': 'ab' } };
    const other = vole(
      'verify',
      await bundle('moved.voleparade', { studies: [moved], files: { 'rain.csv': 'day,rain\n1,3\n' } }),
    );
    expect(other.stdout).toBe(
      'not known  Bites: “rain.csv”, “old.osm” of the bundle are other files than when it ran\n',
    );
    const kept = { ...moved, files: { 'rain.csv': fileMark('day,rain\n1,2\n') } };
    const same = vole(
      'verify',
      await bundle('kept.voleparade', { studies: [kept], files: { 'rain.csv': 'day,rain\n1,2\n' } }),
    );
    expect(same.stdout).toContain('same       Bites');
  });

  it.each([
    ['nothing.voleparade', undefined, /there is no file or folder/],
    ['text.voleparade', 'hello', /cannot be read as a bundle/],
    ['empty.voleparade', '', /cannot be read as a bundle/],
  ])('refuses %s with the reason', (name, content, said) => {
    if (content !== undefined) writeFileSync(at(name), content);
    const { stderr, status } = vole('verify', at(name));
    expect(stderr).toMatch(said);
    expect(status).toBe(2);
  });

  it('searches again for what agrees, to the same posterior and scores', async () => {
    const search: BundleStudy = {
      name: 'Seen',
      kind: 'match',
      seeds: [1],
      every: 1,
      parameters: {},
      // As the page keeps it: what is sought, whose values the search draws itself.
      factors: [{ parameter: 'bite', values: [] }],
      wording:
        'match Seen\nobserved "seen.csv"\n  time is days in column day\n  meals from column meals, error 10 %\nfind bite 0 to 1\nby rejection, 20 draws, at most 120 runs\n',
      observed: { 'seen.csv': 'day,meals\n2,2\n4,5\n6,7\n' },
      mostRuns: 120,
      digest: '',
      isDone: true,
    };
    const { study, tables } = await finished(search);
    expect(study.digest).toMatch(/^[0-9a-f]{32}$/);
    expect(Object.keys(tables)).toEqual(['match-scores.csv', 'match-predictive.csv', 'match-posterior.csv']);
    const right = vole('verify', await bundle('search.voleparade', { studies: [study], tables }));
    expect(right.stdout).toMatch(/^same {7}Seen: \d+ runs, every number the same to the bit\n$/);
    expect(right.status).toBe(0);
    const broken = vole(
      'verify',
      await bundle('no-search.voleparade', { studies: [{ ...study, wording: 'match Seen\n' }], tables }),
    );
    expect(broken.stdout).toBe('not known  Seen: the text of its match has errors\n');
    expect(broken.status).toBe(1);
  });

  it('takes a study that needs as many runs as it needs', async () => {
    const until = await finished({
      ...STUDY,
      factors: [],
      seeds: Array.from({ length: 200 }, (_, i) => i + 1),
      until: { summary: 0, share: 0.2, most: 200 },
    });
    const { stdout, status } = vole(
      'verify',
      await bundle('until.voleparade', { studies: [until.study], tables: until.tables }),
    );
    expect(stdout).toMatch(/^same {7}Bites: (?!200)\d+ runs/);
    expect(status).toBe(0);
  });
});

describe('vole unpack and pack', () => {
  it('make a folder that can be kept, and the same bundle of it', async () => {
    const path = await bundle('whole.voleparade');
    expect(vole('unpack', path, 'whole').status).toBe(0);
    // Beside the model lie its match and its tables, as far as their names are names of files and mean nothing else.
    expect(readdirSync(at('whole')).sort()).toEqual([
      'manifest.json',
      'model.match',
      'model.vole',
      'observed',
      'results',
      'seen.csv',
    ]);
    expect(readdirSync(at('whole/observed'))).toEqual(['2.csv', '3.csv']);
    expect(readFileSync(at('whole/model.vole'), 'utf8')).toBe(PEN_MODEL);
    expect(readFileSync(at('whole/manifest.json'), 'utf8')).toContain('"seeds": [1, 2, 3]');
    expect(vole('run', 'whole/model.vole', '--summary').status).toBe(0);
    expect(vole('verify', 'whole').stdout).toContain('every number the same');
    expect(vole('pack', 'whole', '--out', 'again.voleparade').status).toBe(0);
    expect(readBundle(new Uint8Array(readFileSync(at('again.voleparade'))))).toEqual(
      readBundle(new Uint8Array(readFileSync(path))),
    );
  });

  it('write over nothing unasked; with --force the folder holds this bundle and nothing of the one before', async () => {
    vole('unpack', await bundle('first.voleparade'), 'kept');
    writeFileSync(at('kept/.gitignore'), 'x\n');
    const again = vole('unpack', at('first.voleparade'), 'kept');
    expect([again.status, again.stderr]).toEqual([2, expect.stringContaining('kept is not empty') as string]);
    const forced = vole('unpack', await bundle('second.voleparade', { studies: [], tables: {} }), 'kept', '--force');
    expect(forced.status).toBe(0);
    expect(readdirSync(at('kept/results'))).toEqual([]);
    expect(readdirSync(at('kept'))).toContain('.gitignore');
    const packed = vole('pack', 'kept', '--out', 'first.voleparade');
    expect([packed.status, packed.stderr]).toEqual([2, expect.stringContaining('is there already') as string]);
  });

  it('take nothing away that is no file of a bundle, with --force neither', async () => {
    const path = await bundle('taken.voleparade');
    mkdirSync(at('work/results'), { recursive: true });
    writeFileSync(at('work/results/mine.csv'), 'mine');
    const refused = vole('unpack', path, 'work', '--force');
    expect([refused.status, refused.stderr]).toEqual([
      2,
      expect.stringContaining('no bundle that could be replaced') as string,
    ]);
    expect(readFileSync(at('work/results/mine.csv'), 'utf8')).toBe('mine');
    expect(vole('unpack', path, 'own').status).toBe(0);
    writeFileSync(at('own/mine.study'), 'mine');
    expect(vole('unpack', await bundle('bare.voleparade', { studies: [], tables: {} }), 'own', '--force').status).toBe(
      0,
    );
    expect(readFileSync(at('own/mine.study'), 'utf8')).toBe('mine');
    expect(readdirSync(at('own/results'))).toEqual([]);
  });

  it('writes nothing outside the folder, whatever paths a bundle has', async () => {
    const evil = await bundle('evil.voleparade', {
      tables: { '../../evil.csv': 'x', '/tmp/evil.csv': 'x', 'a/b.csv': 'x', '..': 'x', 'fine.csv': 'y' },
      observed: [{ name: '../../evil.csv', csv: 'day\n1\n' }],
    });
    mkdirSync(at('deep/in'), { recursive: true });
    expect(vole('unpack', evil, 'deep/in/here').status).toBe(0);
    expect(readdirSync(at('deep'))).toEqual(['in']);
    expect(readdirSync(at('deep/in'))).toEqual(['here']);
    expect(readdirSync(at('deep/in/here/results'))).toEqual(['fine.csv']);
    expect(readdirSync(at('deep/in/here/observed'))).toEqual(['1.csv']);
  });

  it('make a bundle of a folder with one model, and refuse one with none or several', async () => {
    expect(vole('new', 'My burrows').stdout).toContain("vole run 'My burrows/my-burrows.vole'");
    expect(vole('pack', 'My burrows').stderr).toContain('My burrows.voleparade: My burrows, 1 study');
    const { project, studies } = readBundle(new Uint8Array(readFileSync(at('My burrows.voleparade'))));
    expect(project.name).toBe('My burrows');
    expect(studies).toMatchObject([
      {
        name: 'How far they go',
        kind: 'vary',
        factors: [{ parameter: 'stride', values: [1, 2, 4, 8] }],
        every: 10,
        parameters: { voles: 200, stride: 2 },
        digest: '',
      },
    ]);
    expect(studies[0]!.seeds).toHaveLength(20);
    mkdirSync(at('bare'));
    expect(vole('pack', 'bare').stderr).toContain('no model to make a bundle of');
    for (const name of ['a', 'b']) writeFileSync(at(`bare/${name}.vole`), PEN_MODEL);
    expect(vole('pack', 'bare').stderr).toContain('several models');
  });

  it('take a study that was written into the folder, once, and refuse one that cannot be read', () => {
    vole('new', 'kept apart');
    const study = at('kept apart/kept-apart.study');
    expect(vole('pack', 'kept apart').status).toBe(0);
    expect(vole('unpack', 'kept apart.voleparade', 'work on').status).toBe(0);
    // Of the same text it is the study that is in the bundle.
    writeFileSync(at('work on/far.study'), readFileSync(study));
    expect(vole('pack', 'work on').stderr).toContain(', 1 study');
    writeFileSync(at('work on/far.study'), 'study Alone\nvary strid 1, 2\n');
    writeFileSync(
      at('work on/near.study'),
      'study Near\nvary stride 1, 2\n2 seeds each\noutcome far: (last of way) > 5 m\n',
    );
    expect(vole('pack', 'work on', '--force').stderr).toMatch(/far\.study, line 2: .*Mend it/);
    writeFileSync(at('work on/far.study'), 'study Alone\n3 seeds each\n');
    expect(vole('pack', 'work on', '--force').stderr).toContain(', 3 studies');
    const { studies } = readBundle(new Uint8Array(readFileSync(at('work on.voleparade'))));
    expect(studies.slice(1)).toMatchObject([
      { name: 'Alone', kind: 'repeat', seeds: [1, 2, 3], factors: [] },
      { name: 'Near', kind: 'vary', outcomes: [{ name: 'far', condition: '(last of way) > 5 m' }] },
    ]);
    expect(vole('verify', 'work on.voleparade').stdout).toContain('Near');
    writeFileSync(at('work on/far.study'), 'study Alone\nmodel "elsewhere.vole"\n');
    expect(vole('pack', 'work on', '--force').stderr).toContain('which is not the model of this folder');
  });
});

describe('vole new', () => {
  it('begins with a model, a check and a study that are right, and replaces nothing', async () => {
    expect(vole('new', 'burrows').status).toBe(0);
    expect(vole('check', 'burrows/burrows.vole').stdout).toContain('0 errors, 0 warnings');
    const checks = vole('checks', 'burrows/burrows.vole', '--json');
    expect(JSON.parse(checks.stdout)).toMatchObject([{ title: 'Who does not go stays', holds: true }]);
    const study = vole('study', 'burrows/burrows.study', '--out', 'came', '--json');
    expect(JSON.parse(study.stdout)).toMatchObject({ study: 'How far they go', runs: 80, failed: 0, folder: 'came' });
    expect(vole('new', 'burrows').stderr).toContain('is there already');
    expect(vole('new', '...').status).toBe(2);
  });
});

describe('vole completion', () => {
  it('completes every command, its options and its files in bash', async () => {
    const completed = (...words: string[]): string[] => {
      const script = `source <(${process.execPath} ${VOLE} completion bash); COMP_WORDS=(${words.map((word) => `'${word}'`).join(' ')}); COMP_CWORD=${words.length - 1}; _vole; printf '%s\\n' "\${COMPREPLY[@]}"`;
      return execFileSync('bash', ['-c', script], { encoding: 'utf8', cwd: folder }).trim().split('\n');
    };
    const help = vole('--help').stdout;
    const commands = [...help.slice(help.indexOf('Commands:')).matchAll(/^ {2}([a-z]+) (?=\[|<)/gm)].map(
      ([, name]) => name,
    );
    expect(commands.length).toBeGreaterThan(11);
    expect(completed('vole', '')).toEqual(expect.arrayContaining(commands));
    expect(completed('vole', 'ver')).toEqual(['verify']);
    expect(completed('vole', 'verify', '--j')).toEqual(['--json']);
    writeFileSync(at('with a space.vole'), PEN_MODEL);
    expect(completed('vole', 'check', 'with')).toEqual(['with a space.vole']);
    expect(vole('completion', 'fish').stderr).toContain('completion for bash, not for “fish”');
  });
});
