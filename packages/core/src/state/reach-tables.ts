import type { CellSteps } from '../engine/cells.ts';
import { formOf } from '../forms/forms.ts';
import type { CellTable } from '../kernel/cells-asked.ts';
import { chunksOf, radiusOf } from '../kernel/cells-asked.ts';
import { WIDE } from '../kernel/kernel.ts';
import type { SpaceOfRun } from '../plan/start-space.ts';

/** Cells to each side beyond which a reach is left to what goes through agents. */
const MOST_RADIUS = 100;
const ONLY_HERE: readonly CellSteps[] = [{ dx: Int32Array.of(0), dy: Int32Array.of(0) }];

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
  const { rowsApart } = formOf(space);
  const disc = table.is === 'here' ? ONLY_HERE : discs.get(raster, table.is, distance);
  if (!disc) return undefined;
  const ofRows = Array.from({ length: rowsApart }, (_, row) => disc[row % disc.length]!);
  if (table.as === 'steps') {
    const steps = ofRows.flatMap(({ dx, dy }) => [...dx].flatMap((x, i) => [x, dy[i]!]));
    return { numbers: [disc[0]!.dx.length, 0], margin: 0, masks: new Uint8Array(0), steps: Int32Array.from(steps) };
  }
  const radius = radiusOf(space.form, table, distance);
  if (radius > MOST_RADIUS) return undefined;
  const side = 2 * radius + 1;
  if (space.edge === 'wrapping' && side > Math.min(raster.columns, raster.rows)) return undefined;
  const chunks = chunksOf(radius);
  const masks = new Uint8Array(rowsApart * chunks * side * WIDE);
  ofRows.forEach(({ dx, dy }, row) =>
    dx.forEach((x, i) => {
      const column = x + radius;
      masks[((row * chunks + Math.floor(column / WIDE)) * side + dy[i]! + radius) * WIDE + (column % WIDE)] = 255;
    }),
  );
  return { numbers: [radius, chunks], margin: radius, masks, steps: new Int32Array(0) };
}
