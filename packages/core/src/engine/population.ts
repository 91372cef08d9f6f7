import { turnTo } from '../math.ts';
import type { SideBySide } from './memory/columns.ts';
import { Columns } from './memory/columns.ts';
import type { RunMemory } from './memory/run-memory.ts';
import { BucketIndex } from './spaces/bucket-index.ts';

export const DEAD = 0;
export const ALIVE = 1;
/** Created all at once: there from the end of the rule on. */
export const UNBORN = 2;
/** Removed all at once: still met until the end of the rule. Bit 0 says who is there. */
export const LEAVING = 3;

export interface PopulationShape {
  readonly attributes: number;
  readonly machines: number;
  readonly dues: number;
  /** Whether they are in a space; else no place is written, and memory for places not touched. */
  readonly isSomewhere: boolean;
}

const FIRST_CAPACITY = 64;
/** Slots of a block in which the living are counted together: 512. */
const BLOCK_BITS = 9;

/**
 * The agents of a kind in columns, one typed array each, side by side, which are brought into the memory of the run when kernels need them there. Slots follow the numbers of the agents: a later
 * one never has a lower slot, so order by slot is order by number, also after the holes of the removed are closed.
 */
export class Population {
  /** Slots in use, holes included. */
  used = 0;
  living = 0;
  /** Created all at once, in a rule that is still running. */
  unborn = 0;
  nextNumber = 1;
  /** The first slot of which nothing was ever written where the columns lie, so that they are all 0. */
  private untouched = 0;
  /** Grows whenever the arrays are replaced, so that code that holds them can tell. */
  version = 0;
  alive!: Uint8Array;
  number!: Int32Array;
  x!: Float64Array;
  y!: Float64Array;
  direction!: Float64Array;
  /** Sine and cosine of the direction, so that moves need none. */
  sine!: Float64Array;
  cosine!: Float64Array;
  attributes: Float64Array[] = [];
  states: Uint8Array[] = [];
  due: Float64Array[] = [];
  /** Columns as they were before a rule that acts all at once. */
  readonly before: {
    x: Float64Array;
    y: Float64Array;
    direction: Float64Array;
    sine: Float64Array;
    cosine: Float64Array;
    attributes: Float64Array[];
    states: Uint8Array[];
  };
  readonly index = new BucketIndex();
  private readonly columns: Columns;

  constructor(readonly shape: PopulationShape) {
    this.before = {
      x: new Float64Array(0),
      y: new Float64Array(0),
      direction: new Float64Array(0),
      sine: new Float64Array(0),
      cosine: new Float64Array(0),
      attributes: [],
      states: [],
    };
    this.columns = new Columns(Population.bytesPerAgent(shape), FIRST_CAPACITY, (next) => this.layOut(next));
    this.index.resize(this.capacity);
  }

  /** Bytes an agent takes. */
  static bytesPerAgent(shape: PopulationShape): number {
    return 1 + 4 + 5 * 8 + shape.attributes * 8 + shape.machines + shape.dues * 8;
  }

  /** Slots there are. */
  get capacity(): number {
    return this.columns.capacity;
  }

  /** Bytes that it takes beside the memory of the run. */
  get bytesApart(): number {
    return this.columns.bytesApart;
  }

  /** Room of its own, or in a memory. */
  private allocate(capacity: number, memory?: RunMemory): void {
    this.columns.grow(capacity, this.used, memory);
    this.untouched = this.used;
    this.blocksValid = false;
    this.index.resize(this.capacity);
  }

  /** Brings the columns into the memory of the run, unless they lie there; that of others may be replaced by it. */
  moveInto(memory: RunMemory): void {
    if (this.bytesApart === 0) return;
    this.columns.moveInto(memory, this.used);
    this.untouched = this.used;
  }

  /** Takes the columns from the memory of the run as it is now. */
  renew(): void {
    this.columns.renew();
  }

  private layOut(next: SideBySide): void {
    const { attributes, machines, dues } = this.shape;
    this.x = next.f64();
    this.y = next.f64();
    this.direction = next.f64();
    this.sine = next.f64();
    this.cosine = next.f64();
    this.attributes = Array.from({ length: attributes }, () => next.f64());
    this.due = Array.from({ length: dues }, () => next.f64());
    this.number = next.i32();
    this.alive = next.u8();
    this.states = Array.from({ length: machines }, () => next.u8());
    this.version++;
  }

  /** @param memory where the columns are to lie from now on; that of others may be replaced by it */
  reserve(slots: number, memory?: RunMemory): void {
    if (slots > this.capacity) this.allocate(Math.max(slots, this.capacity * 2), memory);
  }

  /** Gives a new agent its slot; all its columns but place and number begin as 0. */
  add(x: number, y: number, life: typeof ALIVE | typeof UNBORN): number {
    if (this.used === this.capacity) this.allocate(this.capacity * 2);
    const slot = this.used++;
    this.alive[slot] = life;
    this.number[slot] = this.nextNumber++;
    if (slot < this.untouched) this.clearSlot(slot);
    else this.untouched = this.used;
    if (this.shape.isSomewhere) {
      this.x[slot] = x;
      this.y[slot] = y;
      this.cosine[slot] = 1;
    }
    if (life === ALIVE) {
      this.living++;
      if (this.blocksValid) this.blocks[slot >> BLOCK_BITS]!++;
      this.index.add(slot, x, y);
    } else this.unborn++;
    return slot;
  }

  private clearSlot(slot: number): void {
    this.x[slot] = 0;
    this.y[slot] = 0;
    this.direction[slot] = 0;
    this.sine[slot] = 0;
    for (const column of this.attributes) column[slot] = 0;
    for (const column of this.due) column[slot] = 0;
    for (const column of this.states) column[slot] = 0;
  }

  removeAt(slot: number): void {
    this.alive[slot] = DEAD;
    this.living--;
    if (this.blocksValid) this.blocks[slot >> BLOCK_BITS]!--;
  }

  bear(slot: number): void {
    this.alive[slot] = ALIVE;
    this.living++;
    this.blocksValid = false;
    this.unborn--;
    this.index.invalidate();
  }

  /** Closes the holes, keeping the order; tells where every slot has gone, -1 for the removed. */
  compact(moved?: Int32Array): void {
    if (this.living === this.used) return;
    this.blocksValid = false;
    this.used = this.moveTogether(moved);
    this.index.invalidate();
  }

  /** @returns how many there are */
  private moveTogether(moved: Int32Array | undefined): number {
    const { alive } = this;
    let to = 0;
    for (let from = 0; from < this.used; from++) {
      if (moved) moved[from] = alive[from] === DEAD ? -1 : to;
      if (alive[from] === DEAD) continue;
      if (to !== from) this.copySlot(from, to);
      to++;
    }
    return to;
  }

  private copySlot(from: number, to: number): void {
    this.alive[to] = this.alive[from]!;
    this.number[to] = this.number[from]!;
    this.x[to] = this.x[from]!;
    this.y[to] = this.y[from]!;
    this.direction[to] = this.direction[from]!;
    this.sine[to] = this.sine[from]!;
    this.cosine[to] = this.cosine[from]!;
    for (const column of this.attributes) column[to] = column[from]!;
    for (const column of this.due) column[to] = column[from]!;
    for (const column of this.states) column[to] = column[from]!;
  }

  /** Says how many there are, for a kernel that lets agents come and go: slots in use, living, the next number, slots there are, and those still to be born. */
  lifeInto(life: Int32Array): void {
    life.set([this.used, this.living, this.nextNumber, this.capacity, this.unborn]);
  }

  /** Takes over what a kernel has made of it. */
  lifeFrom(life: Int32Array): void {
    [this.used, this.living, this.nextNumber, , this.unborn] = life as unknown as [
      number,
      number,
      number,
      number,
      number,
    ];
    this.untouched = Math.max(this.untouched, this.used);
    this.blocksValid = false;
    this.index.invalidate();
  }

  clear(): void {
    this.used = 0;
    this.living = 0;
    this.unborn = 0;
    this.nextNumber = 1;
    this.blocksValid = false;
    this.index.invalidate();
  }

  /** How many live in each block of slots; kept up once it was asked for. */
  private blocks = new Int32Array(0);
  private blocksValid = false;

  /** The slot of the k-th of the living, one of them passed over (-1 for none). */
  livingAt(k: number, except: number): number {
    if (!this.blocksValid) this.countBlocks();
    const { alive, blocks } = this;
    let rest = k;
    const exceptBlock = except >= 0 && alive[except]! & 1 ? except >> BLOCK_BITS : -1;
    let block = 0;
    for (; ; block++) {
      const there = blocks[block]! - (block === exceptBlock ? 1 : 0);
      if (rest < there) break;
      rest -= there;
    }
    for (let slot = block << BLOCK_BITS; ; slot++) {
      if (!(alive[slot]! & 1) || slot === except) continue;
      if (rest-- === 0) return slot;
    }
  }

  private countBlocks(): void {
    const count = (this.capacity >> BLOCK_BITS) + 1;
    if (this.blocks.length < count) this.blocks = new Int32Array(count);
    this.blocks.fill(0);
    for (let slot = 0; slot < this.used; slot++) if (this.alive[slot]! & 1) this.blocks[slot >> BLOCK_BITS]!++;
    this.blocksValid = true;
  }

  /** The slot of an agent's number, or -1; numbers rise with slots, so by halving unless nobody has gone yet. */
  slotOf(number: number): number {
    const direct = number - 1;
    if (direct < this.used && this.number[direct] === number) return this.alive[direct]! & 1 ? direct : -1;
    let low = 0;
    let high = this.used - 1;
    while (low <= high) {
      const middle = (low + high) >> 1;
      const found = this.number[middle]!;
      if (found === number) return this.alive[middle]! & 1 ? middle : -1;
      if (found < number) low = middle + 1;
      else high = middle - 1;
    }
    return -1;
  }

  /** Keeps positions as they are, for rules in which others must see them so. */
  keepPositions(): void {
    this.before.x = keepInto(this.before.x, this.x, this.used);
    this.before.y = keepInto(this.before.y, this.y, this.used);
    this.before.direction = keepInto(this.before.direction, this.direction, this.used);
    this.before.sine = keepInto(this.before.sine, this.sine, this.used);
    this.before.cosine = keepInto(this.before.cosine, this.cosine, this.used);
  }

  keepAttribute(column: number): void {
    this.before.attributes[column] = keepInto(
      this.before.attributes[column] ?? new Float64Array(0),
      this.attributes[column]!,
      this.used,
    );
  }

  keepStates(machine: number): void {
    const column = this.states[machine]!;
    let kept = this.before.states[machine];
    if (!kept || kept.length < this.used) kept = new Uint8Array(column.length);
    kept.set(column.subarray(0, this.used));
    this.before.states[machine] = kept;
  }

  snapshot(): ArrayBuffer {
    this.compact();
    const n = this.used;
    const doubles = [this.x, this.y, this.direction, ...this.attributes, ...this.due];
    const out = new ArrayBuffer(24 + n * (doubles.length * 8 + 4 + this.states.length));
    new Float64Array(out, 0, 3).set([n, this.nextNumber, 0]);
    let at = 24;
    for (const column of doubles) {
      new Float64Array(out, at, n).set(column.subarray(0, n));
      at += n * 8;
    }
    new Int32Array(out, at, n).set(this.number.subarray(0, n));
    at += n * 4;
    for (const column of this.states) {
      new Uint8Array(out, at, n).set(column.subarray(0, n));
      at += n;
    }
    return out;
  }

  restore(snapshot: ArrayBuffer): void {
    const [n, nextNumber] = new Float64Array(snapshot, 0, 3) as unknown as [number, number];
    this.used = 0;
    this.reserve(n);
    let at = 24;
    for (const column of [this.x, this.y, this.direction, ...this.attributes, ...this.due]) {
      column.set(new Float64Array(snapshot, at, n));
      at += n * 8;
    }
    this.number.set(new Int32Array(snapshot, at, n));
    at += n * 4;
    for (const column of this.states) {
      column.set(new Uint8Array(snapshot, at, n));
      at += n;
    }
    this.alive.fill(ALIVE, 0, n);
    for (let slot = 0; slot < n; slot++) turnTo(this.direction, this.sine, this.cosine, slot, this.direction[slot]!);
    this.used = n;
    this.untouched = Math.max(this.untouched, n);
    this.living = n;
    this.unborn = 0;
    this.nextNumber = nextNumber;
    this.blocksValid = false;
    this.index.invalidate();
  }
}

function keepInto(kept: Float64Array, column: Float64Array, used: number): Float64Array {
  const target = kept.length < used ? new Float64Array(column.length) : kept;
  target.set(column.subarray(0, used));
  return target;
}
