import type { EntityTable } from 'dexie';
import Dexie from 'dexie';
import type { BlockRow, FileRow, ObservedRow, ProjectRow, RecordRow, StudyRow, VersionRow } from './schema.ts';

export type Database = Dexie & {
  projects: EntityTable<ProjectRow, 'id'>;
  studies: EntityTable<StudyRow, 'id'>;
  blocks: EntityTable<BlockRow, 'id'>;
  records: EntityTable<RecordRow, 'id'>;
  observed: EntityTable<ObservedRow, 'id'>;
  versions: EntityTable<VersionRow, 'id'>;
  files: EntityTable<FileRow, 'id'>;
};

/** What a migration loads only where it is needed; its transaction is held open meanwhile. */
function held<T>(loading: Promise<T>): Promise<T> {
  return Dexie.waitFor(loading);
}

/** Opens the data of this browser. Each version of the tables is a numbered migration; earlier ones are never changed. */
export function openDatabase(name = 'vole-parade'): Database {
  const db = new Dexie(name) as Database;
  db.version(1).stores({
    projects: 'id, changedAt, deletedAt',
    studies: 'id, projectId, [projectId+kind], createdAt',
    runs: 'id, studyId, [studyId+index]',
    observed: 'id, projectId',
  });
  db.version(2).stores({ versions: 'id, projectId, [projectId+at]' });
  db.version(3)
    .stores({ blocks: 'id, studyId' })
    .upgrade(async (transaction) => (await held(import('./runs-to-blocks.ts'))).runsToBlocks(transaction));
  db.version(4).stores({ runs: null });
  db.version(5).stores({ records: 'id, studyId' });
  db.version(6).upgrade(async (transaction) =>
    (await held(import('./mappings-to-matches.ts'))).mappingsToMatches(transaction),
  );
  db.version(7).stores({ files: 'id, projectId' });
  return db;
}

export const db = openDatabase();
