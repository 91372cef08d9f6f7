import type { Cell, I32Function } from './kernel.ts';
import { OP, PAIR } from './wasm-bytes.ts';

/** Which operations of WebAssembly do what the words of the kernel form say. */

export const SCALAR = { '+': OP.f64Add, '-': OP.f64Subtract, '*': OP.f64Multiply, '/': OP.f64Divide } as const;
export const BY_TWO = { '+': PAIR.add, '-': PAIR.subtract, '*': PAIR.multiply, '/': PAIR.divide } as const;
export const INTEGER: Readonly<Record<Exclude<I32Function, 'high'>, number>> = {
  '+': OP.i32Add,
  '-': OP.i32Subtract,
  '*': OP.i32Multiply,
  imul: OP.i32Multiply,
  xor: OP.i32Xor,
  bits: OP.i32Or,
  mask: OP.i32And,
  shl: OP.i32ShiftLeft,
  shr: OP.i32ShiftRight,
  add: OP.i32Add,
};
export const COMPARED = {
  '<': OP.f64Less,
  '<=': OP.f64AtMost,
  '>': OP.f64Greater,
  '>=': OP.f64AtLeast,
  '==': OP.f64Equal,
  '!=': OP.f64NotEqual,
} as const;
export const COMPARED_WHOLE = {
  '<': OP.i32Less,
  '<=': OP.i32AtMost,
  '>': OP.i32Greater,
  '>=': OP.i32AtLeast,
  '==': OP.i32Equal,
  '!=': OP.i32NotEqual,
} as const;
export const OF_ONE = {
  floor: [OP.f64Floor],
  ceiling: [OP.f64Ceiling],
  abs: [OP.f64Abs],
  sqrt: [OP.f64Sqrt],
  single: [OP.f32OfF64, OP.f64OfF32],
} as const;
export const OF_ONE_BY_TWO = {
  floor: [PAIR.floor],
  ceiling: [PAIR.ceiling],
  abs: [PAIR.abs],
  sqrt: [PAIR.sqrt],
  single: [PAIR.toSingle, PAIR.ofSingle],
} as const;
export const COMPARED_BY_TWO = {
  '<': PAIR.less,
  '<=': PAIR.lessOrEqual,
  '>': PAIR.greater,
  '>=': PAIR.greaterOrEqual,
  '==': PAIR.equal,
  '!=': PAIR.notEqual,
} as const;
/** How many bytes a value of a column takes, as a power of two. */
export const SIZE_BITS: Readonly<Record<Cell, number>> = { f64: 3, f32: 2, i32: 2, u8: 0 };
