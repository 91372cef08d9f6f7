import { describe, expect, it } from 'vitest';
import { RunMemory } from './run-memory.ts';

const MANY = 100_000;

describe('the memory of a run', () => {
  it('gives room that is zero, block after block, at multiples of 8, and none at 0', () => {
    const memory = new RunMemory(true);
    const blocks = [1, 8, 13].map((bytes) => memory.take(bytes));
    expect(blocks.map(({ at }) => at % 8)).toEqual([0, 0, 0]);
    expect(Math.min(...blocks.map(({ at }) => at))).toBeGreaterThan(0);
    expect(blocks[1]!.at - blocks[0]!.at).toBe(8);
    expect(blocks[2]!.at - blocks[1]!.at).toBe(8);
    for (const { buffer, at, bytes } of blocks) expect([...new Uint8Array(buffer, at, bytes)]).not.toContain(1);
  });

  it('keeps what blocks hold when it grows, at the same place of another buffer', () => {
    const memory = new RunMemory(true);
    const first = memory.take(16);
    new Float64Array(first.buffer, first.at, 2).set([1.5, -2]);
    memory.take(MANY * 8);
    const renewed = memory.renewed(first);
    expect(renewed.at).toBe(first.at);
    expect(renewed.buffer).toBe(memory.buffer);
    expect(renewed.buffer).not.toBe(first.buffer);
    expect([...new Float64Array(renewed.buffer, renewed.at, 2)]).toEqual([1.5, -2]);
  });

  it('gives room again that was given back, zero, neighbours joined, in whatever order they were', () => {
    for (const order of [
      [0, 1, 2],
      [2, 1, 0],
      [0, 2, 1],
      [1, 2, 0],
    ]) {
      const memory = new RunMemory(true);
      const blocks = [0, 1, 2].map(() => memory.take(MANY));
      const last = memory.take(8);
      const { buffer } = memory.renewed(last);
      new Uint8Array(buffer, blocks[0]!.at, 3 * MANY).fill(7);
      for (const i of order) memory.give(blocks[i]!);
      const joined = memory.take(3 * MANY);
      expect(joined.at).toBe(blocks[0]!.at);
      expect(new Set(new Uint8Array(joined.buffer, joined.at, 3 * MANY))).toEqual(new Set([0]));
    }
  });

  it('takes no more than it needs of a larger room, and leaves the rest', () => {
    const memory = new RunMemory(true);
    const [first, second] = [memory.take(80), memory.take(8)];
    memory.give(first);
    expect(memory.take(16).at).toBe(first.at);
    expect(memory.take(64).at).toBe(first.at + 16);
    expect(memory.take(8).at).toBe(second.at + 8);
  });

  it.each([true, false])('tells how much is held (%s: in WebAssembly), in whole numbers of 8 bytes', (isWanted) => {
    const memory = new RunMemory(isWanted);
    const [first] = [memory.take(9), memory.take(MANY)];
    expect(memory.bytes).toBe(16 + MANY);
    memory.give(first);
    expect(memory.bytes).toBe(MANY);
  });

  it('is one that threads share where that is wanted', () => {
    const memory = new RunMemory(true, true);
    const first = memory.take(8);
    memory.take(MANY);
    // It grows under the views that are there.
    new Float64Array(first.buffer, first.at, 1)[0] = 1.5;
    expect(memory.buffer).toBeInstanceOf(SharedArrayBuffer);
    const { buffer, at } = memory.renewed(first);
    expect(new Float64Array(buffer, at, 1)[0]).toBe(1.5);
  });

  it('has a buffer for each block where none of WebAssembly is wanted', () => {
    const memory = new RunMemory(false);
    const [one, other] = [memory.take(8), memory.take(8)];
    expect(one.buffer).not.toBe(other.buffer);
    expect(memory.shared).toBeUndefined();
    memory.give(one);
    expect(memory.renewed(one)).toBe(one);
  });
});
