import type * as P from './plan.ts';

/** How somebody is picked, as far as all engines have to do the same, or may do it another way. */

type Pick = Extract<P.Statement, { op: 'pick' }>;

/** Whether somebody is picked among all of a kind, whoever it is. */
export function isAmongAll({ how, weight, query }: Pick): boolean {
  return how === 'random' && !weight && !query.where && query.over.is === 'agents' && query.reach.is === 'all';
}

/** Whether a random one who fits is drawn among all of a kind, which nobody joins or leaves, before those who fit are listed. */
export function isDrawnByTries(
  { how, weight, query: { over, reach, where, kind } }: Pick,
  steady: ReadonlySet<number>,
): boolean {
  return how === 'random' && !weight && !!where && over.is === 'agents' && reach.is === 'all' && steady.has(kind);
}

/** Whether somebody is the nearest of all of a kind and may be looked for nearby: nothing can go wrong with those who are not looked at. */
export function isSought({ how, query: { over, reach, where } }: Pick): boolean {
  if (how !== 'nearest' || over.is !== 'agents' || reach.is !== 'all') return false;
  return !where || (where.statements.length === 0 && cannotFail(where.value));
}

function cannotFail(e: P.Expr): boolean {
  if (e.op === 'binary') return cannotFail(e.left) && cannotFail(e.right);
  if (e.op === 'not') return cannotFail(e.value);
  return e.op === 'number' || e.op === 'parameter' || e.op === 'local' || e.op === 'attribute' || e.op === 'state';
}
