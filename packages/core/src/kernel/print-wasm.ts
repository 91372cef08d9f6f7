import type { Column, F64, I32, KernelFunction, Statement, StreamStatement, Test } from './kernel.ts';
import { WasmLoops } from './wasm-loops.ts';
import type { FunctionBytes, TakenFunction } from './wasm-bytes.ts';
import { moduleOf, OP, PAIR, TYPE } from './wasm-bytes.ts';
import {
  BY_TWO,
  COMPARED,
  COMPARED_BY_TWO,
  COMPARED_WHOLE,
  INTEGER,
  OF_ONE,
  OF_ONE_BY_TWO,
  SCALAR,
  SIZE_BITS,
} from './wasm-operations.ts';

/** Spells kernel functions as a WebAssembly module; streams take two numbers at a time. @param isForThreads whether the memory is one that several threads see */
export function wasmOf(functions: readonly KernelFunction[], isForThreads = false): Uint8Array<ArrayBuffer> {
  const taken = new TakenFunctions();
  const bytes = functions.map((one) => new FunctionPrinter(one, taken).print());
  return moduleOf(bytes, taken.list, isForThreads);
}

/** What is taken from outside, in the order in which it is first called. */
class TakenFunctions {
  readonly list: TakenFunction[] = [];

  numberOf(name: string, numbers: number, gives: boolean): number {
    const known = this.list.findIndex((one) => one.name === name);
    return known >= 0 ? known : this.list.push({ name, numbers, gives }) - 1;
  }
}

class FunctionPrinter extends WasmLoops {
  /** Names that hold two numbers in the stream under way. */
  private pairs: ReadonlySet<string> = new Set();

  constructor(
    private readonly of: KernelFunction,
    private readonly taken: TakenFunctions,
  ) {
    super(of.name);
    for (const { name } of [...of.columns, ...of.given]) this.indices.set(name, this.indices.size);
    for (const { name, type } of of.locals) this.addLocal(name, TYPE[type]);
  }

  print(): FunctionBytes {
    for (const statement of this.of.body) this.statement(statement);
    this.code.byte(OP.i32Const).signed(-1);
    return {
      name: this.of.name,
      parameters: [...this.of.columns.map(() => TYPE.i32), ...this.of.given.map(({ type }) => TYPE[type])],
      locals: this.localTypes,
      code: this.code,
    };
  }

  protected statement(s: Statement): void {
    switch (s.is) {
      case 'set':
        this.f64(s.value);
        return this.local(OP.localSet, s.local.name);
      case 'set i32':
        this.i32(s.value);
        return this.local(OP.localSet, s.local.name);
      case 'store':
        this.address(s.column, s.at);
        this.f64(s.value);
        if (s.column.of === 'f32') this.code.byte(OP.f32OfF64, OP.f32Store, SIZE_BITS.f32, 0);
        else this.code.byte(OP.f64Store, SIZE_BITS.f64, 0);
        return;
      case 'store i32':
        this.address(s.column, s.at);
        this.i32(s.value);
        this.code.byte(s.column.of === 'u8' ? OP.u8Store : OP.i32Store, SIZE_BITS[s.column.of], 0);
        return;
      case 'touch':
        this.address(s.column, s.at);
        this.code.byte(OP.u8Load, 0, 0, OP.drop);
        return;
      case 'loop over':
        return this.loopOver(s);
      case 'loop through':
        return this.loopThrough(s);
      case 'sum rows':
        return this.sumRows(s);
      case 'block':
        return this.inside(OP.block, s.name, () => s.body.forEach((statement) => this.statement(statement)));
      case 'leave':
        this.code.byte(OP.branch).unsigned(this.open.length - 1 - this.open.lastIndexOf(s.block));
        return;
      case 'tell':
        this.call(s.fn, s.given, false);
        if (s.anew) this.takeAnew(s.anew);
        return;
      case 'give':
        this.i32(s.value);
        this.code.byte(OP.return);
        return;
      case 'loop':
        this.i32(s.from);
        this.local(OP.localSet, s.index.name);
        return this.rounds(s.index, s.to, 1, () => s.body.forEach((statement) => this.statement(statement)));
      case 'stream':
        return this.stream(s);
      case 'when':
        return this.when(s);
      case 'unless finite':
        for (let i = 0; i < 2; i++) this.local(OP.localGet, s.value.name);
        this.code.byte(OP.f64Subtract, OP.f64Const).f64(0).byte(OP.f64NotEqual, OP.if, TYPE.none);
        this.i32(s.at);
        this.code.byte(OP.return, OP.end);
        return;
    }
  }

  /** Tests of several parts jump part by part: as a value that is tested again they take twice as many instructions. */
  private when({ test, then, else: otherwise }: Extract<Statement, { is: 'when' }>): void {
    const write = (list: readonly Statement[]): void => list.forEach((statement) => this.statement(statement));
    if (!hasParts(test)) {
      this.test(test);
      return this.inside(OP.if, '', () => {
        write(then);
        if (otherwise.length === 0) return;
        this.code.byte(OP.else);
        write(otherwise);
      });
    }
    if (otherwise.length === 0)
      return this.inside(OP.block, '', () => {
        this.jump(test, false, 0);
        write(then);
      });
    this.inside(OP.block, '', () => {
      this.inside(OP.block, '', () => {
        this.jump(test, false, 0);
        write(then);
        this.code.byte(OP.branch, 1);
      });
      write(otherwise);
    });
  }

  /** Jumps out of so many blocks more than the innermost where a test holds, or where it does not. */
  private jump(test: Test, where: boolean, out: number): void {
    const { code } = this;
    switch (test.is) {
      case 'not':
        return this.jump(test.test, !where, out);
      case 'and then':
      case 'or else':
        // Where the first part alone leads there, both do so one after another.
        if (where === (test.is === 'or else')) {
          this.jump(test.left, where, out);
          return this.jump(test.right, where, out);
        }
        return this.inside(OP.block, '', () => {
          this.jump(test.left, !where, 0);
          this.jump(test.right, where, out + 1);
        });
      default:
        this.test(test);
        if (!where) code.byte(OP.i32IsZero);
        code.byte(OP.branchIf).unsigned(out);
    }
  }

  private call(fn: string, given: readonly F64[], gives: boolean): void {
    for (const value of given) this.f64(value);
    this.code.byte(OP.call).unsigned(this.taken.numberOf(fn, given.length, gives));
  }

  /** Takes the addresses of all columns from one of them. */
  private takeAnew(addresses: Column): void {
    this.of.columns.forEach(({ name }, i) => {
      this.local(OP.localGet, addresses.name);
      this.code.byte(OP.i32Load, SIZE_BITS.i32).unsigned(4 * i);
      this.local(OP.localSet, name);
    });
  }

  private stream(s: Extract<Statement, { is: 'stream' }>): void {
    const names = new Set(s.body.flatMap((one) => (one.is === 'set' ? [one.local.name] : [])));
    for (const name of names) if (!this.indices.has(`${name} by two`)) this.addLocal(`${name} by two`, TYPE.pair);
    this.i32(s.from);
    this.local(OP.localSet, s.index.name);
    this.rounds(s.index, s.to, 2, () => {
      this.pairs = names;
      for (const statement of s.body) this.pairStatement(statement);
      this.pairs = new Set();
    });
    this.rounds(s.index, s.to, 1, () => s.body.forEach((statement) => this.statement(statement)));
  }

  private pairStatement(s: StreamStatement): void {
    const { code } = this;
    switch (s.is) {
      case 'set':
        this.pair(s.value);
        return this.local(OP.localSet, `${s.local.name} by two`);
      case 'store':
        this.address(s.column, s.at);
        this.pair(s.value);
        if (s.column.of === 'f32') {
          this.pairOp(PAIR.toSingle);
          this.pairOp(PAIR.storeHalf).byte(SIZE_BITS.f32, 0, 0);
        } else this.pairOp(PAIR.store).byte(SIZE_BITS.f64, 0);
        return;
      case 'unless finite': {
        const name = `${s.value.name} by two`;
        const difference = (): void => {
          this.local(OP.localGet, name);
          this.local(OP.localGet, name);
          this.pairOp(PAIR.subtract);
        };
        difference();
        code.byte(OP.f64Const).f64(0);
        this.pairOp(PAIR.splat);
        this.pairOp(PAIR.notEqual);
        this.pairOp(PAIR.anyTrue);
        code.byte(OP.if, TYPE.none);
        // The second, if the first is finite.
        this.i32(s.at);
        difference();
        this.pairOp(PAIR.firstLane).byte(0);
        code.byte(OP.f64Const).f64(0).byte(OP.f64NotEqual, OP.i32IsZero, OP.i32Add, OP.return, OP.end);
        return;
      }
    }
  }

  private f64(e: F64): void {
    const { code } = this;
    switch (e.is) {
      case 'local':
        return this.local(OP.localGet, e.name);
      case 'f64':
        code.byte(OP.f64Const).f64(e.value);
        return;
      case 'load':
        this.address(e.column, e.at);
        if (e.column.of === 'f32') code.byte(OP.f32Load, SIZE_BITS.f32, 0, OP.f64OfF32);
        else code.byte(OP.f64Load, SIZE_BITS.f64, 0);
        return;
      case 'f64 binary':
        this.f64(e.left);
        this.f64(e.right);
        code.byte(SCALAR[e.fn]);
        return;
      case 'minus':
        this.f64(e.value);
        code.byte(OP.f64Minus);
        return;
      case 'of one':
        this.f64(e.value);
        code.byte(...OF_ONE[e.fn]);
        return;
      case 'of i32':
        this.i32(e.value);
        code.byte(OP.f64OfSigned);
        return;
      case 'call':
        return this.call(e.fn, e.given, true);
      case 'at most':
      case 'at least':
        this.f64(e.bound);
        this.f64(e.value);
        this.f64(e.value);
        this.f64(e.bound);
        code.byte(e.is === 'at most' ? OP.f64Greater : OP.f64Less, OP.select);
        return;
      case 'unsigned':
        this.i32(e.word);
        code.byte(OP.f64OfUnsigned);
        return;
      case 'power of two':
        this.i32(e.exponent);
        code.byte(OP.i32Const).signed(1023).byte(OP.i32Add, OP.i64ExtendedUnsigned);
        code.byte(OP.i64Const, 52, OP.i64ShiftLeft, OP.f64OfBits);
        return;
      case 'select':
        return this.select(e);
      case 'choose':
        this.test(e.test);
        code.byte(OP.if, TYPE.f64);
        this.f64(e.then);
        code.byte(OP.else);
        this.f64(e.else);
        code.byte(OP.end);
        return;
    }
  }

  /** By its bits: engines make a branch of WebAssembly's own `select`, and where nobody can foretell the way taken that costs more than all the rest. */
  private select({ test, then, else: otherwise }: Extract<F64, { is: 'select' }>): void {
    const { code } = this;
    if (then.is === 'f64' && then.value === 1 && otherwise.is === 'f64' && Object.is(otherwise.value, 0)) {
      this.test(test);
      code.byte(OP.f64OfUnsigned);
      return;
    }
    const name = `select ${this.indices.size}`;
    this.addLocal(name, TYPE.i64);
    this.f64(then);
    code.byte(OP.i64OfBits);
    this.f64(otherwise);
    code.byte(OP.i64OfBits);
    this.local(OP.localTee, name);
    code.byte(OP.i64Xor, OP.i64Const, 0);
    this.test(test);
    code.byte(OP.i64ExtendedUnsigned, OP.i64Subtract, OP.i64And);
    this.local(OP.localGet, name);
    code.byte(OP.i64Xor, OP.f64OfBits);
  }

  private pair(e: F64): void {
    switch (e.is) {
      case 'local':
        if (this.pairs.has(e.name)) return this.local(OP.localGet, `${e.name} by two`);
        this.local(OP.localGet, e.name);
        this.pairOp(PAIR.splat);
        return;
      case 'f64':
        this.f64(e);
        this.pairOp(PAIR.splat);
        return;
      case 'load':
        this.address(e.column, e.at);
        if (e.column.of === 'f32') {
          this.pairOp(PAIR.loadHalf).byte(SIZE_BITS.f32, 0);
          this.pairOp(PAIR.ofSingle);
        } else this.pairOp(PAIR.load).byte(SIZE_BITS.f64, 0);
        return;
      case 'f64 binary':
        this.pair(e.left);
        this.pair(e.right);
        this.pairOp(BY_TWO[e.fn]);
        return;
      case 'minus':
        this.pair(e.value);
        this.pairOp(PAIR.minus);
        return;
      case 'at most':
      case 'at least':
        this.pair(e.value);
        this.pair(e.bound);
        this.pairOp(e.is === 'at most' ? PAIR.atMost : PAIR.atLeast);
        return;
      case 'select':
        this.pair(e.then);
        this.pair(e.else);
        this.pairTest(e.test);
        this.pairOp(PAIR.bitSelect);
        return;
      case 'of one':
        this.pair(e.value);
        for (const operation of OF_ONE_BY_TWO[e.fn]) this.pairOp(operation);
        return;
      case 'of i32':
      case 'unsigned':
      case 'choose':
      case 'power of two':
      case 'call':
        throw new RangeError('A stream draws no luck, calls nothing and leaves nothing out');
    }
  }

  /** Added to a number of so many bits that its last 32 are those of the whole number: engines check what they convert, which takes twice as long. */
  private truncated(value: F64): void {
    this.f64(value);
    const isWhole = value.is === 'of one' && (value.fn === 'floor' || value.fn === 'ceiling');
    if (!isWhole) this.code.byte(OP.f64Truncated);
    this.code
      .byte(OP.f64Const)
      .f64(3 * 2251799813685248)
      .byte(OP.f64Add, OP.i64OfBits, OP.i32Wrapped);
  }

  private high(word: I32, times: I32): void {
    for (const factor of [word, times]) {
      this.i32(factor);
      this.code.byte(OP.i64ExtendedUnsigned);
    }
    this.code.byte(OP.i64Multiply, OP.i64Const, 32, OP.i64ShiftRight, OP.i32Wrapped);
  }

  private test(test: Test): void {
    switch (test.is) {
      case 'compare':
        this.f64(test.left);
        this.f64(test.right);
        this.code.byte(COMPARED[test.fn]);
        return;
      case 'compare i32':
        this.i32(test.left);
        this.i32(test.right);
        this.code.byte(COMPARED_WHOLE[test.fn]);
        return;
      case 'below':
        this.i32(test.word);
        this.i32(test.than);
        this.code.byte(OP.i32Below);
        return;
      case 'and then':
      case 'or else':
        this.test(test.left);
        this.code.byte(OP.if, TYPE.i32);
        if (test.is === 'and then') this.test(test.right);
        else this.code.byte(OP.i32Const, 1);
        this.code.byte(OP.else);
        if (test.is === 'and then') this.code.byte(OP.i32Const, 0);
        else this.test(test.right);
        this.code.byte(OP.end);
        return;
      case 'not':
        this.test(test.test);
        this.code.byte(OP.i32IsZero);
        return;
      default:
        this.test(test.left);
        this.test(test.right);
        this.code.byte(test.is === 'and' ? OP.i32And : OP.i32Or);
    }
  }

  private pairTest(test: Test): void {
    switch (test.is) {
      case 'compare':
        this.pair(test.left);
        this.pair(test.right);
        this.pairOp(COMPARED_BY_TWO[test.fn]);
        return;
      case 'compare i32':
      case 'below':
      case 'and then':
      case 'or else':
        throw new RangeError('A stream compares numbers, all of them');
      case 'not':
        this.pairTest(test.test);
        this.pairOp(PAIR.not);
        return;
      default:
        this.pairTest(test.left);
        this.pairTest(test.right);
        this.pairOp(test.is === 'and' ? PAIR.and : PAIR.or);
    }
  }

  protected i32(e: I32): void {
    switch (e.is) {
      case 'local':
        return this.local(OP.localGet, e.name);
      case 'i32':
        this.code.byte(OP.i32Const).signed(e.value);
        return;
      case 'i32 load':
        this.address(e.column, e.at);
        this.code.byte(e.column.of === 'u8' ? OP.u8Load : OP.i32Load, SIZE_BITS[e.column.of], 0);
        return;
      case 'truncated':
        return this.truncated(e.value);
      case 'high word':
        this.f64(e.value);
        this.code.byte(OP.i64OfBits, OP.i64Const, 32, OP.i64ShiftRight, OP.i32Wrapped);
        return;
      case 'holds':
        return this.test(e.test);
      case 'i32 select':
        this.i32(e.then);
        this.i32(e.else);
        this.test(e.test);
        this.code.byte(OP.select);
        return;
      case 'i32 binary':
        if (e.fn === 'high') return this.high(e.left, e.right);
        this.i32(e.left);
        this.i32(e.right);
        this.code.byte(INTEGER[e.fn]);
        return;
    }
  }
}

/** Whether parts of a test decide whether others are asked. */
function hasParts(test: Test): boolean {
  return test.is === 'not' ? hasParts(test.test) : test.is === 'and then' || test.is === 'or else';
}
