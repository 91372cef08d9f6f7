import 'fake-indexeddb/auto';
import Dexie from 'dexie';
import { expect, it } from 'vitest';
import { openDatabase } from './db.ts';
import { Repository } from './repository.ts';

it('observed data that an earlier version stored become a table and the text of a match, once', async () => {
  const earlier = new Dexie('with-mappings');
  earlier.version(5).stores({
    projects: 'id, changedAt, deletedAt',
    studies: 'id, projectId, [projectId+kind], createdAt',
    observed: 'id, projectId',
    versions: 'id, projectId, [projectId+at]',
    blocks: 'id, studyId',
    records: 'id, studyId',
  });
  const project = {
    name: 'P',
    text: 'model M\n',
    notes: '',
    revision: 1,
    createdAt: 1,
    changedAt: 1,
    deletedAt: 0,
    visited: [],
  };
  await earlier.table('projects').bulkAdd([
    { ...project, id: 'p' },
    { ...project, id: 'q' },
  ]);
  const mapping = { timeColumn: 'date', timeIs: 'date', columns: [{ column: 'seen', measure: 'voles' }] };
  await earlier.table('observed').bulkAdd([
    { id: 'o', projectId: 'p', name: 'Trap counts (made up)', csv: 'date,seen\n2031-03-01,4\n', mapping },
    { id: 'odd', projectId: 'q', name: 'odd' },
  ]);
  earlier.close();

  const repository = new Repository(openDatabase('with-mappings'));
  expect(await repository.observed('p')).toEqual([
    { id: 'o', projectId: 'p', name: 'Trap counts (made up)', csv: 'date,seen\n2031-03-01,4\n' },
  ]);
  expect((await repository.project('p'))!.matchDraft).toBe(
    'match Trap counts (made up)\nobserved "Trap counts (made up)"\n  time is date in column date\n  voles from column seen\n',
  );
  expect((await repository.project('q'))!.matchDraft).toBeUndefined();
  expect(await repository.observed('q')).toEqual([]);
});
