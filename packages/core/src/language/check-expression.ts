import { formOf } from '../forms/forms.ts';
import type { Span } from '../diagnostics.ts';
import { CallChecker } from './check-calls.ts';
import { NameChecker, withSure } from './check-names.ts';
import { QueryChecker } from './check-queries.ts';
import { checkWays, placeNamed } from './check-maps.ts';
import type { KindSymbol, LocalSymbol, SpaceSymbol } from './checked.ts';
import { checkLinesTaken } from './check-lines.ts';
import { checkSeats } from './check-riding.ts';
import type { Context, Environment } from './environment.ts';
import * as say from './meaning-messages.ts';
import { constantOf, unitScale } from './scales.ts';
import type * as Ast from './syntax.ts';
import type { Dimension, Type } from './types.ts';
import {
  ANGLE,
  combine,
  isPlain,
  number,
  PER_TIME,
  placeOn,
  PLAIN,
  PLAIN_NUMBER,
  power,
  sameDimension,
  sayDimension,
  sayType,
  TIME,
  UNKNOWN,
  WHOLE_NUMBER,
  YESNO,
} from './types.ts';

/** Finds the type of every expression, what each name stands for, and what does not fit. */
export class ExpressionChecker {
  readonly names: NameChecker;
  readonly calls: CallChecker;
  readonly queries: QueryChecker;

  constructor(private readonly env: Environment) {
    this.names = new NameChecker(env, this);
    this.calls = new CallChecker(env, this);
    this.queries = new QueryChecker(env, this);
  }

  /**
   * @param expected a type that the place suggests; the words of a choice are looked up in it first (D12)
   * @param takesGroup whether a state with states inside may stand here: where it is compared with, or entered
   */
  check(expr: Ast.Expr, context: Context, expected?: Type, takesGroup = false): Type {
    this.env.progress.at = expr.span;
    const type = this.infer(expr, context, expected);
    const ref = this.env.refs.get(expr);
    if (ref?.is === 'group' && !takesGroup)
      this.env.report(
        say.groupIsNoValue(
          expr.span,
          ref.group.name,
          ref.group.members.map((member) => (type.is === 'choice' ? type.options[member]! : '')),
        ),
      );
    this.env.types.set(expr, type);
    return type;
  }

  private infer(expr: Ast.Expr, context: Context, expected?: Type): Type {
    switch (expr.is) {
      case 'number':
        return this.literal(expr);
      case 'percent':
        return PLAIN_NUMBER;
      case 'time':
        // A time of day, where it is held against the hour; else how long after midnight it is.
        if (expected?.is === 'number' && expected.reads === 'hour') return PLAIN_NUMBER;
        return this.env.scales.time ? number(TIME) : this.env.wrong(say.stepUnitOnly(expr.span));
      case 'date':
        return { is: 'date' };
      case 'string':
        return this.env.wrong(say.textAsValue(expr.span));
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
        return this.names.path(expr, context, expected);
      case 'call':
        return this.calls.call(expr, context, expected);
      case 'at':
        return this.fieldAt(expr, context);
      case 'point':
        return this.point(expr, context);
      case 'here':
        return context.asker
          ? this.needSpace(expr.span, '“here”', this.env.spaceOfType(context.asker.type))
          : this.env.wrong(say.noSelf(expr.span, '“here”'));
      case 'somewhere':
        this.drawing(expr.span, context);
        return this.somewhere(expr, context);
      case 'named place':
        return this.namedPlace(expr, context);
      case 'way to':
        return this.wayTo(expr, context);
      case 'seats': {
        const type = this.check(expr.of, context);
        checkSeats(this.env, expr, type, context);
        return expr.which === 'riders' ? WHOLE_NUMBER : PLAIN_NUMBER;
      }
      case 'ask':
        return this.queries.ask(expr, context);
      case 'pick':
        return this.maybe(this.queries.picker(expr, context));
      case 'gather':
        return this.queries.gather(expr, context);
      case 'time of':
      case 'first time':
      case 'ever':
      case 'always':
      case 'share of steps':
      case 'last of':
      case 'period':
      case 'growth rate':
      case 'spells':
      case 'mean spell':
      case 'longest spell':
      case 'mean peak':
        return this.queries.temporal(expr, context);
      case 'flow':
        return this.queries.flow(expr, context);
      case 'day of year':
        this.env.refs.set(expr, { is: 'clock', which: 'day of year' });
        if (!this.env.hasCalendar)
          return this.env.wrong(say.wrongType(expr.span, 'A clock with a starting date', 'a model without one'));
        return WHOLE_NUMBER;
      case 'in zone': {
        const zone = this.queries.zone(expr.zone);
        if (zone) this.env.zoneOf.set(expr, zone);
        this.place(expr.place, context, zone?.space);
        return YESNO;
      }
      case 'tie to':
        return this.queries.tieTo(expr, context);
      case 'time in':
        return this.queries.timeIn(expr, context);
      case 'network': {
        const network = this.queries.network(expr.network);
        if (network) this.env.networkOf.set(expr, network);
        return expr.which === 'components' || expr.which === 'largest component' ? WHOLE_NUMBER : PLAIN_NUMBER;
      }
      case 'nobody':
        return { is: 'nobody' };
      case 'nowhere':
        return this.env.firstSpace ? { is: 'place', maybe: true } : this.env.wrong(say.noSpace(expr.span, '“nowhere”'));
      case 'wrong':
        return UNKNOWN;
    }
  }

  private needSpace(span: Span, what: string, space: SpaceSymbol | undefined): Type {
    return space ? placeOn(space) : this.env.wrong(say.noSpace(span, what));
  }

  private namedPlace(expr: Ast.ExprOf<'named place'>, context: Context): Type {
    const { env } = this;
    const near = env.spaceAt(context);
    const space = near?.form === 'map' ? near : [...env.spaces.values()].find(({ form }) => form === 'map');
    if (!space) return env.wrong(say.needsMap(expr.span, 'A named place', near ? formOf(near).words : 'none'));
    const place = placeNamed(env, expr.name, space);
    if (place) env.namedPlaces.set(expr, place);
    return placeOn(space);
  }

  private wayTo(expr: Ast.ExprOf<'way to'>, context: Context): Type {
    const what = expr.at ? '“time to”' : '“way to”';
    if (!context.asker) return this.env.wrong(say.noSelf(expr.span, what));
    const space = this.env.spaceOfType(context.asker.type);
    if (space?.form !== 'map')
      return this.env.wrong(say.needsMap(expr.span, what, space ? formOf(space).words : 'none'));
    this.place(expr.to, context, space);
    if (expr.at) this.speed(expr.at, context, space);
    checkWays(this.env, expr.way, space);
    if (expr.lines) checkLinesTaken(this.env, expr, expr.lines, space);
    return number(expr.at ? TIME : space.dim);
  }

  /** A length per time on a space. */
  speed(expr: Ast.Expr, context: Context, space: SpaceSymbol): void {
    const { label } = space.unit;
    this.demand(expr, this.numeric(expr, context), combine(space.dim, TIME, -1), 'A speed', (span, text) =>
      say.wrongType(
        span,
        `A speed, such as “${text} ${label} per ${this.env.scales.time ? 'h' : 'step'}”,`,
        'a plain number',
      ),
    );
  }

  private somewhere(expr: Ast.ExprOf<'somewhere'>, context: Context): Type {
    const { env } = this;
    const zone = expr.zone && this.queries.zone(expr.zone);
    if (zone) env.zoneOf.set(expr, zone);
    const space = zone ? zone.space : expr.space ? env.spaceNamed(expr.space) : env.spaceAt(context);
    if (space) env.spaceOf.set(expr, space);
    return expr.space && !space && env.firstSpace ? UNKNOWN : this.needSpace(expr.span, '“somewhere”', space);
  }

  private literal(expr: Ast.ExprOf<'number'>): Type {
    const whole = Number.isInteger(expr.value);
    if (!expr.unit) return number(expr.value === 0 ? undefined : PLAIN, whole);
    const scale = unitScale(expr.unit.key, this.env.scales);
    return scale ? number(scale.dim) : this.env.wrong(say.stepUnitOnly(expr.unit.span));
  }

  private scaled(expr: Ast.ExprOf<'with unit'> | Ast.ExprOf<'per'>, context: Context): Type {
    const dim = this.numeric(expr.value, context);
    const scale = unitScale(expr.unit.key, this.env.scales);
    if (!scale) return this.env.wrong(say.stepUnitOnly(expr.unit.span));
    if (expr.is === 'per') return number(combine(dim ?? PLAIN, scale.dim, -1));
    if (dim && !isPlain(dim))
      return this.env.wrong(say.wrongType(expr.value.span, 'A plain number', sayDimension(dim)));
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
    if (type.is !== 'yesno' && type.is !== 'unknown')
      this.env.report(say.wrongType(expr.span, 'A condition (yes or no)', sayType(type)));
  }

  /** What a picker gives outside of `with`: perhaps nobody. */
  private maybe(type: Type): Type {
    return type.is === 'agent' || type.is === 'tie' || type.is === 'place' ? { ...type, maybe: true } : type;
  }

  /** @param wanted the space it has to lie on, if that is not open; gives the space it lies on */
  place(expr: Ast.Expr, context: Context, wanted?: SpaceSymbol, mayBeNobody = false): SpaceSymbol | undefined {
    const type = this.check(expr, wanted ? { ...context, space: wanted } : context);
    if (type.is === 'agent' && type.maybe && !mayBeNobody)
      this.env.report(say.maybeNobody(expr.span, this.env.textOf(expr.span), expr.span, this.env.textOf(expr.span)));
    else if (type.is !== 'agent' && type.is !== 'place' && type.is !== 'unknown')
      this.env.report(say.wrongType(expr.span, 'A place or an agent', sayType(type)));
    this.sameSpace(expr, type, wanted);
    return this.env.spaceOfType(type) ?? wanted;
  }

  /** Reports a place, or the place of an agent, that lies on another space than the one wanted. */
  sameSpace(at: Span | { readonly span: Span }, type: Type, wanted: SpaceSymbol | undefined): void {
    const span = 'span' in at ? at.span : at;
    const found = this.env.spaceOfType(type);
    if (found && wanted && found !== wanted)
      this.env.report(say.otherSpace(span, this.env.textOf(span), found.name, wanted.name));
  }

  /** Reports a field, or whatever lies on a space, that is read from a place on another one. */
  onOwn(span: Span, asker: Type, space: SpaceSymbol | undefined): void {
    const own = this.env.spaceOfType(asker);
    if (own && space && own !== space)
      this.env.report(say.otherSpace(span, this.env.textOf(span), space.name, own.name));
  }

  /** An agent, or something that may be nobody; gives its kind if it is known. */
  agentOrNobody(expr: Ast.Expr, context: Context): KindSymbol | undefined {
    const type = this.check(expr, context);
    if (type.is !== 'agent' && type.is !== 'nobody' && type.is !== 'unknown')
      this.env.report(say.wrongType(expr.span, 'An agent', sayType(type)));
    return this.env.kindNamed(type);
  }

  /** The agent that a name before a dot stands for. */
  agentNamed(name: Ast.Name, context: Context): LocalSymbol | undefined {
    const local = name.key === 'self' ? context.self : name.key === 'it' ? context.it : context.locals.get(name.key);
    if (local?.type.is === 'agent' && (!local.type.maybe || context.sure?.has(name.key))) {
      this.names.useLocal(name, local);
      return local;
    }
    if (!local) this.names.unknown(name, context);
    else this.env.report(say.notAgent(name.span, name.text));
    return undefined;
  }

  drawing(span: Span, context: Context): void {
    if (context.noDraws) this.env.report(say.drawNotAllowed(span, context.noDraws));
  }

  private unary(expr: Ast.ExprOf<'unary'>, context: Context): Type {
    if (expr.op === 'not') {
      this.yesNo(expr.value, context);
      return YESNO;
    }
    const type = this.check(expr.value, context);
    if (type.is === 'number' || type.is === 'unknown') return type;
    return this.env.wrong(say.wrongType(expr.value.span, 'A number', sayType(type)));
  }

  private binary(expr: Ast.ExprOf<'binary'>, context: Context): Type {
    switch (expr.op) {
      case 'and':
      case 'or':
        this.yesNo(expr.left, context);
        this.yesNo(expr.right, withSure(context, expr.left, expr.op === 'and'));
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
    const isTurned = expr.left.is === 'time';
    const first = isTurned ? this.check(expr.right, context) : undefined;
    const left = this.check(expr.left, context, first);
    if (left.is === 'date') {
      const right = this.check(expr.right, context);
      if (right.is !== 'date' && right.is !== 'unknown')
        this.env.report(say.notComparable(expr.span, 'A date', sayType(right)));
      return YESNO;
    }
    if (left.is !== 'number' && left.is !== 'unknown')
      this.env.report(say.wrongType(expr.left.span, 'A number', sayType(left)));
    const right = first ?? this.check(expr.right, context, left);
    if (right.is !== 'number' && right.is !== 'unknown')
      this.env.report(say.wrongType(expr.right.span, 'A number', sayType(right)));
    this.agree(expr, left.is === 'number' ? left.dim : undefined, right.is === 'number' ? right.dim : undefined);
    return YESNO;
  }

  private comparison(expr: Ast.ExprOf<'binary'>, left: Type, context: Context): Type {
    const right = this.check(expr.right, context, left, true);
    if (left.is === 'unknown' || right.is === 'unknown') return YESNO;
    if (left.is === 'number' && right.is === 'number') this.agree(expr, left.dim, right.dim);
    else if (!comparable(left, right)) {
      this.env.report(say.notComparable(expr.span, capital(sayType(left)), sayType(right)));
    }
    return YESNO;
  }

  /** The common dimension of two; after a mismatch one that fits everything, so that one mistake is said once. */
  agree(expr: Ast.Expr, left: Dimension | undefined, right: Dimension | undefined): Dimension | undefined {
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
        if (right && !isPlain(right))
          return this.env.wrong(say.wrongType(expr.right.span, 'A plain exponent', sayDimension(right)));
        if (!left || isPlain(left)) return number(PLAIN, false);
        const exponent = constantOf(expr.right, this.env.scales);
        return exponent ? number(power(left, exponent.value)) : this.env.wrong(say.notConstant(expr.right.span));
      }
    }
  }

  isWhole(expr: Ast.Expr): boolean {
    const type = this.env.types.get(expr);
    return type?.is === 'number' && type.whole;
  }

  private oneOf(expr: Ast.ExprOf<'one of'>, context: Context): Type {
    const left = this.check(expr.left, context);
    const query = expr.query ?? this.listQuery(expr, context);
    if (query) return this.queries.oneOfQuery(expr, query, left, context);
    if (left.is === 'nobody' || left.is === 'tie')
      return this.env.wrong(
        say.wrongType(expr.left.span, 'A value that is compared with others', sayType(left), {
          hint: 'Compare with “is”, joined by “or”.',
        }),
      );
    for (const option of expr.options) {
      const type = this.check(option, context, left, true);
      const fits = type.is === 'unknown' || left.is === 'unknown' || comparable(left, type);
      if (!fits) this.env.report(say.notComparable(option.span, capital(sayType(left)), sayType(type)));
      else if (left.is === 'number' && type.is === 'number') this.agree(option, left.dim, type.dim);
    }
    return YESNO;
  }

  /** `it is one of friends`: a list to the right is asked like a query. */
  private listQuery(expr: Ast.ExprOf<'one of'>, context: Context): Ast.Query | undefined {
    const known = this.env.listQueries.get(expr);
    if (known) return known;
    const [option, second] = expr.options;
    if (!option || second || option.is !== 'path' || option.names.length > 2) return undefined;
    const { names } = option;
    const owner = names.length === 2 ? names[0] : undefined;
    const holder = owner ? (owner.key === 'it' ? context.it : context.locals.get(owner.key)) : context.self;
    const kind = holder && this.env.kindNamed(holder.type);
    const list = kind?.attributes.find(
      (attribute) => attribute.line.list && attribute.key === names[names.length - 1]!.key,
    );
    if (!list) return undefined;
    const query: Ast.Query = {
      head: { is: 'kind', name: names[names.length - 1]!, owner },
      reaches: [],
      span: option.span,
    };
    this.env.listQueries.set(expr, query);
    return query;
  }

  private conditional(expr: Ast.ExprOf<'if'>, context: Context, expected?: Type): Type {
    this.yesNo(expr.condition, context);
    const then = this.check(expr.then, withSure(context, expr.condition, true), expected);
    const otherwise = this.check(expr.else, withSure(context, expr.condition, false), expected ?? then);
    for (const [branch, type] of [
      [expr.then, then],
      [expr.else, otherwise],
    ] as const) {
      if (type.is === 'tie' || type.is === 'list' || type.is === 'message')
        return this.env.wrong(
          say.wrongType(branch.span, 'A value', sayType(type), { hint: 'Choose with an “if” statement instead.' }),
        );
    }
    if (then.is === 'unknown' || otherwise.is === 'unknown') return UNKNOWN;
    if (then.is === 'number' && otherwise.is === 'number') {
      return number(this.agree(expr, then.dim, otherwise.dim), then.whole && otherwise.whole);
    }
    if (then.is === 'agent' && comparable(then, otherwise))
      return {
        ...then,
        maybe:
          then.maybe === true || otherwise.is === 'nobody' || (otherwise.is === 'agent' && otherwise.maybe === true),
      };
    if (then.is === 'nobody' && otherwise.is === 'agent') return { ...otherwise, maybe: true };
    if (then.is === 'place' && then.space === undefined && otherwise.is === 'place')
      return { ...otherwise, maybe: true };
    const fits =
      then.is === 'choice'
        ? then === otherwise
        : then.is === 'place'
          ? comparable(then, otherwise)
          : then.is === otherwise.is;
    return fits ? then : this.env.wrong(say.notComparable(expr.span, capital(sayType(then)), sayType(otherwise)));
  }

  private fieldAt(expr: Ast.ExprOf<'at'>, context: Context): Type {
    const field = this.env.fields.get(expr.field.key);
    const measure = this.env.measures.get(expr.field.key);
    if (!field && measure && context.summary) {
      this.env.refs.set(expr, { is: 'measure', measure });
      this.env.use(measure);
      this.env.stands(expr.field, measure);
      this.time(expr.place, { ...context, measuresAllowed: false });
      return measure.type;
    }
    if (!field) {
      this.check(expr.place, context);
      return this.env.wrong(
        say.unknownName(
          expr.field.span,
          expr.field.text,
          this.env.near(
            expr.field.text,
            [...this.env.fields.values()].map((f) => f.name),
          ),
          undefined,
        ),
      );
    }
    this.env.refs.set(expr, { is: 'field', field });
    this.env.use(field);
    this.env.stands(expr.field, field);
    this.place(expr.place, context, field.space);
    return field.type;
  }

  private point(expr: Ast.ExprOf<'point'>, context: Context): Type {
    const space = this.env.spaceAt(context);
    if (!space) return this.env.wrong(say.noSpace(expr.span, 'A place'));
    this.distance(expr.x, context, space);
    this.distance(expr.y, context, space);
    this.env.spaceOf.set(expr, space);
    return placeOn(space);
  }

  // What a place demands (T4)

  time(expr: Ast.Expr, context: Context): void {
    this.demand(expr, this.numeric(expr, context), TIME, 'A length of time', say.timeWithoutUnit);
  }

  rate(expr: Ast.Expr, context: Context): void {
    this.demand(expr, this.numeric(expr, context), PER_TIME, 'A rate per time', say.rateWithoutTime);
    this.doubtNever(expr);
  }

  /** The chance of a transition or a meeting: one of 0 makes it pointless. */
  chanceThatMatters(expr: Ast.Expr, context: Context): void {
    this.chance(expr, context);
    this.doubtNever(expr);
  }

  private doubtNever(expr: Ast.Expr): void {
    if (constantOf(expr, this.env.scales)?.value === 0) this.env.report(say.certainChance(expr.span));
  }

  angle(expr: Ast.Expr, context: Context): void {
    this.demandAngle(expr, this.numeric(expr, context));
  }

  demandAngle(expr: Ast.Expr, dim: Dimension | undefined): void {
    this.demand(expr, dim, ANGLE, 'An angle', say.angleWithoutUnit);
  }

  /** How many cells. */
  count(expr: Ast.Expr, context: Context): void {
    this.demand(expr, this.numeric(expr, context), PLAIN, 'A number of cells', (span) =>
      say.wrongType(span, 'A number of cells', 'a number with a unit'),
    );
  }

  distance(expr: Ast.Expr, context: Context, space: SpaceSymbol | undefined = this.env.spaceAt(context)): void {
    const unit = space?.unit.label ?? '';
    this.demand(
      expr,
      this.numeric(expr, context),
      space?.dim ?? PLAIN,
      unit ? 'A length' : 'A plain number',
      (span, text) =>
        unit ? say.lengthWithoutUnit(span, text, unit) : say.wrongType(span, 'A plain number', 'a number with a unit'),
    );
  }

  private demand(
    expr: Ast.Expr,
    dim: Dimension | undefined,
    wanted: Dimension,
    words: string,
    withoutUnit: (span: Span, text: string) => ReturnType<typeof say.timeWithoutUnit>,
  ): void {
    if (!dim || sameDimension(dim, wanted)) return;
    if (isPlain(dim)) this.env.report(withoutUnit(expr.span, this.env.textOf(expr.span)));
    else this.env.report(say.wrongType(expr.span, words, sayDimension(dim)));
  }

  chance(expr: Ast.Expr, context: Context): void {
    const dim = this.numeric(expr, context);
    if (dim && !isPlain(dim))
      this.env.report(say.wrongType(expr.span, 'A chance, a plain number from 0 to 1,', sayDimension(dim)));
    this.literalChance(expr);
  }

  literalChance(expr: Ast.Expr): void {
    const constant = constantOf(expr, this.env.scales);
    if (constant && (constant.value < 0 || constant.value > 1)) {
      const text = this.env.textOf(expr.span);
      this.env.report(say.chanceOutside(expr.span, text, expr.is === 'number' && expr.value <= 100));
    }
    const ref = this.env.refs.get(expr);
    if (ref?.is === 'parameter' && ref.parameter.type.is === 'number') {
      const { min, max, name } = ref.parameter;
      if ((min !== undefined && min < 0) || (max !== undefined && max > 1))
        this.env.report(say.chanceBounds(expr.span, name));
    }
  }

  /** A share a step, or a rate per time that gives one (S26). */
  shareOrRate(expr: Ast.Expr, context: Context): void {
    const dim = this.numeric(expr, context);
    if (dim && !isPlain(dim) && !sameDimension(dim, PER_TIME))
      this.env.report(say.wrongType(expr.span, 'A share, or a rate per time,', sayDimension(dim)));
    else if (!dim || isPlain(dim)) this.literalChance(expr);
  }

  whole(expr: Ast.Expr, context: Context): void {
    const dim = this.numeric(expr, context);
    if (dim && !isPlain(dim)) this.env.report(say.wrongType(expr.span, 'A whole number', sayDimension(dim)));
    else if (!this.isWhole(expr) && this.env.types.get(expr)?.is === 'number')
      this.env.report(say.needsWhole(expr.span, this.env.textOf(expr.span)));
  }
}

/** Whether two may be asked to be the same. */
export function comparable(left: Type, right: Type): boolean {
  if (left.is === 'choice') return left === right;
  if (left.is === 'agent' && right.is === 'agent') return left.kind === right.kind;
  if (left.is === 'place' && right.is === 'place')
    return left.space === right.space || left.space === undefined || right.space === undefined;
  if (left.is === 'nobody' || right.is === 'nobody')
    return [left, right].every((type) => ['agent', 'tie', 'nobody'].includes(type.is));
  return left.is === right.is && left.is !== 'list';
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}
