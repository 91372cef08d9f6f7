import type * as P from './plan.ts';

/** The zone that all cells lie in of which a query asks anything more; nothing where the text names none. */
export function zoneAsked({ where, candidate }: P.Query): number | undefined {
  let e = where && firstAsked(where);
  while (e?.op === 'binary' && e.fn === 'and') e = e.left;
  return e?.op === 'in zone' && isOf(e.x, 'cell x', candidate) && isOf(e.y, 'cell y', candidate) ? e.zone : undefined;
}

/** What is asked before all else, and decides alone if it does not hold. */
function firstAsked({ statements, value }: P.Code): P.Expr | undefined {
  if (statements.length === 0) return value;
  const [first, rest, ...more] = statements;
  if (first?.op !== 'set' || rest?.op !== 'if' || more.length > 0 || rest.else.length > 0) return undefined;
  const isDecided = isLocal(rest.condition, first.local) && isLocal(value, first.local);
  return isDecided ? first.value : undefined;
}

function isLocal(e: P.Expr, local: number): boolean {
  return e.op === 'local' && e.local === local;
}

/** Whether a coordinate is that one of a cell. */
function isOf(e: P.Expr, op: 'cell x' | 'cell y', cell: number): boolean {
  return e.op === op && isLocal(e.cell, cell);
}
