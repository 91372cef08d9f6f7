import type * as P from '../plan/plan.ts';
import type { PureFunction } from '../plan/functions.ts';
import type { CellsAround } from './cell-rows.ts';
import type { F64, I32, Numbers, Test } from './kernel.ts';
import { number, select } from './kernel.ts';
import { COMPARED, NeedsMore } from './needs-more.ts';

/** What a body sees from its cell, and what its expressions come to there. */

export type GivenNumber = Extract<P.Expr, { op: 'parameter' | 'variable' }>;

/** How a body sees its cell. */
export interface CellSight {
  own(field: number): F64;
  /** Whether a field has the cells of the one whose cell it is. */
  hasSameCells(field: number): boolean;
  given(e: GivenNumber): F64;
  /** The cells in a reach around it; nothing where these cannot be found. */
  around(reach: P.SpaceReach, raster: number): FieldsAround | undefined;
  /** Numbers that are looked up (`tables.ts`); asked for where they are needed. */
  tables(): Numbers;
  /** The number of the cell, which keys its luck, and tells where a value is no finite number. */
  readonly place: I32;
}

export type FieldRead = (field: number) => F64;

/** Cells around one, at which fields are read. */
export type FieldsAround = CellsAround<FieldRead>;

/** What expressions of a body come to, given what its locals hold. */
export class CellNames {
  /** The candidate of a query under way, and how its cell is read. */
  private candidate: { readonly local: number; readonly read: FieldRead } | undefined;

  constructor(
    private readonly sight: CellSight,
    private readonly held: (local: number) => F64,
    /** Gives a value that has to be a finite number for the rest to count. */
    private readonly checked: (value: F64) => F64,
    private readonly called: (fn: PureFunction, given: readonly F64[]) => F64,
    /** One of two values, of which the other may be none. */
    private readonly chosen: (test: Test, then: () => F64, otherwise: () => F64) => F64,
  ) {}

  /** The cells around the own one that a query asks. */
  around({ over, reach, where, except }: P.Query): FieldsAround {
    if (over.is !== 'cells' || over.empty || reach.is === 'all' || reach.is === 'tied') throw new NeedsMore();
    if (except !== undefined || this.candidate || (where?.statements.length ?? 0) > 0) throw new NeedsMore();
    if (!isOwn(reach.x, 'cell x') || !isOwn(reach.y, 'cell y')) throw new NeedsMore();
    const around = this.sight.around(reach, over.raster);
    if (!around) throw new NeedsMore();
    return around;
  }

  /** What is made of a candidate; the test is whether it fits, absent where all do. */
  of<T>({ candidate, where }: P.Query, read: FieldRead, make: (fits: Test | undefined) => T): T {
    this.candidate = { local: candidate, read };
    const made = make(where && this.test(where.value));
    this.candidate = undefined;
    return made;
  }

  value(e: P.Expr): F64 {
    switch (e.op) {
      case 'number':
        return number(e.value);
      case 'local':
        return this.held(e.local);
      case 'cell':
        return this.sight.own(e.field);
      case 'field':
        if (!isOwn(e.x, 'cell x') || !isOwn(e.y, 'cell y') || !this.sight.hasSameCells(e.field)) throw new NeedsMore();
        return this.sight.own(e.field);
      case 'field cell':
        if (e.cell.op === 'own cell') return this.sight.own(e.field);
        if (e.cell.op !== 'local' || e.cell.local !== this.candidate?.local) throw new NeedsMore();
        return this.candidate.read(e.field);
      case 'parameter':
      case 'variable':
        return this.sight.given(e);
      case 'minus':
        return { is: 'minus', value: this.value(e.value) };
      case 'choose':
        return this.chosen(
          this.test(e.condition),
          () => this.value(e.then),
          () => this.value(e.else),
        );
      case 'binary':
        if (e.fn === '+' || e.fn === '-' || e.fn === '*' || e.fn === '/')
          return { is: 'f64 binary', fn: e.fn, left: this.value(e.left), right: this.value(e.right) };
        return select(this.test(e), ONE, ZERO);
      case 'not':
        return select(this.test(e), ONE, ZERO);
      case 'finite':
        return this.finite(e);
      case 'call':
        return this.called(
          e.fn,
          e.args.map((arg) => this.value(arg)),
        );
      default:
        throw new NeedsMore();
    }
  }

  private finite({ value, mayBeEmpty }: Extract<P.Expr, { op: 'finite' }>): F64 {
    if (mayBeEmpty) throw new NeedsMore();
    return this.checked(this.value(value));
  }

  test(e: P.Expr): Test {
    if (e.op === 'not') return { is: 'not', test: this.test(e.value) };
    if (e.op === 'binary') {
      if (e.fn === 'and' || e.fn === 'or') return { is: e.fn, left: this.test(e.left), right: this.test(e.right) };
      const fn = COMPARED[e.fn];
      if (fn) return { is: 'compare', fn, left: this.value(e.left), right: this.value(e.right) };
    }
    return { is: 'compare', fn: '!=', left: this.value(e), right: ZERO };
  }
}

function isOwn(e: P.Expr, op: 'cell x' | 'cell y'): boolean {
  return e.op === op && e.cell.op === 'own cell';
}

const ZERO = number(0);
const ONE = number(1);
