import { keyOfName } from '../engine/random/stream.ts';
import { fullName } from '../language/check-order.ts';
import type { KindSymbol, LocalSymbol, RuleSymbol } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import type { AskedBody, Body, ScheduleEntry } from '../plan/plan.ts';
import { lowerInteraction } from './interaction.ts';
import { lineRule } from './lines.ts';
import type { ModelDraft } from './model-draft.ts';
import { lowerBody } from './statement.ts';
import { machineRule } from './transitions.ts';

export function schedulePlan(whole: ModelDraft): ScheduleEntry[] {
  const all = whole.model.order.flatMap((entry) => entry.rules);
  return whole.model.order.map((entry): ScheduleEntry => {
    if (entry.rules[0]!.is === 'field')
      return { is: 'fields', fields: entry.rules.flatMap((rule) => (rule.is === 'field' ? [rule.field.index] : [])) };
    const first = entry.rules[0]!;
    if (first.is === 'surroundings')
      return { is: 'surroundings', rule: surroundingsRule(whole, first.part, first.name) };
    const rules = entry.rules.map((rule) => rulePlan(whole, rule, fullRuleName(rule, all), entry.mode));
    const key = keyOfName(`turns ${rules.map((index) => whole.rules[index]!.name).join(' ')}`);
    return { is: 'rules', rules, mode: entry.mode, key };
  });
}

function surroundingsRule(whole: ModelDraft, { when, every, body }: Ast.BehaviourPart, name: string): number {
  const block: Ast.Block = when ? [{ is: 'if', condition: when, then: body, span: when.span }] : body;
  return (
    whole.rules.push({
      name,
      key: keyOfName(`rule ${name}`),
      kind: -1,
      every: every && whole.asked(every, name),
      body: lowerBody(whole.draft(name), block),
    }) - 1
  );
}

function rulePlan(whole: ModelDraft, rule: RuleSymbol, name: string, mode: Ast.Mode): number {
  const { kind, body, every } = ruleBody(whole, rule, name, mode);
  return whole.rules.push({ name, key: keyOfName(`rule ${name}`), kind: kind.index, every, body }) - 1;
}

function ruleBody(
  whole: ModelDraft,
  rule: RuleSymbol,
  name: string,
  mode: Ast.Mode,
): { kind: KindSymbol; body: Body; every?: AskedBody } {
  const atOnce = mode === 'all at once';
  switch (rule.is) {
    case 'behaviour': {
      const { when, every, body } = rule.part;
      const block: Ast.Block = when ? [{ is: 'if', condition: when, then: body, span: when.span }] : body;
      const changed = atOnce ? changedBy(whole, block, rule.kind.self) : undefined;
      return {
        kind: rule.kind,
        body: lowerBody(whole.draft(name, { actor: rule.kind.self, atOnce, changed }), block),
        every: every && whole.asked(every, name),
      };
    }
    case 'machine':
      return {
        kind: rule.kind,
        body: machineRule(whole.draft(name, { actor: rule.kind.self, atOnce }), rule.kind, rule.machine),
      };
    case 'line':
      return { kind: rule.kind, body: lineRule(whole.draft(name, { actor: rule.kind.self }), rule.line) };
    case 'interaction': {
      const [actor, partner] = rule.roles;
      const changed = atOnce ? changedBy(whole, rule.part.body, actor) : undefined;
      const draft = whole.draft(name, { actor, atOnce, changed });
      return {
        kind: draft.kindOfLocal(actor),
        body: lowerInteraction(draft, rule.part, partner, mode === 'in turn'),
      };
    }
    default:
      throw new RangeError(`A ${rule.is} has no rule body`);
  }
}

/** The machines that a block sets in agents other than the acting one. */
function changedBy(whole: ModelDraft, block: Ast.Block, actor: LocalSymbol): Set<object> {
  const found = new Set<object>();
  const visit = (node: unknown): void => {
    if (Array.isArray(node)) node.forEach(visit);
    if (node === null || typeof node !== 'object' || Array.isArray(node)) return;
    const routine = whole.model.routines.get(node);
    if (routine) visit(routine.body);
    const statement = node as Ast.Statement;
    if (statement.is === 'assign') {
      const ref = whole.model.refs.get(statement.target);
      if (ref?.is === 'machine' && ref.agent !== actor) found.add(ref.machine);
    }
    Object.values(node).forEach(visit);
  };
  visit(block);
  for (const machine of found) whole.changed.add(machine);
  return found;
}

/** The name under which a rule's luck is keyed: with its kind, so that adding a rule elsewhere never changes it. */
function fullRuleName(rule: RuleSymbol, all: readonly RuleSymbol[]): string {
  return rule.is === 'interaction' || rule.is === 'field' || rule.is === 'surroundings'
    ? fullName(rule, all)
    : `${rule.kind.name}.${rule.name}`;
}
