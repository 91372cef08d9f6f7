import type { Code, Expr, Query, Reach, Statement, JourneyAim } from './plan.ts';

/** Calls back for every statement and expression inside; both engines and the interface learn from it what a rule touches. */
export interface Visitor {
  statement?(statement: Statement): void;
  expr?(expr: Expr): void;
  query?(query: Query): void;
}

export function visitStatements(statements: readonly Statement[], visitor: Visitor): void {
  for (const statement of statements) visitStatement(statement, visitor);
}

export function visitCode(code: Code | undefined, visitor: Visitor): void {
  if (!code) return;
  visitStatements(code.statements, visitor);
  visitExpr(code.value, visitor);
}

function visitReach(reach: Reach, visitor: Visitor): void {
  if (reach.is === 'all' || reach.is === 'tied') return;
  visitExpr(reach.distance, visitor);
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
    case 'until':
      return expr(statement.condition);
    case 'find':
      return expr(statement.number);
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
      visitCode(statement.weight, visitor);
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
    case 'write tie':
    case 'add to tally':
      return expr(statement.value);
    case 'change':
      return expr(statement.state);
    case 'tie':
    case 'add to list':
    case 'record':
      return statement.values.forEach(expr);
    case 'send':
      expr(statement.delay);
      return statement.values.forEach(expr);
    case 'log':
      return statement.values.forEach(({ value }) => expr(value));
    case 'write field':
      expr(statement.x);
      expr(statement.y);
      return expr(statement.value);
    case 'turn':
      return expr(statement.direction);
    case 'demand ashore':
      return expr(statement.riders);
    case 'move by':
      return expr(statement.distance);
    case 'travel':
      expr(statement.amount);
      expr(statement.speed);
      expr(statement.x);
      return expr(statement.y);
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
    case 'draw in zone':
    case 'draw listed':
    case 'nobody':
    case 'demand':
    case 'find tie':
    case 'other end':
    case 'untie':
    case 'vanish':
    case 'end turn':
    case 'end run':
      return;
  }
}

export function visitExpr(expr: Expr, visitor: Visitor): void {
  visitor.expr?.(expr);
  switch (expr.op) {
    case 'field':
    case 'cell at':
    case 'in zone':
      visitExpr(expr.x, visitor);
      return visitExpr(expr.y, visitor);
    case 'in reach':
      visitReach(expr.reach, visitor);
      visitExpr(expr.x, visitor);
      return visitExpr(expr.y, visitor);
    case 'lane at':
      return visitExpr(expr.share, visitor);
    case 'near along':
      if (expr.facing) visitExpr(expr.facing, visitor);
      return [expr.x, expr.y, expr.most, expr.toX, expr.toY].forEach((part) => visitExpr(part, visitor));
    case 'journey':
      visitExpr(expr.x, visitor);
      visitExpr(expr.y, visitor);
      return visitAim(expr.aim, visitor);
    case 'ride time':
      visitExpr(expr.line, visitor);
      visitExpr(expr.stop, visitor);
      visitExpr(expr.departs, visitor);
      visitExpr(expr.since, visitor);
      return visitAim(expr.aim, visitor);
    case 'timetable':
      visitExpr(expr.line, visitor);
      return visitExpr(expr.of, visitor);
    case 'stop place':
      visitExpr(expr.line, visitor);
      return visitExpr(expr.stop, visitor);
    case 'way length':
      return [expr.ax, expr.ay, expr.bx, expr.by, expr.speed].forEach((part) => visitExpr(part, visitor));
    case 'ahead':
      return [expr.x, expr.y, expr.distance].forEach((part) => visitExpr(part, visitor));
    case 'along':
      return [expr.x, expr.y, expr.distance, expr.angle].forEach((part) => visitExpr(part, visitor));
    case 'way':
      visitExpr(expr.from, visitor);
      return visitExpr(expr.to, visitor);
    case 'field cell':
    case 'cell x':
    case 'cell y':
      return visitExpr(expr.cell, visitor);
    case 'listed cell':
    case 'list item':
    case 'tally item':
      return visitExpr(expr.index, visitor);
    case 'is nowhere':
      return visitExpr(expr.x, visitor);
    case 'table':
      return visitExpr(expr.row, visitor);
    case 'recent':
      return visitExpr(expr.time, visitor);
    case 'tally':
      if (expr.level) visitExpr(expr.level, visitor);
      return;
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
    case 'attribute':
    case 'cell':
    case 'clock':
    case 'count of kind':
    case 'due':
    case 'flow':
    case 'is there':
    case 'local':
    case 'measure':
    case 'number':
    case 'number of':
    case 'own cell':
    case 'parameter':
    case 'position':
    case 'same agent':
    case 'size':
    case 'somebody':
    case 'state':
    case 'variable':
    case 'list length':
    case 'message sender':
    case 'message value':
    case 'network measure':
    case 'number or 0':
    case 'tie value':
    case 'tied':
      return;
  }
}

function visitAim({ x, y, pace, terms, now }: JourneyAim, visitor: Visitor): void {
  for (const part of [x, y, pace, ...terms, now]) visitExpr(part, visitor);
}
