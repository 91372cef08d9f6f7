/** The bytes of a WebAssembly module, as far as kernels need them (WebAssembly Core Specification 2.0, chapter 5). */

import { MOST_PAGES } from '../engine/memory/web-assembly.ts';

export const OP = {
  block: 0x02,
  loop: 0x03,
  if: 0x04,
  else: 0x05,
  end: 0x0b,
  branch: 0x0c,
  branchIf: 0x0d,
  return: 0x0f,
  call: 0x10,
  drop: 0x1a,
  select: 0x1b,
  localGet: 0x20,
  localSet: 0x21,
  localTee: 0x22,
  i32Load: 0x28,
  f32Load: 0x2a,
  f64Load: 0x2b,
  u8Load: 0x2d,
  i32Store: 0x36,
  f32Store: 0x38,
  f64Store: 0x39,
  u8Store: 0x3a,
  i32Const: 0x41,
  f64Const: 0x44,
  i32IsZero: 0x45,
  i32Equal: 0x46,
  i32NotEqual: 0x47,
  i32Less: 0x48,
  i32Below: 0x49,
  i32Greater: 0x4a,
  i32AtMost: 0x4c,
  i32AtLeast: 0x4e,
  i32TrailingZeros: 0x68,
  i32Add: 0x6a,
  i32Subtract: 0x6b,
  i32Multiply: 0x6c,
  i32And: 0x71,
  i32Or: 0x72,
  i32Xor: 0x73,
  i32ShiftLeft: 0x74,
  i32ShiftRight: 0x76,
  f64Equal: 0x61,
  f64NotEqual: 0x62,
  f64Less: 0x63,
  f64Greater: 0x64,
  f64AtMost: 0x65,
  f64AtLeast: 0x66,
  f64Abs: 0x99,
  f64Minus: 0x9a,
  f64Ceiling: 0x9b,
  f64Floor: 0x9c,
  f64Truncated: 0x9d,
  f64Sqrt: 0x9f,
  f64Add: 0xa0,
  f64Subtract: 0xa1,
  f64Multiply: 0xa2,
  f64Divide: 0xa3,
  i32Wrapped: 0xa7,
  i64ExtendedUnsigned: 0xad,
  i64Const: 0x42,
  i64Subtract: 0x7d,
  i64Multiply: 0x7e,
  i64And: 0x83,
  i64Xor: 0x85,
  i64ShiftLeft: 0x86,
  i64ShiftRight: 0x88,
  i64OfBits: 0xbd,
  f64OfBits: 0xbf,
  f64OfSigned: 0xb7,
  f64OfUnsigned: 0xb8,
  f32OfF64: 0xb6,
  f64OfF32: 0xbb,
} as const;

/** Operations on two numbers, or 16 bytes, at a time; each follows the byte 0xfd. */
export const PAIR = {
  load: 0x00,
  store: 0x0b,
  /** Eight bytes as the first half, the other half 0, and the first half alone. */
  loadHalf: 0x5d,
  storeHalf: 0x5b,
  /** f32x4.demote_f64x2_zero, f64x2.promote_low_f32x4. */
  toSingle: 0x5e,
  ofSingle: 0x5f,
  splatByte: 0x0f,
  splat: 0x14,
  firstLane: 0x21,
  firstWord: 0x1b,
  equalBytes: 0x23,
  notEqualBytes: 0x24,
  equal: 0x47,
  notEqual: 0x48,
  less: 0x49,
  greater: 0x4a,
  lessOrEqual: 0x4b,
  greaterOrEqual: 0x4c,
  not: 0x4d,
  and: 0x4e,
  or: 0x50,
  bitSelect: 0x52,
  anyTrue: 0x53,
  bitsOfBytes: 0x64,
  addBytes: 0x6e,
  /** Neighbours added: 16 bytes to eight numbers of 16 bits, and these to four of 32. */
  bytesToHalves: 0x7d,
  halvesToWords: 0x7f,
  /** f64x2.ceil, floor. */
  ceiling: 0x74,
  floor: 0x75,
  abs: 0xec,
  minus: 0xed,
  sqrt: 0xef,
  add: 0xf0,
  subtract: 0xf1,
  multiply: 0xf2,
  divide: 0xf3,
  /** Bounds: `b < a ? b : a` and `a < b ? b : a`, which leaves zeros of two signs what they are. */
  atMost: 0xf6,
  atLeast: 0xf7,
} as const;

export const TYPE = { i32: 0x7f, i64: 0x7e, f64: 0x7c, pair: 0x7b, none: 0x40 } as const;

export class Bytes {
  readonly bytes: number[] = [];

  byte(...values: readonly number[]): this {
    this.bytes.push(...values);
    return this;
  }

  unsigned(value: number): this {
    for (let rest = value; ; rest = Math.floor(rest / 128)) {
      if (rest < 128) return this.byte(rest);
      this.byte((rest % 128) | 0x80);
    }
  }

  signed(value: number): this {
    for (let rest = value | 0; ; rest >>= 7) {
      const low = rest & 0x7f;
      if ((rest >> 7 === 0 && !(low & 0x40)) || (rest >> 7 === -1 && low & 0x40)) return this.byte(low);
      this.byte(low | 0x80);
    }
  }

  f64(value: number): this {
    return this.byte(...new Uint8Array(new Float64Array([value]).buffer));
  }

  text(value: string): this {
    const codes = Array.from(value, (letter) => letter.charCodeAt(0));
    return this.unsigned(codes.length).byte(...codes);
  }

  append(other: Bytes): this {
    for (const value of other.bytes) this.bytes.push(value);
    return this;
  }

  /** A part whose length stands before it. */
  sized(other: Bytes): this {
    return this.unsigned(other.bytes.length).append(other);
  }
}

export interface FunctionBytes {
  readonly name: string;
  readonly parameters: readonly number[];
  readonly locals: readonly number[];
  readonly code: Bytes;
}

/** A function that a module takes from outside, `e.name`: it is given numbers, and gives one or nothing. */
export interface TakenFunction {
  readonly name: string;
  readonly numbers: number;
  readonly gives: boolean;
}

/** A module that takes a memory, `m.m`, and functions, which come first in the numbers of functions, and gives functions that return an i32. */
export function moduleOf(
  functions: readonly FunctionBytes[],
  taken: readonly TakenFunction[],
  isForThreads: boolean,
): Uint8Array<ArrayBuffer> {
  const section = (id: number, parts: readonly Bytes[]): Bytes => {
    const body = new Bytes().unsigned(parts.length);
    for (const part of parts) body.append(part);
    return new Bytes().byte(id).sized(body);
  };
  const typeOf = (parameters: readonly number[], results: readonly number[]): Bytes =>
    new Bytes()
      .byte(0x60)
      .unsigned(parameters.length)
      .byte(...parameters)
      .unsigned(results.length)
      .byte(...results);
  const types = [
    ...taken.map(({ numbers, gives }) => typeOf(new Array<number>(numbers).fill(TYPE.f64), gives ? [TYPE.f64] : [])),
    ...functions.map(({ parameters }) => typeOf(parameters, [TYPE.i32])),
  ];
  const memory = new Bytes().text('m').text('m').byte(0x02);
  if (isForThreads) memory.byte(0x03).unsigned(1).unsigned(MOST_PAGES);
  else memory.byte(0x00).unsigned(1);
  const imports = taken.map(({ name }, i) => new Bytes().text('e').text(name).byte(0x00).unsigned(i));
  const exported = functions.map(({ name }, i) =>
    new Bytes()
      .text(name)
      .byte(0x00)
      .unsigned(taken.length + i),
  );
  const codes = functions.map(({ locals, code }) => {
    const body = new Bytes().unsigned(locals.length);
    for (const type of locals) body.unsigned(1).byte(type);
    return new Bytes().sized(body.append(code).byte(OP.end));
  });
  const whole = new Bytes()
    .byte(0x00, 0x61, 0x73, 0x6d, 0x01, 0x00, 0x00, 0x00)
    .append(section(1, types))
    .append(section(2, [...imports, memory]))
    .append(
      section(
        3,
        functions.map((_, i) => new Bytes().unsigned(taken.length + i)),
      ),
    )
    .append(section(7, exported))
    .append(section(10, codes));
  return Uint8Array.from(whole.bytes);
}
