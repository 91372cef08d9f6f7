import type { KindSymbol } from '../language/checked.ts';
import type { AgentRef, Expr, JourneyColumn } from '../plan/plan.ts';
import type { Draft } from './draft.ts';

/** What agents know of their journeys, in columns that the text does not name. */

export function journeyValue(draft: Draft, kind: KindSymbol, which: JourneyColumn, agent: AgentRef): Expr {
  return { op: 'due', kind: kind.index, column: draft.shared.journeyColumns[kind.index]![which]!, agent };
}

export function writeJourney(
  draft: Draft,
  kind: KindSymbol,
  which: JourneyColumn,
  agent: AgentRef,
  value: Expr,
  site: number,
): void {
  const column = draft.shared.journeyColumns[kind.index]![which]!;
  draft.emit({ op: 'write due', kind: kind.index, column, agent, value, site });
}
