import { neighbour } from '../forms/edges.ts';
import type { CellStep, Raster, Space, SpaceForm, SpaceRules } from '../forms/form.ts';
import { formOf } from '../forms/forms.ts';
import type { ReachShape } from '../forms/space.ts';
import { cellAt, cellX, cellY, squareBetween } from '../forms/space.ts';
import { below } from './random/stream.ts';

/** Cells around a cell, as steps of columns and rows in scan order: row by row from the top, each from the left. */
interface CellSteps {
  readonly dx: Int32Array;
  readonly dy: Int32Array;
  /** How far away each is in the order of cells. */
  readonly away: Int32Array;
  /** The furthest column and row. */
  readonly aside: number;
  readonly up: number;
}

/** Those around the cells of the first row, and where they are others around those of the second, of that as well; so it goes on. */
export type Disc = readonly CellSteps[];

interface Block {
  readonly fromX: number;
  readonly toX: number;
  readonly fromY: number;
  readonly toY: number;
}

/**
 * The cells in a reach around a place, each once, in scan order: row by row from the top left (S10).
 * @param out at least as long as there are cells
 * @returns how many
 */
export function cellsInto(
  raster: Raster,
  space: Space,
  is: ReachShape | 'all',
  distance: number,
  x: number,
  y: number,
  out: Int32Array,
): number {
  const { columns, rows } = raster;
  if (is === 'all') {
    let n = 0;
    for (let row = rows - 1; row >= 0; row--)
      for (let column = 0; column < columns; column++) out[n++] = row * columns + column;
    return n;
  }
  if (!(x === x) || !(distance >= 0)) return 0;
  const own = cellAt(x, y, raster, space);
  if (is === 'here') {
    out[0] = own;
    return 1;
  }
  if (is === 'next to') return neighboursInto(raster, space, own, out);
  const column = own % columns;
  const row = Math.floor(own / columns);
  const block = blockAround(raster, space, extentOf(raster, space, is, distance, 1));
  const wraps = space.edge === 'wrapping';
  const square = distance * distance;
  let crossed = false;
  let n = 0;
  for (let dy = block.toY; dy >= block.fromY; dy--) {
    const r = neighbourFar(row + dy, rows, wraps);
    if (r < 0) continue;
    for (let dx = block.fromX; dx <= block.toX; dx++) {
      const c = neighbourFar(column + dx, columns, wraps);
      if (c < 0) continue;
      const cell = r * columns + c;
      if (is === 'cross' && dx !== 0 && dy !== 0) continue;
      if (
        is === 'within' &&
        squareBetween(x, y, cellX(cell, raster, space), cellY(cell, raster, space), space) > square
      )
        continue;
      crossed ||= r !== row + dy || c !== column + dx;
      out[n++] = cell;
    }
  }
  if (crossed) sortByScan(raster, out, n);
  return n;
}

type Extent = ReturnType<SpaceForm['blockOf']>;

/** How many columns aside and rows up a reach goes at most. @param more cells than a circle of its distance, around places that are no middles of cells */
function extentOf({ cell }: Raster, space: Space, is: ReachShape, distance: number, more: number): Extent {
  if (is === 'next to') return { aside: 1, up: 1 };
  // Squares and crosses go so many cells to each side, whatever the form.
  const sides = Math.floor(distance / cell + 1e-9);
  return is === 'within' ? formOf(space).blockOf(distance / cell + 1e-9 + more) : { aside: sides, up: sides };
}

/** So many columns and rows to each side; where the space wraps no cell is met twice. */
function blockAround({ columns, rows }: Raster, space: Space, { aside, up }: Extent): Block {
  if (space.edge !== 'wrapping')
    return {
      fromX: -Math.min(aside, columns),
      toX: Math.min(aside, columns),
      fromY: -Math.min(up, rows),
      toY: Math.min(up, rows),
    };
  return {
    fromX: -Math.min(aside, Math.floor((columns - 1) / 2)),
    toX: Math.min(aside, Math.floor(columns / 2)),
    fromY: -Math.min(up, Math.floor((rows - 1) / 2)),
    toY: Math.min(up, Math.floor(rows / 2)),
  };
}

function neighbourFar(index: number, count: number, wraps: boolean): number {
  if (index >= 0 && index < count) return index;
  return wraps ? index - count * Math.floor(index / count) : -1;
}

function neighboursInto(raster: Raster, space: Space, own: number, out: Int32Array): number {
  const { columns, rows } = raster;
  const column = own % columns;
  const row = Math.floor(own / columns);
  const wraps = space.edge === 'wrapping';
  let n = 0;
  for (const [dx, dy] of formOf(space).neighbourSteps(space, row)) {
    const c = neighbour(column + dx, columns, wraps);
    const r = neighbour(row + dy, rows, wraps);
    const cell = r * columns + c;
    if (c < 0 || r < 0 || cell === own || out.subarray(0, n).includes(cell)) continue;
    out[n++] = cell;
  }
  sortByScan(raster, out, n);
  return n;
}

function sortByScan({ columns, rows }: Raster, out: Int32Array, n: number): void {
  const flip = (cell: number): number => (rows - 1 - Math.floor(cell / columns)) * columns + (cell % columns);
  for (let i = 0; i < n; i++) out[i] = flip(out[i]!);
  out.subarray(0, n).sort();
  for (let i = 0; i < n; i++) out[i] = flip(out[i]!);
}

/** Whether so many cells side by side cover a size exactly, and the ways from middle to middle are reckoned without rounding. */
export function areEven(cell: number, many: number, size: number): boolean {
  return many * cell === size && Number.isInteger(cell * 1024) && cell * 1024 * many < 1e12;
}

/** Steps from a cell of a row to those of a reach, in scan order, as long as no edge is near. @param cell its side */
export function stepsAround(
  rules: SpaceRules,
  cell: number,
  row: number,
  is: ReachShape,
  distance: number,
): readonly CellStep[] {
  const space: Space = { ...rules, width: 0, height: 0 };
  const raster: Raster = { columns: 0, rows: 0, cell };
  const { dx, dy } = stepsFrom(row, raster, space, is, distance, extentOf(raster, space, is, distance, 0));
  return Array.from(dx, (x, k): CellStep => [x, dy[k]!]);
}

const MOST_ASIDE = 4096;

/** Steps to the cells of a reach around the centre of a cell; nothing where they would overlap on a wrapping space. */
function discOf(raster: Raster, space: Space, is: ReachShape, distance: number): Disc | undefined {
  if (is === 'here' || !(distance >= 0)) return undefined;
  const extent = extentOf(raster, space, is, distance, 0);
  const { aside, up } = extent;
  if (aside > MOST_ASIDE || up > MOST_ASIDE) return undefined;
  if (space.edge === 'wrapping' && (2 * aside + 1 > raster.columns || 2 * up + 1 > raster.rows)) return undefined;
  return Array.from({ length: formOf(space).rowsApart }, (_, row) =>
    stepsFrom(row, raster, space, is, distance, extent),
  );
}

function stepsFrom(
  row: number,
  { cell, columns }: Raster,
  space: Space,
  is: ReachShape,
  distance: number,
  { aside, up }: Extent,
): CellSteps {
  const form = formOf(space);
  const endless: Space = { ...space, edge: 'walled' };
  const [dx, dy]: [number[], number[]] = [[], []];
  const neighbours = form.neighbourSteps(space, row);
  for (let y = up; y >= -up; y--) {
    for (let x = -aside; x <= aside; x++) {
      if (is === 'within' && squareBetween(0, row * cell, x * cell, (row + y) * cell, endless) > distance * distance)
        continue;
      if (is === 'cross' && x !== 0 && y !== 0) continue;
      if (is === 'next to' && !neighbours.some(([column, line]) => column === x && line === y)) continue;
      dx.push(x);
      dy.push(y);
    }
  }
  const away = Int32Array.from(dx, (x, k) => dy[k]! * columns + x);
  return { dx: Int32Array.from(dx), dy: Int32Array.from(dy), away, aside, up };
}

/** Discs that were made, by form and distance. */
export class Discs {
  private readonly known = new Map<string, Disc | undefined>();

  constructor(private readonly space: Space) {}

  get(raster: Raster, is: ReachShape, distance: number): Disc | undefined {
    const key = `${is} ${distance} ${raster.columns} ${raster.rows}`;
    if (!this.known.has(key)) this.known.set(key, discOf(raster, this.space, is, distance));
    return this.known.get(key);
  }

  /** The same where steps from the middle of a cell lead to the very middles of others; nothing where these may be rounded, or the last cells are narrower. */
  ofMiddles(raster: Raster, is: ReachShape, distance: number): Disc | undefined {
    const { cell, columns, rows } = raster;
    const { width, height } = this.space;
    return areEven(cell, columns, width) && areEven(cell, rows, height) ? this.get(raster, is, distance) : undefined;
  }

  /** The cells of a disc around a place, as `cellsInto` has them. @returns how many; -1 where the place is not the middle of a cell */
  into(raster: Raster, disc: Disc, x: number, y: number, out: Int32Array): number {
    const { space } = this;
    const own = cellAt(x, y, raster, space);
    if (own < 0 || cellX(own, raster, space) !== x || cellY(own, raster, space) !== y) return -1;
    return this.around(raster, disc, own, out);
  }

  /** The same around a cell. */
  around(raster: Raster, disc: Disc, cell: number, out: Int32Array): number {
    const { columns, rows } = raster;
    const row = (cell / columns) | 0;
    const column = cell - row * columns;
    const { dx, dy, away, aside, up } = disc[row % disc.length]!;
    if (column >= aside && column < columns - aside && row >= up && row < rows - up) {
      for (let k = 0; k < away.length; k++) out[k] = cell + away[k]!;
      return away.length;
    }
    const wraps = this.space.edge === 'wrapping';
    let crossed = false;
    let n = 0;
    for (let k = 0; k < dx.length; k++) {
      let c = column + dx[k]!;
      let r = row + dy[k]!;
      if (c < 0 || c >= columns || r < 0 || r >= rows) {
        if (!wraps) continue;
        crossed = true;
        c = neighbourFar(c, columns, true);
        r = neighbourFar(r, rows, true);
      }
      out[n++] = r * columns + c;
    }
    if (crossed) sortByScan(raster, out, n);
    return n;
  }

  /** The cell a drawn step away from one; -1 beyond an edge. */
  at(raster: Raster, disc: Disc, cell: number, word: number): number {
    const from = Math.floor(cell / raster.columns);
    const { dx, dy } = disc[from % disc.length]!;
    const k = below(word, dx.length);
    const wraps = this.space.edge === 'wrapping';
    const column = neighbourFar((cell % raster.columns) + dx[k]!, raster.columns, wraps);
    const row = neighbourFar(from + dy[k]!, raster.rows, wraps);
    return column < 0 || row < 0 ? -1 : row * raster.columns + column;
  }
}

/** The cells that a start line has found to fit. */
export class CellList {
  cells = new Int32Array(0);
  count = 0;

  /** One of them; where a cell holds one agent, none is given twice. -1 if there is none (left). */
  draw(word: number, single: boolean): number {
    if (this.count === 0) return -1;
    const i = below(word, this.count);
    const cell = this.cells[i]!;
    if (single) {
      this.cells[i] = this.cells[this.count - 1]!;
      this.count--;
    }
    return cell;
  }
}
