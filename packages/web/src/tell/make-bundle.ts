import type { Bundle, BundleStudy } from '@vole/core';
import {
  csvOfMatch,
  ENGINE_VERSION,
  MapProblem,
  mapAsGeoJson,
  MOST_BUNDLE_BYTES,
  resultName,
  textDigest,
} from '@vole/core';
import type { FilesBeside } from '../simulation/beside.ts';
import { filesBeside } from '../simulation/beside.ts';
import { askStudy, lookInto } from '../studies/answers.ts';
import { STUDY_KINDS } from '../studies/study-runner.ts';
import { repository } from '../storage/repository.ts';
import type { ObservedRow, ReportChoiceRow, StudyRow } from '../storage/schema.ts';
import { ownValue } from '../store/own-value.ts';
import { store } from '../store/store.ts';

/** A project as it stands on the page, stored or not. */
export interface PageContents {
  readonly project: { readonly id: string; readonly name: string; readonly text: string; readonly notes: string };
  readonly match: string;
  /** The maps beside its model. */
  readonly files?: FilesBeside;
  readonly observed: readonly Pick<ObservedRow, 'name' | 'csv'>[];
  /** The studies on show, stored or not. */
  readonly shown: readonly StudyRow[];
  /** What the report tells of, where that was chosen. */
  readonly report?: ReportChoiceRow | undefined;
}

export interface MadeBundle {
  readonly bundle: Bundle;
  /** Studies whose results would not fit; they can be made again from the seeds. */
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
    files: filesBeside(),
    observed: observed.tables,
    shown,
    report: project.report,
  };
}

/** Bytes of a bundle that are left to results once the rest, which it needs, is in. */
const ROOM_FOR_RESULTS = 0.9 * MOST_BUNDLE_BYTES;

/** Everything of a project in one file: text, notes, studies with seeds and results, observed data. What is on the page comes before what is stored. */
export async function bundleOf({
  project,
  match,
  files = new Map(),
  observed,
  shown,
  report,
}: PageContents): Promise<MadeBundle> {
  const studies: BundleStudy[] = [];
  const tables: Record<string, string> = {};
  const leftOut: string[] = [];
  let room = ROOM_FOR_RESULTS;
  const stored = await otherStudies(project.id, shown);
  let unread = stored ? 0 : 1;
  for (const study of [...(stored ?? []), ...shown]) {
    const results = await resultsOf(study, room);
    if (!results) unread++;
    else if (!results.fit) leftOut.push(study.name);
    studies.push({
      ...describedStudy(study, project.text, report),
      digest: results?.digest ?? '',
      ...blockIn(results),
    });
    const number = studies.filter(({ kind }) => kind === study.kind).length;
    for (const [what, table] of Object.entries(results?.fit?.tables ?? {})) {
      tables[resultName(study.kind, number, what)] = table;
      room -= table.length;
    }
    room -= results?.fit?.block.length ?? 0;
  }
  tables['record.json'] = await recordOf(project, [...(stored ?? []), ...shown], observed);
  const bundle: Bundle = {
    engine: ENGINE_VERSION,
    project: { name: project.name, notes: project.notes, ...(match ? { match } : {}) },
    model: project.text,
    files: Object.fromEntries(
      [...files].flatMap(([name, file]) =>
        typeof file === 'string' ? [[name, file]] : file instanceof MapProblem ? [] : [[name, mapAsGeoJson(file)]],
      ),
    ),
    studies,
    observed: observed.map(({ name, csv }) => ({ name, csv })),
    tables,
  };
  return { bundle, leftOut, unread };
}

/** What was done in a project, as far as it is stored: texts that were kept, studies that were begun, tables that are held against, with time and digest. */
async function recordOf(
  { id, text }: PageContents['project'],
  studies: readonly StudyRow[],
  observed: PageContents['observed'],
): Promise<string> {
  const versions = await repository.versions(id).catch(() => []);
  const done = [
    ...versions.map((version) => ({
      at: version.at,
      what: version.name ? `text kept as “${version.name}”` : 'text kept',
      text: textDigest(version.text),
    })),
    ...studies.map(({ createdAt, name, kind, engine, ...study }) => ({
      at: createdAt,
      what: `${kind} “${name}” begun`,
      text: textDigest(study.text),
      engine: engine ?? 'not known',
      ...(study.wording ? { study: textDigest(study.wording) } : {}),
    })),
  ].sort((a, b) => a.at - b.at);
  const record = {
    done: done.map(({ at, ...entry }) => ({ at: new Date(at).toISOString(), ...entry })),
    now: {
      text: textDigest(text),
      tables: Object.fromEntries(observed.map(({ name, csv }) => [name, textDigest(csv)])),
    },
  };
  return `${JSON.stringify(record, null, 2)}\n`;
}

/** What of a study as it is stored goes into a bundle as it is. */
const TAKEN = [
  'name',
  'kind',
  'seeds',
  'every',
  'steps',
  'parameters',
  'factors',
  'wording',
  'listed',
  'outcomes',
  'until',
  'notes',
  'records',
  'observed',
  'mostRuns',
  'files',
  'engine',
] as const satisfies readonly (keyof StudyRow)[];

/** What it takes to run a study again, and what the report tells of it. @param current text of the project, which need not stand twice */
function describedStudy(
  study: StudyRow,
  current: string,
  report: ReportChoiceRow | undefined,
): Omit<BundleStudy, 'digest'> {
  const taken = Object.fromEntries(TAKEN.map((name) => [name, study[name]])) as Pick<StudyRow, (typeof TAKEN)[number]>;
  return {
    ...taken,
    text: study.text === current ? undefined : study.text,
    isDone: study.status === 'done',
    drawn: report && ownValue(report.drawn, study.id),
    isLeftOut: report?.leftOut.includes(study.id) ? true : undefined,
  };
}

function blockIn(results: BundledResults | undefined): Pick<BundleStudy, 'block'> {
  return results?.fit ? { block: results.fit.block } : {};
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
  /** All finished runs, and tables to be read by people; absent if they do not fit. */
  readonly fit:
    | {
        readonly block: Uint8Array<ArrayBuffer>;
        /** As CSV, by what each holds. */
        readonly tables: Readonly<Record<string, string>>;
      }
    | undefined;
}

/** The results of a study, or nothing if they cannot be read. One that is not on show is opened for it. */
async function resultsOf(study: StudyRow, room: number): Promise<BundledResults | undefined> {
  try {
    return await lookInto(study, () => readResults(study, room));
  } catch {
    return undefined;
  }
}

async function readResults({ id, kind, until, status }: StudyRow, room: number): Promise<BundledResults> {
  const digest = await askStudy(id, { is: 'digest', isOver: until !== undefined && status === 'done' });
  // A block has a number for what a table has several characters for; both together fit if twice the tables do.
  if (2 * (await askStudy(id, { is: 'table size' })) > room) return { digest, fit: undefined };
  const block = new Uint8Array(await askStudy(id, { is: 'block' }));
  if (kind === 'match')
    return { digest, fit: { block, tables: csvOfMatch(await askStudy(id, { is: 'match tables', of: '' })) } };
  const rows = await askStudy(id, { is: 'table', what: 'rows' });
  return {
    digest,
    fit: { block, tables: { rows, summaries: await askStudy(id, { is: 'table', what: 'summaries' }) } },
  };
}
