import type { Local } from './kernel.ts';
import { Bytes, OP, TYPE } from './wasm-bytes.ts';

/** The code of one function of a module while it is written: its locals by name, and what is open around it. */
export abstract class WasmWriter {
  protected readonly code = new Bytes();
  /** Index of each parameter and local by its name; those that hold two numbers are named `name by two`. */
  protected readonly indices = new Map<string, number>();
  protected readonly localTypes: number[] = [];
  /** What is open around the code under way, innermost last: named blocks, and others. */
  protected readonly open: string[] = [];

  protected constructor(private readonly name: string) {}

  protected addLocal(name: string, type: number): void {
    this.indices.set(name, this.indices.size);
    this.localTypes.push(type);
  }

  protected local(op: number, name: string): void {
    const index = this.indices.get(name);
    if (index === undefined) throw new RangeError(`No local ${name} in ${this.name}`);
    this.code.byte(op).unsigned(index);
  }

  /** Code inside a block, loop or branch. */
  protected inside(op: number, name: string, body: () => void): void {
    this.code.byte(op, TYPE.none);
    this.open.push(name);
    body();
    this.open.pop();
    this.code.byte(OP.end);
  }

  /** Locals of whole numbers that go with another. */
  protected localsBeside(local: string, first: string, second: string): [string, string] {
    const names: [string, string] = [`${local} ${first}`, `${local} ${second}`];
    for (const name of names) if (!this.indices.has(name)) this.addLocal(name, TYPE.i32);
    return names;
  }

  /** With the place of each bit that is set, counted from a base. */
  protected eachBit(index: Local<'i32'>, base: string, bits: string, body: () => void): void {
    const { code } = this;
    this.inside(OP.block, '', () =>
      this.inside(OP.loop, '', () => {
        this.local(OP.localGet, bits);
        code.byte(OP.i32IsZero, OP.branchIf, 1);
        this.local(OP.localGet, base);
        this.local(OP.localGet, bits);
        code.byte(OP.i32TrailingZeros, OP.i32Add);
        this.local(OP.localSet, index.name);
        // Takes the lowest bit away.
        this.local(OP.localGet, bits);
        this.local(OP.localGet, bits);
        code.byte(OP.i32Const).signed(1).byte(OP.i32Subtract, OP.i32And);
        this.local(OP.localSet, bits);
        body();
        code.byte(OP.branch, 0);
      }),
    );
  }

  protected pairOp(op: number): Bytes {
    return this.code.byte(0xfd).unsigned(op);
  }
}
