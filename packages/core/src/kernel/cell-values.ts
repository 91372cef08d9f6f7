import type * as P from '../plan/plan.ts';
import type { F64, Local, StreamStatement, Test } from './kernel.ts';
import { f64, number, select, set } from './kernel.ts';

/**
 * The value of a cell as kernel form, where its body draws no luck and asks for nothing but cells, numbers of the run and arithmetic: then
 * both branches of a condition can be computed and one of the values selected, and cells go two at a time.
 */

export type GivenNumber = Extract<P.Expr, { op: 'parameter' | 'variable' }>;

/** How a body sees its cell. */
export interface CellSight {
  own(field: number): F64;
  given(e: GivenNumber): F64;
  /** Of how many neighbours something holds; absent where they cannot be asked for. */
  readonly around?: (holds: (read: (field: number) => F64) => Test) => F64;
}

export interface CellValue {
  /** What has to be set before the value is read. */
  readonly sets: readonly StreamStatement[];
  readonly locals: readonly Local<'f64'>[];
  readonly value: F64;
}

/** Nothing where the body needs more than that. */
export function cellValue(body: P.Code, sight: CellSight): CellValue | undefined {
  const reading = new CellReading(sight);
  try {
    reading.run(body.statements);
    const value = reading.value(body.value);
    return { sets: reading.sets, locals: reading.locals, value };
  } catch (error) {
    if (error instanceof NeedsMore) return undefined;
    throw error;
  }
}

class NeedsMore extends Error {}

class CellReading {
  readonly sets: StreamStatement[] = [];
  readonly locals: Local<'f64'>[] = [];
  /** Values of the plan's locals so far; 0 before they are set. */
  private held = new Map<number, F64>();
  /** What has been set already, by how it is written, so that it is computed once. */
  private readonly known = new Map<string, Local<'f64'>>();
  /** The candidate of a count under way, and how its cell is read. */
  private candidate: { readonly local: number; readonly read: (field: number) => F64 } | undefined;

  constructor(private readonly sight: CellSight) {}

  run(statements: readonly P.Statement[]): void {
    for (const statement of statements) this.statement(statement);
  }

  private statement(s: P.Statement): void {
    switch (s.op) {
      case 'set':
        this.held.set(s.local, this.kept(this.value(s.value)));
        return;
      case 'if':
        return this.branches(s);
      case 'count':
      case 'any': {
        const many = this.kept(this.count(s.query));
        const any: Test = { is: 'compare', fn: '>', left: many, right: ZERO };
        this.held.set(s.local, s.op === 'count' ? many : this.kept(select(any, ONE, ZERO)));
        return;
      }
      default:
        throw new NeedsMore();
    }
  }

  private branches({ condition, then, else: otherwise }: Extract<P.Statement, { op: 'if' }>): void {
    const test = this.test(condition);
    const before = this.held;
    const [first, second] = [then, otherwise].map((branch) => {
      this.held = new Map(before);
      this.run(branch);
      return this.held;
    }) as [Map<number, F64>, Map<number, F64>];
    this.held = new Map(before);
    for (const local of new Set([...first.keys(), ...second.keys()])) {
      const [a, b] = [first.get(local) ?? ZERO, second.get(local) ?? ZERO];
      this.held.set(local, a === b ? a : this.kept(select(test, a, b)));
    }
  }

  private count({ over, reach, where, candidate, except }: P.Query): F64 {
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
        return this.held.get(e.local) ?? ZERO;
      case 'cell':
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
        return select(this.test(e.condition), this.value(e.then), this.value(e.else));
      case 'binary':
        if (e.fn === '+' || e.fn === '-' || e.fn === '*' || e.fn === '/')
          return { is: 'f64 binary', fn: e.fn, left: this.value(e.left), right: this.value(e.right) };
        return select(this.test(e), ONE, ZERO);
      case 'not':
        return select(this.test(e), ONE, ZERO);
      default:
        throw new NeedsMore();
    }
  }

  private test(e: P.Expr): Test {
    if (e.op === 'not') return { is: 'not', test: this.test(e.value) };
    if (e.op === 'binary') {
      if (e.fn === 'and' || e.fn === 'or') return { is: e.fn, left: this.test(e.left), right: this.test(e.right) };
      const fn = COMPARED[e.fn];
      if (fn) return { is: 'compare', fn, left: this.value(e.left), right: this.value(e.right) };
    }
    return { is: 'compare', fn: '!=', left: this.value(e), right: ZERO };
  }

  /** A value in a local of its own, once, unless it is as good as one. */
  private kept(value: F64): F64 {
    if (value.is === 'f64' || value.is === 'local') return value;
    const written = JSON.stringify(value);
    let local = this.known.get(written);
    if (!local) {
      local = f64(`v${this.locals.length}`);
      this.known.set(written, local);
      this.locals.push(local);
      this.sets.push(set(local, value));
    }
    return local;
  }
}

const ZERO = number(0);
const ONE = number(1);
const ALWAYS: Test = { is: 'compare', fn: '==', left: ZERO, right: ZERO };

const COMPARED: Readonly<Partial<Record<P.BinaryFunction, '<' | '<=' | '>' | '>=' | '==' | '!='>>> = {
  '<': '<',
  '<=': '<=',
  '>': '>',
  '>=': '>=',
  is: '==',
  'is not': '!=',
};

function isOwn(e: P.Expr, op: 'cell x' | 'cell y'): boolean {
  return e.op === op && e.cell.op === 'own cell';
}
