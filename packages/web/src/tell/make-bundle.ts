import type { Bundle, BundleStudy, Plan, RunResult } from '@vole/core';
import { ENGINE_VERSION, loadModel, MOST_BUNDLE_BYTES } from '@vole/core';
import { jobCount } from '../studies/study-jobs.ts';
import { digestOfResults, resultsOf, STUDY_KINDS } from '../studies/study-runner.ts';
import { StudyRun } from '../studies/study-run.ts';
import { repository } from '../storage/repository.ts';
import type { ObservedRow, StudyRow } from '../storage/schema.ts';
import { tablesOf } from '../studies/result-tables.ts';
import { store } from '../store/store.ts';

/** A project as it stands on the page, stored or not. */
export interface PageContents {
  readonly project: { readonly id: string; readonly name: string; readonly text: string; readonly notes: string };
  readonly observed: ObservedRow | undefined;
  /** The studies on show, with the results at hand. */
  readonly shown: readonly StudyWithResults[];
}

interface StudyWithResults {
  readonly study: StudyRow;
  readonly results: readonly (RunResult | undefined)[];
}

export interface MadeBundle {
  readonly bundle: Bundle;
  /** Tables of results that would not fit; they can be made again from the seeds. */
  readonly leftOut: readonly string[];
  /** Studies that are stored and could not be read. */
  readonly unread: number;
}

export function pageContents(): PageContents {
  const { project, observed, studies } = store.getState();
  const shown = STUDY_KINDS.flatMap((kind) => {
    const { study } = studies[kind];
    return study ? [{ study, results: resultsOf(kind) }] : [];
  });
  return {
    project: { id: project.id ?? '', name: project.name, text: project.text, notes: project.notes },
    observed: observed.row,
    shown,
  };
}

/** Bytes of a bundle that are left to tables of results once the rest, which it needs, is in. */
const ROOM_FOR_TABLES = 0.9 * MOST_BUNDLE_BYTES;

/** Everything of a project in one file: text, notes, studies with seeds and results, observed data. What is on the page comes before what is stored. */
export async function bundleOf({ project, observed, shown }: PageContents): Promise<MadeBundle> {
  const studies: BundleStudy[] = [];
  const tables: Record<string, string> = {};
  const leftOut: string[] = [];
  let room = ROOM_FOR_TABLES;
  const stored = await otherStudies(project.id, shown);
  for (const { study, results } of [...(stored ?? []), ...shown]) {
    const { name, kind, seeds, every, steps, parameters, factors } = study;
    studies.push({
      name,
      kind,
      seeds,
      every,
      steps,
      parameters,
      factors,
      text: study.text === project.text ? undefined : study.text,
      digest: isComplete(study, results) ? digestOfResults(results) : '',
    });
    const plan = loadModel(study.text).loaded?.plan;
    if (!plan) continue;
    const number = studies.filter((other) => other.kind === kind).length;
    const bytes = tableBytes(study, plan, results);
    if (bytes > room) leftOut.push(name);
    else {
      for (const [what, table] of Object.entries(tablesOf(study, plan, results)))
        tables[`${kind}${number > 1 ? `-${number}` : ''}-${what}.csv`] = table;
      room -= bytes;
    }
  }
  const bundle: Bundle = {
    engine: ENGINE_VERSION,
    project: { name: project.name, notes: project.notes },
    model: project.text,
    studies,
    observed: observed ? [{ name: observed.name, csv: observed.csv, mapping: observed.mapping }] : [],
    tables,
  };
  return { bundle, leftOut, unread: stored ? 0 : 1 };
}

/** The stored studies that are not on show, or nothing if storage does not answer. */
async function otherStudies(
  projectId: string,
  shown: readonly StudyWithResults[],
): Promise<StudyWithResults[] | undefined> {
  try {
    const others = (await repository.studies(projectId)).filter(
      ({ id }) => !shown.some(({ study }) => study.id === id),
    );
    return await Promise.all(
      others.map(async (study) => {
        const run = new StudyRun(study, { changed: () => undefined, stored: () => undefined });
        run.takeUp(await repository.runs(study.id));
        return { study, results: run.results };
      }),
    );
  } catch {
    return undefined;
  }
}

function isComplete(study: StudyRow, results: readonly (RunResult | undefined)[]): boolean {
  return results.filter(Boolean).length === jobCount(study);
}

/** About how many bytes the tables of a study take up: measured on the first run, as all are alike. */
function tableBytes(study: StudyRow, plan: Plan, results: readonly (RunResult | undefined)[]): number {
  const at = results.findIndex((result) => result !== undefined);
  if (at < 0) return 0;
  const one = Object.values(tablesOf(study, plan, results.slice(0, at + 1))).reduce(
    (sum, table) => sum + table.length,
    0,
  );
  return 1.2 * one * results.filter(Boolean).length;
}
