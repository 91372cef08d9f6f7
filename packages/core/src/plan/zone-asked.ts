import type * as P from './plan.ts';

type InZone = Extract<P.Expr, { op: 'in zone' }>;

/** The zone that all cells lie in of which a query asks anything more; nothing where the text names none. */
export function zoneAsked(query: P.Query): number | undefined {
  const e = zoneFirst(query);
  const isSo = e && isOf(e.x, 'cell x', query.candidate) && isOf(e.y, 'cell y', query.candidate);
  return isSo ? e.zone : undefined;
}

/** That an agent is in a zone, where a query asks it of all of a kind before anything else. */
export function zoneOfAgents(query: P.Query): InZone | undefined {
  if (query.over.is !== 'agents' || query.reach.is !== 'all') return undefined;
  const e = zoneFirst(query);
  return e && isPlaceOf(e.x, 'x', query.candidate) && isPlaceOf(e.y, 'y', query.candidate) ? e : undefined;
}

function zoneFirst({ where }: P.Query): InZone | undefined {
  let e = where && firstAsked(where);
  while (e?.op === 'binary' && e.fn === 'and') e = e.left;
  return e?.op === 'in zone' ? e : undefined;
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

/** Whether a coordinate is that one of an agent. */
function isPlaceOf(e: P.Expr, axis: 'x' | 'y', agent: number): boolean {
  return e.op === 'position' && e.axis === axis && e.agent.local === agent;
}

/** Whether a coordinate is that one of a cell. */
function isOf(e: P.Expr, op: 'cell x' | 'cell y', cell: number): boolean {
  return e.op === op && isLocal(e.cell, cell);
}
