import type { Bundle, BundleStudy, Plan, RunResult } from '@vole/core';
import { combinationsOf, ENGINE_VERSION, loadModel, rowHeader, rowLines, summaryHeader, summaryLine } from '@vole/core';
import { digestOfResults } from '../simulation/study-runner.ts';
import { repository } from '../storage/repository.ts';
import type { StudyRow } from '../storage/schema.ts';

/** Everything of a project in one file: text, notes, studies with seeds and results, observed data. */
export async function bundleOf(projectId: string): Promise<Bundle> {
  const project = await repository.project(projectId);
  if (!project) throw new Error('This project is no longer there.');
  const observed = await repository.observed(projectId);
  const studies: BundleStudy[] = [];
  const tables: Record<string, string> = {};
  for (const study of await repository.studies(projectId)) {
    const results: (RunResult | undefined)[] = [];
    for (const row of await repository.runs(study.id)) {
      results[row.index] = { seed: row.seed, steps: row.steps, rows: new Float64Array(row.rows), summaries: new Float64Array(row.summaries), every: study.every, refused: row.refused };
    }
    const { name, kind, seeds, every, steps, parameters, factors } = study;
    studies.push({ name, kind, seeds, every, steps, parameters, factors, text: study.text === project.text ? undefined : study.text, digest: isComplete(study, results) ? digestOfResults(results) : '' });
    const plan = loadModel(study.text).loaded?.plan;
    if (plan) Object.assign(tables, tablesOf(study, plan, results));
  }
  return {
    engine: ENGINE_VERSION,
    project: { name: project.name, notes: project.notes },
    model: project.text,
    studies,
    observed: observed ? [{ name: observed.name, csv: observed.csv, mapping: observed.mapping }] : [],
    tables,
  };
}

function isComplete(study: StudyRow, results: readonly (RunResult | undefined)[]): boolean {
  const total = study.seeds.length * study.factors.reduce((n, factor) => n * factor.values.length, 1);
  return results.filter(Boolean).length === total;
}

/** The results of a study as CSV: every kept row, and the summaries. */
export function tablesOf(study: StudyRow, plan: Plan, results: readonly (RunResult | undefined)[]): Record<string, string> {
  const names = study.factors.map((factor) => factor.parameter);
  const combinations = combinationsOf(study.factors);
  const extra = (i: number): string[] => combinations[Math.floor(i / study.seeds.length)]!.map(String);
  const present = results.flatMap((result, i) => (result ? [{ result, i }] : []));
  return {
    [`${study.kind}-rows.csv`]: `${[rowHeader(plan, names), ...present.flatMap(({ result, i }) => rowLines(plan, i + 1, result, extra(i)))].join('\n')}\n`,
    [`${study.kind}-summaries.csv`]: `${[summaryHeader(plan, names), ...present.map(({ result, i }) => summaryLine(i + 1, result, extra(i)))].join('\n')}\n`,
  };
}
