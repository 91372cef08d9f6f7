import type { Cell } from '@vole/core';
import type { NamedBands } from './BandsChart.tsx';

/** Bands of several groups of runs as a table, a row a group and step. @param heading of the names of the groups */
export function bandsTable(heading: string, groups: readonly Pick<NamedBands, 'name' | 'bands'>[]): Cell[][] {
  return [
    [heading, 'step', 'low90', 'low50', 'median', 'high50', 'high90'],
    ...groups.flatMap(({ name, bands }) =>
      Array.from(bands.steps, (step, i): Cell[] => [
        name,
        step,
        ...[bands.low90, bands.low50, bands.median, bands.high50, bands.high90].map((column) => column[i]!),
      ]),
    ),
  ];
}
