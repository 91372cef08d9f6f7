import meadowMatch from '../../../../examples/meadow-year.match?raw';
import meadowText from '../../../../examples/meadow-year.vole?raw';
import trapCounts from '../../../../examples/meadow-year-trap-counts.csv?raw';
import { repository } from './repository.ts';
import type { ProjectRow } from './schema.ts';

/** A model to begin with, with what was observed, if it has any. */
export interface Example {
  readonly name: string;
  readonly text: string;
  /** The text of its match, and its table by name. */
  readonly match?: { readonly text: string; readonly table: string; readonly csv: string } | undefined;
  /** The map beside it, if it has one. */
  readonly map?: { readonly name: string; readonly text: () => Promise<string> } | undefined;
}

/** What the application opens with. */
export const DEMO: Example = {
  name: 'Meadow year',
  text: meadowText,
  match: { text: meadowMatch, table: 'meadow-year-trap-counts.csv', csv: trapCounts },
};

/** Adds an example with its made-up observed data. */
export async function addExample({ name, text, match, map }: Example): Promise<ProjectRow> {
  const stored = map && (await (await import('./stored-files.ts')).storedMap(map.name, await map.text()));
  const project = await repository.addProject(name, text);
  if (stored) await repository.keepFile(project.id, stored);
  if (!match) return project;
  await repository.keepObserved({ projectId: project.id, name: match.table, csv: match.csv }, match.text);
  return (await repository.project(project.id))!;
}

export function addDemo(): Promise<ProjectRow> {
  return addExample(DEMO);
}
