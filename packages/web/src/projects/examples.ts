import meadowText from '../../../../examples/meadow-year.vole?raw';
import trapCounts from '../../../../examples/meadow-year-trap-counts.csv?raw';
import { repository } from '../storage/repository.ts';
import type { ProjectRow } from '../storage/schema.ts';

export const DEMO_NAME = 'Meadow year';

/** Six lines that already move. */
export const NEW_MODEL = `model New model
clock
  end after 1000 steps
space Field: plane 100 by 100, wrapping
agent Vole
  start 200 anywhere
  behaviour wander
    turn by normal(0 deg, 30 deg)
    move by 1
measure voles = count Vole
show Vole: leaf
`;

/** Adds the demo with its made-up observed data. */
export async function addDemo(): Promise<ProjectRow> {
  const project = await repository.addProject(DEMO_NAME, meadowText);
  await repository.setObserved({
    projectId: project.id,
    name: 'Trap counts (made up)',
    csv: trapCounts,
    mapping: { timeColumn: 'date', timeIs: 'date', columns: [{ column: 'voles', measure: 'voles' }] },
  });
  return project;
}
