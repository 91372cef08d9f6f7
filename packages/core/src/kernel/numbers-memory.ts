import { memoryOf } from './web-assembly.ts';

const BYTES = 8;

/** One memory for columns of numbers, which kernels in WebAssembly reach as they are. */
export class NumbersMemory {
  /** A memory of WebAssembly takes up much of the room for addresses, so that there is none before it is needed. */
  memory: { readonly buffer: ArrayBuffer } = { buffer: new ArrayBuffer(0) };

  /** Columns of so many zeros each, one behind the other, in the place of all that were laid out before. */
  layOut(counts: readonly number[]): Float64Array<ArrayBuffer>[] {
    const all = counts.reduce((sum, count) => sum + count, 0);
    if (this.memory.buffer.byteLength < all * BYTES) this.memory = memoryOf(all * BYTES);
    else new Float64Array(this.memory.buffer, 0, all).fill(0);
    let at = 0;
    return counts.map((count) => {
      const column = new Float64Array(this.memory.buffer, at, count);
      at += count * BYTES;
      return column;
    });
  }
}
