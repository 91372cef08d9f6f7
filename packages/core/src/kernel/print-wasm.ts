import type { Column, F64, I32, KernelFunction, Local, Statement, StreamStatement, Test } from './kernel.ts';
import type { FunctionBytes } from './wasm-bytes.ts';
import { Bytes, moduleOf, OP, PAIR, TYPE } from './wasm-bytes.ts';

/** Spells kernel functions as a WebAssembly module; streams take two numbers at a time. */
export function wasmOf(functions: readonly KernelFunction[]): Uint8Array<ArrayBuffer> {
  return moduleOf(functions.map((one) => new FunctionPrinter(one).print()));
}

const SCALAR = { '+': OP.f64Add, '-': OP.f64Subtract, '*': OP.f64Multiply, '/': OP.f64Divide } as const;
const BY_TWO = { '+': PAIR.add, '-': PAIR.subtract, '*': PAIR.multiply, '/': PAIR.divide } as const;
const INTEGER = {
  '+': OP.i32Add,
  '-': OP.i32Subtract,
  '*': OP.i32Multiply,
  '<': OP.i32Less,
  '==': OP.i32Eq,
  or: OP.i32Or,
  imul: OP.i32Multiply,
  xor: OP.i32Xor,
  bits: OP.i32Or,
  shl: OP.i32ShiftLeft,
  shr: OP.i32ShiftRight,
  add: OP.i32Add,
} as const;
const COMPARED = {
  '<': OP.f64Less,
  '<=': OP.f64AtMost,
  '>': OP.f64Greater,
  '>=': OP.f64AtLeast,
  '==': OP.f64Equal,
  '!=': OP.f64NotEqual,
} as const;
const COMPARED_BY_TWO = {
  '<': PAIR.less,
  '<=': PAIR.lessOrEqual,
  '>': PAIR.greater,
  '>=': PAIR.greaterOrEqual,
  '==': PAIR.equal,
  '!=': PAIR.notEqual,
} as const;
/** 2^3 bytes a number. */
const NUMBER_BITS = 3;

class FunctionPrinter {
  private readonly code = new Bytes();
  /** Index of each parameter and local by its name; those that hold two numbers are named `name by two`. */
  private readonly indices = new Map<string, number>();
  private readonly localTypes: number[] = [];
  /** Names that hold two numbers in the stream under way. */
  private pairs: ReadonlySet<string> = new Set();

  constructor(private readonly of: KernelFunction) {
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

  private addLocal(name: string, type: number): void {
    this.indices.set(name, this.indices.size);
    this.localTypes.push(type);
  }

  private local(op: number, name: string): void {
    const index = this.indices.get(name);
    if (index === undefined) throw new RangeError(`No local ${name} in ${this.of.name}`);
    this.code.byte(op).unsigned(index);
  }

  private statement(s: Statement): void {
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
        this.code.byte(OP.f64Store, NUMBER_BITS, 0);
        return;
      case 'loop':
        this.i32(s.from);
        this.local(OP.localSet, s.index.name);
        return this.rounds(s.index, s.to, 1, () => s.body.forEach((statement) => this.statement(statement)));
      case 'stream':
        return this.stream(s);
      case 'when':
      case 'if':
        if (s.is === 'if') this.i32(s.test);
        else this.test(s.test);
        this.code.byte(OP.if, TYPE.none);
        s.then.forEach((statement) => this.statement(statement));
        if (s.else.length > 0) {
          this.code.byte(OP.else);
          s.else.forEach((statement) => this.statement(statement));
        }
        this.code.byte(OP.end);
        return;
      case 'unless finite':
        for (let i = 0; i < 2; i++) this.local(OP.localGet, s.value.name);
        this.code.byte(OP.f64Subtract, OP.f64Const).f64(0).byte(OP.f64NotEqual, OP.if, TYPE.none);
        this.i32(s.at);
        this.code.byte(OP.return, OP.end);
        return;
    }
  }

  /** Rounds of so many at once, while there are as many left below `to`. */
  private rounds(index: Local<'i32'>, to: I32, many: number, body: () => void): void {
    const { code } = this;
    code.byte(OP.block, TYPE.none, OP.loop, TYPE.none);
    this.local(OP.localGet, index.name);
    code
      .byte(OP.i32Const)
      .signed(many - 1)
      .byte(OP.i32Add);
    this.i32(to);
    code.byte(OP.i32Less, OP.i32IsZero, OP.branchIf, 1);
    body();
    this.local(OP.localGet, index.name);
    code.byte(OP.i32Const).signed(many).byte(OP.i32Add);
    this.local(OP.localSet, index.name);
    code.byte(OP.branch, 0, OP.end, OP.end);
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
        this.pairOp(PAIR.store).byte(NUMBER_BITS, 0);
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

  private pairOp(op: number): Bytes {
    return this.code.byte(0xfd).unsigned(op);
  }

  private address(column: Column, at: I32): void {
    this.local(OP.localGet, column.name);
    this.i32(at);
    this.code.byte(OP.i32Const, NUMBER_BITS, OP.i32ShiftLeft, OP.i32Add);
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
        code.byte(OP.f64Load, NUMBER_BITS, 0);
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
      case 'select':
        this.f64(e.then);
        this.f64(e.else);
        this.test(e.test);
        code.byte(OP.select);
        return;
      case 'choose':
        this.i32(e.test);
        code.byte(OP.if, TYPE.f64);
        this.f64(e.then);
        code.byte(OP.else);
        this.f64(e.else);
        code.byte(OP.end);
        return;
    }
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
        this.pairOp(PAIR.load).byte(NUMBER_BITS, 0);
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
      case 'unsigned':
      case 'choose':
        throw new RangeError('A stream draws no luck and leaves nothing out');
    }
  }

  private test(test: Test): void {
    switch (test.is) {
      case 'compare':
        this.f64(test.left);
        this.f64(test.right);
        this.code.byte(COMPARED[test.fn]);
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

  private i32(e: I32): void {
    switch (e.is) {
      case 'local':
        return this.local(OP.localGet, e.name);
      case 'i32':
        this.code.byte(OP.i32Const).signed(e.value);
        return;
      case 'i32 choose':
        this.i32(e.then);
        this.i32(e.else);
        this.i32(e.test);
        this.code.byte(OP.select);
        return;
      case 'i32 binary':
        this.i32(e.left);
        this.i32(e.right);
        this.code.byte(INTEGER[e.fn]);
        return;
    }
  }
}
