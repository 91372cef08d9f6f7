/**
 * The kernel form: what is to be done, with every decision taken, in words that JavaScript and WebAssembly both have. Loops, loads and stores
 * of columns of numbers, arithmetic on f64 and i32. `print-javascript.ts` and `print-wasm.ts` spell it; both come to the same bits.
 */

type Type = 'f64' | 'i32';

/** A column of 8-byte numbers that a function is given: an array in JavaScript, an address in WebAssembly. */
export interface Column {
  readonly is: 'column';
  readonly name: string;
}

/** A number that a function is given or holds. */
export interface Local<T extends Type = Type> {
  readonly is: 'local';
  readonly name: string;
  readonly type: T;
}

export type F64 =
  | Local<'f64'>
  | { readonly is: 'f64'; readonly value: number }
  | { readonly is: 'load'; readonly column: Column; readonly at: I32 }
  | { readonly is: 'f64 binary'; readonly fn: '+' | '-' | '*' | '/'; readonly left: F64; readonly right: F64 }
  | { readonly is: 'minus'; readonly value: F64 }
  /** The bound if the value lies beyond it, else the value: zeros of two signs stay what they are. */
  | { readonly is: 'at most' | 'at least'; readonly value: F64; readonly bound: F64 }
  /** A word of luck as the number it is, from 0 up to below 2^32. */
  | { readonly is: 'unsigned'; readonly word: I32 }
  /** Only the one that is chosen is computed; not in streams. */
  | { readonly is: 'choose'; readonly test: I32; readonly then: F64; readonly else: F64 }
  /** Both are computed. */
  | { readonly is: 'select'; readonly test: Test; readonly then: F64; readonly else: F64 };

type Comparison = '<' | '<=' | '>' | '>=' | '==' | '!=';

/** Whether something holds of numbers; all parts are computed. */
export type Test =
  | { readonly is: 'compare'; readonly fn: Comparison; readonly left: F64; readonly right: F64 }
  | { readonly is: 'and' | 'or'; readonly left: Test; readonly right: Test }
  | { readonly is: 'not'; readonly test: Test };

/**
 * Places and numbers of cells, which never grow beyond 31 bits, and words of luck, which `imul`, `xor`, `bits`, `shl`, `shr` and `add` take for
 * what their 32 bits are, beyond which nothing is kept. Comparisons give 1 or 0, `or` joins them.
 */
export type I32 =
  | Local<'i32'>
  | { readonly is: 'i32'; readonly value: number }
  | { readonly is: 'i32 choose'; readonly test: I32; readonly then: I32; readonly else: I32 }
  | {
      readonly is: 'i32 binary';
      readonly fn: I32Function;
      readonly left: I32;
      readonly right: I32;
    };

export type I32Function = '+' | '-' | '*' | '<' | '==' | 'or' | 'imul' | 'xor' | 'bits' | 'shl' | 'shr' | 'add';

export type Statement =
  | { readonly is: 'set'; readonly local: Local<'f64'>; readonly value: F64 }
  | { readonly is: 'set i32'; readonly local: Local<'i32'>; readonly value: I32 }
  | { readonly is: 'store'; readonly column: Column; readonly at: I32; readonly value: F64 }
  /** With the index from a number up to below another. */
  | {
      readonly is: 'loop';
      readonly index: Local<'i32'>;
      readonly from: I32;
      readonly to: I32;
      readonly body: readonly Statement[];
    }
  /** Ends the function, which gives a place, where a value is no finite number. */
  | { readonly is: 'unless finite'; readonly value: Local<'f64'>; readonly at: I32 }
  /**
   * A loop whose rounds know nothing of one another: they set locals that nobody reads after it, load and store at places that move along with
   * the index, and may run two at a time.
   */
  | {
      readonly is: 'stream';
      readonly index: Local<'i32'>;
      readonly from: I32;
      readonly to: I32;
      readonly body: readonly StreamStatement[];
    }
  | {
      readonly is: 'when';
      readonly test: Test;
      readonly then: readonly Statement[];
      readonly else: readonly Statement[];
    }
  | { readonly is: 'if'; readonly test: I32; readonly then: readonly Statement[]; readonly else: readonly Statement[] };

/** Statements that a stream may hold, and any other place as well. */
export type StreamStatement = Extract<Statement, { is: 'set' | 'store' | 'unless finite' }>;

/** Gives -1, or the place at which it met a value that is no finite number. */
export interface KernelFunction {
  readonly name: string;
  readonly columns: readonly Column[];
  readonly given: readonly Local[];
  readonly locals: readonly Local[];
  readonly body: readonly Statement[];
}

// What they are made with

export const column = (name: string): Column => ({ is: 'column', name });
export const f64 = (name: string): Local<'f64'> => ({ is: 'local', name, type: 'f64' });
export const i32 = (name: string): Local<'i32'> => ({ is: 'local', name, type: 'i32' });
export const number = (value: number): F64 => ({ is: 'f64', value });
export const whole = (value: number): I32 => ({ is: 'i32', value });
export const load = (from: Column, at: I32): F64 => ({ is: 'load', column: from, at });
export const set = (local: Local<'f64'>, value: F64): StreamStatement => ({ is: 'set', local, value });
export const store = (to: Column, at: I32, value: F64): StreamStatement => ({ is: 'store', column: to, at, value });

export function sum(...parts: readonly F64[]): F64 {
  return parts.reduce((left, right) => ({ is: 'f64 binary', fn: '+', left, right }));
}

export function product(left: F64, right: F64): F64 {
  return { is: 'f64 binary', fn: '*', left, right };
}

export function plus(left: I32, right: I32): I32 {
  if (right.is === 'i32' && right.value === 0) return left;
  return { is: 'i32 binary', fn: '+', left, right };
}

export function lessThan(left: I32, right: I32): I32 {
  return { is: 'i32 binary', fn: '<', left, right };
}

export function select(test: Test, then: F64, otherwise: F64): F64 {
  return { is: 'select', test, then, else: otherwise };
}
