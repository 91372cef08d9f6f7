import type { Body, Code, Expr, Query, Reach, Statement, WriteHow } from './plan.ts';

/** Calls back for every statement and expression inside; both engines and the interface learn from it what a rule touches. */
export interface Visitor {
  statement?(statement: Statement): void;
  expr?(expr: Expr): void;
  query?(query: Query): void;
}

export function visitStatements(statements: readonly Statement[], visitor: Visitor): void {
  for (const statement of statements) visitStatement(statement, visitor);
}

function visitCode(code: Code | undefined, visitor: Visitor): void {
  if (!code) return;
  visitStatements(code.statements, visitor);
  visitExpr(code.value, visitor);
}

function visitReach(reach: Reach, visitor: Visitor): void {
  if (reach.is === 'all') return;
  if (reach.is === 'within') visitExpr(reach.distance, visitor);
  visitExpr(reach.x, visitor);
  visitExpr(reach.y, visitor);
}

function visitQuery(query: Query, visitor: Visitor): void {
  visitor.query?.(query);
  visitReach(query.reach, visitor);
  visitCode(query.where, visitor);
}

function visitStatement(statement: Statement, visitor: Visitor): void {
  visitor.statement?.(statement);
  const expr = (e: Expr | undefined): void => {
    if (e) visitExpr(e, visitor);
  };
  switch (statement.op) {
    case 'set':
      return expr(statement.value);
    case 'draw':
      return statement.args.forEach(expr);
    case 'if':
      expr(statement.condition);
      visitStatements(statement.then, visitor);
      return visitStatements(statement.else, visitor);
    case 'switch':
      expr(statement.value);
      return statement.cases.forEach((block) => visitStatements(block, visitor));
    case 'repeat':
      expr(statement.count);
      return visitStatements(statement.body, visitor);
    case 'count':
    case 'any':
      return visitQuery(statement.query, visitor);
    case 'gather':
      visitQuery(statement.query, visitor);
      expr(statement.level);
      return visitCode(statement.value, visitor);
    case 'pick':
      visitQuery(statement.query, visitor);
      visitCode(statement.by, visitor);
      expr(statement.from?.x);
      expr(statement.from?.y);
      visitStatements(statement.found, visitor);
      return visitStatements(statement.nobody, visitor);
    case 'each':
      visitQuery(statement.query, visitor);
      return visitStatements(statement.body, visitor);
    case 'write':
    case 'write due':
    case 'write parameter':
    case 'write variable':
      return expr(statement.value);
    case 'write field':
      expr(statement.x);
      expr(statement.y);
      return expr(statement.value);
    case 'turn':
      return expr(statement.direction);
    case 'move by':
      return expr(statement.distance);
    case 'move to':
      expr(statement.x);
      return expr(statement.y);
    case 'create':
      expr(statement.x);
      expr(statement.y);
      return visitStatements(statement.found, visitor);
    case 'become':
    case 'remove':
    case 'draw cell':
    case 'end turn':
    case 'end run':
      return;
  }
}

export function visitExpr(expr: Expr, visitor: Visitor): void {
  visitor.expr?.(expr);
  switch (expr.op) {
    case 'field':
      visitExpr(expr.x, visitor);
      return visitExpr(expr.y, visitor);
    case 'not':
    case 'minus':
    case 'finite':
      return visitExpr(expr.value, visitor);
    case 'binary':
      visitExpr(expr.left, visitor);
      return visitExpr(expr.right, visitor);
    case 'choose':
      visitExpr(expr.condition, visitor);
      visitExpr(expr.then, visitor);
      return visitExpr(expr.else, visitor);
    case 'call':
      return expr.args.forEach((arg) => visitExpr(arg, visitor));
    case 'distance':
    case 'bearing':
      return [expr.ax, expr.ay, expr.bx, expr.by].forEach((part) => visitExpr(part, visitor));
    case 'field mean':
      if (expr.level) visitExpr(expr.level, visitor);
      return;
    default:
  }
}

export type OwnWrites = 'none' | '+=' | '*=' | '=';

/** What a rule reads and writes, as far as the way of running it depends on it. Keys of columns are `kind:column`. */
export interface RuleTouch {
  readonly draws: boolean;
  readonly removes: boolean;
  readonly queried: ReadonlySet<number>;
  readonly movedKinds: ReadonlySet<number>;
  readonly createdKinds: ReadonlySet<number>;
  readonly writtenStates: ReadonlySet<string>;
  /** Written columns of agents that exist already. */
  readonly writtenColumns: ReadonlySet<string>;
  readonly othersRead: ReadonlySet<string>;
  readonly othersStatesRead: ReadonlySet<string>;
  readonly othersPlacesRead: ReadonlySet<number>;
  /** Columns that others write in the rule, with how an agent itself writes them: all at once these are gathered (S17). */
  readonly contested: ReadonlyMap<string, OwnWrites>;
  readonly writesFields: boolean;
}

export function columnKey(kind: number, column: number): string {
  return `${kind}:${column}`;
}

export function touchOf(rule: { readonly body: Body }): RuleTouch {
  let draws = false;
  let removes = false;
  let writesFields = false;
  const queried = new Set<number>();
  const movedKinds = new Set<number>();
  const createdKinds = new Set<number>();
  const writtenStates = new Set<string>();
  const writtenColumns = new Set<string>();
  const othersRead = new Set<string>();
  const othersStatesRead = new Set<string>();
  const othersPlacesRead = new Set<number>();
  const own = new Map<string, Set<WriteHow>>();
  const foreign = new Set<string>();
  visitStatements(rule.body.statements, {
    statement(s) {
      switch (s.op) {
        case 'draw':
        case 'draw cell':
          draws = true;
          return;
        case 'pick':
          if (s.how !== 'first') draws = true;
          return;
        case 'each':
          if (s.shuffled) draws = true;
          return;
        case 'write': {
          if (s.agent.fresh) return;
          const key = columnKey(s.kind, s.column);
          writtenColumns.add(key);
          if (s.agent.own) own.set(key, (own.get(key) ?? new Set<WriteHow>()).add(s.how));
          else foreign.add(key);
          return;
        }
        case 'write field':
          writesFields = true;
          return;
        case 'become':
          if (!s.agent.fresh) writtenStates.add(columnKey(s.kind, s.machine));
          return;
        case 'turn':
        case 'move by':
        case 'move to':
          if (!s.agent.fresh) movedKinds.add(s.kind);
          return;
        case 'create':
          createdKinds.add(s.kind);
          return;
        case 'remove':
          removes = true;
          return;
        default:
      }
    },
    expr(e) {
      if (e.op === 'attribute' && !e.agent.own) othersRead.add(columnKey(e.kind, e.column));
      else if (e.op === 'state' && !e.agent.own) othersStatesRead.add(columnKey(e.kind, e.machine));
      else if (e.op === 'position' && !e.agent.own) othersPlacesRead.add(e.kind);
    },
    query(q) {
      if (q.reach.is === 'all') return;
      queried.add(q.kind);
      othersPlacesRead.add(q.kind);
    },
  });
  visitStatements(rule.body.statements, {
    statement(s) {
      if (s.op === 'pick' && s.how === 'nearest') othersPlacesRead.add(s.query.kind);
    },
  });
  const contested = new Map<string, OwnWrites>();
  for (const key of foreign) contested.set(key, ownWrites(own.get(key)));
  return { draws, removes, queried, movedKinds, createdKinds, writtenStates, writtenColumns, othersRead, othersStatesRead, othersPlacesRead, contested, writesFields };
}

function ownWrites(how: ReadonlySet<WriteHow> | undefined): OwnWrites {
  if (!how) return 'none';
  return how.size === 1 ? [...how][0]! : '=';
}

