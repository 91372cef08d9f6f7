import type { NetworkSymbol } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import type { AgentRef, Expr, Query } from '../plan/plan.ts';
import { columnValue } from './assignment.ts';
import { binary } from './code.ts';
import type { Draft } from './draft.ts';
import { whoAsks, lowerAgent } from './place.ts';

export function emitTie(
  draft: Draft,
  network: NetworkSymbol,
  a: AgentRef,
  b: AgentRef,
  flip: boolean,
  statement?: Ast.StatementOf<'tie'>,
): void {
  const given = new Map<string, Ast.Expr>();
  for (const line of statement?.block ?? [])
    if (line.is === 'assign' && line.target.is === 'path') given.set(line.target.names[0]!.key, line.value);
  const both: Expr = binary('and', { op: 'somebody', local: a.local }, { op: 'somebody', local: b.local });
  const then = draft.collect(() => {
    const values = network.attributes.map((attribute) =>
      draft.hold(columnValue(draft, attribute, given.get(attribute.key) ?? attribute.line.value)),
    );
    draft.emit({
      op: 'tie',
      network: network.index,
      a,
      b,
      flip,
      values,
      site: draft.site(statement?.span ?? network.span, 'the value of a tie'),
    });
  });
  draft.emit({ op: 'if', condition: both, then, else: [] });
}

/** `join v by N`: ties to v and to all tied to v (S29). */
export function lowerJoin(draft: Draft, statement: Ast.StatementOf<'join'>): void {
  const network = draft.shared.model.networkOf.get(statement)!;
  const self = whoAsks(draft, network);
  const v = lowerAgent(draft, statement.other);
  const candidate = draft.newLocal();
  const query: Query = {
    over: { is: 'agents' },
    kind: network.to.index,
    reach: { is: 'tied', network: network.index, side: 0, agent: draft.agentIn(v) },
    candidate,
    except: self.local,
  };
  const then = draft.collect(() => {
    draft.emit({
      op: 'each',
      query,
      shuffled: false,
      recheck: false,
      body: draft.collect(() => emitTie(draft, network, self, draft.agentIn(candidate), false)),
    });
    emitTie(draft, network, self, draft.agentIn(v), false);
  });
  draft.emit({ op: 'if', condition: { op: 'somebody', local: v }, then, else: [] });
}
