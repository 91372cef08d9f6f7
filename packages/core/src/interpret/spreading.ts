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
  { columns, rows }: Pick<Raster, 'columns' | 'rows'>,
  space: Space,
  share: number,
): void {
  const part = share / space.neighbours;
  const wraps = space.edge === 'wrapping';
  for (let row = 0; row < rows; row++) {
    const around = formOf(space).neighbourSteps(space, row);
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
