import { drawsLuck } from '../plan/analysis.ts';
import type * as P from '../plan/plan.ts';
import type { PureFunction } from '../plan/functions.ts';
import { PURE_FUNCTIONS } from '../plan/functions.ts';
import { calledFunction } from './functions.ts';
import type { F64, I32, Local, Numbers, Statement, StreamStatement, Test } from './kernel.ts';
import { f64, i32, number, select, set } from './kernel.ts';
import { drawnFrom } from './laws.ts';
import { beginLuck, drawWord, isWithin, LUCK_LOCALS } from './luck.ts';
import { COMPARED, NeedsMore, unlessMore } from './needs-more.ts';
import { Sheet } from './sheet.ts';

/**
 * The value of a cell as kernel form, where its body asks for nothing but cells, numbers of the run, functions and luck. Where it draws
 * no luck, and its functions need no jumps, both branches of a condition are computed and one of the values selected, and cells go two at a time.
 */

export type GivenNumber = Extract<P.Expr, { op: 'parameter' | 'variable' }>;

/** How a body sees its cell. */
export interface CellSight {
  own(field: number): F64;
  /** Whether a field has the cells of the one whose cell it is. */
  hasSameCells(field: number): boolean;
  given(e: GivenNumber): F64;
  /** Of how many neighbours something holds; absent where they cannot be asked for. */
  readonly around?: (holds: (read: (field: number) => F64) => Test) => F64;
  /** Numbers that are looked up (`tables.ts`); asked for where they are needed. */
  tables(): Numbers;
  /** The number of the cell, which keys its luck, and tells where a value is no finite number. */
  readonly place: I32;
}

export interface CellValue<S extends Statement = Statement> {
  /** What has to be done before the value is read. */
  readonly sets: readonly S[];
  readonly locals: readonly Local[];
  readonly value: F64;
}

/** The value of a body that draws nothing and jumps nowhere, for a stream. Nothing where the body needs more than that. */
export function cellValue(body: P.Code, sight: CellSight): CellValue<StreamStatement> | undefined {
  return unlessMore(() => {
    const reading = new CellReading(sight);
    reading.run(body.statements);
    const value = reading.names.value(body.value);
    return { sets: reading.sets, locals: [...reading.locals, ...reading.sheet.locals.values()], value };
  });
}

/** The value of a body branch by branch, as only what is drawn counts. */
export function cellValueByBranches(body: P.Code, sight: CellSight): CellValue | undefined {
  return unlessMore(() => {
    const reading = new ReadingByBranches(sight);
    const sets = reading.block(body.statements, false);
    const end = reading.end(body.value);
    return {
      sets: [...sets, ...end.sets],
      locals: [...LUCK_LOCALS, ...reading.locals.values(), ...reading.sheet.locals.values()],
      value: end.value,
    };
  });
}

/** What expressions of a body come to, given what its locals hold. */
class CellNames {
  /** The candidate of a count under way, and how its cell is read. */
  private candidate: { readonly local: number; readonly read: (field: number) => F64 } | undefined;

  constructor(
    private readonly sight: CellSight,
    private readonly held: (local: number) => F64,
    /** Gives a value that has to be a finite number for the rest to count. */
    private readonly checked: (value: F64) => F64,
    private readonly called: (fn: PureFunction, given: readonly F64[]) => F64,
    /** One of two values, of which the other may be none. */
    private readonly chosen: (test: Test, then: () => F64, otherwise: () => F64) => F64,
  ) {}

  /** Of how many neighbours a condition holds. */
  count({ over, reach, where, candidate, except }: P.Query): F64 {
    const { around } = this.sight;
    const isNext = over.is === 'cells' && !over.empty && reach.is === 'next to';
    if (!around || !isNext || except !== undefined || this.candidate || (where?.statements.length ?? 0) > 0)
      throw new NeedsMore();
    if (!isOwn(reach.x, 'cell x') || !isOwn(reach.y, 'cell y')) throw new NeedsMore();
    return around((read) => {
      if (!where) return ALWAYS;
      this.candidate = { local: candidate, read };
      const holds = this.test(where.value);
      this.candidate = undefined;
      return holds;
    });
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
        // Of a neighbour that is beyond a wall nothing may be computed.
        if (this.candidate) throw new NeedsMore();
        return this.called(
          e.fn,
          e.args.map((arg) => this.value(arg)),
        );
      default:
        throw new NeedsMore();
    }
  }

  private finite({ value, mayBeEmpty }: Extract<P.Expr, { op: 'finite' }>): F64 {
    if (this.candidate || mayBeEmpty) throw new NeedsMore();
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

/** A body whose branches are all computed. */
class CellReading {
  readonly sets: StreamStatement[] = [];
  readonly locals: Local<'f64'>[] = [];
  /** On which functions are written. */
  readonly sheet = new Sheet();
  readonly names: CellNames;
  /** Values of the plan's locals so far; 0 before they are set. */
  private held = new Map<number, F64>();
  /** What has been set already, by how it is written, so that it is computed once. */
  private readonly known = new Map<string, Local<'f64'>>();

  constructor(private readonly sight: CellSight) {
    this.names = new CellNames(
      sight,
      (local) => this.held.get(local) ?? ZERO,
      (value) => {
        const local = this.kept(value);
        if (local.is === 'local') this.sets.push(unlessFinite(local, sight.place));
        return local;
      },
      (fn, given) => this.called(fn, given),
      (test, then, otherwise) => this.inBranch(() => select(test, then(), otherwise())),
    );
  }

  /** Whether what is read counts in one branch only, though it is computed in any case. */
  private isInBranch = false;

  private inBranch<T>(read: () => T): T {
    const before = this.isInBranch;
    this.isInBranch = true;
    const made = read();
    this.isInBranch = before;
    return made;
  }

  /** What a function comes to that needs no jump. */
  private called(fn: PureFunction, given: readonly F64[]): F64 {
    if (this.isInBranch && PURE_FUNCTIONS[fn].mayLeaveNumbers) throw new NeedsMore();
    const args = given.map((one) => this.kept(one));
    const { list, made } = this.sheet.apart(() => calledFunction(this.sheet, this.sight.tables, fn, args));
    for (const s of list) {
      if (s.is !== 'set') throw new NeedsMore();
      this.sets.push(s);
    }
    if (made.is === 'call') throw new NeedsMore();
    return made;
  }

  run(statements: readonly P.Statement[]): void {
    for (const statement of statements) this.statement(statement);
  }

  private statement(s: P.Statement): void {
    switch (s.op) {
      case 'set':
        this.held.set(s.local, this.kept(this.names.value(s.value)));
        return;
      case 'if':
        return this.branches(s);
      case 'count':
      case 'any': {
        const many = this.kept(this.names.count(s.query));
        this.held.set(s.local, s.op === 'count' ? many : this.kept(select(isSome(many), ONE, ZERO)));
        return;
      }
      default:
        throw new NeedsMore();
    }
  }

  private branches({ condition, then, else: otherwise }: Extract<P.Statement, { op: 'if' }>): void {
    const test = this.names.test(condition);
    const before = this.held;
    const [first, second] = [then, otherwise].map((branch) => {
      this.held = new Map(before);
      this.inBranch(() => this.run(branch));
      return this.held;
    }) as [Map<number, F64>, Map<number, F64>];
    this.held = new Map(before);
    for (const local of new Set([...first.keys(), ...second.keys()])) {
      const [a, b] = [first.get(local) ?? ZERO, second.get(local) ?? ZERO];
      this.held.set(local, a === b ? a : this.kept(select(test, a, b)));
    }
  }

  /** A value in a local of its own, once, unless it is as good as one. */
  private kept(value: F64): F64 {
    if (value.is === 'f64' || value.is === 'local') return value;
    const written = JSON.stringify(value);
    let local = this.known.get(written);
    if (!local) {
      local = f64(`k${this.locals.length}`);
      this.known.set(written, local);
      this.locals.push(local);
      this.sets.push(set(local, value));
    }
    return local;
  }
}

interface CellValueOfBranch {
  readonly sets: readonly Statement[];
  readonly value: F64;
}

/** A body that is gone through branch by branch. */
class ReadingByBranches {
  readonly locals = new Map<number, Local<'f64'>>();
  /** On which functions and laws are written. */
  readonly sheet = new Sheet();
  readonly names: CellNames;

  /** What has to be done before the statement under way. */
  private before: Statement[] = [];

  constructor(private readonly sight: CellSight) {
    this.names = new CellNames(
      sight,
      (local) => this.local(local),
      (value) => {
        const local = this.local(-1 - this.locals.size);
        this.before.push(set(local, value), unlessFinite(local, sight.place));
        return local;
      },
      (fn, given) =>
        this.written(() =>
          calledFunction(
            this.sheet,
            this.sight.tables,
            fn,
            given.map((one) => this.sheet.kept(one)),
          ),
        ),
      (test, then, otherwise) => this.chosen(test, then, otherwise),
    );
  }

  /** By a jump where there is anything to be done for a value. */
  private chosen(test: Test, then: () => F64, otherwise: () => F64): F64 {
    const branch = (read: () => F64): CellValueOfBranch => {
      const outer = this.before;
      this.before = [];
      const value = read();
      const sets = this.before;
      this.before = outer;
      return { sets, value };
    };
    const [first, second] = [branch(then), branch(otherwise)];
    if (first.sets.length + second.sets.length === 0) return select(test, first.value, second.value);
    const local = this.sheet.f64();
    const ended = ({ sets, value }: CellValueOfBranch): Statement[] => [...sets, set(local, value)];
    this.before.push({ is: 'when', test, then: ended(first), else: ended(second) });
    return local;
  }

  /** Has something written on the sheet that has to be done before what is under way. */
  private written(write: () => F64): F64 {
    const { list, made } = this.sheet.apart(write);
    this.before.push(...list);
    return made;
  }

  private local(of: number): Local<'f64'> {
    let local = this.locals.get(of);
    if (!local) this.locals.set(of, (local = f64(of < 0 ? `c${-of}` : `L${of}`)));
    return local;
  }

  /** @param hasBegun whether the luck of the cell has begun: it does so just before the first draw, in the branch that draws */
  block(statements: readonly P.Statement[], hasBegun: boolean): Statement[] {
    let begun = hasBegun;
    return statements.flatMap((s, i) => {
      if (begun || !drawsLuck(s)) return this.statement(s, begun);
      // Only the last that draws can leave it to its branches.
      if (s.op === 'if' && !statements.slice(i + 1).some(drawsLuck)) return this.statement(s, false);
      begun = true;
      return [...beginLuck(this.sight.place), ...this.statement(s, true)];
    });
  }

  /** A value that is read at the end, with what has to be done before it. */
  end(e: P.Expr): { readonly sets: readonly Statement[]; readonly value: F64 } {
    const value = this.names.value(e);
    return { sets: this.before.splice(0), value };
  }

  private statement(s: P.Statement, hasBegun: boolean): Statement[] {
    switch (s.op) {
      case 'set': {
        const value = this.names.value(s.value);
        return [...this.before.splice(0), set(this.local(s.local), value)];
      }
      case 'if': {
        const test = this.names.test(s.condition);
        const before = this.before.splice(0);
        const [then, otherwise] = [this.block(s.then, hasBegun), this.block(s.else, hasBegun)];
        return [...before, { is: 'when', test, then, else: otherwise }];
      }
      case 'count':
        return [set(this.local(s.local), this.names.count(s.query))];
      case 'any': {
        const found = this.local(s.local);
        return [set(found, this.names.count(s.query)), set(found, select(isSome(found), ONE, ZERO))];
      }
      case 'draw':
        return this.draw(s);
      default:
        throw new NeedsMore();
    }
  }

  private draw({ law, args, local }: Extract<P.Statement, { op: 'draw' }>): Statement[] {
    const drawn = this.local(local);
    const given = args.map((arg) => this.written(() => this.sheet.kept(this.names.value(arg))));
    if (law === 'chance') {
      const [p] = given as [F64];
      if (p.is === 'local') this.before.push(unlessFinite(p, this.sight.place));
      const { statements, word } = drawWord();
      return [...this.before.splice(0), ...statements, set(drawn, select(isWithin(word, p), ONE, ZERO))];
    }
    const words = ['wa', 'wb'].map((name) => {
      const { statements, word } = drawWord(i32(name));
      this.sheet.use(word);
      this.before.push(...statements);
      return word;
    }) as [Local<'i32'>, Local<'i32'>];
    const value = this.written(() => drawnFrom(this.sheet, this.sight.tables, law, given, ...words));
    return [...this.before.splice(0), set(drawn, value), unlessFinite(drawn, this.sight.place)];
  }
}

function unlessFinite(value: Local<'f64'>, at: I32): StreamStatement {
  return { is: 'unless finite', value, at };
}

function isSome(many: F64): Test {
  return { is: 'compare', fn: '>', left: many, right: ZERO };
}

const ZERO = number(0);
const ONE = number(1);
const ALWAYS: Test = { is: 'compare', fn: '==', left: ZERO, right: ZERO };

function isOwn(e: P.Expr, op: 'cell x' | 'cell y'): boolean {
  return e.op === op && e.cell.op === 'own cell';
}
