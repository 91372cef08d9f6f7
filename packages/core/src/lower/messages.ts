import type { AttributeSymbol, KindSymbol, MessageSymbol } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import type { AgentRef, Body, Statement } from '../plan/plan.ts';
import { columnValue } from './assignment.ts';
import type { Draft } from './draft.ts';
import { lowerAgent } from './place.ts';
import { lowerQuery } from './query.ts';
import { messageTransitions } from './transitions.ts';

/** What agents of a kind do when a message reaches them: reactions, then their machines in text order (S24). */
export function reactionBody(draft: Draft, kind: KindSymbol, message: MessageSymbol): Body {
  const { messageOf, locals } = draft.shared.model;
  const statements = draft.collect(() => {
    for (const reaction of kind.part.reactions) {
      if (messageOf.get(reaction) !== message) continue;
      const heard = locals.get(reaction);
      if (heard) draft.slots.set(heard, 0);
      const react = (): void => draft.block(reaction.body);
      if (!reaction.when) react();
      else draft.emit({ op: 'if', condition: draft.lower(reaction.when), then: draft.collect(react), else: [] });
    }
    for (const machine of kind.machines) messageTransitions(draft, kind, machine, message);
  });
  return { statements, locals: draft.localCount };
}

export function lowerSend(draft: Draft, statement: Ast.StatementOf<'send'>): void {
  const { model } = draft.shared;
  const message = model.messageOf.get(statement) as { index: number; attributes: readonly AttributeSymbol[] };
  const values = message.attributes.map((attribute, i) => {
    const given = statement.args.find((arg, at) => (arg.name ? arg.name.key === attribute.key : at === i));
    return draft.hold(columnValue(draft, attribute, given?.value ?? attribute.line.value));
  });
  const delay = statement.after && draft.hold(draft.lower(statement.after));
  const symbol = draft.asker;
  const sender = symbol && { kind: draft.kindOfLocal(symbol).index, agent: draft.agent(symbol) };
  const site = draft.site(statement.span, 'a message');
  const post = (kind: number, agent: AgentRef): Statement => ({
    op: 'send',
    message: message.index,
    kind,
    agent,
    sender,
    values,
    delay,
    site,
  });
  if (statement.all) {
    const query = lowerQuery(draft, statement.all);
    draft.emit({
      op: 'each',
      query,
      shuffled: false,
      recheck: false,
      body: [post(query.kind, draft.agentIn(query.candidate))],
    });
    return;
  }
  const slot = lowerAgent(draft, statement.to!);
  const type = model.types.get(statement.to!);
  const kind = model.kinds.findIndex((k) => type?.is === 'agent' && k.name === type.kind);
  if (kind >= 0)
    draft.emit({
      op: 'if',
      condition: { op: 'somebody', local: slot },
      then: [post(kind, draft.agentIn(slot))],
      else: [],
    });
}
