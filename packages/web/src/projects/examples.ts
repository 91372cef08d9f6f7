import alarmRelay from '../../../../examples/alarm-relay.vole?raw';
import dusk from '../../../../examples/dusk.vole?raw';
import groomingCircle from '../../../../examples/grooming-circle.vole?raw';
import hedgerows from '../../../../examples/hedgerows.vole?raw';
import meadowMatch from '../../../../examples/meadow-year.match?raw';
import meadowText from '../../../../examples/meadow-year.vole?raw';
import runways from '../../../../examples/runways.vole?raw';
import whistleMatch from '../../../../examples/whistle-craze.match?raw';
import whistleCraze from '../../../../examples/whistle-craze.vole?raw';
import whistleCounts from '../../../../examples/whistle-craze-counts.csv?raw';
import trapCounts from '../../../../examples/meadow-year-trap-counts.csv?raw';
import { repository } from '../storage/repository.ts';
import type { ProjectRow } from '../storage/schema.ts';

/** A model to begin with, with what was observed, if it has any. */
export interface Example {
  readonly name: string;
  readonly about: string;
  readonly text: string;
  /** The text of its match, and its table by name. */
  readonly match?: { readonly text: string; readonly table: string; readonly csv: string };
}

/** Examples besides the demo; each opens as a copy. */
export const EXAMPLES: readonly Example[] = [
  {
    name: 'Whistle craze',
    about: 'A new call spreads through the colony, and tires.',
    text: whistleCraze,
    match: { text: whistleMatch, table: 'whistle-craze-counts.csv', csv: whistleCounts },
  },
  { name: 'Alarm relay', about: 'How far does a warning get through the tunnels?', text: alarmRelay },
  { name: 'Runways', about: 'Twenty thousand voles tread paths, and follow them.', text: runways },
  { name: 'Dusk', about: 'Who leaves cover, when owls are near and others are out?', text: dusk },
  { name: 'Hedgerows', about: 'Walls with gaps: how fast is the far side reached?', text: hedgerows },
  { name: 'Grooming circle', about: 'Who grooms whom, and the bonds that come of it.', text: groomingCircle },
];

const DEMO: Example = {
  name: 'Meadow year',
  about: 'Voles, grass and kestrels over two years.',
  text: meadowText,
  match: { text: meadowMatch, table: 'meadow-year-trap-counts.csv', csv: trapCounts },
};

/** Adds an example with its made-up observed data. */
export async function addExample({ name, text, match }: Example): Promise<ProjectRow> {
  const project = await repository.addProject(name, text);
  if (!match) return project;
  await repository.keepObserved({ projectId: project.id, name: match.table, csv: match.csv }, match.text);
  return (await repository.project(project.id))!;
}

export function addDemo(): Promise<ProjectRow> {
  return addExample(DEMO);
}
