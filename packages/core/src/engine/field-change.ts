import { neighbour } from '../forms/edges.ts';
import type { Raster, Space } from '../forms/form.ts';
import { formOf } from '../forms/forms.ts';
import type { CellValues } from '../forms/space.ts';

/**
 * Each cell gives a share of its value in equal parts to its neighbours: 4, 6 or 8 on a grid, 8 on a plane. At a wall the part stays, so that the
 * whole is conserved up to rounding.
 * @param values  one a cell; not modified
 * @param out     the values after spreading; not aliased with `values`
 * @param share   0 to 1
 */
export function spreadInto(
  out: CellValues,
  values: CellValues,
  grid: Pick<Raster, 'columns' | 'rows'>,
  space: Space,
  share: number,
): void {
  const { columns, rows } = grid;
  const form = formOf(space);
  const part = share / form.neighbourSteps(space, 0).length;
  const wraps = space.edge === 'wrapping';
  if (space.neighbours === 8) {
    spreadEight(out, values, columns, rows, wraps, share, part);
    return;
  }
  for (let row = 0; row < rows; row++) {
    const around = form.neighbourSteps(space, row);
    for (let column = 0; column < columns; column++) {
      const at = row * columns + column;
      const own = values[at]!;
      // To which any value can be added without a change, also one of -0.
      let sum = -0;
      for (const [dx, dy] of around) {
        const c = neighbour(column + dx, columns, wraps);
        const r = neighbour(row + dy, rows, wraps);
        sum += c < 0 || r < 0 ? own : values[r * columns + c]!;
      }
      out[at] = own * (1 - share) + part * sum;
    }
  }
}

/** Eight neighbours, the commonest case: rows are found once, and only the first and last column look for an edge. */
function spreadEight(
  out: CellValues,
  values: CellValues,
  columns: number,
  rows: number,
  wraps: boolean,
  share: number,
  part: number,
): void {
  const keep = 1 - share;
  for (let row = 0; row < rows; row++) {
    const here = row * columns;
    const up = neighbour(row + 1, rows, wraps) * columns;
    const down = neighbour(row - 1, rows, wraps) * columns;
    for (let column = 0; column < columns; column++) {
      const at = here + column;
      const own = values[at]!;
      if (column > 0 && column < columns - 1 && up >= 0 && down >= 0) {
        const u = up + column;
        const d = down + column;
        const sum =
          values[at - 1]! +
          values[at + 1]! +
          values[d]! +
          values[u]! +
          values[d - 1]! +
          values[d + 1]! +
          values[u - 1]! +
          values[u + 1]!;
        out[at] = own * keep + part * sum;
        continue;
      }
      const w = neighbour(column - 1, columns, wraps);
      const e = neighbour(column + 1, columns, wraps);
      const value = (line: number, c: number): number => (line < 0 || c < 0 ? own : values[line + c]!);
      const sum =
        value(here, w) +
        value(here, e) +
        value(down, column) +
        value(up, column) +
        value(down, w) +
        value(down, e) +
        value(up, w) +
        value(up, e);
      out[at] = own * keep + part * sum;
    }
  }
}
