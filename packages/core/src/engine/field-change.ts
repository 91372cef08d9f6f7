import type { FieldGrid, Space } from './space.ts';

const NEIGHBOURS_4: readonly (readonly [number, number])[] = [[-1, 0], [1, 0], [0, -1], [0, 1]];
/** On a grid of hexagons: of even and of odd rows. */
const NEIGHBOURS_6: readonly (readonly (readonly [number, number])[])[] = [
  [[-1, 0], [1, 0], [-1, 1], [0, 1], [-1, -1], [0, -1]],
  [[-1, 0], [1, 0], [0, 1], [1, 1], [0, -1], [1, -1]],
];
const NEIGHBOURS_8: readonly (readonly [number, number])[] = [...NEIGHBOURS_4, [-1, -1], [1, -1], [-1, 1], [1, 1]];

/**
 * Each cell gives a share of its value in equal parts to its neighbours: 4, 6 or 8 on a grid, 8 on a plane. At a wall the part stays, so that the
 * whole is conserved up to rounding.
 * @param values  one a cell; not modified
 * @param out     the values after spreading; not aliased with `values`
 * @param share   0 to 1
 */
export function spreadInto(out: Float64Array, values: Float64Array, grid: Pick<FieldGrid, 'columns' | 'rows'>, space: Space, share: number): void {
  const { columns, rows } = grid;
  const part = share / neighbourOffsets(space, 0).length;
  const wraps = space.edge === 'wrapping';
  for (let row = 0; row < rows; row++) {
    const around = neighbourOffsets(space, row);
    for (let column = 0; column < columns; column++) {
      const at = row * columns + column;
      const own = values[at]!;
      let sum = 0;
      for (const [dx, dy] of around) {
        const c = neighbour(column + dx, columns, wraps);
        const r = neighbour(row + dy, rows, wraps);
        sum += c < 0 || r < 0 ? own : values[r * columns + c]!;
      }
      out[at] = own * (1 - share) + part * sum;
    }
  }
}

/** Columns and rows to the neighbours of the cells of a row. */
export function neighbourOffsets(space: Space, row: number): readonly (readonly [number, number])[] {
  if (space.form !== 'grid' || space.neighbours === 8) return NEIGHBOURS_8;
  return space.neighbours === 4 ? NEIGHBOURS_4 : NEIGHBOURS_6[row % 2]!;
}

/** The neighbouring column or row, or -1 beyond a wall. */
export function neighbour(index: number, count: number, wraps: boolean): number {
  if (index >= 0 && index < count) return index;
  return wraps ? (index < 0 ? index + count : index - count) : -1;
}
