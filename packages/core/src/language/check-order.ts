import type { Span } from '../diagnostics.ts';
import type { MachineSymbol, OrderEntry, RuleSymbol } from './checked.ts';
import type { Environment } from './environment.ts';
import * as say from './meaning-messages.ts';
import { nearestWord } from './near-names.ts';
import type * as Ast from './syntax.ts';
import { partsOf } from './syntax.ts';

type InteractionRule = Extract<RuleSymbol, { is: 'interaction' }>;

/** Checks the order of the rules. */
export class OrderChecker {
  constructor(
    private readonly env: Environment,
    private readonly tree: Ast.SyntaxTree,
    private readonly interactions: readonly InteractionRule[],
  ) {}

  private allRules(): RuleSymbol[] {
    const rules: RuleSymbol[] = [];
    for (const part of this.tree.parts) {
      if (part.is === 'agent') {
        const kind = this.env.kinds.get(part.name.key);
        if (kind?.part !== part) continue;
        for (const machine of kind.machines)
          rules.push({ is: 'machine', name: machine.name, kind, machine, span: machine.span });
        for (const behaviour of part.behaviours)
          rules.push({ is: 'behaviour', name: behaviour.name.text, kind, part: behaviour, span: behaviour.name.span });
      } else if (part.is === 'behaviour') {
        this.env.stands(part.name, part.name);
        rules.push({ is: 'surroundings', name: part.name.text, part, span: part.name.span });
      } else if (part.is === 'interaction') {
        const rule = this.interactions.find((interaction) => interaction.part === part);
        if (rule) rules.push(rule);
      } else if (part.is === 'line') {
        const line = this.env.lines.get(part.name.key);
        if (line?.part === part) rules.push({ is: 'line', name: line.name, kind: line.kind, line, span: line.span });
      }
    }
    for (const field of this.env.fields.values())
      rules.push({ is: 'field', name: field.name, field, span: field.span });
    return rules;
  }

  order(): OrderEntry[] {
    const rules = this.allRules();
    const parts = partsOf(this.tree, 'order');
    for (const part of parts.slice(1)) this.env.report(say.onlyOne(part.span, 'order'));
    const part = parts[0];
    const entries: OrderEntry[] = [];
    const placed = new Set<RuleSymbol>();
    for (const line of part?.lines ?? []) entries.push(...this.orderLine(line, rules, placed));
    const acting = rules.filter(
      (rule) =>
        rule.is !== 'field' && !placed.has(rule) && !(rule.is === 'machine' && isMovedByMessagesAlone(rule.machine)),
    );
    if (!part && acting.length > 1) {
      const proposal = [
        'order',
        ...acting.map((rule) => `  ${fullName(rule, rules)}${rule.is === 'surroundings' ? '' : ' in turn'}`),
      ].join('\n');
      const last = this.tree.parts[this.tree.parts.length - 1]!;
      this.env.report(say.noOrder(acting[0]!.span, proposal, this.endOfPart(last)));
    }
    for (const rule of acting) {
      const lastLine = part?.lines[part.lines.length - 1]?.span.end;
      if (part && rule.is === 'machine')
        this.env.report(say.unorderedMachine(rule.span, fullName(rule, rules), lastLine ?? part.span.end));
      else if (part) this.env.report(say.unorderedRule(rule.span, fullName(rule, rules), lastLine ?? part.span.end));
      entries.push({ rules: [rule], mode: 'in turn' });
    }
    for (const rule of rules)
      if (rule.is === 'field' && !placed.has(rule)) entries.push({ rules: [rule], mode: 'in turn' });
    return entries;
  }

  private endOfPart(part: Ast.AnyPart): number {
    const rest = this.env.text.slice(part.span.start);
    const next = rest.search(/\n(?=\S)/);
    return next < 0 ? this.env.text.trimEnd().length : part.span.start + next;
  }

  private orderLine(line: Ast.OrderLine, rules: readonly RuleSymbol[], placed: Set<RuleSymbol>): OrderEntry[] {
    const found = line.rules.flatMap((names) => this.ruleNamed(names, rules) ?? []);
    for (const rule of found) {
      if (placed.has(rule)) this.env.report(say.ruleTwice(line.span, rule.name));
      placed.add(rule);
    }
    const plain = found.filter((rule) => rule.is === 'field' || rule.is === 'surroundings');
    if (plain.length > 0) {
      if (line.mode || plain.length < found.length) this.env.report(say.modeOnField(line.span));
      if (plain.every((rule) => rule.is === 'field')) return [{ rules: found, mode: 'in turn' }];
      return found.map((rule) => ({ rules: [rule], mode: 'in turn' }));
    }
    if (!line.mode && found.length > 0) this.env.report(say.modeMissing(line.span));
    if (found.length > 1 && line.mode === 'all at once') this.env.report(say.mixedGroup(line.span));
    if (line.mode === 'all at once') for (const rule of found) this.needsTurns(rule, line.span);
    return found.length ? [{ rules: found, mode: line.mode ?? 'in turn' }] : [];
  }

  /** What only one agent after the other can do, as the last seat is taken by one. */
  private needsTurns(rule: RuleSymbol, line: Span): void {
    const key =
      rule.is === 'machine' ? rule.machine : rule.is === 'line' ? rule.line : 'part' in rule ? rule.part : undefined;
    for (const span of (key && this.env.needTurns.get(key)?.values()) ?? [])
      this.env.report(say.needsTurns(span, this.env.textOf(span), line, this.env.textOf(line)));
  }

  private ruleNamed(names: readonly Ast.Name[], rules: readonly RuleSymbol[]): RuleSymbol | undefined {
    const last = names[names.length - 1]!;
    const hits = rules.filter((rule) => {
      if (rule.name.toLowerCase() !== last.key) return false;
      return (
        names.length === 1 || ((rule.is === 'behaviour' || rule.is === 'machine') && rule.kind.key === names[0]!.key)
      );
    });
    if (hits.length === 1) {
      const [hit] = hits as [RuleSymbol];
      this.env.stands(last, hit);
      if (names.length > 1 && 'kind' in hit) this.env.stands(names[0]!, hit.kind);
      return hit;
    }
    const span: Span = { start: names[0]!.span.start, end: last.span.end };
    if (hits.length > 1)
      this.env.report(
        say.ambiguousRule(
          span,
          last.text,
          hits.map((rule) => fullName(rule, rules)),
        ),
      );
    else
      this.env.report(
        say.unknownRule(
          span,
          last.text,
          rules.map((rule) => rule.name),
          nearestWord(
            last.text,
            rules.map((rule) => rule.name),
          ),
        ),
      );
    return undefined;
  }
}

/** A machine without transitions of its own: only messages and rules move it, so it needs no place in the order. */
function isMovedByMessagesAlone(machine: MachineSymbol): boolean {
  return [...machine.states, ...machine.groups].every((state) =>
    state.part.transitions.every((transition) => transition.trigger === 'on'),
  );
}

/** A rule's name, with its kind where the bare name would be ambiguous. */
export function fullName(rule: RuleSymbol, rules: readonly RuleSymbol[]): string {
  const twins = rules.filter((other) => other.name.toLowerCase() === rule.name.toLowerCase());
  return twins.length > 1 && (rule.is === 'behaviour' || rule.is === 'machine')
    ? `${rule.kind.name}.${rule.name}`
    : rule.name;
}
