import 'fake-indexeddb/auto';
import type { Bundle, BundleStudy } from '@vole/core';
import {
  blockOf,
  decodeBlock,
  encodeBlock,
  ENGINE_VERSION,
  MAX_TEXT_LENGTH,
  runsIn,
  textDigest,
  writeBundle,
} from '@vole/core';
import { afterAll, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { blockRow, madeUpRun, WorkerInPlay } from '../../test/workers-in-play.ts';
import { db } from '../storage/db.ts';
import { repository } from '../storage/repository.ts';
import { bundleOf } from '../tell/make-bundle.ts';
import { importFile } from './import-file.ts';

const TEXT =
  'model Little meadow\nagent Vole\n  start 3\n  has age = 0\n  behaviour wait\n    age += 1\nparameter spare = 2\nmeasure total = sum of it.age over Vole + spare\n';
const file = (name: string, content: string | Uint8Array): File => new File([content as BlobPart], name);

beforeAll(() => {
  vi.stubGlobal('Worker', WorkerInPlay);
});
afterAll(() => vi.unstubAllGlobals());
beforeEach(async () => {
  for (const table of [db.projects, db.studies, db.blocks, db.observed, db.versions]) await table.clear();
});

describe('a file that is opened', () => {
  it('becomes a project under the title of its model, or of the file where the text has errors', async () => {
    expect(await importFile(file('x.vole', TEXT))).toMatchObject({ name: 'Little meadow', text: TEXT });
    expect(await importFile(file('half done.vole', 'model Half\nagent\n'))).toMatchObject({
      name: 'half done',
      text: 'model Half\nagent\n',
    });
    expect(await repository.projects()).toHaveLength(2);
  });

  it.each<[string, string, string | Uint8Array, RegExp]>([
    [
      'is no text',
      'photo.vole',
      Uint8Array.of(0xff, 0xfe, 0x00, 0xd8, 0x01),
      /“photo.vole” is not a text in UTF-8.*Nothing was changed/,
    ],
    ['is too long', 'long.vole', 'é'.repeat(MAX_TEXT_LENGTH + 1), /1,000,001 characters/],
    ['is far too large', 'huge.vole', 'x'.repeat(4 * MAX_TEXT_LENGTH + 1), /4\.0 MB/],
    ['is a bundle cut in half', 'cut.voleparade', Uint8Array.of(0x50, 0x4b, 3, 4, 5, 6), /./],
  ])('that %s is refused with the reason, and nothing is added', async (_, name, content, said) => {
    await expect(importFile(file(name, content))).rejects.toThrow(said);
    expect([await db.projects.count(), await db.studies.count(), await db.observed.count()]).toEqual([0, 0, 0]);
  });

  it('is a bundle: text, notes, observed data and studies come as they were', async () => {
    const from = await repository.addProject('Little meadow', TEXT, 'Some notes.');
    await repository.keepObserved({ projectId: from.id, name: 'counts.csv', csv: 'day,voles\n1,3\n' });
    await repository.keepStudy(
      {
        id: 's',
        projectId: from.id,
        kind: 'repeat',
        name: 'Repeat',
        text: TEXT,
        seeds: [1, 2],
        every: 1,
        parameters: { spare: 4 },
        factors: [],
        createdAt: 5,
        status: 'done',
      },
      [blockRow({ id: 's', text: TEXT }, [madeUpRun(1, [0, 2]), madeUpRun(2, [1, 2])])],
    );
    const { bundle } = await bundleOf({
      project: from,
      match: 'match Counts\n',
      observed: await repository.observed(from.id),
      shown: [],
    });
    expect(Object.keys(bundle.tables)).toEqual(['repeat-rows.csv', 'repeat-summaries.csv', 'record.json']);
    expect(bundle.tables['repeat-rows.csv']).toBe(
      'run,seed,step,time [steps],total\n1,1,0,0,0\n1,1,1,1,2\n2,2,0,0,1\n2,2,1,1,2\n',
    );

    const project = await importFile(file('little.voleparade', writeBundle(bundle)));
    expect(project).toMatchObject({ name: 'Little meadow', text: TEXT, notes: 'Some notes.' });
    expect(project.id).not.toBe(from.id);
    expect(await repository.observed(project.id)).toMatchObject([{ name: 'counts.csv', csv: 'day,voles\n1,3\n' }]);
    expect((await repository.project(project.id))!.matchDraft).toBe('match Counts\n');
    const [study] = await repository.studies(project.id);
    // The runs are there at once; run again from the seeds, their checksum says whether they come out as they were.
    expect(study).toMatchObject({
      kind: 'repeat',
      seeds: [1, 2],
      parameters: { spare: 4 },
      text: TEXT,
      status: 'done',
      expectedDigest: bundle.studies[0]!.digest,
      isReceived: true,
    });
    expect(bundle.studies[0]!.digest).toMatch(/\S/);
    const [block] = await repository.blocks(study!.id);
    const runs = runsIn(decodeBlock(block!.bytes).block);
    expect(runs.map(({ seed, outcome }) => [seed, 'result' in outcome && [...outcome.result.rows]])).toEqual([
      [1, [0, 2]],
      [2, [1, 2]],
    ]);
  });

  it.each<[string, Partial<BundleStudy>]>([
    ['of another text', { block: new Uint8Array(encodeBlock(blockOf([madeUpRun(1, [0, 2])]), textDigest('other'))) }],
    ['damaged', { block: Uint8Array.of(1, 2, 3, 4, 5) }],
    ['not there', {}],
  ])('is a bundle whose runs are %s: they wait to be made from the seeds', async (_, parts) => {
    const study: BundleStudy = {
      name: 'Repeat',
      kind: 'repeat',
      seeds: [1],
      every: 1,
      parameters: {},
      factors: [],
      digest: 'abc',
      isDone: true,
      ...parts,
    };
    const bundle: Bundle = {
      engine: ENGINE_VERSION,
      project: { name: 'Little meadow', notes: '' },
      model: TEXT,
      files: {},
      studies: [study],
      observed: [],
      tables: {},
    };
    const project = await importFile(file('other.voleparade', writeBundle(bundle)));
    const [kept] = await repository.studies(project.id);
    expect(kept).toMatchObject({ status: 'stopped', expectedDigest: 'abc' });
    expect(kept!.isReceived).toBeUndefined();
    expect(await repository.blocks(kept!.id)).toEqual([]);
  });

  it('brings along what the report tells of, of the studies as they are stored here', async () => {
    const from = await repository.addProject('Little meadow', TEXT);
    const row = { projectId: from.id, kind: 'repeat', name: 'Repeat', text: TEXT, seeds: [1], every: 1 } as const;
    for (const id of ['one', 'two'])
      await repository.keepStudy({
        ...row,
        seeds: [1],
        id,
        parameters: {},
        factors: [],
        createdAt: 1,
        status: 'stopped',
      });
    const { bundle } = await bundleOf({
      project: from,
      match: '',
      observed: [],
      shown: [],
      report: { leftOut: ['one'], drawn: { two: ['total'] } },
    });
    const project = await importFile(file('told.voleparade', writeBundle(bundle)));
    const [one, two] = await repository.studies(project.id);
    expect((await repository.project(project.id))!.report).toEqual({
      leftOut: [one!.id],
      drawn: { [two!.id]: ['total'] },
    });
  });

  it('is a bundle with several studies of a kind: all of them come', async () => {
    const from = await repository.addProject('Little meadow', TEXT);
    for (const [id, seeds] of [
      ['one', [1]],
      ['two', [5, 6]],
      ['three', [7]],
    ] as const)
      await repository.keepStudy({
        id,
        projectId: from.id,
        kind: 'repeat',
        name: id,
        text: TEXT,
        seeds: [...seeds],
        every: 1,
        parameters: {},
        factors: [],
        createdAt: seeds[0],
        status: 'stopped',
      });
    const { bundle } = await bundleOf({ project: from, match: '', observed: [], shown: [] });
    const project = await importFile(file('several.voleparade', writeBundle(bundle)));
    expect((await repository.studies(project.id)).map(({ name, seeds }) => [name, seeds])).toEqual([
      ['one', [1]],
      ['two', [5, 6]],
      ['three', [7]],
    ]);
    expect(Object.keys(bundle.tables)).toContain('repeat-3-rows.csv');
  });

  it('is a bundle whose study is far too large: refused, and nothing is added', async () => {
    const study = {
      name: 'Endless',
      kind: 'vary' as const,
      seeds: Array.from({ length: 1000 }, (_, i) => i),
      every: 1,
      parameters: {},
      factors: ['a', 'b', 'c'].map((parameter) => ({ parameter, values: Array.from({ length: 1000 }, (_, i) => i) })),
      digest: '',
    };
    const bytes = writeBundle({
      engine: '2',
      project: { name: 'Trap', notes: '' },
      model: TEXT,
      files: {},
      studies: [study],
      observed: [],
      tables: {},
    });
    await expect(importFile(file('trap.voleparade', bytes))).rejects.toThrow(
      /“Endless” of this bundle is too large.*1,000,000,000,000 runs/,
    );
    expect(await db.projects.count()).toBe(0);
  });

  it('says with no checksum that a study was not finished when it was bundled', async () => {
    const from = await repository.addProject('Little meadow', TEXT);
    await repository.keepStudy({
      id: 'half',
      projectId: from.id,
      kind: 'vary',
      name: 'Vary',
      text: 'model Earlier\n',
      seeds: [1],
      every: 1,
      parameters: {},
      factors: [{ parameter: 'spare', values: [1, 2] }],
      createdAt: 5,
      status: 'stopped',
    });
    const { studies, tables } = (await bundleOf({ project: from, match: '', observed: [], shown: [] })).bundle;
    expect(studies).toMatchObject([
      { digest: '', text: 'model Earlier\n', factors: [{ parameter: 'spare', values: [1, 2] }] },
    ]);
    expect(tables['vary-rows.csv']).toBe('run,seed,spare,step,time [steps]\n');
  });
});
