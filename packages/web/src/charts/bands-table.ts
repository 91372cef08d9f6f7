import type { Bands, Cell, Course, Plan } from '@vole/core';
import { heading, timeOf } from '@vole/core';
import type { NamedBands } from './BandsChart.tsx';

const LEVELS = ['low90', 'low50', 'median', 'high50', 'high90'] as const;

/** Bands of several groups of runs as a table, a row a group and step, with units. @param name of the column that has the names of the groups */
export function bandsTable(
  plan: Plan,
  course: Course,
  name: string,
  groups: readonly Pick<NamedBands, 'name' | 'bands'>[],
): Cell[][] {
  const tables = groups.map(({ bands }) => tableOfBands(plan, courseUnit(plan, course), bands));
  return [
    [name, ...tableOfBands(plan, courseUnit(plan, course))[0]!],
    ...tables.flatMap(([, ...rows], i) => rows.map((row) => [groups[i]!.name, ...row])),
  ];
}

/** Bands over time as a table with units, a row a step. */
export function tableOfBands(plan: Plan, unit: string, bands?: Bands): Cell[][] {
  return [
    ['step', heading('time', plan.clock.unitLabel), ...LEVELS.map((level) => heading(level, unit))],
    ...Array.from(bands?.steps ?? [], (step, i): Cell[] => [
      step,
      timeOf(plan, step),
      ...LEVELS.map((level) => bands![level][i]!),
    ]),
  ];
}

/** The unit of the values of a course; shares have none. */
export function courseUnit(plan: Plan, { of, form }: Pick<Course, 'of' | 'form'>): string {
  return form === 'share' ? '' : (plan.measures[of[0]!]?.unitLabel ?? '');
}
