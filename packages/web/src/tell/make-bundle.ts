import type { Bundle, BundleStudy, MatchTables, ResultTable } from '@vole/core';
import { ENGINE_VERSION, MOST_BUNDLE_BYTES } from '@vole/core';
import { askStudy, lookInto } from '../studies/answers.ts';
import { STUDY_KINDS } from '../studies/study-runner.ts';
import { repository } from '../storage/repository.ts';
import type { ObservedRow, StudyRow } from '../storage/schema.ts';
import { store } from '../store/store.ts';

/** A project as it stands on the page, stored or not. */
export interface PageContents {
  readonly project: { readonly id: string; readonly name: string; readonly text: string; readonly notes: string };
  readonly match: string;
  readonly observed: readonly Pick<ObservedRow, 'name' | 'csv'>[];
  /** The studies on show, stored or not. */
  readonly shown: readonly StudyRow[];
}

export interface MadeBundle {
  readonly bundle: Bundle;
  /** Tables of results that would not fit; they can be made again from the seeds. */
  readonly leftOut: readonly string[];
  /** Studies whose results could not be read. */
  readonly unread: number;
}

export function pageContents(): PageContents {
  const { project, observed, studies } = store.getState();
  const shown = STUDY_KINDS.flatMap((kind) => studies[kind].study ?? []);
  return {
    project: { id: project.id ?? '', name: project.name, text: project.text, notes: project.notes },
    match: project.matchDraft,
    observed: observed.tables,
    shown,
  };
}

/** Bytes of a bundle that are left to tables of results once the rest, which it needs, is in. */
const ROOM_FOR_TABLES = 0.9 * MOST_BUNDLE_BYTES;

/** Everything of a project in one file: text, notes, studies with seeds and results, observed data. What is on the page comes before what is stored. */
export async function bundleOf({ project, match, observed, shown }: PageContents): Promise<MadeBundle> {
  const studies: BundleStudy[] = [];
  const tables: Record<string, string> = {};
  const leftOut: string[] = [];
  let room = ROOM_FOR_TABLES;
  const stored = await otherStudies(project.id, shown);
  let unread = stored ? 0 : 1;
  for (const study of [...(stored ?? []), ...shown]) {
    const { name, kind, seeds, every, steps, parameters, factors, wording, listed, outcomes, until, notes, records } =
      study;
    const { observed: tablesOfStudy, mostRuns } = study;
    const results = await resultsOf(study, room);
    if (!results) unread++;
    const text = study.text === project.text ? undefined : study.text;
    studies.push({
      name,
      kind,
      seeds,
      every,
      steps,
      parameters,
      factors,
      text,
      wording,
      listed,
      outcomes,
      until,
      notes,
      records,
      observed: tablesOfStudy,
      mostRuns,
      digest: results?.digest ?? '',
    });
    if (results && !results.tables) leftOut.push(name);
    const number = studies.filter((other) => other.kind === kind).length;
    for (const [what, table] of Object.entries(results?.tables ?? {})) {
      tables[`${kind}${number > 1 ? `-${number}` : ''}-${what}.csv`] = table;
      room -= table.length;
    }
  }
  const bundle: Bundle = {
    engine: ENGINE_VERSION,
    project: { name: project.name, notes: project.notes, ...(match ? { match } : {}) },
    model: project.text,
    studies,
    observed: observed.map(({ name, csv }) => ({ name, csv })),
    tables,
  };
  return { bundle, leftOut, unread };
}

/** The stored studies that are not on show, or nothing if storage does not answer. */
async function otherStudies(projectId: string, shown: readonly StudyRow[]): Promise<StudyRow[] | undefined> {
  try {
    return (await repository.studies(projectId)).filter(({ id }) => !shown.some((study) => study.id === id));
  } catch {
    return undefined;
  }
}

interface BundledResults {
  readonly digest: string;
  /** Absent if they do not fit. */
  readonly tables: Readonly<Partial<Record<ResultTable | keyof MatchTables, string>>> | undefined;
}

/** The results of a study, or nothing if they cannot be read. One that is not on show is opened for it. */
async function resultsOf(study: StudyRow, room: number): Promise<BundledResults | undefined> {
  try {
    return await lookInto(study, () => readResults(study, room));
  } catch {
    return undefined;
  }
}

async function readResults({ id, kind }: StudyRow, room: number): Promise<BundledResults> {
  const digest = await askStudy(id, { is: 'digest' });
  if (kind === 'match') return { digest, tables: { ...(await askStudy(id, { is: 'match tables', of: '' })) } };
  if ((await askStudy(id, { is: 'table size' })) > room) return { digest, tables: undefined };
  const rows = await askStudy(id, { is: 'table', what: 'rows' });
  return { digest, tables: { rows, summaries: await askStudy(id, { is: 'table', what: 'summaries' }) } };
}
