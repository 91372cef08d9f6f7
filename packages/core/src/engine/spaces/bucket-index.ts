import type { Space } from '../../forms/form.ts';
import { formOf } from '../../forms/forms.ts';

const NONE = -1;
/** Agents a bucket holds on average. Results do not depend on it, only speed does. */
const AGENTS_A_BUCKET = 2;
/** Along one axis. */
const MOST_BUCKETS = 4096;
/** On a grid with no more cells than this an agent, each cell is a bucket: counts by cell go through lists cell by cell. */
const CELLS_AN_AGENT = 24;
/** The same for agents that somebody else sorts, whom many empty buckets cost more than agents who are not near enough. */
const CELLS_AN_AGENT_SORTED = 1;

/** A list of slots for each bucket of a space, so that who is near is found without asking everybody. */
export class BucketIndex {
  columns = 1;
  rows = 1;
  /** Buckets a unit of length, on each axis. */
  perX = 1;
  perY = 1;
  head = new Int32Array(1);
  next = new Int32Array(0);
  private previous = new Int32Array(0);
  private bucket = new Int32Array(0);
  private valid = false;
  private capacity = 0;
  /** Whether each cell of a grid is a bucket. */
  isByCell = false;
  /** Of sorted slots: where each bucket begins, one more at the end; the slots by bucket, in rising order within each; and where they stand. */
  start = new Int32Array(1);
  members = new Int32Array(0);
  memberX = new Float64Array(0);
  memberY = new Float64Array(0);
  /** How many are sorted. */
  count = 0;
  private isSorted = false;

  /** There may be so many slots from now on. Room for them is made once somebody asks who is near. */
  resize(capacity: number): void {
    this.capacity = capacity;
    if (this.valid) this.makeRoom();
  }

  private makeRoom(): void {
    const { capacity } = this;
    const grow = (old: Int32Array): Int32Array<ArrayBuffer> => {
      const bigger = new Int32Array(capacity);
      bigger.set(old.subarray(0, Math.min(old.length, capacity)));
      return bigger;
    };
    if (this.next.length >= capacity) return;
    this.next = grow(this.next);
    this.previous = grow(this.previous);
    this.bucket = grow(this.bucket);
  }

  get bytes(): number {
    const { next, previous, bucket, head, start, members, memberX, memberY } = this;
    return [next, previous, bucket, head, start, members, memberX, memberY].reduce(
      (sum, one) => sum + one.byteLength,
      0,
    );
  }

  invalidate(): void {
    this.valid = false;
    this.isSorted = false;
  }

  /** Lists for each bucket that are kept up while agents move, brought up to date with the places of the living. */
  ensure(space: Space, alive: Uint8Array, x: Float64Array, y: Float64Array, used: number): void {
    if (this.valid) return;
    this.makeRoom();
    const buckets = this.layOut(space, used);
    if (this.head.length < buckets) this.head = new Int32Array(buckets);
    this.head.fill(NONE, 0, buckets);
    this.isSorted = false;
    this.valid = true;
    for (let slot = used - 1; slot >= 0; slot--) {
      // Agents that are nowhere are in no bucket.
      if (alive[slot]! & 1 && x[slot] === x[slot]) this.link(slot, this.bucketOf(x[slot]!, y[slot]!));
      else this.bucket[slot] = NONE;
    }
  }

  /** The slots sorted by bucket, for rules in which those asked for stand still: who is near lies near in memory too. */
  sort(space: Space, alive: Uint8Array, x: Float64Array, y: Float64Array, used: number): void {
    if (this.isSorted) return;
    this.makeRoom();
    const buckets = this.layOut(space, used);
    this.valid = false;
    this.isSorted = true;
    if (this.start.length < buckets + 1) this.start = new Int32Array(buckets + 1);
    if (this.members.length < used) {
      this.members = new Int32Array(this.next.length);
      this.memberX = new Float64Array(this.next.length);
      this.memberY = new Float64Array(this.next.length);
    }
    const { start, bucket, members, memberX, memberY } = this;
    start.fill(0, 0, buckets + 1);
    for (let slot = 0; slot < used; slot++) {
      const b = alive[slot]! & 1 && x[slot] === x[slot] ? this.bucketOf(x[slot]!, y[slot]!) : NONE;
      bucket[slot] = b;
      if (b !== NONE) start[b]!++;
    }
    let before = 0;
    for (let b = 0; b <= buckets; b++) start[b] = before += start[b]!;
    this.count = before;
    for (let slot = used - 1; slot >= 0; slot--) {
      const b = bucket[slot]!;
      if (b === NONE) continue;
      const at = --start[b]!;
      members[at] = slot;
      memberX[at] = x[slot]!;
      memberY[at] = y[slot]!;
    }
  }

  /** Gives the buckets their sizes, for somebody else to sort agents by them. @returns how many there are */
  shape(space: Space, used: number): number {
    this.invalidate();
    return this.layOut(space, used, CELLS_AN_AGENT_SORTED);
  }

  private layOut(space: Space, used: number, cellsAnAgent = CELLS_AN_AGENT): number {
    const area = (space.width * space.height * AGENTS_A_BUCKET) / Math.max(used, 1);
    this.isByCell =
      formOf(space).isOfCells &&
      area <= cellsAnAgent * AGENTS_A_BUCKET &&
      space.width <= MOST_BUCKETS &&
      space.height <= MOST_BUCKETS;
    const side = this.isByCell ? 1 : Math.sqrt(area);
    this.columns = bucketCount(space.width / side);
    this.rows = bucketCount(space.height / side);
    this.perX = this.columns / space.width;
    this.perY = this.rows / space.height;
    return this.columns * this.rows;
  }

  private bucketOf(x: number, y: number): number {
    const column = Math.floor(x * this.perX);
    const row = Math.floor(y * this.perY);
    return (row < this.rows ? row : this.rows - 1) * this.columns + (column < this.columns ? column : this.columns - 1);
  }

  private link(slot: number, bucket: number): void {
    const first = this.head[bucket]!;
    this.next[slot] = first;
    this.previous[slot] = NONE;
    if (first !== NONE) this.previous[first] = slot;
    this.head[bucket] = slot;
    this.bucket[slot] = bucket;
  }

  add(slot: number, x: number, y: number): void {
    this.isSorted = false;
    if (!this.valid) return;
    if (x === x) this.link(slot, this.bucketOf(x, y));
    else this.bucket[slot] = NONE;
  }

  move(slot: number, x: number, y: number): void {
    this.isSorted = false;
    if (!this.valid) return;
    const to = this.bucketOf(x, y);
    const from = this.bucket[slot]!;
    if (to === from) return;
    if (from !== NONE) this.unlink(slot);
    this.link(slot, to);
  }

  remove(slot: number): void {
    this.isSorted = false;
    if (!this.valid || this.bucket[slot]! < 0) return;
    this.unlink(slot);
    this.bucket[slot] = NONE;
  }

  private unlink(slot: number): void {
    const before = this.previous[slot]!;
    const after = this.next[slot]!;
    if (before === NONE) this.head[this.bucket[slot]!] = after;
    else this.next[before] = after;
    if (after !== NONE) this.previous[after] = before;
  }

  /** Buckets that a reach touches, from `fromRow` and `fromColumn` on; beyond an edge of a wrapping space they count on. */
  fromRow = 0;
  toRow = 0;
  fromColumn = 0;
  toColumn = 0;
  /** Whether the buckets are cells and the reach goes nowhere round the space: then whoever is in the rows of a circle, as wide as `halves` says, is in reach. */
  isExact = false;

  private halfWidths = new Int32Array(0);
  private halvesOf = NaN;

  /** As `halfWidths`, kept for the radius that was asked for last. */
  halves(radius: number): Int32Array {
    if (radius === this.halvesOf) return this.halfWidths;
    this.halvesOf = radius;
    return (this.halfWidths = halfWidths(radius, Math.max(this.columns, this.rows)));
  }

  /**
   * Finds the buckets that a circle touches, each once: candidates only, the caller measures.
   * @returns whether there are any
   */
  range(x: number, y: number, radius: number, wraps: boolean): boolean {
    if (!(radius >= 0) || x !== x) return false;
    const r = radius * 1.000000001 + 1e-12;
    let fromColumn = Math.floor((x - r) * this.perX);
    let toColumn = Math.floor((x + r) * this.perX);
    let fromRow = Math.floor((y - r) * this.perY);
    let toRow = Math.floor((y + r) * this.perY);
    const { columns, rows } = this;
    this.isExact = this.isByCell && !(wraps && (toColumn - fromColumn + 1 >= columns || toRow - fromRow + 1 >= rows));
    if (!wraps || toColumn - fromColumn + 1 >= columns) {
      fromColumn = wraps || fromColumn < 0 ? 0 : Math.min(fromColumn, columns - 1);
      toColumn = wraps || toColumn >= columns ? columns - 1 : Math.max(toColumn, 0);
    }
    if (!wraps || toRow - fromRow + 1 >= rows) {
      fromRow = wraps || fromRow < 0 ? 0 : Math.min(fromRow, rows - 1);
      toRow = wraps || toRow >= rows ? rows - 1 : Math.max(toRow, 0);
    }
    this.fromRow = fromRow;
    this.toRow = toRow;
    this.fromColumn = fromColumn;
    this.toColumn = toColumn;
    return true;
  }
}

/**
 * For each number of rows above or below the middle how many cells to either side a circle of cells covers; -1 where none.
 * @param most rows or columns there are at all
 */
export function halfWidths(radius: number, most: number): Int32Array<ArrayBuffer> {
  const rows = Math.min(Math.floor(radius), most) + 2;
  const halves = new Int32Array(rows);
  for (let v = 0, half = rows; v < rows; v++) {
    while (half >= 0 && half * half + v * v > radius * radius) half--;
    halves[v] = half;
  }
  return halves;
}

function bucketCount(wanted: number): number {
  return Math.max(1, Math.min(MOST_BUCKETS, Math.floor(wanted)));
}
