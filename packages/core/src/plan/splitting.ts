import type { RuleEffects } from './analysis.ts';
import { columnKey, contendsForCells } from './analysis.ts';
import type * as P from './plan.ts';
import { hasObstacles } from './plan.ts';
import { addsField } from './seen-before.ts';
import { visitStatements } from './visit.ts';

/** Statements by which an agent asks, draws, and changes itself. */
const OF_ONESELF: ReadonlySet<P.Statement['op']> = new Set([
  'set',
  'draw',
  'draw cell',
  'if',
  'switch',
  'repeat',
  'until',
  'count',
  'any',
  'pick',
  'gather',
  'each',
  'nobody',
  'demand',
  'end turn',
]);

/** Statements that change an agent at once. */
const CHANGES: ReadonlySet<P.Statement['op']> = new Set(['become', 'write due', 'turn', 'move by', 'move to']);

/** Whether a place may be refused, which one thread alone can count. */
function mayBeRefused(plan: P.Plan, s: P.Statement): boolean {
  return s.op === 'move to' && hasObstacles(plan, plan.kinds[s.kind]!.space);
}

/**
 * Whether the turns of a rule may be had in several places at a time, each agent's whole in one of them: no turn can be seen in another, or
 * all are had at once, and what is done to others waits until they are over.
 */
export function maySplit(plan: P.Plan, { body }: P.RulePlan, mode: P.Mode, effects: RuleEffects): boolean {
  const atOnce = mode === 'all at once';
  if (atOnce ? effects.addedColumns.size > 0 : !effects.orderFree || contendsForCells(plan, effects)) return false;
  const sight = { plan, atOnce, effects };
  let isSo = true;
  visitStatements(body.statements, {
    statement(s) {
      if (CHANGES.has(s.op) && 'agent' in s) isSo &&= s.agent.own && !mayBeRefused(plan, s);
      else if (s.op === 'write') isSo &&= s.agent.own || effects.contested.has(columnKey(s.kind, s.column));
      else if (s.op === 'write field') isSo &&= atOnce && !addsField(sight, s.field);
      else if (s.op !== 'change') isSo &&= OF_ONESELF.has(s.op);
    },
    expr(e) {
      // Counts of flows are of the turns before, nobody keeps when others are due, and tables lie where one thread alone sees them.
      if (e.op === 'flow' || e.op === 'table' || (e.op === 'due' && !e.agent.own)) isSo = false;
    },
  });
  return isSo;
}
