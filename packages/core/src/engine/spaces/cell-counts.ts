import type { Space } from '../../forms/form.ts';
import type { Population } from '../population.ts';
import type { BucketIndex } from './bucket-index.ts';
import { halfWidths } from './bucket-index.ts';

/** Agents are so many cells apart at most, on the mean, for counting cells to be quicker than looking at agents. */
const MOST_CELLS_AN_AGENT = 32;
/** One in so many has to ask for the counting of all to be worth it. */
const ASKERS = 8;

/** Cells of a block, within which those before a cell are counted; a power of two. */
const BLOCK_BITS = 4;
const BLOCK = 1 << BLOCK_BITS;
/** Numbers that tell of a piece of a row. */
const PIECE = 3;
const NO_ROWS = new Int32Array(0);

/**
 * How many of a kind, or of those of it in some states, stand where on a grid, so that those in reach are counted row by row, without looking
 * at an agent. Counted when a line of the order begins, and kept up by what its turns do; not ready where that would not pay.
 */
export class CellCounts {
  isReady = false;
  /** How many stand before a cell in its block of its row, and before a block in its row; each row with one cell more than it has. */
  private inBlock = new Int32Array(0);
  private before = new Int32Array(0);
  private stride = 0;
  private columns = 0;
  private rows = 0;
  private wraps = false;
  /** Half widths of the circle and of the square that were asked for last. */
  private halves: Int32Array = NO_ROWS;
  private radius = NaN;
  private sides: Int32Array = NO_ROWS;
  private distance = NaN;
  private found = new Int32Array(0);

  /** Whether those in a state are counted. */
  private readonly isOf = new Uint8Array(256);

  /** @param machine the machine that the states are of; -1 for whoever is of the kind */
  constructor(
    private readonly population: Population,
    private readonly machine: number,
    states: readonly number[],
  ) {
    for (const state of states) this.isOf[state] = 1;
  }

  /** Counts anew, for a line of the order in which so many have a turn. */
  begin(space: Space, askers: number): void {
    const { used, living } = this.population;
    const { width, height } = space;
    this.isReady = width * height <= living * MOST_CELLS_AN_AGENT && askers * ASKERS >= used;
    if (!this.isReady) return;
    this.wraps = space.edge === 'wrapping';
    if (width === this.columns && height === this.rows) this.inBlock.fill(0);
    else this.resize(width, height);
    this.countCells();
    this.sumUp();
  }

  /** A run may have other sizes than the one before it, even where it has as many cells. */
  private resize(columns: number, rows: number): void {
    this.columns = columns;
    this.rows = rows;
    this.stride = ((columns >> BLOCK_BITS) + 1) << BLOCK_BITS;
    this.inBlock = new Int32Array(this.stride * rows);
    this.before = new Int32Array(this.inBlock.length >> BLOCK_BITS);
    this.found = new Int32Array(2 * PIECE * rows);
    this.radius = NaN;
    this.distance = NaN;
  }

  private countCells(): void {
    const { alive, x, y, used, states } = this.population;
    const { inBlock, stride, machine, isOf } = this;
    const column = machine < 0 ? undefined : states[machine]!;
    for (let slot = 0; slot < used; slot++)
      if (alive[slot]! & 1 && (!column || isOf[column[slot]!]) && x[slot] === x[slot])
        inBlock[y[slot]! * stride + x[slot]!]!++;
  }

  private sumUp(): void {
    const { inBlock, before, stride } = this;
    let inRow = 0;
    for (let block = 0; block < before.length; block++) {
      if (block % (stride >> BLOCK_BITS) === 0) inRow = 0;
      before[block] = inRow;
      let sum = 0;
      for (let i = block << BLOCK_BITS, end = i + BLOCK; i < end; i++) {
        const here = inBlock[i]!;
        inBlock[i] = sum;
        sum += here;
      }
      inRow += sum;
    }
  }

  /** So many more stand on a cell. */
  add(x: number, y: number, more: number): void {
    const { inBlock, before, stride } = this;
    const at = y * stride + x;
    const block = at >> BLOCK_BITS;
    for (let i = at + 1, end = (block + 1) << BLOCK_BITS; i < end; i++) inBlock[i]! += more;
    for (let b = block + 1, end = ((y + 1) * stride) >> BLOCK_BITS; b < end; b++) before[b]! += more;
  }

  /**
   * How many are within a circle around a cell; -1 where that has to be found otherwise: where it goes all around the space, or its middle
   * is no cell.
   * @param exceptX place of somebody who does not count; not a number for nobody
   */
  within(x: number, y: number, radius: number, exceptX: number, exceptY: number): number {
    return this.sum(x, y, this.circle(radius), exceptX, exceptY);
  }

  /** The same for a square of cells, so many to each side of the middle. */
  inSquare(x: number, y: number, distance: number, exceptX: number, exceptY: number): number {
    return this.sum(x, y, this.square(distance), exceptX, exceptY);
  }

  /**
   * Lists the slots of those within a circle around a cell, in no particular order.
   * @param index the lists of slots by cell; with others, and where `within` gives -1, nobody is listed
   * @param except a slot that is left out; below 0 for none
   * @returns how many; -1 where they have to be found otherwise
   */
  listWithin(index: BucketIndex, x: number, y: number, radius: number, except: number, out: Int32Array): number {
    return this.list(index, x, y, this.circle(radius), except, out);
  }

  /** The same for a square of cells. */
  listInSquare(index: BucketIndex, x: number, y: number, distance: number, except: number, out: Int32Array): number {
    return this.list(index, x, y, this.square(distance), except, out);
  }

  private circle(radius: number): Int32Array {
    if (radius !== this.radius) {
      this.halves = radius >= 0 ? halfWidths(radius, Math.max(this.columns, this.rows)) : NO_ROWS;
      if (radius >= 0) this.halves = this.halves.subarray(0, Math.floor(radius) + 1);
      this.radius = radius;
    }
    return this.halves;
  }

  private square(distance: number): Int32Array {
    if (distance !== this.distance) {
      const reach = Math.floor(distance);
      this.sides = reach >= 0 && reach < this.rows ? new Int32Array(reach + 1).fill(reach) : NO_ROWS;
      this.distance = distance;
    }
    return this.sides;
  }

  /**
   * Finds the pieces of rows that a reach covers, each as where it begins and ends and how far it is from there to its cells.
   * @param halves for each number of rows from the middle how many cells to either side are in reach
   * @returns how many pieces; -1 where a reach goes all around, or its middle is no cell
   */
  private pieces(x: number, y: number, halves: Int32Array): number {
    const { columns, rows, wraps, stride, found } = this;
    const reach = halves.length - 1;
    const column = x | 0;
    const row = y | 0;
    if (column !== x || row !== y || reach < 0 || 2 * reach + 1 >= columns || 2 * reach + 1 >= rows) return -1;
    let n = 0;
    for (let v = -reach; v <= reach; v++) {
      let r = row + v;
      if (r < 0 || r >= rows) {
        if (!wraps) continue;
        r += r < 0 ? rows : -rows;
      }
      const half = halves[v < 0 ? -v : v]!;
      const start = r * stride;
      const end = start + columns;
      let from = start + column - half;
      let to = start + column + half + 1;
      // What goes over an edge is on the other side, or nowhere.
      const over = from < start ? start - from : to > end ? to - end : 0;
      if (over > 0) {
        if (wraps) {
          found[n] = from < start ? end - over : start;
          found[n + 1] = from < start ? end : start + over;
          found[n + 2] = r * columns - start;
          n += PIECE;
        }
        if (from < start) from = start;
        else to = end;
      }
      found[n] = from;
      found[n + 1] = to;
      found[n + 2] = r * columns - start;
      n += PIECE;
    }
    return n;
  }

  private sum(x: number, y: number, halves: Int32Array, exceptX: number, exceptY: number): number {
    const { inBlock, before, found } = this;
    let sum = this.sumInside(x, y, halves);
    if (sum < 0) {
      const n = this.pieces(x, y, halves);
      if (n < 0) return -1;
      sum = 0;
      for (let i = 0; i < n; i += PIECE)
        sum += inRow(found[i + 1]!, before, inBlock) - inRow(found[i]!, before, inBlock);
    }
    return exceptX === exceptX && this.holds(x, y, halves, exceptX, exceptY) ? sum - 1 : sum;
  }

  /** The sum of a reach that touches no edge; else -1. */
  private sumInside(x: number, y: number, halves: Int32Array): number {
    const { inBlock, before, stride } = this;
    const reach = halves.length - 1;
    const column = x | 0;
    const row = y | 0;
    if (column !== x || row !== y || reach < 0) return -1;
    if (column < reach || row < reach || column + reach >= this.columns || row + reach >= this.rows) return -1;
    let sum = 0;
    let middle = (row - reach) * stride + column;
    for (let v = -reach; v <= reach; v++) {
      const half = halves[v < 0 ? -v : v]!;
      const to = middle + half + 1;
      const from = middle - half;
      sum += before[to >> BLOCK_BITS]! + inBlock[to]! - before[from >> BLOCK_BITS]! - inBlock[from]!;
      middle += stride;
    }
    return sum;
  }

  private list(index: BucketIndex, x: number, y: number, halves: Int32Array, except: number, out: Int32Array): number {
    const n = index.isByCell ? this.pieces(x, y, halves) : -1;
    if (n < 0) return -1;
    const { inBlock, before, found } = this;
    const { alive, states } = this.population;
    const column = this.machine < 0 ? undefined : states[this.machine]!;
    let listed = 0;
    for (let i = 0; i < n; i += PIECE) {
      const [from, to, toCell] = [found[i]!, found[i + 1]!, found[i + 2]!];
      if (inRow(from, before, inBlock) === inRow(to, before, inBlock)) continue;
      for (let at = from; at < to; at++) {
        if (inRow(at, before, inBlock) === inRow(at + 1, before, inBlock)) continue;
        for (let slot = index.head[at + toCell]!; slot >= 0; slot = index.next[slot]!)
          if (alive[slot]! & 1 && (!column || this.isOf[column[slot]!]) && slot !== except) out[listed++] = slot;
      }
    }
    return listed;
  }

  /** Whether somebody at a place is in a reach. */
  private holds(column: number, row: number, halves: Int32Array, x: number, y: number): boolean {
    let across = Math.abs(x - column);
    let down = Math.abs(y - row);
    if (this.wraps) {
      if (across * 2 > this.columns) across = this.columns - across;
      if (down * 2 > this.rows) down = this.rows - down;
    }
    return down < halves.length && across <= halves[down]!;
  }
}

/** How many stand before a place of a row. */
function inRow(at: number, before: Int32Array, inBlock: Int32Array): number {
  return before[at >> BLOCK_BITS]! + inBlock[at]!;
}
