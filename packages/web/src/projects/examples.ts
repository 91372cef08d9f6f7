import alarmRelay from '../../../../examples/alarm-relay.vole?raw';
import dusk from '../../../../examples/dusk.vole?raw';
import groomingCircle from '../../../../examples/grooming-circle.vole?raw';
import hedgerows from '../../../../examples/hedgerows.vole?raw';
import meadowMatch from '../../../../examples/meadow-year.match?raw';
import meadowText from '../../../../examples/meadow-year.vole?raw';
import runways from '../../../../examples/runways.vole?raw';
import whistleCraze from '../../../../examples/whistle-craze.vole?raw';
import trapCounts from '../../../../examples/meadow-year-trap-counts.csv?raw';
import { repository } from '../storage/repository.ts';
import type { ProjectRow } from '../storage/schema.ts';

const DEMO_NAME = 'Meadow year';

/** Examples besides the demo; each opens as a copy. */
export const EXAMPLES: readonly { readonly name: string; readonly about: string; readonly text: string }[] = [
  { name: 'Whistle craze', about: 'A new call spreads through the colony, and tires.', text: whistleCraze },
  { name: 'Alarm relay', about: 'How far does a warning get through the tunnels?', text: alarmRelay },
  { name: 'Runways', about: 'Twenty thousand voles tread paths, and follow them.', text: runways },
  { name: 'Dusk', about: 'Who leaves cover, when owls are near and others are out?', text: dusk },
  { name: 'Hedgerows', about: 'Walls with gaps: how fast is the far side reached?', text: hedgerows },
  { name: 'Grooming circle', about: 'Who grooms whom, and the bonds that come of it.', text: groomingCircle },
];

/** Adds the demo with its made-up observed data. */
export async function addDemo(): Promise<ProjectRow> {
  const project = await repository.addProject(DEMO_NAME, meadowText);
  await repository.keepObserved(
    { projectId: project.id, name: 'meadow-year-trap-counts.csv', csv: trapCounts },
    meadowMatch,
  );
  return project;
}
