import type * as Ast from './syntax.ts';

/** Whether an expression reads the candidate, as `it` or under its name; an inner query's `it` is its own. */
export function looksAtIt(expr: Ast.Expr, alias: string | undefined): boolean {
  const looks = (inner: Ast.Expr | undefined): boolean => inner !== undefined && looksAtIt(inner, alias);
  const queryLooks = (query: Ast.Query): boolean => (query.head.is === 'kind' && query.head.owner !== undefined && (query.head.owner.key === 'it' || query.head.owner.key === alias)) ||
    query.reaches.some((reach) => looks(reach.of) || looks(reach.distance)) || (alias !== undefined && looks(query.where));
  switch (expr.is) {
    case 'path':
      return expr.names[0]!.key === 'it' || (alias !== undefined && expr.names[0]!.key === alias);
    case 'brackets':
    case 'with unit':
    case 'per':
    case 'unary':
      return looks(expr.value);
    case 'binary':
      return looks(expr.left) || looks(expr.right);
    case 'one of':
      return looks(expr.left) || expr.options.some(looks) || (expr.query !== undefined && queryLooks(expr.query));
    case 'in zone':
      return looks(expr.place);
    case 'tie to':
      return looks(expr.other);
    case 'time in':
      return looks(expr.path);
    case 'pick':
      return queryLooks(expr.query);
    case 'if':
      return looks(expr.condition) || looks(expr.then) || looks(expr.else);
    case 'call':
      return expr.args.some((arg) => looks(arg.value));
    case 'at':
      return looks(expr.place);
    case 'point':
      return looks(expr.x) || looks(expr.y);
    case 'ask':
      return queryLooks(expr.query);
    case 'gather':
      return expr.over ? queryLooks(expr.over) : looks(expr.of);
    default:
      return false;
  }
}
