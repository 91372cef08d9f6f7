import type { Space } from '../forms/form.ts';
import { formOf } from '../forms/forms.ts';
import { isInReach } from '../forms/space.ts';
import type { CellTable } from '../kernel/cells-asked.ts';
import { chunksOf, radiusOf } from '../kernel/cells-asked.ts';
import { WIDE } from '../kernel/kernel.ts';
import type { SpaceOfRun } from '../plan/start-space.ts';

/** Cells to each side beyond which a reach is left to what goes through agents. */
const MOST_RADIUS = 100;

/** A reach as kernels go through its cells; where rows differ, around cells of even rows first, then around those of odd ones. */
export interface ReachTable {
  /** How far it goes and how many masks side by side a row has; or how many steps there are, and 0. */
  readonly numbers: readonly [number, number];
  /** How far it looks beyond the edges of a space. */
  readonly margin: number;
  /** For each 16 cells side by side, row by row from below, 255 for each that is in reach. */
  readonly masks: Uint8Array;
  /** The steps to its cells by columns and rows, in the order in which cells are listed. */
  readonly steps: Int32Array;
}

/** What kernels need of a reach, unless it goes too far or meets itself round the edge. */
export function reachTable(
  table: CellTable,
  distance: number,
  { space, raster, discs }: SpaceOfRun,
): ReachTable | undefined {
  if (table.as === 'steps') {
    const disc = discs.get(raster, table.is, distance);
    if (!disc) return undefined;
    const steps = disc.flatMap(({ dx, dy }) => [...dx].flatMap((x, i) => [x, dy[i]!]));
    return { numbers: [disc[0]!.dx.length, 0], margin: 0, masks: new Uint8Array(0), steps: Int32Array.from(steps) };
  }
  const radius = radiusOf(space.form, table, distance);
  if (!(radius >= 0) || radius > MOST_RADIUS) return undefined;
  const side = 2 * radius + 1;
  if (space.edge === 'wrapping' && side > Math.min(raster.columns, raster.rows)) return undefined;
  const chunks = chunksOf(radius);
  const { rowsApart } = formOf(space);
  const masks = new Uint8Array(rowsApart * chunks * side * WIDE);
  const endless: Space = { ...space, edge: 'walled' };
  for (let from = 0; from < rowsApart; from++)
    for (let row = 0; row < side; row++)
      for (let column = 0; column < side; column++)
        if (isInReach(table.is, distance, 0, from, column - radius, from + row - radius, endless))
          masks[((from * chunks + Math.floor(column / WIDE)) * side + row) * WIDE + (column % WIDE)] = 255;
  return { numbers: [radius, chunks], margin: radius, masks, steps: new Int32Array(0) };
}
