import type { Span } from '../diagnostics.ts';
import type { ExpressionChecker } from './check-expression.ts';
import type { BuiltIn, ClockReading, KindSymbol, LocalSymbol, MeasureSymbol, SpaceSymbol } from './checked.ts';
import type { Context, Environment } from './environment.ts';
import { ridingsOf, vehicleOf } from './check-riding.ts';
import * as say from './meaning-messages.ts';
import { groupingOf } from './measure-groups.ts';
import { nearestWord } from './near-names.ts';
import { isReserved, WEEKDAYS } from './words.ts';
import type * as Ast from './syntax.ts';
import type { Type } from './types.ts';
import { DIRECTION, number, placeOn, PLAIN, TIME, UNKNOWN, WHOLE_NUMBER, YESNO } from './types.ts';

const BUILT_INS: Record<BuiltIn, (space: SpaceSymbol | undefined) => Type> = {
  x: (space) => number(space?.dim),
  y: (space) => number(space?.dim),
  direction: () => DIRECTION,
  number: () => WHOLE_NUMBER,
  place: placeOn,
};
const CLOCK_READINGS: ReadonlyMap<string, Type> = new Map<string, Type>([
  ['now', number(TIME)],
  ['step', number(TIME)],
  ['hour', { is: 'number', dim: PLAIN, whole: false, reads: 'hour' }],
  ['weekday', { is: 'number', dim: PLAIN, whole: true, reads: 'weekday' }],
  ['month', WHOLE_NUMBER],
  ['year', WHOLE_NUMBER],
  ['date', { is: 'date' }],
]);
const CALENDAR_READINGS = new Set(['hour', 'weekday', 'month', 'year', 'date']);

/** Finds what names and paths stand for. */
export class NameChecker {
  constructor(
    private readonly env: Environment,
    private readonly e: ExpressionChecker,
  ) {}

  path(expr: Ast.ExprOf<'path'>, context: Context, expected?: Type): Type {
    const { names } = expr;
    const first = names[0]!;
    const last = names[names.length - 1]!;
    if (names.length === 1) return this.bareName(expr, first, context, expected);
    const local = names.length === 2 ? this.localNamed(first, context) : undefined;
    if (local?.type.is === 'agent' && (!local.type.maybe || context.sure?.has(first.key))) {
      this.useLocal(first, local);
      return this.member(expr, local, last, expr.span);
    }
    if (local?.type.is === 'tie' || local?.type.is === 'message') {
      this.useLocal(first, local);
      return local.type.is === 'tie' ? this.ofTie(expr, local, last, context) : this.ofMessage(expr, local, last);
    }
    const isOwn = local !== undefined || (context.self && this.hasMember(context.self, first.key));
    if (!isOwn && this.env.measureGroups.has(first.key)) return this.measureOfGroup(expr, context);
    return this.hop(expr, context);
  }

  /** `voles.Young`: the measure of a group. */
  private measureOfGroup(expr: Ast.ExprOf<'path'>, context: Context): Type {
    const { env } = this;
    const [name, word] = expr.names as [Ast.Name, Ast.Name];
    const groups = env.measureGroups.get(name.key)!;
    const measure = expr.names.length === 2 ? env.measures.get(`${name.key}.${word.key}`) : undefined;
    if (!measure) {
      const known = groups.map((group) => group.name.slice(name.text.length + 1));
      return env.wrong(say.unknownChoice(word.span, word.text, known, nearestWord(word.text, known)));
    }
    this.standsForGroup(expr, measure);
    env.refs.set(expr, { is: 'measure', measure });
    return context.measuresAllowed ? measure.type : env.wrong(say.measureInRule(expr.span, measure.name));
  }

  /** Notes what a measure of a group names: the measure, and the word of the group. */
  standsForGroup({ names: [name, word] }: Ast.ExprOf<'path'>, measure: MeasureSymbol): void {
    const { env } = this;
    env.use(measure);
    env.stands(name!, { name: name!.text, span: measure.span });
    const grouping = groupingOf(measure.part.value, measure.part.by!.key, env.kinds);
    const type = grouping?.type;
    const option = type?.is === 'choice' ? type.options.findIndex((other) => other.toLowerCase() === word!.key) : -1;
    if (type?.is === 'choice' && option >= 0)
      env.stands(word!, { name: type.options[option]!, span: type.spans[option]! });
  }

  /** `friend.energy`: what stands before the last dot is an agent or a place that has to be found first. */
  private hop(expr: Ast.ExprOf<'path'>, context: Context): Type {
    const { names } = expr;
    const last = names[names.length - 1]!;
    const before = names.slice(0, -1);
    const known = this.env.hops.get(expr);
    const from: Ast.Expr = known?.from ?? {
      is: 'path',
      names: before,
      span: { start: expr.span.start, end: before[before.length - 1]!.span.end },
    };
    const type = this.prefixType(from, before, context);
    if (type.is === 'place' && ['x', 'y', 'place'].includes(last.key)) {
      this.env.refs.set(expr, { is: 'coordinate', axis: last.key as 'x', of: from });
      return last.key === 'place' ? { is: 'place', space: type.space } : number(this.env.spaceOfType(type)?.dim);
    }
    const kind = this.sureKind(type, from, before, expr, context);
    if (!kind) return UNKNOWN;
    const local: LocalSymbol = known?.local ?? {
      is: 'local',
      name: before.map((name) => name.key).join('.'),
      span: from.span,
      type: { is: 'agent', kind: kind.name },
    };
    this.env.hops.set(expr, { from, local });
    return this.member(expr, local, last, expr.span);
  }

  /** The kind of what stands before the dot of a call: an agent that is sure to be somebody. */
  agentBefore(of: Ast.Expr, whole: Ast.Expr, context: Context): KindSymbol | undefined {
    const names = of.is === 'path' ? of.names : [];
    return this.sureKind(this.prefixType(of, names, context), of, names, whole, context);
  }

  /** The kind of what stands before a dot, which has to be an agent, and somebody. */
  private sureKind(
    type: Type,
    of: Ast.Expr,
    names: readonly Ast.Name[],
    whole: Ast.Expr,
    context: Context,
  ): KindSymbol | undefined {
    const { env } = this;
    if (type.is === 'unknown') return undefined;
    if (type.is !== 'agent') env.report(say.notAgent(of.span, env.textOf(of.span)));
    else if (type.maybe && !context.sure?.has(names.map(({ key }) => key).join('.')))
      env.report(say.maybeNobody(of.span, env.textOf(of.span), whole.span, env.textOf(whole.span)));
    else return env.kindNamed(type);
    return undefined;
  }

  private prefixType(from: Ast.Expr, names: readonly Ast.Name[], context: Context): Type {
    if (names.length > 1) return this.e.check(from, context);
    const [name] = names as [Ast.Name];
    const isKnown =
      this.localNamed(name, context) !== undefined || (context.self && this.hasMember(context.self, name.key));
    if (isKnown) return this.e.check(from, context);
    if (name.key === 'self' || name.key === 'it') return this.env.wrong(say.noSelf(name.span, `“${name.text}”`));
    if (this.env.parameters.has(name.key) || this.env.variables.has(name.key) || this.env.fields.has(name.key))
      return this.env.wrong(say.notAgent(name.span, name.text));
    return this.unknown(name, context);
  }

  private localNamed(name: Ast.Name, context: Context): LocalSymbol | undefined {
    return name.key === 'self' ? context.self : name.key === 'it' ? context.it : context.locals.get(name.key);
  }

  useLocal(name: Ast.Name, local: LocalSymbol): void {
    this.env.use(local);
    if (name.key !== 'self' && name.key !== 'it') this.env.stands(name, local);
  }

  private ofTie(expr: Ast.Expr, tie: LocalSymbol, name: Ast.Name, context: Context): Type {
    const { env } = this;
    const network = tie.type.is === 'tie' ? env.networks.get(tie.type.network.toLowerCase()) : undefined;
    if (!network) return UNKNOWN;
    if (tie.type.is === 'tie' && tie.type.maybe && !context.sure?.has(expr.is === 'path' ? expr.names[0]!.key : '')) {
      return this.env.wrong(say.maybeNobody(tie.span, tie.name, expr.span, env.textOf(expr.span)));
    }
    if (name.key === 'other') {
      const asker = context.asker && env.kindNamed(context.asker.type);
      const seenFrom = asker ? context.asker : undefined;
      const kind = asker === network.to && network.from !== network.to ? network.from : network.to;
      env.refs.set(expr, { is: 'tie end', network, tie, seenFrom, kind });
      return { is: 'agent', kind: kind.name };
    }
    const attribute = network.attributes.find((a) => a.key === name.key);
    if (!attribute) {
      return this.env.wrong(
        say.unknownAttribute(
          name.span,
          name.text,
          `A tie of ${network.name}`,
          nearestWord(name.text, ['other', ...network.attributes.map((a) => a.name)]),
          [],
        ),
      );
    }
    env.use(attribute);
    env.stands(name, attribute);
    env.refs.set(expr, { is: 'tie attribute', network, attribute, tie });
    return attribute.type;
  }

  private ofMessage(expr: Ast.Expr, local: LocalSymbol, name: Ast.Name): Type {
    const { env } = this;
    const message = local.type.is === 'message' ? env.messages.get(local.type.message.toLowerCase()) : undefined;
    if (!message) return UNKNOWN;
    if (name.key === 'sender') {
      const kinds = [...message.senders];
      const kind = kinds.length === 1 ? env.kinds.get(kinds[0]!) : undefined;
      if (!kind) return this.env.wrong(say.manySenders(name.span, message.name, kinds.length));
      env.refs.set(expr, { is: 'sender', message: local, kind });
      return { is: 'agent', kind: kind.name, maybe: true };
    }
    const attribute = message.attributes.find((a) => a.key === name.key);
    if (!attribute) {
      return this.env.wrong(
        say.unknownAttribute(
          name.span,
          name.text,
          `The message ${message.name}`,
          nearestWord(name.text, ['sender', ...message.attributes.map((a) => a.name)]),
          [],
        ),
      );
    }
    env.use(attribute);
    env.stands(name, attribute);
    env.refs.set(expr, { is: 'message attribute', attribute, message: local });
    return attribute.type;
  }

  private optionOf(expr: Ast.Expr, name: Ast.Name, expected: Type | undefined): boolean {
    if (expected?.is !== 'choice') return false;
    const option = expected.options.findIndex((word) => word.toLowerCase() === name.key);
    if (option >= 0) {
      this.env.refs.set(expr, { is: 'option', option });
      this.env.stands(name, { name: expected.options[option]!, span: expected.spans[option]! });
      return true;
    }
    const group = expected.groups?.find((g) => g.name.toLowerCase() === name.key);
    if (!group) return false;
    this.env.refs.set(expr, { is: 'group', group: group as never });
    this.env.stands(name, group);
    return true;
  }

  private bareName(expr: Ast.Expr, name: Ast.Name, context: Context, expected?: Type): Type {
    const env = this.env;
    if (expected && this.optionOf(expr, name, expected)) return expected;
    const local = this.localNamed(name, context);
    if (local) {
      env.refs.set(expr, { is: 'local', local });
      this.useLocal(name, local);
      const isSure = local.type.is === 'agent' && local.type.maybe && context.sure?.has(name.key);
      return isSure ? ({ ...local.type, maybe: undefined } as Type) : local.type;
    }
    if (name.key === 'self' || name.key === 'it') return this.env.wrong(say.noSelf(name.span, `“${name.text}”`));
    if (context.self && this.hasMember(context.self, name.key)) {
      const type = this.member(expr, context.self, name, expr.span);
      return type.is === 'agent' && type.maybe && context.sure?.has(name.key) ? { is: 'agent', kind: type.kind } : type;
    }
    return this.globalName(expr, name, context, expected);
  }

  private globalName(expr: Ast.Expr, name: Ast.Name, context: Context, expected?: Type): Type {
    const env = this.env;
    const parameter = env.parameters.get(name.key);
    if (parameter) {
      env.refs.set(expr, { is: 'parameter', parameter });
      env.use(parameter);
      env.stands(name, parameter);
      return parameter.type;
    }
    const variable = env.variables.get(name.key);
    if (variable) {
      env.refs.set(expr, { is: 'variable', variable });
      env.use(variable);
      env.stands(name, variable);
      return variable.type;
    }
    const derive = env.derives.get(name.key);
    if (derive) {
      env.refs.set(expr, { is: 'model derive', derive });
      env.use(derive);
      env.stands(name, derive);
      return derive.type;
    }
    const field = env.fields.get(name.key);
    if (field) {
      const { cell } = context;
      env.refs.set(expr, { is: 'field', field, at: cell });
      env.use(field);
      env.stands(name, field);
      if (cell) {
        this.e.onOwn(name.span, cell.type, field.space);
        return field.type;
      }
      if (!context.asker) return this.env.wrong(say.fieldNeedsPlace(name.span, name.text));
      this.e.onOwn(name.span, context.asker.type, field.space);
      return field.type;
    }
    // In the lines of a field the place of its cell.
    if (context.field && context.asker && (name.key === 'x' || name.key === 'y')) {
      const here: Ast.Expr = { is: 'here', span: name.span };
      this.e.check(here, context);
      env.refs.set(expr, { is: 'coordinate', axis: name.key, of: here });
      return number(context.field.space?.dim ?? PLAIN);
    }
    const measure = env.measures.get(name.key);
    if (measure) {
      env.refs.set(expr, { is: 'measure', measure });
      env.use(measure);
      env.stands(name, measure);
      return context.measuresAllowed ? measure.type : this.env.wrong(say.measureInRule(name.span, name.text));
    }
    const groups = env.measureGroups.get(name.key);
    if (groups)
      return env.wrong(
        say.measureByGroup(
          name.span,
          name.text,
          groups.map((group) => group.name),
        ),
      );
    const summary = env.summaries.get(name.key);
    if (summary) {
      env.stands(name, summary);
      if (!context.summariesAllowed) return this.env.wrong(say.summaryOutside(name.span, name.text));
      env.refs.set(expr, { is: 'summary', summary });
      return summary.type;
    }
    const tally = env.tallies.get(name.key);
    if (tally)
      return this.env.wrong(
        say.wrongType(name.span, 'A value', `the tally ${tally.name}`, {
          hint: `Ask for “count ${tally.name}”, “sum of ${tally.name}” or “mean of ${tally.name}”.`,
        }),
      );
    const reading = CLOCK_READINGS.get(name.key);
    if (reading) {
      env.refs.set(expr, { is: 'clock', which: name.key as ClockReading });
      if (CALENDAR_READINGS.has(name.key) && name.key !== 'hour' && !env.hasCalendar) {
        return this.env.wrong(say.wrongType(name.span, 'A clock with a starting date', 'a model without one'));
      }
      return reading;
    }
    const day = expected?.is === 'number' && expected.reads === 'weekday' ? WEEKDAYS.indexOf(name.key) : -1;
    if (day >= 0) {
      env.refs.set(expr, { is: 'option', option: day + 1 });
      return WHOLE_NUMBER;
    }
    return this.unknown(name, context, expected);
  }

  unknown(name: Ast.Name, context: Context, expected?: Type): Type {
    const env = this.env;
    if (expected?.is === 'choice') {
      const near = nearestWord(name.text, expected.options);
      const wrong = expected.machine
        ? say.unknownState(name.span, name.text, expected.machine, expected.options, near)
        : say.unknownChoice(name.span, name.text, expected.options, near);
      return this.env.wrong(wrong);
    }
    const self = context.self && env.kindNamed(context.self.type);
    const near = env.near(
      name.text,
      [...context.locals.values()].map((l) => l.name),
      self ? [...self.attributes, ...self.derives].map((a) => a.name) : [],
      self ? self.machines.map((m) => m.name) : [],
      [...env.parameters.values(), ...env.variables.values()].map((p) => p.name),
      [...env.derives.values(), ...env.fields.values()].map((f) => f.name),
      context.measuresAllowed ? [...env.measures.values()].map((m) => m.name) : [],
      CLOCK_READINGS.keys(),
    );
    const owners = [...env.kinds.values()].filter((kind) => memberOf(kind, name.key)).map((kind) => kind.name);
    if (env.kinds.has(name.key)) {
      const kind = env.kinds.get(name.key)!.name;
      return this.env.wrong(
        say.wrongType(name.span, 'A value', `the kind ${kind}`, {
          hint: `Ask for some of them: “count ${kind}”, “any ${kind} within ...”.`,
        }),
      );
    }
    return this.env.wrong(
      say.unknownName(
        name.span,
        name.text,
        near,
        isReserved(name.key) ? undefined : env.declareAt,
        owners.length
          ? `${owners.join(' and ')} ${owners.length > 1 ? 'have' : 'has'} it, but no one of that kind is named here.`
          : undefined,
      ),
    );
  }

  hasMember(agent: LocalSymbol, key: string): boolean {
    const kind = this.env.kindNamed(agent.type);
    return (
      kind !== undefined &&
      (memberOf(kind, key) !== undefined ||
        (Object.hasOwn(BUILT_INS, key) && kind.space !== undefined) ||
        (key === 'vehicle' && ridingsOf(this.env, kind).length > 0) ||
        (key === 'waiting' && this.env.takers.has(kind)) ||
        key === 'number')
    );
  }

  private member(expr: Ast.Expr, agent: LocalSymbol, name: Ast.Name, span: Span): Type {
    const env = this.env;
    const kind = env.kindNamed(agent.type);
    if (!kind) return UNKNOWN;
    const found = memberOf(kind, name.key);
    if (found) {
      env.stands(name, found);
      env.use(found);
      if (found.is === 'attribute') env.refs.set(expr, { is: 'attribute', kind, attribute: found, agent });
      else if (found.is === 'derive') env.refs.set(expr, { is: 'derive', kind, derive: found, agent });
      else env.refs.set(expr, { is: 'machine', kind, machine: found, agent });
      return found.type;
    }
    if (Object.hasOwn(BUILT_INS, name.key)) {
      const which = name.key as BuiltIn;
      env.refs.set(expr, { is: 'builtin', which, agent });
      if (!kind.space && which !== 'number') return this.env.wrong(say.noSpace(span, `“${name.text}”`));
      return BUILT_INS[which](kind.space);
    }
    if (name.key === 'vehicle') return vehicleOf(env, expr, kind, agent);
    if (name.key === 'waiting' && env.takers.has(kind)) {
      env.refs.set(expr, { is: 'waiting', kind, agent });
      return YESNO;
    }
    const members = [...kind.attributes, ...kind.derives, ...kind.machines].map((member) => member.name);
    const owners = [...env.kinds.values()].filter((other) => memberOf(other, name.key)).map((other) => other.name);
    return this.env.wrong(
      say.unknownAttribute(name.span, name.text, kind.name, nearestWord(name.text, members), owners),
    );
  }
}

function memberOf(kind: KindSymbol, key: string) {
  return (
    kind.attributes.find((attribute) => attribute.key === key) ??
    kind.derives.find((derive) => derive.key === key) ??
    kind.machines.find((machine) => machine.key === key)
  );
}

/** The paths, as text, that a condition makes sure of: `friend is not nobody and ...` where it holds, `friend is nobody or ...` where it does not. */
function madeSure(condition: Ast.Expr, holds: boolean): string[] {
  if (condition.is === 'brackets') return madeSure(condition.value, holds);
  if (condition.is === 'unary' && condition.op === 'not') return madeSure(condition.value, !holds);
  if (condition.is !== 'binary') return [];
  if (condition.op === (holds ? 'and' : 'or'))
    return [...madeSure(condition.left, holds), ...madeSure(condition.right, holds)];
  const isTest =
    condition.op === (holds ? 'is not' : 'is') && condition.right.is === 'nobody' && condition.left.is === 'path';
  return isTest ? [condition.left.names.map((name) => name.key).join('.')] : [];
}

export function withSure(context: Context, condition: Ast.Expr, holds: boolean): Context {
  const sure = madeSure(condition, holds);
  return sure.length === 0 ? context : { ...context, sure: new Set([...(context.sure ?? []), ...sure]) };
}
