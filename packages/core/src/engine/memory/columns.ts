import type { Block, RunMemory } from './run-memory.ts';

type Column = Float64Array | Int32Array | Uint8Array;

/** Hands out columns of one length, side by side; those with the largest numbers come first, so that each begins where such a number may lie. */
export interface SideBySide {
  f64(): Float64Array;
  i32(): Int32Array;
  u8(): Uint8Array;
}

/** Columns of one length that lie side by side, in room of their own or, where kernels need them, in the memory of a run. */
export class Columns {
  /** How many numbers each has room for. */
  capacity = 0;
  private block: Block | undefined;
  private memory: RunMemory | undefined;
  private all: readonly Column[] = [];

  /**
   * @param bytesEach what all columns take for one number each
   * @param layOut takes the columns, whenever they lie elsewhere than before
   */
  constructor(
    private readonly bytesEach: number,
    capacity: number,
    private readonly layOut: (next: SideBySide) => void,
  ) {
    this.grow(capacity, 0);
  }

  /** Bytes that they take beside the memory of a run. */
  get bytesApart(): number {
    return this.block ? 0 : this.bytesEach * this.capacity;
  }

  /**
   * Makes room for so many numbers.
   * @param used how many of those that are there stay
   * @param memory where they are to lie from now on, of which the views of others may be replaced by it; else they get room of their own, so that whoever is going through the columns of others may go on doing so
   */
  grow(capacity: number, used: number, memory?: RunMemory): void {
    const room = Math.ceil(capacity / 8) * 8;
    const bytes = this.bytesEach * room;
    const block = memory?.take(bytes);
    // It may have grown by that.
    if (block) this.renew();
    const old = this.all;
    this.view(block ?? { buffer: new ArrayBuffer(bytes), at: 0 }, room);
    this.all.forEach((column, i) => {
      if (old[i]) column.set(old[i].subarray(0, used));
    });
    if (this.block) this.memory!.give(this.block);
    this.block = block;
    this.memory = memory ?? this.memory;
  }

  /** Brings them into the memory of a run, unless they lie there. */
  moveInto(memory: RunMemory, used: number): void {
    if (!this.block) this.grow(this.capacity, used, memory);
  }

  /** Takes them from the memory of the run as it is now. */
  renew(): void {
    if (!this.block) return;
    this.block = this.memory!.renewed(this.block);
    this.view(this.block, this.capacity);
  }

  private view({ buffer, at }: Pick<Block, 'buffer' | 'at'>, capacity: number): void {
    const all: Column[] = [];
    let next = at;
    const add = <C extends Column>(column: C): C => {
      next += column.byteLength;
      all.push(column);
      return column;
    };
    this.capacity = capacity;
    this.all = all;
    this.layOut({
      f64: () => add(new Float64Array(buffer, next, capacity)),
      i32: () => add(new Int32Array(buffer, next, capacity)),
      u8: () => add(new Uint8Array(buffer, next, capacity)),
    });
  }
}
