/**
 * The kernel form: what is to be done, with every decision taken, in words that JavaScript and WebAssembly both have. Loops, loads and stores
 * of columns of numbers, arithmetic on f64 and i32. `print-javascript.ts` and `print-wasm.ts` spell it; both come to the same bits.
 */

type Type = 'f64' | 'i32';

/** How many bytes of a column are looked at in one go. */
export const WIDE = 16;

/** What a column holds: numbers, numbers in single precision, whole numbers of 32 bits, or small ones from 0 to 255. */
export type Cell = 'f64' | 'f32' | 'i32' | 'u8';

/** A column that a function is given: an array in JavaScript, an address in WebAssembly. */
export interface Column<C extends Cell = Cell> {
  readonly is: 'column';
  readonly name: string;
  readonly of: C;
}

/** A column of numbers; what is stored in single precision is rounded. */
export type Numbers = Column<'f64' | 'f32'>;

/** A number that a function is given or holds. */
export interface Local<T extends Type = Type> {
  readonly is: 'local';
  readonly name: string;
  readonly type: T;
}

export type F64 =
  | Local<'f64'>
  | { readonly is: 'f64'; readonly value: number }
  | { readonly is: 'load'; readonly column: Numbers; readonly at: I32 }
  | { readonly is: 'f64 binary'; readonly fn: '+' | '-' | '*' | '/'; readonly left: F64; readonly right: F64 }
  | { readonly is: 'minus'; readonly value: F64 }
  /** `single` is the number of single precision that is nearest. */
  | { readonly is: 'of one'; readonly fn: 'floor' | 'ceiling' | 'abs' | 'sqrt' | 'single'; readonly value: F64 }
  /** The bound if the value lies beyond it, else the value: zeros of two signs stay what they are. */
  | { readonly is: 'at most' | 'at least'; readonly value: F64; readonly bound: F64 }
  /** A whole number as it is. */
  | { readonly is: 'of i32'; readonly value: I32 }
  /** A word of luck as the number it is, from 0 up to below 2^32. */
  | { readonly is: 'unsigned'; readonly word: I32 }
  /** Of a whole number from -1022 to 1023; not in streams. */
  | { readonly is: 'power of two'; readonly exponent: I32 }
  /** Only the one that is chosen is computed, by a jump; not in streams. */
  | { readonly is: 'choose'; readonly test: Test; readonly then: F64; readonly else: F64 }
  /** Both are computed, and one is taken without a jump. */
  | { readonly is: 'select'; readonly test: Test; readonly then: F64; readonly else: F64 }
  /** A function of numbers that is given from outside; not in streams. */
  | { readonly is: 'call'; readonly fn: string; readonly given: readonly F64[] };

type Comparison = '<' | '<=' | '>' | '>=' | '==' | '!=';

/** Whether something holds of numbers. */
export type Test =
  | { readonly is: 'compare'; readonly fn: Comparison; readonly left: F64; readonly right: F64 }
  | { readonly is: 'compare i32'; readonly fn: Comparison; readonly left: I32; readonly right: I32 }
  /** Of words of luck. */
  | { readonly is: 'below'; readonly word: I32; readonly than: I32 }
  /** All parts are computed. */
  | { readonly is: 'and' | 'or'; readonly left: Test; readonly right: Test }
  /** The second is only computed where it decides; not in streams. */
  | { readonly is: 'and then' | 'or else'; readonly left: Test; readonly right: Test }
  | { readonly is: 'not'; readonly test: Test };

/**
 * Places and numbers of cells, which never grow beyond 31 bits, and words of luck, which `imul`, `xor`, `bits`, `mask`, `shl`, `shr` and `add` take for
 * what their 32 bits are, beyond which nothing is kept. `high` is a word times a number up to 2^21 without what lies below 2^32: so many of 2^32. What holds is 1, what does not 0.
 */
export type I32 =
  | Local<'i32'>
  | { readonly is: 'i32'; readonly value: number }
  | { readonly is: 'i32 load'; readonly column: Column<'i32' | 'u8'>; readonly at: I32 }
  /** Of a number within 31 bits what lies before the point; 0 of what is no number. */
  | { readonly is: 'truncated'; readonly value: F64 }
  /** The upper 32 of the 64 bits of a number: its sign, its exponent and the first 20 bits of its fraction. */
  | { readonly is: 'high word'; readonly value: F64 }
  | { readonly is: 'holds'; readonly test: Test }
  /** Both are computed. */
  | { readonly is: 'i32 select'; readonly test: Test; readonly then: I32; readonly else: I32 }
  | { readonly is: 'i32 binary'; readonly fn: I32Function; readonly left: I32; readonly right: I32 };

export type I32Function = '+' | '-' | '*' | 'imul' | 'xor' | 'bits' | 'mask' | 'high' | 'shl' | 'shr' | 'add';

export type Statement =
  | { readonly is: 'set'; readonly local: Local<'f64'>; readonly value: F64 }
  | { readonly is: 'set i32'; readonly local: Local<'i32'>; readonly value: I32 }
  | { readonly is: 'store'; readonly column: Numbers; readonly at: I32; readonly value: F64 }
  | { readonly is: 'store i32'; readonly column: Column<'i32' | 'u8'>; readonly at: I32; readonly value: I32 }
  /** With the index from a number up to below another. */
  | {
      readonly is: 'loop';
      readonly index: Local<'i32'>;
      readonly from: I32;
      readonly to: I32;
      readonly body: readonly Statement[];
    }
  /** The same with those of the numbers alone at which a column holds one of some values. What the body changes in the column at other places counts where the loop is live, else there must be nothing of that kind. */
  | {
      readonly is: 'loop over';
      readonly index: Local<'i32'>;
      readonly from: I32;
      readonly to: I32;
      readonly column: Column<'u8'>;
      readonly values: readonly number[];
      readonly isLive: boolean;
      readonly body: readonly Statement[];
    }
  /**
   * With those of the 16 numbers from one on at which a column and a mask both hold what is not 0; what the body changes in the column is not looked at.
   */
  | {
      readonly is: 'loop through';
      readonly index: Local<'i32'>;
      readonly from: I32;
      readonly column: Column<'u8'>;
      readonly masks: Column<'u8'>;
      readonly maskAt: I32;
      readonly body: readonly Statement[];
    }
  /** Adds up rows, at most 255 of them, of 16 zeros and ones of a column, so far apart, of those at which the mask of the row is not 0. */
  | {
      readonly is: 'sum rows';
      readonly into: Local<'i32'>;
      readonly column: Column<'u8'>;
      readonly at: I32;
      readonly stride: I32;
      readonly rows: I32;
      readonly masks: Column<'u8'>;
      readonly maskAt: I32;
    }
  /** Brings what a column holds there near in memory, for statements to come. */
  | { readonly is: 'touch'; readonly column: Column; readonly at: I32 }
  /** Statements that `leave` ends. */
  | { readonly is: 'block'; readonly name: string; readonly body: readonly Statement[] }
  | { readonly is: 'leave'; readonly block: string }
  /** Something that is done outside, given numbers. Where the columns may lie elsewhere afterwards, `anew` is the one that says where, in the order in which the function is given them. */
  | { readonly is: 'tell'; readonly fn: string; readonly given: readonly F64[]; readonly anew?: Column<'i32'> }
  /** Ends the function. */
  | { readonly is: 'give'; readonly value: I32 }
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
    };

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

export function column(name: string): Numbers;
export function column<C extends Cell>(name: string, of: C): Column<C>;
export function column(name: string, of: Cell = 'f64'): Column {
  return { is: 'column', name, of };
}
export const f64 = (name: string): Local<'f64'> => ({ is: 'local', name, type: 'f64' });
export const i32 = (name: string): Local<'i32'> => ({ is: 'local', name, type: 'i32' });
export const number = (value: number): F64 => ({ is: 'f64', value });
export const whole = (value: number): I32 => ({ is: 'i32', value });
export const load = (from: Numbers, at: I32): F64 => ({ is: 'load', column: from, at });
export const loadWhole = (from: Column<'i32' | 'u8'>, at: I32): I32 => ({ is: 'i32 load', column: from, at });
export const set = (local: Local<'f64'>, value: F64): StreamStatement => ({ is: 'set', local, value });
export const put = (local: Local<'i32'>, value: I32): Statement => ({ is: 'set i32', local, value });
export const store = (to: Numbers, at: I32, value: F64): StreamStatement => ({
  is: 'store',
  column: to,
  at,
  value,
});

export const storeWhole = (to: Column<'i32' | 'u8'>, at: I32, value: I32): Statement => ({
  is: 'store i32',
  column: to,
  at,
  value,
});

/** To which a loop goes that is left on the way. */
export const ENDLESS = whole(0x7fffffff);

export function sum(...parts: readonly F64[]): F64 {
  return parts.reduce((left, right) => ({ is: 'f64 binary', fn: '+', left, right }));
}

export function difference(left: F64, right: F64): F64 {
  return { is: 'f64 binary', fn: '-', left, right };
}

export function product(left: F64, right: F64): F64 {
  return { is: 'f64 binary', fn: '*', left, right };
}

export function quotient(left: F64, right: F64): F64 {
  return { is: 'f64 binary', fn: '/', left, right };
}

export function ofOne(fn: Extract<F64, { is: 'of one' }>['fn'], value: F64): F64 {
  return { is: 'of one', fn, value };
}

export function plus(left: I32, right: I32): I32 {
  if (right.is === 'i32' && right.value === 0) return left;
  return { is: 'i32 binary', fn: '+', left, right };
}

export function minus(left: I32, right: I32): I32 {
  return { is: 'i32 binary', fn: '-', left, right };
}

export function times(left: I32, right: I32): I32 {
  return { is: 'i32 binary', fn: '*', left, right };
}

export function words(fn: I32Function, left: I32, right: I32): I32 {
  return { is: 'i32 binary', fn, left, right };
}

export function compare(left: F64, fn: Comparison, right: F64): Test {
  return { is: 'compare', fn, left, right };
}

export function compareWhole(left: I32, fn: Comparison, right: I32): Test {
  return { is: 'compare i32', fn, left, right };
}

/** What holds whatever happens. */
export const ALWAYS: Test = compareWhole(whole(0), '==', whole(0));

/** Whether both hold; the second is only asked where the first does. */
export function both(left: Test, right: Test): Test {
  return { is: 'and then', left, right };
}

/** One of two values by a jump, for tests of which the outcome is mostly the same. */
export function choose(test: Test, then: F64, otherwise: F64): F64 {
  return { is: 'choose', test, then, else: otherwise };
}

/** One of two values without a jump, for tests whose outcome nobody can foretell. */
export function select(test: Test, then: F64, otherwise: F64): F64 {
  return { is: 'select', test, then, else: otherwise };
}

/** What a function that is given from outside makes of numbers. */
export function called(fn: string, ...given: readonly F64[]): F64 {
  return { is: 'call', fn, given };
}

/** A polynomial of z, of which the first number stands alone. */
export function series(z: F64, of: readonly number[]): F64 {
  return of
    .slice(0, -1)
    .reduceRight<F64>((rest, one) => sum(number(one), product(z, rest)), number(of[of.length - 1]!));
}

export function selectWhole(test: Test, then: I32, otherwise: I32): I32 {
  return { is: 'i32 select', test, then, else: otherwise };
}

export function when(test: Test, then: readonly Statement[], otherwise: readonly Statement[] = []): Statement {
  return { is: 'when', test, then, else: otherwise };
}
