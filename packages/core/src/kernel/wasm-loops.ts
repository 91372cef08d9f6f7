import type { Column, I32, Local, Statement } from './kernel.ts';
import { WIDE } from './kernel.ts';
import { OP, PAIR, TYPE } from './wasm-bytes.ts';
import { SIZE_BITS } from './wasm-operations.ts';
import { WasmWriter } from './wasm-writer.ts';

/** Rows that are added up one after another instead of in a loop. */
const MOST_WRITTEN_OUT = 31;

/** Loops, also those that look at 16 bytes at a time. */
export abstract class WasmLoops extends WasmWriter {
  protected abstract i32(e: I32): void;
  protected abstract statement(s: Statement): void;

  /** Rounds of so many at once, while there are as many left below `to`. */
  protected rounds(index: Local<'i32'>, to: I32, many: number, body: () => void): void {
    const { code } = this;
    this.inside(OP.block, '', () =>
      this.inside(OP.loop, '', () => {
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
        code.byte(OP.branch, 0);
      }),
    );
  }

  /** Sixteen bytes at a time give a bit for each place that fits; those that are left over are looked at one by one. */
  protected loopOver(s: Extract<Statement, { is: 'loop over' }>): void {
    const { code } = this;
    const [base, bits] = this.localsBeside(s.index.name, 'base', 'bits');
    const body = (): void => s.body.forEach((statement) => this.statement(statement));
    this.i32(s.from);
    this.local(OP.localSet, base);
    const at: Local<'i32'> = { is: 'local', name: base, type: 'i32' };
    if (s.isLive) this.eachLive(s, at, bits, body);
    else
      this.rounds(at, s.to, WIDE, () => {
        this.bitsOfThose(s, base, bits);
        this.eachBit(s.index, base, bits, body);
      });
    this.local(OP.localGet, base);
    this.local(OP.localSet, s.index.name);
    this.rounds(s.index, s.to, 1, () => {
      s.values.forEach((value, i) => {
        this.i32({ is: 'i32 load', column: s.column, at: s.index });
        code.byte(OP.i32Const).signed(value).byte(OP.i32Equal);
        if (i > 0) code.byte(OP.i32Or);
      });
      this.inside(OP.if, '', body);
    });
  }

  /** A bit for each of the sixteen places from a base on that fits. */
  private bitsOfThose({ column, values }: Extract<Statement, { is: 'loop over' }>, base: string, bits: string): void {
    const { code } = this;
    values.forEach((value, i) => {
      this.local(OP.localGet, column.name);
      this.local(OP.localGet, base);
      code.byte(OP.i32Add);
      this.pairOp(PAIR.load).byte(0, 0);
      code.byte(OP.i32Const).signed(value);
      this.pairOp(PAIR.splatByte);
      this.pairOp(PAIR.equalBytes);
      if (i > 0) this.pairOp(PAIR.or);
    });
    this.pairOp(PAIR.bitsOfBytes);
    this.local(OP.localSet, bits);
  }

  /** The first that fits of the next sixteen; after it those behind it are looked at anew. */
  private eachLive(
    s: Extract<Statement, { is: 'loop over' }>,
    base: Local<'i32'>,
    bits: string,
    body: () => void,
  ): void {
    const { code } = this;
    this.rounds(base, s.to, WIDE, () => {
      this.bitsOfThose(s, base.name, bits);
      this.local(OP.localGet, bits);
      this.inside(OP.if, '', () => {
        this.local(OP.localGet, base.name);
        this.local(OP.localGet, bits);
        code.byte(OP.i32TrailingZeros, OP.i32Add);
        this.local(OP.localSet, s.index.name);
        body();
        // A round more is added to it.
        this.local(OP.localGet, s.index.name);
        code
          .byte(OP.i32Const)
          .signed(1 - WIDE)
          .byte(OP.i32Add);
        this.local(OP.localSet, base.name);
      });
    });
  }

  protected loopThrough(s: Extract<Statement, { is: 'loop through' }>): void {
    const [base, bits] = this.localsBeside(s.index.name, 'base', 'bits');
    this.i32(s.from);
    this.local(OP.localSet, base);
    this.local(OP.localGet, s.column.name);
    this.local(OP.localGet, base);
    this.code.byte(OP.i32Add);
    this.pairOp(PAIR.load).byte(0, 0);
    this.address(s.masks, s.maskAt);
    this.pairOp(PAIR.load).byte(0, 0);
    this.pairOp(PAIR.and);
    this.code.byte(OP.i32Const, 0);
    this.pairOp(PAIR.splatByte);
    this.pairOp(PAIR.notEqualBytes);
    this.pairOp(PAIR.bitsOfBytes);
    this.local(OP.localSet, bits);
    this.eachBit(s.index, base, bits, () => s.body.forEach((statement) => this.statement(statement)));
  }

  /** Row by row into 16 sums, which are added up at the end. */
  protected sumRows(s: Extract<Statement, { is: 'sum rows' }>): void {
    const { code } = this;
    const { name } = s.into;
    const [at, mask] = this.localsBeside(name, 'at', 'mask');
    const [sums, left] = [`${name} sums`, `${name} left`];
    if (!this.indices.has(sums)) {
      this.addLocal(sums, TYPE.pair);
      this.addLocal(left, TYPE.i32);
    }
    const move = (local: string, by: () => void): void => {
      this.local(OP.localGet, local);
      by();
      code.byte(OP.i32Add);
      this.local(OP.localSet, local);
    };
    this.address(s.column, s.at);
    this.local(OP.localSet, at);
    this.address(s.masks, s.maskAt);
    this.local(OP.localSet, mask);
    code.byte(OP.i32Const, 0);
    this.pairOp(PAIR.splatByte);
    this.local(OP.localSet, sums);
    const row = (masksBefore: number): void => {
      this.local(OP.localGet, sums);
      this.local(OP.localGet, at);
      this.pairOp(PAIR.load).byte(0, 0);
      this.local(OP.localGet, mask);
      this.pairOp(PAIR.load)
        .byte(0)
        .unsigned(masksBefore * WIDE);
      this.pairOp(PAIR.and);
      this.pairOp(PAIR.addBytes);
      this.local(OP.localSet, sums);
      move(at, () => this.i32(s.stride));
    };
    if (s.rows.is === 'i32' && s.rows.value <= MOST_WRITTEN_OUT) for (let i = 0; i < s.rows.value; i++) row(i);
    else {
      this.i32(s.rows);
      this.local(OP.localSet, left);
      this.inside(OP.loop, '', () => {
        row(0);
        move(mask, () => code.byte(OP.i32Const).signed(WIDE));
        move(left, () => code.byte(OP.i32Const).signed(-1));
        this.local(OP.localGet, left);
        code.byte(OP.branchIf, 0);
      });
    }
    this.local(OP.localGet, sums);
    this.pairOp(PAIR.bytesToHalves);
    this.pairOp(PAIR.halvesToWords);
    this.local(OP.localSet, sums);
    this.local(OP.localGet, name);
    for (let lane = 0; lane < 4; lane++) {
      this.local(OP.localGet, sums);
      this.pairOp(PAIR.firstWord).byte(lane);
      code.byte(OP.i32Add);
    }
    this.local(OP.localSet, name);
  }

  protected address(column: Column, at: I32): void {
    this.local(OP.localGet, column.name);
    this.i32(at);
    const bits = SIZE_BITS[column.of];
    if (bits > 0) this.code.byte(OP.i32Const, bits, OP.i32ShiftLeft);
    this.code.byte(OP.i32Add);
  }
}
