import 'fake-indexeddb/auto';
import { decodeBlock } from '@vole/core';
import { beforeEach, describe, expect, it } from 'vitest';
import { blockRow, madeUpRun } from '../../test/workers-in-play.ts';
import type { Database } from './db.ts';
import { openDatabase } from './db.ts';
import { Repository, storageProblem } from './repository.ts';
import type { BlockRow, StudyRow } from './schema.ts';

let db: Database;
let repository: Repository;
let databases = 0;

beforeEach(() => {
  db = openDatabase(`test ${++databases}`);
  repository = new Repository(db);
});

const study = (projectId: string, id: string): StudyRow => ({
  id,
  projectId,
  kind: 'repeat',
  name: 'Repeat',
  text: 'model',
  seeds: [1, 2],
  every: 1,
  parameters: {},
  factors: [],
  createdAt: Date.now(),
  status: 'running',
});
/** A block of one run; its number is the only one it has. */
const block = (studyId: string, number: number): BlockRow =>
  blockRow({ id: studyId, text: 'model' }, [madeUpRun(number + 1, [number])], `${studyId}:${number}`);
const numbersOf = (rows: readonly BlockRow[]): number[] =>
  rows.map(({ bytes }) => decodeBlock(bytes).block.rows[0]!).sort((a, b) => a - b);

describe('projects', () => {
  it('keep a report that was frozen in another window, and say what is kept', async () => {
    const { id } = await repository.addProject('A', 'a', '', 1000);
    const frozen = { at: 5, report: { title: 'A', sections: [] } };
    const choice = { leftOut: [], drawn: {} };
    expect(await repository.keepReport(id, { ...choice, frozen })).toBeUndefined();
    // A window that does not know of it chooses other figures, or freezes its own.
    const other = { leftOut: ['x'], drawn: {} };
    expect(await repository.keepReport(id, other)).toEqual({ ...choice, frozen });
    expect(await repository.keepReport(id, { ...other, frozen: { ...frozen, at: 9 } })).toEqual({ ...choice, frozen });
    // One that knows of it lets it go; whoever still takes it for frozen is told.
    expect(await repository.keepReport(id, other, 5)).toBeUndefined();
    expect(await repository.keepReport(id, { ...other, frozen }, 5)).toEqual(other);
    expect((await repository.project(id))!.report).toEqual(other);
  });

  it('keep what came of their checks, and open also where that cannot be read', async () => {
    const { id } = await repository.addProject('A', 'a', '', 1000);
    const checks = { text: 'a', engine: '3', outcomes: [] };
    await repository.keepChecks(id, checks);
    expect(await repository.project(id)).toMatchObject({ checks, revision: 1, changedAt: 1000 });
    await repository.keepChecks(id, { text: 'a' } as typeof checks);
    expect(await repository.project(id)).toMatchObject({ text: 'a', checks: undefined });
    await repository.putAway(id);
  });

  it('are listed by their last change, put away and brought back', async () => {
    const a = await repository.addProject('A', 'a', '', 1000);
    const b = await repository.addProject('B', 'b', '', 2000);
    expect((await repository.projects()).map((p) => p.name)).toEqual(['B', 'A']);
    await repository.putAway(b.id, 3000);
    expect((await repository.projects()).map((p) => p.name)).toEqual(['A']);
    await repository.bringBack(b.id);
    expect((await repository.projects()).map((p) => p.name)).toEqual(['B', 'A']);
    await repository.putAway(a.id, 4000);
    await repository.clearAway(4001);
    await repository.bringBack(a.id);
    expect(await repository.project(a.id)).toBeUndefined();
  });

  it('keep what saves replace as versions, some minutes apart, and those with a name', async () => {
    const minute = 60_000;
    const { id } = await repository.addProject('A', 'first', '', 0);
    await repository.saveProject(id, 1, { text: 'second' }, 1 * minute);
    await repository.saveProject(id, 2, { text: 'third' }, 2 * minute);
    await repository.saveProject(id, 3, { notes: 'only notes' }, 20 * minute);
    await repository.saveProject(id, 4, { text: 'fourth' }, 21 * minute);
    await repository.addVersion(id, 'fourth', 'before the talk', 22 * minute);
    const versions = await repository.versions(id);
    expect(versions.map(({ text, name }) => [text, name])).toEqual([
      ['fourth', 'before the talk'],
      ['third', ''],
      ['first', ''],
    ]);
    await repository.nameVersion(versions[2]!.id, 'the beginning');
    expect((await repository.versions(id))[2]!.name).toBe('the beginning');
    await repository.putAway(id, 30 * minute);
    await repository.clearAway(31 * minute);
    expect(await repository.versions(id)).toEqual([]);
  });

  it('are renamed without their text, whatever the list knew of it', async () => {
    const { id } = await repository.addProject('A', 'first');
    await repository.saveProject(id, 1, { text: 'from another tab' });
    expect(await repository.renameProject(id, 'B')).toBe(3);
    expect(await repository.project(id)).toMatchObject({ name: 'B', text: 'from another tab', revision: 3 });
    await expect(repository.renameProject('gone', 'C')).rejects.toThrow(/no longer there/);
  });

  it('are not saved over what another tab saved since', async () => {
    const { id } = await repository.addProject('A', 'first');
    expect(await repository.saveProject(id, 1, { text: 'from one tab' })).toEqual({ saved: true, revision: 2 });
    const refused = await repository.saveProject(id, 1, { text: 'from the other' });
    expect(refused).toMatchObject({ saved: false, theirs: { text: 'from one tab', revision: 2 } });
    expect((await repository.project(id))!.text).toBe('from one tab');
  });

  it('are copied with their data, and cleared away with it', async () => {
    const { id } = await repository.addProject('A', 'text');
    await repository.keepObserved({ projectId: id, name: 'counts.csv', csv: 'old' }, 'match Counts\n');
    await repository.keepObserved({ projectId: id, name: 'counts.csv', csv: 'a,b' });
    await repository.keepObserved({ projectId: id, name: 'other.csv', csv: 'c,d' });
    await repository.keepStudy(study(id, 's1'), [block('s1', 0), block('s1', 1)]);
    const copy = await repository.duplicateProject(id, 'A, copy');
    const copied = (await repository.studies(copy.id))[0]!;
    expect(numbersOf(await repository.blocks(copied.id))).toEqual([0, 1]);
    expect(copy.matchDraft).toBe('match Counts\n');
    await repository.removeObserved(id, 'other.csv');
    expect((await repository.observed(copy.id)).map(({ csv }) => csv).sort()).toEqual(['a,b', 'c,d']);
    expect((await repository.observed(id)).map(({ csv }) => csv)).toEqual(['a,b']);
    await repository.putAway(id, 5);
    await repository.clearAway(6);
    expect(await db.blocks.where({ studyId: 's1' }).count()).toBe(0);
    expect((await repository.blocks(copied.id)).length).toBe(2);
  });
});

describe('studies', () => {
  it('stand beside earlier ones, are named, put away, brought back and cleared away with their runs', async () => {
    const { id } = await repository.addProject('A', 'text');
    await repository.keepStudy(study(id, 's1'), [block('s1', 0)]);
    await repository.keepStudy({ ...study(id, 's2'), createdAt: Date.now() + 1 });
    await repository.describeStudy('s1', { name: 'the first' });
    expect((await repository.studies(id)).map((s) => [s.id, s.name])).toEqual([
      ['s1', 'the first'],
      ['s2', 'Repeat'],
    ]);
    await repository.putStudyAway('s1', 1000);
    expect((await repository.studies(id)).map((s) => s.id)).toEqual(['s2']);
    await repository.bringStudyBack('s1');
    expect((await repository.blocks('s1')).length).toBe(1);
    await repository.putStudyAway('s1', 1000);
    await repository.clearAway(1001);
    await repository.bringStudyBack('s1');
    expect((await repository.studies(id)).map((s) => s.id)).toEqual(['s2']);
    expect(await db.blocks.count()).toBe(0);
  });
  it('keep every block of finished runs, each once, and the name they were given while they ran', async () => {
    const { id } = await repository.addProject('A', 'text');
    await repository.keepStudy(study(id, 's1'), [block('s1', 1), block('s1', 0)]);
    await repository.describeStudy('s1', { name: 'mine', notes: 'a note' });
    await repository.keepStudy({ ...study(id, 's1'), seeds: [1, 2, 3], status: 'done' }, [block('s1', 1)]);
    expect(numbersOf(await repository.blocks('s1'))).toEqual([0, 1]);
    expect((await repository.studies(id))[0]).toMatchObject({
      seeds: [1, 2, 3],
      status: 'done',
      name: 'mine',
      notes: 'a note',
    });
  });
  it('are stored with their runs or not at all', async () => {
    const { id } = await repository.addProject('A', 'text');
    await expect(
      repository.keepStudy(study(id, 's1'), [{ ...block('s1', 0), id: undefined as unknown as string }]),
    ).rejects.toThrow();
    expect(await repository.studies(id)).toEqual([]);
  });
});

describe('what is read', () => {
  it('passes its schema at the door', async () => {
    const { id } = await repository.addProject('A', 'text');
    await db.projects.update(id, { text: 7 as unknown as string });
    await expect(repository.project(id)).rejects.toThrow(/text/);
  });
  it('hides nothing beside a row that cannot be read', async () => {
    const good = await repository.addProject('Good', 'text');
    const { id } = await repository.addProject('Bad', 'text');
    await db.projects.update(id, { text: 7 as unknown as string });
    expect((await repository.projects()).map((row) => row.id)).toEqual([good.id]);
    await repository.keepStudy(study(good.id, 's1'), [
      block('s1', 0),
      { ...block('s1', 1), bytes: 'x' as unknown as ArrayBuffer },
    ]);
    expect(numbersOf(await repository.blocks('s1'))).toEqual([0]);
  });
  it('failures of storage are said in words that tell what is safe', () => {
    const full = Object.assign(new Error('x'), { name: 'QuotaExceededError' });
    const none = Object.assign(new Error('x'), { name: 'MissingAPIError' });
    for (const error of [full, none, new Error('odd')])
      expect(storageProblem(error)).toMatch(/take the project along in Tell/);
    expect(storageProblem(full)).toContain('no room');
    const unloaded = new TypeError('Failed to fetch dynamically imported module: runs-to-blocks.js');
    for (const error of [unloaded, Object.assign(new Error('x'), { name: 'OpenFailedError', inner: unloaded })])
      expect(storageProblem(error)).toMatch(/Reload the page; what is stored .* is as it was/);
  });
});
