import { drawsLuck } from '../plan/analysis.ts';
import type * as P from '../plan/plan.ts';
import type { PureFunction } from '../plan/functions.ts';
import { PURE_FUNCTIONS } from '../plan/functions.ts';
import type { CellSight } from './cell-names.ts';
import { CellNames } from './cell-names.ts';
import { calledFunction } from './functions.ts';
import type { F64, I32, Local, Statement, StreamStatement, Test } from './kernel.ts';
import { compare, f64, i32, number, quotient, select, set, sum } from './kernel.ts';
import { drawnFrom } from './laws.ts';
import { beginLuck, drawWord, isWithin, LUCK_LOCALS } from './luck.ts';
import { NeedsMore, unlessMore } from './needs-more.ts';
import { Sheet } from './sheet.ts';

/**
 * The value of a cell as kernel form, where its body asks for nothing but cells, numbers of the run, functions and luck. Where it draws
 * no luck, and its functions need no jumps, both branches of a condition are computed and one of the values selected, and cells go two at a time.
 */

type Gather = Extract<P.Statement, { op: 'gather' }>;

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
        if (this.isOfSome) throw new NeedsMore();
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

  /** Whether it counts of some candidates only. */
  private isOfSome = false;

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
        const fits = this.each(s.query, (test) => test ?? ALWAYS);
        const many = this.kept(sum(...fits.map((test) => select(test, ONE, ZERO))));
        this.held.set(s.local, s.op === 'count' ? many : this.kept(select(isSome(many), ONE, ZERO)));
        return;
      }
      case 'gather':
        this.held.set(s.local, this.gather(s));
        return;
      default:
        throw new NeedsMore();
    }
  }

  private each<T>(query: P.Query, make: (fits: Test | undefined, at: number) => T): readonly T[] {
    const { reads } = this.names.around(query);
    if (!reads) throw new NeedsMore();
    return reads.map((read, i) => this.names.of(query, read, (fits) => make(fits, i)));
  }

  private gather(s: Gather): F64 {
    const { fn, begin } = gathering(s);
    let [total, many]: [F64, F64] = [begin, ZERO];
    this.each(s.query, (fits, i) => {
      this.isOfSome = fits !== undefined;
      const value = this.kept(
        fits ? this.inBranch(() => this.names.value(s.value.value)) : this.names.value(s.value.value),
      );
      this.isOfSome = false;
      const isFirst: Test = fits || i > 0 ? { is: 'compare', fn: '==', left: many, right: ZERO } : ALWAYS;
      const next = fn.is === 'added' ? this.kept(sum(total, value)) : value;
      const isTaken: Test =
        fn.is === 'added' ? ALWAYS : { is: 'or', left: isFirst, right: compare(value, fn.beyond, total) };
      total =
        fits || isTaken !== ALWAYS
          ? this.kept(select(fits ? { is: 'and', left: fits, right: isTaken } : isTaken, next, total))
          : next;
      many = fits ? this.kept(select(fits, sum(many, ONE), many)) : number(i + 1);
    });
    return s.fn === 'mean' ? this.kept(quotient(total, many)) : total;
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
      case 'any': {
        const many = this.local(s.local);
        const counted = this.each(s.query, (fits) => [set(many, sum(many, fits ? select(fits, ONE, ZERO) : ONE))]);
        const isAny = s.op === 'any' ? [set(many, select(isSome(many), ONE, ZERO))] : [];
        return [set(many, ZERO), ...counted, ...isAny];
      }
      case 'gather':
        return this.gather(s);
      case 'draw':
        return this.draw(s);
      default:
        throw new NeedsMore();
    }
  }

  /** Something done for each candidate, given whether it fits. */
  private each(query: P.Query, taken: (fits: Test | undefined) => readonly Statement[]): readonly Statement[] {
    return this.names.around(query).each((read) =>
      this.names.of(query, read, (fits) => {
        const before = this.before.splice(0);
        return [...before, ...taken(fits)];
      }),
    );
  }

  private gather(s: Gather): Statement[] {
    const { fn, begin } = gathering(s);
    const [total, many, value] = [this.local(s.local), this.sheet.f64(), this.sheet.f64()];
    const next: Statement =
      fn.is === 'added'
        ? set(total, sum(total, value))
        : {
            is: 'when',
            test: { is: 'or else', left: compare(many, '==', ZERO), right: compare(value, fn.beyond, total) },
            then: [set(total, value)],
            else: [],
          };
    const gathered = this.each(s.query, (fits) => {
      const made = this.names.value(s.value.value);
      const taken = [...this.before.splice(0), set(value, made), next, set(many, sum(many, ONE))];
      return fits ? [{ is: 'when', test: fits, then: taken, else: [] }] : taken;
    });
    const mean = s.fn === 'mean' ? [set(total, quotient(total, many))] : [];
    return [set(total, begin), set(many, ZERO), ...gathered, ...mean];
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

/** How values are gathered, and with which it begins; of no candidates a mean is none, as 0 / 0 is. */
function gathering({ fn, value, site }: Gather): {
  readonly fn: { readonly is: 'added' } | { readonly is: 'furthest'; readonly beyond: '<' | '>' };
  readonly begin: F64;
} {
  if (value.statements.length > 0 || site !== undefined) throw new NeedsMore();
  switch (fn) {
    case 'sum':
    case 'mean':
      return { fn: { is: 'added' }, begin: ZERO };
    case 'min':
    case 'max':
      return { fn: { is: 'furthest', beyond: fn === 'max' ? '>' : '<' }, begin: number(NaN) };
    default:
      throw new NeedsMore();
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
