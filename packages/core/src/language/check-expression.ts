import type { Span } from '../diagnostics.ts';
import type { BuiltIn, ClockReading, KindSymbol, LocalSymbol, MachineSymbol } from './checked.ts';
import type { Context, Environment } from './environment.ts';
import type { FunctionForm } from './functions.ts';
import { FUNCTIONS, SPECIAL_FUNCTIONS, writtenForm } from './functions.ts';
import * as say from './messages.ts';
import { nearestWord } from './near-names.ts';
import { constantOf, unitScale } from './scales.ts';
import type * as Ast from './syntax.ts';
import type { ChoiceType, Dimension, Type } from './types.ts';
import {
  ANGLE, combine, isPlain, LENGTH, number, PLACE, PLAIN, PLAIN_NUMBER, power, sameDimension, sayDimension, sayType, TIME, UNKNOWN, WHOLE_NUMBER, YESNO,
} from './types.ts';

const BUILT_INS: Record<BuiltIn, (space: Dimension) => Type> = {
  x: (space) => number(space),
  y: (space) => number(space),
  direction: () => number(ANGLE),
  number: () => WHOLE_NUMBER,
  place: () => PLACE,
};
const CLOCK_READINGS: ReadonlyMap<string, Type> = new Map<string, Type>([
  ['now', number(TIME)],
  ['step', number(TIME)],
  ['hour', PLAIN_NUMBER],
  ['weekday', WHOLE_NUMBER],
  ['month', WHOLE_NUMBER],
  ['year', WHOLE_NUMBER],
  ['date', { is: 'date' }],
]);
const CALENDAR_READINGS = new Set(['hour', 'weekday', 'month', 'year', 'date']);
const GATHERED_PLAIN = new Set(['geometric mean']);

/** Finds the type of every expression, what each name stands for, and what does not fit. */
export class ExpressionChecker {
  constructor(private readonly env: Environment) {}

  /** @param expected a type that the place suggests; the words of a choice are looked up in it first (D12) */
  check(expr: Ast.Expr, context: Context, expected?: Type): Type {
    const type = this.infer(expr, context, expected);
    this.env.types.set(expr, type);
    return type;
  }

  get spaceDimension(): Dimension {
    return this.env.scales.length ? LENGTH : PLAIN;
  }

  private infer(expr: Ast.Expr, context: Context, expected?: Type): Type {
    switch (expr.is) {
      case 'number':
        return this.literal(expr);
      case 'percent':
        return PLAIN_NUMBER;
      case 'time':
        return this.env.scales.time ? number(TIME) : this.wrong(say.stepUnitOnly(expr.span));
      case 'date':
        return { is: 'date' };
      case 'string':
        return { is: 'text' };
      case 'yesno':
        return YESNO;
      case 'brackets':
        return this.check(expr.value, context, expected);
      case 'with unit':
      case 'per':
        return this.scaled(expr, context);
      case 'unary':
        return this.unary(expr, context);
      case 'binary':
        return this.binary(expr, context);
      case 'one of':
        return this.oneOf(expr, context);
      case 'if':
        return this.conditional(expr, context, expected);
      case 'path':
        return this.path(expr, context, expected);
      case 'call':
        return this.call(expr, context, expected);
      case 'at':
        return this.fieldAt(expr, context);
      case 'point':
        return this.point(expr, context);
      case 'here':
        return context.asker ? this.needSpace(expr.span, '“here”') : this.wrong(say.noSelf(expr.span, '“here”'));
      case 'somewhere':
        this.drawing(expr.span, context);
        return this.needSpace(expr.span, '“somewhere”');
      case 'ask':
        return this.ask(expr, context);
      case 'pick':
        return this.wrong(say.pickerNeedsWith(expr.span), expr.query, context);
      case 'gather':
        return this.gather(expr, context);
      case 'time of':
      case 'first time':
      case 'ever':
      case 'always':
      case 'last of':
        return this.temporal(expr, context);
      case 'flow':
        return this.flow(expr, context);
      case 'day of year':
        this.env.refs.set(expr, { is: 'clock', which: 'day of year' });
        if (!this.env.hasCalendar) return this.wrong(say.wrongType(expr.span, 'A clock with a starting date', 'a model without one'));
        return WHOLE_NUMBER;
      case 'nobody':
      case 'nowhere':
        return this.wrong(say.notYet(expr.span, `“${expr.is}” as a value`));
      case 'wrong':
        return UNKNOWN;
    }
  }

  private wrong(diagnostic: Parameters<Environment['report']>[0], query?: Ast.Query, context?: Context): Type {
    if (query && context) this.query(query, context);
    this.env.report(diagnostic);
    return UNKNOWN;
  }

  private needSpace(span: Span, what: string): Type {
    return this.env.space ? PLACE : this.wrong(say.noSpace(span, what));
  }

  private literal(expr: Ast.ExprOf<'number'>): Type {
    const whole = Number.isInteger(expr.value);
    if (!expr.unit) return number(expr.value === 0 ? undefined : PLAIN, whole);
    const scale = unitScale(expr.unit.key, this.env.scales);
    return scale ? number(scale.dim) : this.wrong(say.stepUnitOnly(expr.unit.span));
  }

  private scaled(expr: Ast.ExprOf<'with unit'> | Ast.ExprOf<'per'>, context: Context): Type {
    const dim = this.numeric(expr.value, context);
    const scale = unitScale(expr.unit.key, this.env.scales);
    if (!scale) return this.wrong(say.stepUnitOnly(expr.unit.span));
    if (expr.is === 'per') return number(combine(dim ?? PLAIN, scale.dim, -1));
    if (dim && !isPlain(dim)) return this.wrong(say.wrongType(expr.value.span, 'A plain number', sayDimension(dim)));
    return number(scale.dim);
  }

  /** Checks that an expression is a number and gives its dimension (undefined for one that fits all). */
  numeric(expr: Ast.Expr, context: Context): Dimension | undefined {
    const type = this.check(expr, context);
    if (type.is === 'number') return type.dim;
    if (type.is !== 'unknown') this.env.report(say.wrongType(expr.span, 'A number', sayType(type)));
    return undefined;
  }

  yesNo(expr: Ast.Expr, context: Context): void {
    const type = this.check(expr, context, YESNO);
    if (type.is !== 'yesno' && type.is !== 'unknown') this.env.report(say.wrongType(expr.span, 'A condition (yes or no)', sayType(type)));
  }

  place(expr: Ast.Expr, context: Context): void {
    const type = this.check(expr, context);
    if (type.is === 'agent' || type.is === 'place' || type.is === 'unknown') return;
    this.env.report(say.wrongType(expr.span, 'A place or an agent', sayType(type)));
  }

  private unary(expr: Ast.ExprOf<'unary'>, context: Context): Type {
    if (expr.op === 'not') {
      this.yesNo(expr.value, context);
      return YESNO;
    }
    const type = this.check(expr.value, context);
    if (type.is === 'number' || type.is === 'unknown') return type;
    return this.wrong(say.wrongType(expr.value.span, 'A number', sayType(type)));
  }

  private binary(expr: Ast.ExprOf<'binary'>, context: Context): Type {
    switch (expr.op) {
      case 'and':
      case 'or':
        this.yesNo(expr.left, context);
        this.yesNo(expr.right, context);
        return YESNO;
      case 'is':
      case 'is not':
        return this.comparison(expr, this.check(expr.left, context), context);
      case '<':
      case '<=':
      case '>':
      case '>=':
        return this.ordering(expr, context);
      default:
        return this.arithmetic(expr, context);
    }
  }

  /** Numbers of one dimension have an order, and so have dates. */
  private ordering(expr: Ast.ExprOf<'binary'>, context: Context): Type {
    const left = this.check(expr.left, context);
    if (left.is === 'date') {
      const right = this.check(expr.right, context);
      if (right.is !== 'date' && right.is !== 'unknown') this.env.report(say.notComparable(expr.span, 'A date', sayType(right)));
      return YESNO;
    }
    if (left.is !== 'number' && left.is !== 'unknown') this.env.report(say.wrongType(expr.left.span, 'A number', sayType(left)));
    this.agree(expr, left.is === 'number' ? left.dim : undefined, this.numeric(expr.right, context));
    return YESNO;
  }

  private comparison(expr: Ast.ExprOf<'binary'>, left: Type, context: Context): Type {
    const right = this.check(expr.right, context, left);
    if (left.is === 'unknown' || right.is === 'unknown') return YESNO;
    if (left.is === 'number' && right.is === 'number') this.agree(expr, left.dim, right.dim);
    else if (left.is === 'choice' ? left !== right : left.is !== right.is) {
      this.env.report(say.notComparable(expr.span, capital(sayType(left)), sayType(right)));
    }
    return YESNO;
  }

  /** The common dimension of two; after a mismatch one that fits everything, so that one mistake is said once. */
  private agree(expr: Ast.Expr, left: Dimension | undefined, right: Dimension | undefined): Dimension | undefined {
    if (!left || !right || sameDimension(left, right)) return left ?? right;
    this.env.report(say.wrongDimension(expr.span, sayDimension(left), sayDimension(right)));
    return undefined;
  }

  private arithmetic(expr: Ast.ExprOf<'binary'>, context: Context): Type {
    const left = this.numeric(expr.left, context);
    const right = this.numeric(expr.right, context);
    const whole = this.isWhole(expr.left) && this.isWhole(expr.right);
    switch (expr.op) {
      case '+':
      case '-':
        return number(this.agree(expr, left, right), whole);
      case '*':
        return number(combine(left ?? PLAIN, right ?? PLAIN, 1), whole);
      case '/':
        return number(combine(left ?? PLAIN, right ?? PLAIN, -1));
      default: {
        if (right && !isPlain(right)) return this.wrong(say.wrongType(expr.right.span, 'A plain exponent', sayDimension(right)));
        if (!left || isPlain(left)) return number(PLAIN, false);
        const exponent = constantOf(expr.right, this.env.scales);
        return exponent ? number(power(left, exponent.value)) : this.wrong(say.notConstant(expr.right.span));
      }
    }
  }

  isWhole(expr: Ast.Expr): boolean {
    const type = this.env.types.get(expr);
    return type?.is === 'number' && type.whole;
  }

  private oneOf(expr: Ast.ExprOf<'one of'>, context: Context): Type {
    const left = this.check(expr.left, context);
    for (const option of expr.options) {
      const type = this.check(option, context, left);
      const fits = type.is === 'unknown' || left.is === 'unknown' || (left.is === 'choice' ? left === type : left.is === type.is);
      if (!fits) this.env.report(say.notComparable(option.span, capital(sayType(left)), sayType(type)));
      else if (left.is === 'number' && type.is === 'number') this.agree(option, left.dim, type.dim);
    }
    return YESNO;
  }

  private conditional(expr: Ast.ExprOf<'if'>, context: Context, expected?: Type): Type {
    this.yesNo(expr.condition, context);
    const then = this.check(expr.then, context, expected);
    const otherwise = this.check(expr.else, context, expected ?? then);
    if (then.is === 'unknown' || otherwise.is === 'unknown') return UNKNOWN;
    if (then.is === 'number' && otherwise.is === 'number') {
      return number(this.agree(expr, then.dim, otherwise.dim), then.whole && otherwise.whole);
    }
    const fits = then.is === 'choice' ? then === otherwise : then.is === otherwise.is;
    return fits ? then : this.wrong(say.notComparable(expr.span, capital(sayType(then)), sayType(otherwise)));
  }

  // Names

  private path(expr: Ast.ExprOf<'path'>, context: Context, expected?: Type): Type {
    const [first, second, third] = expr.names;
    if (third) return this.wrong(say.notAgent(second!.span, second!.text));
    if (second) {
      const agent = this.agentNamed(first!, context);
      return agent ? this.member(expr, agent, second, expr.span) : UNKNOWN;
    }
    return this.bareName(expr, first!, context, expected);
  }

  private optionOf(name: Ast.Name, expected: Type | undefined): number {
    return expected?.is === 'choice' ? expected.options.findIndex((option) => option.toLowerCase() === name.key) : -1;
  }

  private bareName(expr: Ast.Expr, name: Ast.Name, context: Context, expected?: Type): Type {
    const env = this.env;
    const option = this.optionOf(name, expected);
    if (option >= 0 && expected?.is === 'choice') {
      env.refs.set(expr, { is: 'option', option });
      env.spell(name, expected.options[option]!);
      return expected;
    }
    const local = name.key === 'self' ? context.self : name.key === 'it' ? context.it : context.locals.get(name.key);
    if (local) {
      env.refs.set(expr, { is: 'local', local });
      env.use(local);
      if (name.key !== 'self' && name.key !== 'it') env.spell(name, local.name);
      return local.type;
    }
    if (name.key === 'self' || name.key === 'it') return this.wrong(say.noSelf(name.span, `“${name.text}”`));
    if (context.self && this.hasMember(context.self, name.key)) return this.member(expr, context.self, name, expr.span);
    return this.globalName(expr, name, context, expected);
  }

  private globalName(expr: Ast.Expr, name: Ast.Name, context: Context, expected?: Type): Type {
    const env = this.env;
    const parameter = env.parameters.get(name.key);
    if (parameter) {
      env.refs.set(expr, { is: 'parameter', parameter });
      env.use(parameter);
      env.spell(name, parameter.name);
      return parameter.type;
    }
    const variable = env.variables.get(name.key);
    if (variable) {
      env.refs.set(expr, { is: 'variable', variable });
      env.use(variable);
      env.spell(name, variable.name);
      return variable.type;
    }
    const field = env.fields.get(name.key);
    if (field) {
      env.refs.set(expr, { is: 'field', field });
      env.use(field);
      env.spell(name, field.name);
      return context.asker ? PLAIN_NUMBER : this.wrong(say.fieldNeedsPlace(name.span, name.text));
    }
    const measure = env.measures.get(name.key);
    if (measure) {
      env.refs.set(expr, { is: 'measure', measure });
      env.use(measure);
      env.spell(name, measure.name);
      return context.measuresAllowed ? measure.type : this.wrong(say.measureInRule(name.span, name.text));
    }
    const reading = CLOCK_READINGS.get(name.key);
    if (reading) {
      env.refs.set(expr, { is: 'clock', which: name.key as ClockReading });
      if (CALENDAR_READINGS.has(name.key) && name.key !== 'hour' && !env.hasCalendar) {
        return this.wrong(say.wrongType(name.span, 'A clock with a starting date', 'a model without one'));
      }
      return reading;
    }
    return this.unknown(name, context, expected);
  }

  private unknown(name: Ast.Name, context: Context, expected?: Type): Type {
    const env = this.env;
    if (expected?.is === 'choice') {
      const near = nearestWord(name.text, expected.options);
      const wrong = expected.machine ? say.unknownState(name.span, name.text, expected.machine, expected.options, near) : say.unknownChoice(name.span, name.text, expected.options, near);
      return this.wrong(wrong);
    }
    const self = context.self?.type.is === 'agent' ? env.kinds.get(context.self.type.kind.toLowerCase()) : undefined;
    const near = env.near(name.text, [...context.locals.values()].map((l) => l.name), self ? [...self.attributes, ...self.derives].map((a) => a.name) : [],
      self ? self.machines.map((m) => m.name) : [], [...env.parameters.values(), ...env.variables.values()].map((p) => p.name), [...env.fields.values()].map((f) => f.name),
      context.measuresAllowed ? [...env.measures.values()].map((m) => m.name) : [], CLOCK_READINGS.keys());
    const owners = [...env.kinds.values()].filter((kind) => memberOf(kind, name.key)).map((kind) => kind.name);
    if (env.kinds.has(name.key)) {
      const kind = env.kinds.get(name.key)!.name;
      return this.wrong(say.wrongType(name.span, 'A value', `the kind ${kind}`, { hint: `Ask for some of them: “count ${kind}”, “any ${kind} within ...”.` }));
    }
    return this.wrong(say.unknownName(name.span, name.text, near, env.declareAt, owners.length ? `${owners.join(' and ')} ${owners.length > 1 ? 'have' : 'has'} it, but no one of that kind is named here.` : undefined));
  }

  /** The agent that a name at the start of a path stands for. */
  private agentNamed(name: Ast.Name, context: Context): LocalSymbol | undefined {
    const local = name.key === 'self' ? context.self : name.key === 'it' ? context.it : context.locals.get(name.key);
    if (!local) {
      if (name.key === 'self' || name.key === 'it') this.env.report(say.noSelf(name.span, `“${name.text}”`));
      else if (this.env.parameters.has(name.key) || this.env.variables.has(name.key) || this.env.fields.has(name.key)) this.env.report(say.notAgent(name.span, name.text));
      else this.unknown(name, context);
      return undefined;
    }
    this.env.use(local);
    if (name.key !== 'self' && name.key !== 'it') this.env.spell(name, local.name);
    if (local.type.is === 'agent') return local;
    if (local.type.is !== 'unknown') this.env.report(say.notAgent(name.span, name.text));
    return undefined;
  }

  private hasMember(agent: LocalSymbol, key: string): boolean {
    const kind = agent.type.is === 'agent' ? this.env.kinds.get(agent.type.kind.toLowerCase()) : undefined;
    return kind !== undefined && (memberOf(kind, key) !== undefined || (Object.hasOwn(BUILT_INS, key) && this.env.space !== undefined) || key === 'number');
  }

  private member(expr: Ast.Expr, agent: LocalSymbol, name: Ast.Name, span: Span): Type {
    const env = this.env;
    const kind = agent.type.is === 'agent' ? env.kinds.get(agent.type.kind.toLowerCase()) : undefined;
    if (!kind) return UNKNOWN;
    const found = memberOf(kind, name.key);
    if (found) {
      env.spell(name, found.name);
      env.use(found);
      if (found.is === 'attribute') env.refs.set(expr, { is: 'attribute', kind, attribute: found, agent });
      else if (found.is === 'derive') env.refs.set(expr, { is: 'derive', kind, derive: found, agent });
      else env.refs.set(expr, { is: 'machine', kind, machine: found, agent });
      return found.type;
    }
    if (Object.hasOwn(BUILT_INS, name.key)) {
      const which = name.key as BuiltIn;
      env.refs.set(expr, { is: 'builtin', which, agent });
      if (!env.space && which !== 'number') return this.wrong(say.noSpace(span, `“${name.text}”`));
      return BUILT_INS[which](this.spaceDimension);
    }
    const members = [...kind.attributes, ...kind.derives, ...kind.machines].map((member) => member.name);
    const owners = [...env.kinds.values()].filter((other) => memberOf(other, name.key)).map((other) => other.name);
    return this.wrong(say.unknownAttribute(name.span, name.text, kind.name, nearestWord(name.text, members), owners));
  }

  // Calls

  private drawing(span: Span, context: Context): void {
    if (context.noDraws) this.env.report(say.drawNotAllowed(span, context.noDraws));
  }

  private call(expr: Ast.ExprOf<'call'>, context: Context, expected?: Type): Type {
    const key = expr.name.key;
    if (key === 'pick') return this.pickCall(expr, context, expected);
    if (key === 'distance' || key === 'bearing') return this.distanceCall(expr, context);
    if (key === 'ahead') return this.aheadCall(expr, context);
    const known = FUNCTIONS.get(key);
    if (!known) {
      for (const arg of expr.args) this.check(arg.value, context);
      return this.wrong(say.unknownFunction(expr.name.span, expr.name.text, nearestWord(key, [...FUNCTIONS.keys(), ...SPECIAL_FUNCTIONS])));
    }
    if (known.draws) this.drawing(expr.span, context);
    const args = this.orderedArguments(expr, known);
    if (!args) {
      for (const arg of expr.args) this.check(arg.value, context);
      return this.wrong(say.argumentCount(expr.span, expr.name.text, writtenForm(key, known)));
    }
    let same: Dimension | undefined;
    let whole = true;
    args.forEach((arg, i) => {
      const rule = known.args[Math.min(i, known.args.length - 1)]!;
      const dim = this.numeric(arg, context);
      whole &&= this.isWhole(arg);
      if (rule === 'same') {
        if (dim && same && !sameDimension(dim, same)) this.env.report(say.wrongDimension(arg.span, sayDimension(same), sayDimension(dim)));
        same ??= dim;
      } else if (rule === 'angle') this.demandAngle(arg, dim);
      else if (dim && !isPlain(dim)) this.env.report(say.wrongType(arg.span, 'A plain number', sayDimension(dim)));
      else if (rule === 'whole' && !this.isWhole(arg)) this.env.report(say.needsWhole(arg.span, this.env.textOf(arg.span)));
    });
    if (key === 'chance') this.literalChance(args[0]!);
    return known.result(same, whole);
  }

  /** Arguments in the order of the function's form, or undefined if they do not fit it. */
  orderedArguments(expr: Ast.ExprOf<'call'>, known: FunctionForm): Ast.Expr[] | undefined {
    const slots: (Ast.Expr | undefined)[] = [];
    for (const [i, arg] of expr.args.entries()) {
      if (arg.share !== undefined) return undefined;
      const slot = arg.name ? known.names.indexOf(arg.name.key) : i;
      if (slot < 0 || slots[slot] || (slot >= known.names.length && !known.repeatsLast)) return undefined;
      slots[slot] = arg.value;
    }
    const full = slots.filter((arg) => arg !== undefined);
    return full.length === slots.length && full.length >= known.names.length ? full : undefined;
  }

  private pickCall(expr: Ast.ExprOf<'call'>, context: Context, expected?: Type): Type {
    this.drawing(expr.span, context);
    if (expr.args.length === 0 || expr.args.some((arg) => arg.name)) return this.wrong(say.argumentCount(expr.span, 'pick', '“pick(70 % brown, rest grey)” or “pick(1, 2, 3)”'));
    const shared = expr.args.filter((arg) => arg.share !== undefined).length;
    if (shared !== 0 && shared !== expr.args.length) return this.wrong(say.argumentCount(expr.span, 'pick', 'with a share before each thing, or before none'));
    for (const arg of expr.args) if (arg.share && arg.share !== 'rest') this.chance(arg.share, context);
    const choice = expected?.is === 'choice' ? expected : this.newChoice(expr, context);
    let type: Type | undefined;
    let whole = true;
    for (const arg of expr.args) {
      const found = this.check(arg.value, context, choice);
      whole &&= this.isWhole(arg.value);
      if (type?.is === 'number' && found.is === 'number') type = number(this.agree(arg.value, type.dim, found.dim), whole);
      else if (type && found.is !== 'unknown' && (type.is === 'choice' ? type !== found : type.is !== found.is)) {
        this.env.report(say.notComparable(arg.span, capital(sayType(type)), sayType(found)));
      } else type = found;
    }
    return type ?? UNKNOWN;
  }

  /** `pick(female, male)` of words that nobody else has declared makes a choice of them. */
  private newChoice(expr: Ast.ExprOf<'call'>, context: Context): ChoiceType | undefined {
    const known = this.env.types.get(expr);
    if (known?.is === 'choice') return known;
    const words: string[] = [];
    for (const { value } of expr.args) {
      if (value.is !== 'path' || value.names.length !== 1) return undefined;
      const { key, text } = value.names[0]!;
      if (context.locals.has(key) || this.env.parameters.has(key) || this.env.variables.has(key) || this.env.fields.has(key)) return undefined;
      if (context.self && this.hasMember(context.self, key)) return undefined;
      words.push(text);
    }
    return { is: 'choice', options: words };
  }

  private distanceCall(expr: Ast.ExprOf<'call'>, context: Context): Type {
    if (!this.env.space) return this.wrong(say.noSpace(expr.span, `“${expr.name.text}”`));
    if (expr.args.length < 1 || expr.args.length > 2) return this.wrong(say.argumentCount(expr.span, expr.name.text, `“${expr.name.key}(a, b)”, or with one place from here`));
    if (expr.args.length === 1 && !context.asker) return this.wrong(say.noSelf(expr.span, `“${expr.name.text}” of one place`));
    for (const arg of expr.args) this.place(arg.value, context);
    return number(expr.name.key === 'distance' ? this.spaceDimension : ANGLE);
  }

  private aheadCall(expr: Ast.ExprOf<'call'>, context: Context): Type {
    if (!this.env.space) return this.wrong(say.noSpace(expr.span, '“ahead”'));
    if (!context.asker) return this.wrong(say.noSelf(expr.span, '“ahead”'));
    if (expr.args.length < 1 || expr.args.length > 2) return this.wrong(say.argumentCount(expr.span, 'ahead', '“ahead(3 m)” or “ahead(3 m, 30 deg)”'));
    this.distance(expr.args[0]!.value, context);
    if (expr.args[1]) this.angle(expr.args[1].value, context);
    return PLACE;
  }

  private fieldAt(expr: Ast.ExprOf<'at'>, context: Context): Type {
    const field = this.env.fields.get(expr.field.key);
    const measure = this.env.measures.get(expr.field.key);
    if (!field && measure && context.summary) {
      this.env.refs.set(expr, { is: 'measure', measure });
      this.env.use(measure);
      this.env.spell(expr.field, measure.name);
      this.time(expr.place, { ...context, measuresAllowed: false });
      return measure.type;
    }
    if (!field) {
      this.check(expr.place, context);
      return this.wrong(say.unknownName(expr.field.span, expr.field.text, this.env.near(expr.field.text, [...this.env.fields.values()].map((f) => f.name)), undefined));
    }
    this.env.refs.set(expr, { is: 'field', field });
    this.env.use(field);
    this.env.spell(expr.field, field.name);
    this.place(expr.place, context);
    return PLAIN_NUMBER;
  }

  private point(expr: Ast.ExprOf<'point'>, context: Context): Type {
    if (!this.env.space) return this.wrong(say.noSpace(expr.span, 'A place'));
    this.distance(expr.x, context);
    this.distance(expr.y, context);
    return PLACE;
  }

  // Queries

  /** Checks a query and gives the kind it asks for. */
  query(query: Ast.Query, context: Context): KindSymbol | undefined {
    const env = this.env;
    if (query.head.is === 'cells') {
      env.report(say.notYet(query.head.span, 'asking for cells'));
      return undefined;
    }
    const name = query.head.name;
    const kind = env.kinds.get(name.key);
    if (!kind) {
      env.report(say.unknownKind(name.span, name.text, env.near(name.text, [...env.kinds.values()].map((k) => k.name))));
      return undefined;
    }
    env.spell(name, kind.name);
    env.use(kind);
    env.kindOf.set(query, kind);
    const candidate: LocalSymbol = env.locals.get(query) ?? { is: 'local', name: query.alias?.text ?? 'it', span: query.span, type: kind.self.type };
    env.locals.set(query, candidate);
    for (const reach of query.reaches) this.reach(reach, context);
    if (query.reaches.length > 1) env.report(say.notYet(query.reaches[1]!.span, 'a second reach'));
    const inner = this.candidateContext(query, candidate, context);
    if (query.where) this.where(query, query.where, inner);
    if (query.weight) env.report(say.notYet(query.weight.span, '“weighted by”'));
    return kind;
  }

  private candidateContext(query: Ast.Query, candidate: LocalSymbol, context: Context): Context {
    const locals = query.alias ? new Map(context.locals).set(query.alias.key, candidate) : context.locals;
    return { ...context, it: candidate, locals };
  }

  reach(reach: Ast.Reach, context: Context): void {
    if (!this.env.space) {
      this.env.report(say.noSpace(reach.span, `“${this.env.textOf(reach.span)}”`));
      return;
    }
    if (reach.is === 'square' || reach.is === 'cross') this.env.report(say.notYet(reach.span, `“in a ${reach.is} of”`));
    if (reach.is === 'next to' && this.env.space.form !== 'grid') this.env.report(say.wrongType(reach.span, 'A grid', 'a plane', { hint: 'On a plane say “within” a distance.' }));
    if (reach.distance) this.distance(reach.distance, context);
    if (reach.of) this.place(reach.of, context);
    else if (!context.asker) this.env.report(say.noSelf(reach.span, 'A query with a reach'));
  }

  private where(query: Ast.Query, where: Ast.Expr, inner: Context): void {
    this.yesNo(where, { ...inner, noDraws: 'A condition of a query' });
    const alias = query.alias?.key;
    if (!looksAtIt(where, alias)) {
      this.env.report(say.whereWithoutIt(where.span));
      return;
    }
    if (where.is !== 'binary' || (where.op !== 'and' && where.op !== 'or')) return;
    for (const [part, other] of [[where.right, where.left], [where.left, where.right]] as const) {
      if (looksAtIt(part, alias)) continue;
      // The word that asks (`any`, `count`, `nearest` ...) goes into the brackets with its query.
      const asking = /(?:count|any|share\s+of|nearest|random|first)\s+$/i.exec(this.env.text.slice(0, query.span.start));
      const start = query.span.start - (asking?.[0].length ?? 0);
      const head = this.env.textOf({ start, end: where.span.start });
      const text = { before: head + this.env.textOf(other.span), part: this.env.textOf(part.span), join: where.op };
      this.env.report(say.wherePartWithoutIt(part.span, { start, end: query.span.end }, text, `${head}(${this.env.textOf(where.span)})`));
    }
  }

  private ask(expr: Ast.ExprOf<'ask'>, context: Context): Type {
    this.query(expr.query, context);
    if (expr.ask === 'share' && !expr.query.where) return this.wrong(say.argumentCount(expr.span, 'share of', '“share of Kind where condition”'));
    return expr.ask === 'count' ? WHOLE_NUMBER : expr.ask === 'any' ? YESNO : PLAIN_NUMBER;
  }

  /** A picker, which may give nobody: only `with`, `move to`, `turn to`, `remove` take one. Gives the type of the picked. */
  picker(expr: Ast.ExprOf<'pick'>, context: Context): Type {
    const kind = this.query(expr.query, context);
    const candidate = this.env.locals.get(expr.query);
    if (expr.how === 'nearest' && !this.env.space) return this.wrong(say.noSpace(expr.span, '“nearest”'));
    if (expr.how === 'nearest' && !context.asker && !expr.query.reaches[0]?.of) return this.wrong(say.noSelf(expr.span, '“nearest”'));
    if (expr.how !== 'first') this.drawing(expr.span, context);
    if (expr.by && candidate) {
      this.numeric(expr.by, { ...this.candidateContext(expr.query, candidate, context), noDraws: '“with most” and “with least”' });
      if (!looksAtIt(expr.by, expr.query.alias?.key)) this.env.report(say.overWithoutIt(expr.by.span));
    }
    const type: Type = kind ? kind.self.type : UNKNOWN;
    this.env.types.set(expr, type);
    return type;
  }

  private gather(expr: Ast.ExprOf<'gather'>, context: Context): Type {
    if (expr.level) this.chance(expr.level, context);
    if (GATHERED_PLAIN.has(expr.fn)) return this.wrong(say.notYet(expr.span, `“${expr.fn}”`));
    if (expr.over) return this.gatherOver(expr, expr.over, context);
    const field = expr.of.is === 'path' && expr.of.names.length === 1 ? this.env.fields.get(expr.of.names[0]!.key) : undefined;
    if (field && !expr.last) {
      const name = (expr.of as Ast.ExprOf<'path'>).names[0]!;
      this.env.refs.set(expr.of, { is: 'field', field });
      this.env.use(field);
      this.env.spell(name, field.name);
      return PLAIN_NUMBER;
    }
    if (!context.summary) {
      this.check(expr.of, { ...context, measuresAllowed: true });
      return this.wrong(say.argumentCount(expr.span, `${expr.fn} of`, `“${expr.fn} of ... over Kind”, or of a field`));
    }
    if (expr.last) this.time(expr.last, { ...context, measuresAllowed: false });
    return number(this.numeric(expr.of, context));
  }

  private gatherOver(expr: Ast.ExprOf<'gather'>, over: Ast.Query, context: Context): Type {
    const kind = this.query(over, context);
    const candidate = this.env.locals.get(over);
    if (!kind || !candidate) return UNKNOWN;
    const inner = { ...this.candidateContext(over, candidate, context), noDraws: 'What is gathered' };
    const dim = this.numeric(expr.of, inner);
    if (!looksAtIt(expr.of, over.alias?.key)) this.env.report(say.overWithoutIt(expr.of.span));
    return number(dim, this.isWhole(expr.of) && ['sum', 'min', 'max'].includes(expr.fn));
  }

  private temporal(expr: Extract<Ast.Expr, { of: Ast.Expr }>, context: Context): Type {
    if (!context.summary) return this.wrong(say.wrongType(expr.span, 'A value at this moment', 'a question about the whole run', { hint: 'Such questions stand in a “summary”.' }));
    const inner = { ...context };
    if (expr.is === 'time of') {
      this.numeric(expr.of, inner);
      return number(TIME);
    }
    if (expr.is === 'last of') return this.check(expr.of, inner);
    this.yesNo(expr.of, inner);
    return expr.is === 'first time' ? number(TIME) : YESNO;
  }

  private flow(expr: Ast.ExprOf<'flow'>, context: Context): Type {
    if (!context.measuresAllowed) return this.wrong(say.drawNotAllowed(expr.span, 'A rule'));
    const names = (expr.path as Ast.ExprOf<'path'>).names;
    const wanted = names[names.length - 1]!;
    const hits: { kind: KindSymbol; machine: MachineSymbol; state: number }[] = [];
    for (const kind of this.env.kinds.values()) {
      for (const machine of kind.machines) {
        if (names.length > 1 && names[0]!.key !== machine.key && names[0]!.key !== kind.key) continue;
        const state = machine.states.findIndex((s) => s.key === wanted.key);
        if (state >= 0) hits.push({ kind, machine, state });
      }
    }
    if (hits.length === 0) return this.wrong(say.unknownChoice(wanted.span, wanted.text, [...this.env.kinds.values()].flatMap((k) => k.machines.flatMap((m) => m.states.map((s) => s.name))), undefined));
    if (hits.length > 1) return this.wrong(say.ambiguousRule(wanted.span, wanted.text, hits.map((hit) => `${hit.machine.name}.${wanted.text}`)));
    const hit = hits[0]!;
    this.env.refs.set(expr, { is: 'flow', ...hit });
    this.env.spell(wanted, hit.machine.states[hit.state]!.name);
    return WHOLE_NUMBER;
  }

  // What a place demands (T4)

  time(expr: Ast.Expr, context: Context): void {
    this.demand(expr, this.numeric(expr, context), TIME, 'A length of time', say.timeWithoutUnit);
  }

  rate(expr: Ast.Expr, context: Context): void {
    this.demand(expr, this.numeric(expr, context), combine(PLAIN, TIME, -1), 'A rate per time', say.rateWithoutTime);
    const value = constantOf(expr, this.env.scales);
    if (value?.value === 0) this.env.report(say.certainChance(expr.span));
  }

  angle(expr: Ast.Expr, context: Context): void {
    this.demandAngle(expr, this.numeric(expr, context));
  }

  private demandAngle(expr: Ast.Expr, dim: Dimension | undefined): void {
    this.demand(expr, dim, ANGLE, 'An angle', say.angleWithoutUnit);
  }

  distance(expr: Ast.Expr, context: Context): void {
    const unit = this.env.scales.length?.label ?? '';
    this.demand(expr, this.numeric(expr, context), this.spaceDimension, unit ? 'A length' : 'A plain number', (span, text) =>
      unit ? say.lengthWithoutUnit(span, text, unit) : say.wrongType(span, 'A plain number', 'a number with a unit'));
  }

  private demand(expr: Ast.Expr, dim: Dimension | undefined, wanted: Dimension, words: string, withoutUnit: (span: Span, text: string) => ReturnType<typeof say.timeWithoutUnit>): void {
    if (!dim || sameDimension(dim, wanted)) return;
    if (isPlain(dim)) this.env.report(withoutUnit(expr.span, this.env.textOf(expr.span)));
    else this.env.report(say.wrongType(expr.span, words, sayDimension(dim)));
  }

  chance(expr: Ast.Expr, context: Context): void {
    const dim = this.numeric(expr, context);
    if (dim && !isPlain(dim)) this.env.report(say.wrongType(expr.span, 'A chance, a plain number from 0 to 1,', sayDimension(dim)));
    this.literalChance(expr);
  }

  private literalChance(expr: Ast.Expr): void {
    const constant = constantOf(expr, this.env.scales);
    if (constant && (constant.value < 0 || constant.value > 1)) {
      const text = this.env.textOf(expr.span);
      this.env.report(say.chanceOutside(expr.span, text, expr.is === 'number' && expr.value <= 100));
    }
    const ref = this.env.refs.get(expr);
    if (ref?.is === 'parameter' && ref.parameter.type.is === 'number') {
      const { min, max, name } = ref.parameter;
      if ((min !== undefined && min < 0) || (max !== undefined && max > 1)) this.env.report(say.chanceBounds(expr.span, name));
    }
  }

  /** A share a step, or a rate per time that gives one (S26). */
  shareOrRate(expr: Ast.Expr, context: Context): void {
    const dim = this.numeric(expr, context);
    if (dim && !isPlain(dim) && !sameDimension(dim, combine(PLAIN, TIME, -1))) this.env.report(say.wrongType(expr.span, 'A share, or a rate per time,', sayDimension(dim)));
    else if (!dim || isPlain(dim)) this.literalChance(expr);
  }

  whole(expr: Ast.Expr, context: Context): void {
    const dim = this.numeric(expr, context);
    if (dim && !isPlain(dim)) this.env.report(say.wrongType(expr.span, 'A whole number', sayDimension(dim)));
    else if (!this.isWhole(expr) && this.env.types.get(expr)?.is === 'number') this.env.report(say.needsWhole(expr.span, this.env.textOf(expr.span)));
  }
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

export function memberOf(kind: KindSymbol, key: string) {
  return kind.attributes.find((attribute) => attribute.key === key) ?? kind.derives.find((derive) => derive.key === key) ?? kind.machines.find((machine) => machine.key === key);
}

/** Whether an expression reads the candidate, as `it` or under its name; an inner query's `it` is its own. */
function looksAtIt(expr: Ast.Expr, alias: string | undefined): boolean {
  const looks = (inner: Ast.Expr | undefined): boolean => inner !== undefined && looksAtIt(inner, alias);
  const queryLooks = (query: Ast.Query): boolean => query.reaches.some((reach) => looks(reach.of) || looks(reach.distance)) || (alias !== undefined && looks(query.where));
  switch (expr.is) {
    case 'path':
      return expr.names[0]!.key === 'it' || (alias !== undefined && expr.names[0]!.key === alias);
    case 'brackets':
    case 'with unit':
    case 'per':
    case 'unary':
      return looks(expr.value);
    case 'binary':
      return looks(expr.left) || looks(expr.right);
    case 'one of':
      return looks(expr.left) || expr.options.some(looks);
    case 'if':
      return looks(expr.condition) || looks(expr.then) || looks(expr.else);
    case 'call':
      return expr.args.some((arg) => looks(arg.value));
    case 'at':
      return looks(expr.place);
    case 'point':
      return looks(expr.x) || looks(expr.y);
    case 'ask':
      return queryLooks(expr.query);
    case 'gather':
      return expr.over ? queryLooks(expr.over) : looks(expr.of);
    default:
      return false;
  }
}
