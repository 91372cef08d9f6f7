import type * as P from './plan.ts';
import { visitStatements } from './visit.ts';

type Position = Extract<P.Expr, { op: 'position' }>;

/** What is known of the places that a body holds in its locals. */
export interface Positions {
  /** What a local always is, where it is set in one place only. */
  readonly setOnce: ReadonlyMap<number, P.Expr>;
  /** The agent who stands in the middle of a reach when it is asked who is there. */
  readonly middles: ReadonlyMap<P.Query, P.AgentRef>;
  /** Locals that are set somewhere, in place of holding what was found. */
  readonly assigned: ReadonlySet<number>;
}

/** Statements that move nobody, and hold no others. */
const QUIET: ReadonlySet<P.Statement['op']> = new Set(['set', 'draw', 'count', 'any', 'gather', 'find', 'nobody']);

export function positionsIn({ statements }: P.Body): Positions {
  const [setOnce, setAgain] = [new Map<number, P.Expr>(), new Set<number>()];
  visitStatements(statements, {
    statement(s) {
      if (s.op !== 'set') return;
      if (setOnce.has(s.local)) setAgain.add(s.local);
      setOnce.set(s.local, s.value);
    },
  });
  const assigned = new Set(setOnce.keys());
  for (const local of setAgain) setOnce.delete(local);
  return { setOnce, middles: middlesIn(statements, setOnce), assigned };
}

function middlesIn(statements: readonly P.Statement[], setOnce: Positions['setOnce']): Positions['middles'] {
  const middles = new Map<P.Query, P.AgentRef>();
  /** Places that were set since somebody may have moved. */
  const fresh = new Map<number, Position>();
  const now = (e: P.Expr): P.Expr | undefined => (e.op === 'local' ? fresh.get(e.local) : e);
  visitStatements(statements, {
    statement(s) {
      if ('query' in s && 'x' in s.query.reach) {
        const [x, y] = [now(s.query.reach.x), now(s.query.reach.y)];
        if (x?.op === 'position' && y?.op === 'position' && x.agent.local === y.agent.local)
          middles.set(s.query, x.agent);
      }
      if (!QUIET.has(s.op)) fresh.clear();
      if (s.op === 'set' && s.value.op === 'position' && setOnce.has(s.local)) fresh.set(s.local, s.value);
    },
  });
  return middles;
}
