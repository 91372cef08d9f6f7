import { formOf } from '../forms/forms.ts';
import type { AttributeSymbol, KindSymbol, LocalSymbol } from './checked.ts';
import type { ExpressionChecker } from './check-expression.ts';
import { comparable } from './check-expression.ts';
import type { StatementChecker } from './check-statements.ts';
import type { Context, Environment } from './environment.ts';
import { NOBODY } from './environment.ts';
import * as say from './meaning-messages.ts';
import { nearestWord } from './near-names.ts';
import type * as Ast from './syntax.ts';
import type { ChoiceType } from './types.ts';
import { choiceOf, sayType, UNKNOWN } from './types.ts';

/** Checks kinds of agents, their attributes and their states. */
export class KindChecker {
  constructor(
    private readonly env: Environment,
    private readonly e: ExpressionChecker,
    private readonly st: StatementChecker,
  ) {}

  /** Checks a kind: where it starts, what it has, its states, behaviours and reactions. */
  kind(kind: KindSymbol): void {
    const { env, e, st } = this;
    const { self, part } = kind;
    const context: Context = { self, asker: self, owner: kind, locals: new Map() };
    const unborn: Context = { ...NOBODY, space: kind.space };
    for (const start of part.starts) {
      const { count } = start;
      if (count.is === 'every cell') {
        if (!kind.space) env.report(say.noSpace(start.span, 'A cell'));
        else if (count.where) st.cellCondition(start, count.where, kind.space, unborn);
      } else if (count.is !== 'table') e.whole(count, unborn);
      if (start.placing) st.placing(start.placing, kind, unborn);
      else if (kind.space && count.is !== 'every cell' && count.is !== 'table')
        env.report(say.noPlace({ start: start.span.start, end: start.span.end }, kind.name));
      if (start.facing) {
        const type = e.check(start.facing, unborn);
        if (type.is === 'number') e.angle(start.facing, unborn);
        else if (type.is === 'place') e.sameSpace(start.facing, type, kind.space);
        else if (type.is !== 'unknown')
          env.report(say.wrongType(start.facing.span, 'A place or a direction', sayType(type)));
      }
    }
    for (const attribute of kind.attributes) this.attribute(attribute, kind.attributes, context);
    for (const derive of kind.derives)
      derive.type = e.check(derive.line.value, { ...context, noDraws: 'A derived attribute' });
    if (kind.seats) e.numeric(kind.seats, { ...context, noDraws: 'The number of seats' });
    for (const machine of kind.machines) this.machine(machine.part, machine.type, { ...context, rule: machine });
    for (const behaviour of part.behaviours) {
      if (behaviour.every) e.time(behaviour.every, NOBODY);
      if (behaviour.when) e.yesNo(behaviour.when, context);
      st.block(behaviour.body, { ...context, rule: behaviour });
    }
    for (const reaction of part.reactions) {
      const inner = this.hearing(reaction, reaction.message, reaction.alias, context);
      if (reaction.when) e.yesNo(reaction.when, inner);
      st.block(reaction.body, inner);
    }
  }

  /** The context in which a message is heard, with the name it has there. */
  private hearing(owner: object, name: Ast.Name, alias: Ast.Name | undefined, context: Context): Context {
    const { env } = this;
    const message = env.messageNamed(name);
    if (!message) return context;
    env.stands(name, message);
    env.heard.add(message);
    env.messageOf.set(owner, message);
    const local: LocalSymbol = env.locals.get(owner) ?? {
      is: 'local',
      name: alias?.text ?? message.name,
      span: (alias ?? name).span,
      type: { is: 'message', message: message.name },
    };
    env.locals.set(owner, local);
    if (alias) env.stands(alias, alias);
    return alias ? { ...context, locals: new Map(context.locals).set(alias.key, local) } : context;
  }

  /** Checks the first value of an attribute, which gives its type where nothing else does. */
  attribute(attribute: AttributeSymbol, all: readonly AttributeSymbol[], context: Context): void {
    const { env, e } = this;
    const { line } = attribute;
    const before = attribute.type;
    const kind = line.kind && env.kinds.get(line.kind.key);
    if (line.kind) {
      if (kind) {
        env.stands(line.kind, kind);
        env.use(kind);
      } else
        env.report(
          say.unknownKind(
            line.kind.span,
            line.kind.text,
            nearestWord(
              line.kind.text,
              [...env.kinds.values()].map((k) => k.name),
            ),
          ),
        );
    }
    if (line.list) {
      if (before.is !== 'list')
        attribute.type = { is: 'list', of: line.list.of, kind: kind?.name, space: env.spaceAt(context)?.name };
      return;
    }
    if (line.choices) {
      if (before.is !== 'choice') attribute.type = choiceOf(line.choices);
      for (const choice of line.choices) env.stands(choice, choice);
      e.check(line.value, NOBODY, attribute.type);
      return;
    }
    const later = all
      .slice(all.indexOf(attribute))
      .find((other) => line.value.is === 'path' && line.value.names[0]!.key === other.key);
    if (later)
      env.report(
        say.unknownName(line.value.span, later.name, undefined, undefined, 'It is given its first value further down.'),
      );
    const found = e.check(line.value, context, before);
    if (line.kind) {
      attribute.type = kind ? { is: 'agent', kind: kind.name, maybe: true } : UNKNOWN;
      if (kind && found.is !== 'unknown' && !comparable(attribute.type, found))
        env.report(say.wrongType(line.value.span, sayType(attribute.type), sayType(found)));
      return;
    }
    if (found.is === 'nobody')
      env.report(
        say.wrongType(line.value.span, 'A kind for an attribute that points at agents', 'nobody', {
          hint: `Say of which kind: “has ${line.name.text}: Vole = nobody”.`,
        }),
      );
    else if (found.is === 'tie')
      env.report(say.wrongType(line.value.span, 'A value that an agent can keep', sayType(found)));
    else if (before.is === 'unknown')
      attribute.type =
        found.is === 'agent'
          ? { ...found, maybe: true }
          : found.is === 'place'
            ? { is: 'place', space: found.space ?? env.spaceAt(context)?.name }
            : found;
    else if (found.is === 'number' && before.is === 'number' && !before.dim)
      attribute.type = { ...before, dim: found.dim };
    if (line.whole && !e.isWhole(line.value)) env.report(say.needsWhole(line.value.span, env.textOf(line.value.span)));
  }

  private machine(part: Ast.StatesPart, type: ChoiceType, context: Context): void {
    this.startShares(part.start, type, context);
    for (const state of part.states) this.state(state, type, context);
  }

  private startShares(shares: readonly Ast.StartShare[], type: ChoiceType, context: Context): void {
    for (const share of shares) {
      this.stateName(share.state, type);
      const group = type.groups?.find(({ name }) => name.toLowerCase() === share.state.key);
      if (group && share.exact)
        this.env.report(
          say.groupIsNoValue(
            share.state.span,
            group.name,
            group.members.map((member) => type.options[member]!),
          ),
        );
      if (share.when) this.e.yesNo(share.when, context);
      if (typeof share.share === 'string') continue;
      if (share.exact) this.e.whole(share.share, NOBODY);
      else this.e.chance(share.share, context);
    }
  }

  private state(state: Ast.StatePart, type: ChoiceType, context: Context): void {
    for (const block of [...state.enter, ...state.leave]) this.st.block(block, context);
    this.startShares(state.start, type, context);
    for (const transition of state.transitions) this.transition(transition, type, context);
    for (const inner of state.states) this.state(inner, type, context);
  }

  private transition(transition: Ast.Transition, type: ChoiceType, outer: Context): void {
    const { e } = this;
    const context = transition.message ? this.hearing(transition, transition.message, transition.alias, outer) : outer;
    if (transition.trigger === 'after') e.time(transition.value, context);
    else if (transition.trigger === 'rate') e.rate(transition.value, context);
    else if (transition.trigger === 'when') e.yesNo(transition.value, context);
    else e.chanceThatMatters(transition.value, context);
    if (transition.trigger === 'on arrival') this.arrival(transition, context);
    if (transition.when) e.yesNo(transition.when, context);
    for (const target of transition.targets) {
      this.stateName(target.state, type);
      if (target.share !== 'rest') e.chance(target.share, context);
    }
    this.st.block(transition.block, context);
  }

  /** Who travels can arrive: agents on a map. */
  private arrival(transition: Ast.Transition, { self }: Context): void {
    const space = self && this.env.spaceOfType(self.type);
    if (space?.form !== 'map')
      this.env.report(say.needsMap(transition.span, '“on arrival”', space ? formOf(space).words : 'none'));
  }

  private stateName(name: Ast.Name, type: ChoiceType): void {
    const states = type.options.map((option, i) => ({ name: option, span: type.spans[i]! }));
    const found = [...states, ...(type.groups ?? [])].find((state) => state.name.toLowerCase() === name.key);
    if (found) this.env.stands(name, found);
    else
      this.env.report(
        say.unknownState(name.span, name.text, type.machine ?? '', type.options, nearestWord(name.text, type.options)),
      );
  }
}
