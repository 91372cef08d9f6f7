import type { RawMemory } from './web-assembly.ts';
import { newMemory, reaches } from './web-assembly.ts';

const BYTES = 8;
/** So that no column begins at 0: what lies at the place -1 of a column, which stands for nobody, can be read as well. */
const FIRST = 64;

/** A stretch of memory that somebody holds. */
export interface Block {
  readonly buffer: ArrayBuffer;
  readonly at: number;
  readonly bytes: number;
}

/**
 * The memory of a run for all that kernels reach: columns of agents, values of fields, counts. It is one of WebAssembly where kernels are to run
 * in that and there is so much of it; else every block has a buffer of its own. When it grows, its buffer is replaced: whoever
 * holds a view of a block asks for it anew, which `buffer` tells.
 */
export class RunMemory {
  private grown: RawMemory | undefined;
  /** Its buffer as it was when it last grew: one that threads share is given another by the engine at any time afterwards, over the same bytes. */
  private current: ArrayBuffer | undefined;
  private end = FIRST;
  /** How many blocks were taken so far: as long as it stays, no block lies elsewhere. */
  taken = 0;
  /** How many bytes the blocks have that are held. */
  bytes = 0;
  /** Stretches that were given back, by address, none next to another. */
  private readonly free: { at: number; bytes: number }[] = [];

  /**
   * @param isWanted whether kernels run in WebAssembly, if that is to be had
   * @param isForThreads whether several threads are to see it
   */
  constructor(
    private isWanted: boolean,
    readonly isForThreads = false,
  ) {}

  /** The memory that instances of modules share; absent where there is none of WebAssembly. It takes up much of the room for addresses, so that there is none before it is needed. */
  get shared(): object | undefined {
    return this.grown;
  }

  /** The buffer in which blocks lie; absent where each has its own. */
  get buffer(): ArrayBuffer | undefined {
    return this.current;
  }

  /** Room for so many bytes, all zero, at a multiple of 8. */
  take(bytes: number): Block {
    this.taken++;
    const size = Math.ceil(Math.max(bytes, 1) / BYTES) * BYTES;
    this.bytes += size;
    const at = this.isWanted ? this.place(size) : undefined;
    if (at === undefined) return { buffer: new ArrayBuffer(size), at: 0, bytes: size };
    return { buffer: this.current!, at, bytes: size };
  }

  /** Whether a block lies in the shared memory as it is now, or in one that it had before it grew. */
  holds({ at }: Block): boolean {
    return at >= FIRST;
  }

  /** A block as it lies in the memory now. */
  renewed(block: Block): Block {
    return this.current && this.holds(block) ? { ...block, buffer: this.current } : block;
  }

  /** Gives a block back. */
  give(block: Block): void {
    this.bytes -= block.bytes;
    if (!this.grown || !this.holds(block)) return;
    const { free } = this;
    let i = free.findIndex(({ at }) => at > block.at);
    if (i < 0) i = free.length;
    free.splice(i, 0, { at: block.at, bytes: block.bytes });
    for (const first of [i, i - 1]) {
      const [one, next] = [free[first], free[first + 1]];
      if (!one || !next || one.at + one.bytes !== next.at) continue;
      one.bytes += next.bytes;
      free.splice(first + 1, 1);
    }
  }

  /** An address with so much room, all zero; nothing where the memory cannot grow that far: then there is none of WebAssembly any more, and the blocks that lie in it stay where they are. */
  private place(bytes: number): number | undefined {
    const { free } = this;
    const fit = free.findIndex((one) => one.bytes >= bytes);
    if (fit >= 0) {
      const found = free[fit]!;
      const { at } = found;
      if (found.bytes === bytes) free.splice(fit, 1);
      else Object.assign(found, { at: at + bytes, bytes: found.bytes - bytes });
      new Uint8Array(this.current!, at, bytes).fill(0);
      return at;
    }
    this.grown ??= newMemory(this.isForThreads);
    if (!this.grown || !reaches(this.grown, this.end + bytes)) {
      this.isWanted = false;
      this.grown = this.current = undefined;
      return undefined;
    }
    if (this.current?.byteLength !== this.grown.buffer.byteLength) this.current = this.grown.buffer;
    const at = this.end;
    this.end += bytes;
    return at;
  }
}
