import type { Database } from './db.ts';
import { db as defaultDb } from './db.ts';
import type {
  BlockRow,
  ChecksRow,
  FileRow,
  ObservedRow,
  ProjectRow,
  RecordRow,
  ReadingRow,
  ReportChoiceRow,
  StudyRow,
  VersionRow,
} from './schema.ts';
import {
  BlockSchema,
  FileSchema,
  ObservedSchema,
  ProjectSchema,
  RecordSchema,
  StudySchema,
  VersionSchema,
} from './schema.ts';

export type SaveOutcome =
  { readonly saved: true; readonly revision: number } | { readonly saved: false; readonly theirs: ProjectRow };

export function newId(): string {
  return crypto.randomUUID();
}

function fileId(projectId: string, name: string): string {
  return `${projectId}/${name}`;
}

/** Time between versions that are kept unasked, and how many of these a project has at most. */
const VERSION_PAUSE = 5 * 60_000;
const MOST_UNNAMED = 200;

/** Everything the page keeps. All writes are whole transactions: after a crash a thing is there as before or as after. */
export class Repository {
  constructor(private readonly db: Database = defaultDb) {}

  /** The latest changed first. A row that cannot be read hides no other one. */
  async projects(): Promise<ProjectRow[]> {
    const rows = await this.db.projects.orderBy('changedAt').reverse().toArray();
    return rows.flatMap((row) => ProjectSchema.safeParse(row).data ?? []).filter((row) => row.deletedAt === 0);
  }

  async project(id: string): Promise<ProjectRow | undefined> {
    const row = await this.db.projects.get(id);
    return row && ProjectSchema.parse(row);
  }

  async addProject(name: string, text: string, notes = '', now = Date.now()): Promise<ProjectRow> {
    const row: ProjectRow = {
      id: newId(),
      name,
      text,
      notes,
      revision: 1,
      createdAt: now,
      changedAt: now,
      deletedAt: 0,
      visited: [],
    };
    await this.db.projects.add(row);
    return row;
  }

  /** Saves a change if nobody saved another one since `revision`; else gives what is there, and saves nothing. */
  async saveProject(
    id: string,
    revision: number,
    change: Partial<Pick<ProjectRow, 'name' | 'text' | 'notes'>>,
    now = Date.now(),
  ): Promise<SaveOutcome> {
    return this.db.transaction('rw', [this.db.projects, this.db.versions], async () => {
      const row = await this.db.projects.get(id);
      if (!row) throw new Error('This project is no longer there.');
      if (row.revision !== revision) return { saved: false, theirs: ProjectSchema.parse(row) };
      if (change.text !== undefined && change.text !== row.text) await this.keepUnasked(id, row.text, now);
      await this.db.projects.put({ ...row, ...change, revision: revision + 1, changedAt: now });
      return { saved: true, revision: revision + 1 };
    });
  }

  /** Keeps which views were looked at: no change of the project, so neither its date nor its revision moves. */
  async keepVisited(id: string, visited: readonly string[]): Promise<void> {
    await this.db.projects.update(id, { visited: [...visited] });
  }

  /** Keeps how its charts are read: no change of the project either. */
  async keepReadings(id: string, readings: readonly ReadingRow[]): Promise<void> {
    await this.db.projects.update(id, { readings: [...readings] });
  }

  /** Keeps what came of the checks: no change of the project either. */
  async keepChecks(id: string, checks: ChecksRow): Promise<void> {
    await this.db.projects.update(id, { checks });
  }

  /** Keeps the text of a study that is being written: no change of the project either. */
  async keepStudyDraft(id: string, studyDraft: string): Promise<void> {
    await this.db.projects.update(id, { studyDraft });
  }

  /** Keeps the text of the match: no change of the project either. */
  async keepMatchDraft(id: string, matchDraft: string): Promise<void> {
    await this.db.projects.update(id, { matchDraft });
  }

  /**
   * Keeps what the report tells of: no change of the project either.
   * @param frozenAt when the report was frozen that is to give way, if there was one
   * @returns what is kept instead, if the report was frozen or let go elsewhere meanwhile: then nothing is changed
   */
  async keepReport(id: string, report: ReportChoiceRow, frozenAt?: number): Promise<ReportChoiceRow | undefined> {
    return this.db.transaction('rw', this.db.projects, async () => {
      const row = await this.db.projects.get(id);
      if (!row) return undefined;
      const { report: kept } = ProjectSchema.parse(row);
      if (kept?.frozen?.at !== frozenAt) return kept ?? { leftOut: [], drawn: {} };
      await this.db.projects.update(id, { report });
      return undefined;
    });
  }

  /** Gives a project another name and leaves everything else as it stands; gives its new revision. */
  async renameProject(id: string, name: string, now = Date.now()): Promise<number> {
    return this.db.transaction('rw', this.db.projects, async () => {
      const row = await this.db.projects.get(id);
      if (!row) throw new Error('This project is no longer there.');
      const revision = ProjectSchema.parse(row).revision + 1;
      await this.db.projects.update(id, { name, revision, changedAt: now });
      return revision;
    });
  }

  // Versions

  /** Keeps what a save is about to replace, unless a version was kept shortly before. */
  private async keepUnasked(projectId: string, text: string, now: number): Promise<void> {
    const all = await this.versions(projectId);
    if (all[0] && now - all[0].at < VERSION_PAUSE) return;
    await this.db.versions.add({ id: newId(), projectId, at: now, name: '', text });
    const unnamed = all.filter((version) => version.name === '');
    await this.db.versions.bulkDelete(unnamed.slice(MOST_UNNAMED - 1).map((version) => version.id));
  }

  /** The latest first. */
  async versions(projectId: string): Promise<VersionRow[]> {
    const rows = await this.db.versions.where({ projectId }).toArray();
    return rows.map((row) => VersionSchema.parse(row)).sort((a, b) => b.at - a.at);
  }

  async addVersion(projectId: string, text: string, name: string, now = Date.now()): Promise<void> {
    await this.db.versions.add({ id: newId(), projectId, at: now, name, text });
  }

  async nameVersion(id: string, name: string): Promise<void> {
    await this.db.versions.update(id, { name });
  }

  /** A copy with its observed data and studies. */
  async duplicateProject(id: string, name: string): Promise<ProjectRow> {
    const { projects, studies, blocks, records, observed, files } = this.db;
    return this.db.transaction('rw', [projects, studies, blocks, records, observed, files], async () => {
      const original = await projects.get(id);
      if (!original) throw new Error('This project is no longer there.');
      const copy: ProjectRow = {
        ...ProjectSchema.parse(original),
        id: newId(),
        name,
        revision: 1,
        createdAt: Date.now(),
        changedAt: Date.now(),
      };
      await projects.add(copy);
      for (const row of await observed.where({ projectId: id }).toArray())
        await observed.add({ ...row, id: newId(), projectId: copy.id });
      for (const row of await files.where({ projectId: id }).toArray())
        await files.add({ ...row, id: fileId(copy.id, row.name), projectId: copy.id });
      for (const study of await this.studies(id)) {
        const studyId = newId();
        await studies.add({ ...study, id: studyId, projectId: copy.id });
        await this.copyRuns(study.id, studyId);
      }
      return copy;
    });
  }

  async putAway(id: string, now = Date.now()): Promise<void> {
    await this.db.projects.update(id, { deletedAt: now });
  }

  async bringBack(id: string): Promise<void> {
    await this.db.projects.update(id, { deletedAt: 0 });
  }

  /** Removes for good what was put away before a time. */
  async clearAway(before: number): Promise<void> {
    const { projects, studies, blocks, records, observed, versions, files } = this.db;
    await this.db.transaction('rw', [projects, studies, blocks, records, observed, versions, files], async () => {
      const gone = await projects.where('deletedAt').between(1, before).toArray();
      for (const { id } of gone) {
        for (const study of await studies.where({ projectId: id }).toArray()) await this.clearStudy(study.id);
        await observed.where({ projectId: id }).delete();
        await versions.where({ projectId: id }).delete();
        await files.where({ projectId: id }).delete();
        await projects.delete(id);
      }
      for (const study of await studies
        .filter(({ deletedAt }) => deletedAt !== undefined && deletedAt > 0 && deletedAt < before)
        .toArray())
        await this.clearStudy(study.id);
    });
  }

  // Studies

  /** All studies of a project that are in use, the oldest first. One that cannot be read hides no other. */
  async studies(projectId: string): Promise<StudyRow[]> {
    const rows = await this.db.studies.where({ projectId }).sortBy('createdAt');
    return rows.flatMap((row) => StudySchema.safeParse(row).data ?? []).filter(({ deletedAt }) => !deletedAt);
  }

  /** Keeps a study as it now stands together with blocks of finished runs and what they recorded, all of it or nothing. A block that is there already is replaced. */
  async keepStudy(study: StudyRow, kept: readonly BlockRow[] = [], recorded: readonly RecordRow[] = []): Promise<void> {
    const { studies, blocks, records } = this.db;
    await this.db.transaction('rw', [studies, blocks, records], async () => {
      const stored = await studies.get(study.id);
      const { name, notes, deletedAt } = stored ?? study;
      await studies.put({ ...study, name, notes, deletedAt });
      await blocks.bulkPut(kept);
      await records.bulkPut(recorded);
    });
  }

  /** Names a study, or notes something about it. */
  async describeStudy(id: string, words: Partial<Pick<StudyRow, 'name' | 'notes'>>): Promise<void> {
    await this.db.studies.update(id, words);
  }

  /** A copy of a study with its runs. */
  async duplicateStudy(study: StudyRow): Promise<StudyRow> {
    const { studies, blocks, records } = this.db;
    const copy = { ...study, id: newId(), name: `${study.name}, copy`, createdAt: Date.now() };
    await this.db.transaction('rw', [studies, blocks, records], async () => {
      await studies.add(copy);
      await this.copyRuns(study.id, copy.id);
    });
    return copy;
  }

  private async copyRuns(from: string, to: string): Promise<void> {
    const { blocks, records } = this.db;
    const rows = await blocks.where({ studyId: from }).toArray();
    await blocks.bulkAdd(rows.map((row) => ({ ...row, id: newId(), studyId: to })));
    await records
      .where({ studyId: from })
      .each((row) => void records.add({ ...row, id: row.id.replace(from, to), studyId: to }));
  }

  async putStudyAway(id: string, now = Date.now()): Promise<void> {
    await this.db.studies.update(id, { deletedAt: now });
  }

  async bringStudyBack(id: string): Promise<void> {
    await this.db.studies.update(id, { deletedAt: 0 });
  }

  private async clearStudy(id: string): Promise<void> {
    await this.db.blocks.where({ studyId: id }).delete();
    await this.db.records.where({ studyId: id }).delete();
    await this.db.studies.delete(id);
  }

  /** Blocks of finished runs; one that is damaged hides no other. */
  async blocks(studyId: string): Promise<BlockRow[]> {
    const rows = await this.db.blocks.where({ studyId }).toArray();
    return rows.flatMap((row) => BlockSchema.safeParse(row).data ?? []);
  }

  /** What a record holds of one run, if it was kept. */
  async record(id: string): Promise<RecordRow | undefined> {
    return RecordSchema.safeParse(await this.db.records.get(id)).data;
  }

  /** Tables of observed data of a project; one that cannot be read hides no other. */
  async observed(projectId: string): Promise<ObservedRow[]> {
    const rows = await this.db.observed.where({ projectId }).toArray();
    return rows.flatMap((row) => ObservedSchema.safeParse(row).data ?? []);
  }

  /** Keeps a table in the place of one of the same name, if the project has one, with the text of the match that goes with it. */
  async keepObserved(row: Omit<ObservedRow, 'id'>, matchDraft?: string): Promise<ObservedRow> {
    const kept: ObservedRow = { ...row, id: newId() };
    const { observed, projects } = this.db;
    await this.db.transaction('rw', [observed, projects], async () => {
      await observed
        .where({ projectId: row.projectId })
        .filter(({ name }) => name === row.name)
        .delete();
      await observed.add(kept);
      if (matchDraft !== undefined) await projects.update(row.projectId, { matchDraft });
    });
    return kept;
  }

  /** Files beside the model of a project. One that cannot be read hides no other. */
  async files(projectId: string): Promise<FileRow[]> {
    const rows = await this.db.files.where({ projectId }).toArray();
    return rows.flatMap((row) => FileSchema.safeParse(row).data ?? []);
  }

  /** Keeps a file in the place of one of the same name; the text and its revision stay as they are. */
  async keepFile(projectId: string, file: Omit<FileRow, 'id' | 'projectId'>): Promise<void> {
    await this.db.files.put({ ...file, id: fileId(projectId, file.name), projectId });
  }

  async removeObserved(projectId: string, name: string): Promise<void> {
    await this.db.observed
      .where({ projectId })
      .filter((row) => row.name === name)
      .delete();
  }
}

export const repository = new Repository();

/** What went wrong with storage, in words that say what is safe. */
export function storageProblem(error: unknown): string {
  const name = error instanceof Error ? error.name : '';
  const inner = (error as { inner?: Error })?.inner;
  // In the words of the three kinds of browsers.
  if (/(?:imported|importing a) module/i.test(`${String(error)} ${String(inner)}`)) {
    return 'A part of the application could not be loaded. Is the server running? Reload the page; what is stored in this browser is as it was.';
  }
  if (name === 'QuotaExceededError' || inner?.name === 'QuotaExceededError') {
    return 'This browser has no room left, so the last change is not stored. It is still on this page: take the project along in Tell, as a bundle, which holds what is on this page; or delete other projects, then change something to save again.';
  }
  if (name === 'MissingAPIError' || name === 'OpenFailedError' || name === 'InvalidStateError') {
    return 'This browser does not let the page store anything (a private window, perhaps). You can work, but take the project along in Tell, as a bundle, before you close the page.';
  }
  return `The last change could not be stored (${error instanceof Error ? error.message : String(error)}). It is still on this page; take the project along in Tell, as a bundle, to be safe.`;
}
