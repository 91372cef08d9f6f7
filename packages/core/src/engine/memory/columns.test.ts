import { describe, expect, it } from 'vitest';
import { Columns } from './columns.ts';
import { RunMemory } from './run-memory.ts';

/** A column of numbers and one of small ones, as they are laid out. */
function pair(capacity: number) {
  const of: { numbers: Float64Array; small: Uint8Array } = { numbers: new Float64Array(0), small: new Uint8Array(0) };
  const columns = new Columns(9, capacity, (next) => {
    of.numbers = next.f64();
    of.small = next.u8();
  });
  const write = (): void => {
    for (let i = 0; i < 8; i++) [of.numbers[i], of.small[i]] = [i + 0.5, i];
  };
  const read = () => [...of.numbers.subarray(0, 8), ...of.small.subarray(0, 8)];
  write();
  return { of, columns, read, written: read() };
}

describe('columns side by side', () => {
  it('keep what is used, and no more, when they grow in room of their own', () => {
    const { of, columns, read, written } = pair(8);
    columns.grow(20, 8);
    expect(columns.capacity).toBe(24);
    expect([of.numbers.length, of.small.length, columns.bytesApart]).toEqual([24, 24, 9 * 24]);
    expect(read()).toEqual(written);
    columns.grow(32, 2);
    expect(read()).toEqual([0.5, 1.5, ...Array<number>(6).fill(0), 0, 1, ...Array<number>(6).fill(0)]);
  });

  it('keep it when they come into a memory, grow there, and are taken anew after others have grown', () => {
    const memory = new RunMemory(true);
    const [one, other] = [pair(8), pair(8)];
    one.columns.moveInto(memory, 8);
    other.columns.moveInto(memory, 8);
    expect([one.columns.bytesApart, other.columns.bytesApart]).toEqual([0, 0]);
    // Far beyond a page of the memory, so that its buffer is replaced.
    other.columns.grow(100_000, 8, memory);
    expect(other.read()).toEqual(other.written);
    expect(one.of.numbers.length).toBe(0);
    one.columns.renew();
    expect(one.read()).toEqual(one.written);
    one.columns.grow(100_000, 8, memory);
    expect(one.read()).toEqual(one.written);
    expect(one.of.numbers.buffer).toBe(memory.buffer);
  });
});
