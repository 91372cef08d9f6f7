import type * as Ast from './syntax.ts';

/** Names in an expression, those in the queries within it left out. @param node of the syntax tree */
function visitNames(node: unknown, visit: (expr: Ast.Expr) => void): void {
  if (Array.isArray(node)) for (const item of node) visitNames(item, visit);
  else if (node !== null && typeof node === 'object' && !('reaches' in node)) {
    if ('is' in node && (node.is === 'path' || node.is === 'at')) visit(node as Ast.Expr);
    for (const value of Object.values(node)) visitNames(value, visit);
  }
}

/** Keys of the fields that expressions read. @param bare only where no place is said */
export function fieldsRead(
  exprs: readonly (Ast.Expr | undefined)[],
  fields: ReadonlyMap<string, unknown>,
  bare = false,
): Set<string> {
  const found = new Set<string>();
  visitNames(exprs, (expr) => {
    const key =
      expr.is === 'path' && expr.names.length === 1
        ? expr.names[0]!.key
        : expr.is === 'at' && !bare
          ? expr.field.key
          : undefined;
    if (key !== undefined && fields.has(key)) found.add(key);
  });
  return found;
}

/** Whether an expression reads the candidate, as `it` or under its name. In an inner query `it` is another one, so that only the name counts there. */
export function looksAtIt(expr: Ast.Expr, alias: string | undefined, isOwnIt = true): boolean {
  const looks = (inner: Ast.Expr | undefined): boolean => inner !== undefined && looksAtIt(inner, alias, isOwnIt);
  const looksInside = (inner: Ast.Expr | undefined): boolean =>
    inner !== undefined && alias !== undefined && looksAtIt(inner, alias, false);
  const isCandidate = (name: Ast.Name | undefined): boolean =>
    name !== undefined && ((isOwnIt && name.key === 'it') || name.key === alias);
  const queryLooks = (query: Ast.Query): boolean =>
    (query.head.is === 'kind' && isCandidate(query.head.owner)) ||
    query.reaches.some((reach) => looks(reach.of) || looks(reach.distance)) ||
    looksInside(query.where) ||
    looksInside(query.weight);
  switch (expr.is) {
    case 'path':
      return isCandidate(expr.names[0]);
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
    case 'way to':
      return looks(expr.to) || looks(expr.at);
    case 'seats':
      return looks(expr.of);
    case 'time in':
      return looks(expr.path);
    case 'pick':
      return queryLooks(expr.query) || looksInside(expr.by);
    case 'if':
      return looks(expr.condition) || looks(expr.then) || looks(expr.else);
    case 'call':
      return looks(expr.of) || expr.args.some((arg) => looks(arg.value));
    case 'at':
      return looks(expr.place);
    case 'point':
      return looks(expr.x) || looks(expr.y);
    case 'ask':
      return queryLooks(expr.query);
    case 'gather':
      return expr.over ? queryLooks(expr.over) || looksInside(expr.of) : looks(expr.of);
    default:
      return false;
  }
}
