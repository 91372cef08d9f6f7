import type { ExpressionChecker } from './check-expression.ts';
import type { ChoiceType, Dimension, Type } from './types.ts';
import {
  choiceOf,
  DIRECTION,
  isPlain,
  number,
  placeOn,
  sameDimension,
  sayDimension,
  sayType,
  UNKNOWN,
} from './types.ts';
import type { Expansion, KindSymbol, LocalSymbol } from './checked.ts';
import { copyOf } from './copy.ts';
import type { Context, Environment } from './environment.ts';
import type { FunctionForm } from './functions.ts';
import { FUNCTIONS, SPECIAL_FUNCTIONS, writtenForm } from './functions.ts';
import * as say from './meaning-messages.ts';
import { nearestWord } from './near-names.ts';
import type * as Ast from './syntax.ts';

/** A formula may stand in formulas; past this many uses the model is most likely not meant so. */
const MOST_EXPANSIONS = 4000;

/** Whether a formula or routine can be given such a value. */
function isGiven(type: Type): boolean {
  return type.is !== 'nobody' && type.is !== 'list' && type.is !== 'message';
}

/** Checks calls: functions, distributions, choices by shares, places ahead, and the model's own formulas. */
export class CallChecker {
  constructor(
    private readonly env: Environment,
    private readonly e: ExpressionChecker,
  ) {}

  call(expr: Ast.ExprOf<'call'>, context: Context, expected?: Type): Type {
    const key = expr.name.key;
    if (expr.of) return this.callOf(expr, expr.of, context);
    const formula = this.formulaNamed(key, context.owner);
    if (formula) return this.formula(expr, formula, context, context);
    if (key === 'pick') return this.pickCall(expr, context, expected);
    if (key === 'distance' || key === 'bearing') return this.distanceCall(expr, context);
    if (key === 'ahead') return this.aheadCall(expr, context);
    const known = FUNCTIONS.get(key);
    if (!known) {
      for (const arg of expr.args) this.e.check(arg.value, context);
      const own = [...this.env.defines.values(), ...(context.owner?.part.defines ?? [])].map((part) => part.name.text);
      return this.env.wrong(
        say.unknownFunction(
          expr.name.span,
          expr.name.text,
          nearestWord(key, [...FUNCTIONS.keys(), ...SPECIAL_FUNCTIONS, ...own]),
        ),
      );
    }
    if (known.draws) this.e.drawing(expr.span, context);
    const args = orderedArguments(expr.args, known.names, known.repeatsLast);
    if (!args) {
      for (const arg of expr.args) this.e.check(arg.value, context);
      return this.env.wrong(say.argumentCount(expr.span, expr.name.text, writtenForm(key, known)));
    }
    return this.builtIn(key, known, args, context);
  }

  private builtIn(key: string, known: FunctionForm, args: readonly Ast.Expr[], context: Context): Type {
    let same: Dimension | undefined;
    let whole = true;
    args.forEach((arg, i) => {
      const rule = known.args[Math.min(i, known.args.length - 1)]!;
      const dim = this.e.numeric(arg, context);
      whole &&= this.e.isWhole(arg);
      if (rule === 'same') {
        if (dim && same && !sameDimension(dim, same))
          this.env.report(say.wrongDimension(arg.span, sayDimension(same), sayDimension(dim)));
        same ??= dim;
      } else if (rule === 'angle') this.e.demandAngle(arg, dim);
      else if (dim && !isPlain(dim)) this.env.report(say.wrongType(arg.span, 'A plain number', sayDimension(dim)));
      else if (rule === 'whole' && !this.e.isWhole(arg))
        this.env.report(say.needsWhole(arg.span, this.env.textOf(arg.span)));
    });
    if (key === 'chance') this.e.literalChance(args[0]!);
    return known.result(same, whole);
  }

  // Formulas of the model

  private formulaNamed(key: string, owner: KindSymbol | undefined): Ast.DefinePart | undefined {
    return owner?.part.defines.find((part) => part.name.key === key) ?? this.env.defines.get(key);
  }

  /** `a.welfare(2)`: a formula of the kind of a, read with the attributes of a. */
  private callOf(expr: Ast.ExprOf<'call'>, of: Ast.Expr, context: Context): Type {
    const { env } = this;
    const kind = this.e.names.agentBefore(of, expr, context);
    if (!kind) {
      for (const arg of expr.args) this.e.check(arg.value, context);
      return UNKNOWN;
    }
    env.kindOf.set(expr, kind);
    const part = this.formulaNamed(expr.name.key, kind);
    if (part) return this.formula(expr, part, context, { self: kind.self, asker: kind.self, owner: kind });
    for (const arg of expr.args) this.e.check(arg.value, context);
    const known = [...kind.part.defines, ...env.defines.values()].map(({ name }) => name.text);
    return env.wrong(say.unknownFunction(expr.name.span, expr.name.text, nearestWord(expr.name.text, known)));
  }

  /** @param as who reads it, to whose attributes its bare names belong */
  private formula(
    expr: Ast.ExprOf<'call'>,
    part: Ast.DefinePart,
    context: Context,
    as: Pick<Context, 'self' | 'asker' | 'owner'>,
  ): Type {
    const { env } = this;
    env.use(part);
    env.stands(expr.name, part.name);
    const expansion = this.expansion(expr, part, expr.args, () => copyOf(part.value), env.formulas, context);
    if (!expansion) return UNKNOWN;
    const inner: Context = {
      locals: new Map(part.inputs.map((input, i) => [input.key, expansion.inputs[i]!])),
      noDraws: 'A formula',
      cell: undefined,
      within: [...(context.within ?? []), part],
      self: as.self,
      asker: as.asker,
      owner: as.owner,
      space: context.space,
    };
    return this.e.check(expansion.body, inner);
  }

  /** The use of a formula or routine at one place: a copy of its body with locals of its own for the inputs. Nothing if it cannot be used so. */
  expansion<Body>(
    at: object,
    part: Ast.DefinePart | Ast.RoutinePart,
    args: readonly Ast.Argument[],
    body: () => Body,
    known: Map<object, Expansion<Body>>,
    context: Context,
  ): Expansion<Body> | undefined {
    const span = (at as { readonly span: Ast.Name['span'] }).span;
    if (context.within?.includes(part)) {
      this.env.report(say.circle(span, part.name.text));
      return undefined;
    }
    const values = orderedArguments(
      args,
      part.inputs.map((input) => input.key),
    );
    if (!values) {
      for (const arg of args) this.e.check(arg.value, context);
      this.env.report(
        say.argumentCount(
          span,
          part.name.text,
          `“${part.name.text}(${part.inputs.map((input) => input.text).join(', ')})”`,
        ),
      );
      return undefined;
    }
    let found = known.get(at);
    if (!found) {
      if (known.size >= MOST_EXPANSIONS) {
        this.env.report(say.tooDeep(span));
        return undefined;
      }
      const inputs = part.inputs.map((input): LocalSymbol => ({
        is: 'local',
        name: input.text,
        span: input.span,
        type: UNKNOWN,
      }));
      found = { inputs, values, body: body() };
      known.set(at, found);
    }
    for (const input of part.inputs) {
      this.env.stands(input, input);
      for (const arg of args) if (arg.name?.key === input.key) this.env.stands(arg.name, input);
    }
    values.forEach((value, i) => {
      const type = this.e.check(value, context);
      found.inputs[i]!.type = isGiven(type)
        ? type
        : this.env.wrong(say.wrongType(value.span, 'A value', sayType(type)));
    });
    return found;
  }

  // Built in with rules of their own

  private pickCall(expr: Ast.ExprOf<'call'>, context: Context, expected?: Type): Type {
    this.e.drawing(expr.span, context);
    if (expr.args.length === 0 || expr.args.some((arg) => arg.name))
      return this.env.wrong(say.argumentCount(expr.span, 'pick', '“pick(70 % brown, rest grey)” or “pick(1, 2, 3)”'));
    const shared = expr.args.filter((arg) => arg.share !== undefined).length;
    if (shared !== 0 && shared !== expr.args.length)
      return this.env.wrong(say.argumentCount(expr.span, 'pick', 'with a share before each thing, or before none'));
    for (const arg of expr.args) if (arg.share && arg.share !== 'rest') this.e.chance(arg.share, context);
    const choice = expected?.is === 'choice' ? expected : this.newChoice(expr, context);
    let type: Type | undefined;
    let whole = true;
    for (const arg of expr.args) {
      const found = this.e.check(arg.value, context, choice);
      whole &&= this.e.isWhole(arg.value);
      if (type?.is === 'number' && found.is === 'number')
        type = number(this.e.agree(arg.value, type.dim, found.dim), whole);
      else if (type && found.is !== 'unknown' && (type.is === 'choice' ? type !== found : type.is !== found.is)) {
        const left = sayType(type);
        this.env.report(say.notComparable(arg.span, left.charAt(0).toUpperCase() + left.slice(1), sayType(found)));
      } else type = found;
    }
    return type ?? UNKNOWN;
  }

  /** `pick(female, male)` of words that nobody else has declared makes a choice of them. */
  private newChoice(expr: Ast.ExprOf<'call'>, context: Context): ChoiceType | undefined {
    const known = this.env.types.get(expr);
    if (known?.is === 'choice') return known;
    const words: Ast.Name[] = [];
    for (const { value } of expr.args) {
      if (value.is !== 'path' || value.names.length !== 1) return undefined;
      const { key } = value.names[0]!;
      if (
        context.locals.has(key) ||
        this.env.parameters.has(key) ||
        this.env.variables.has(key) ||
        this.env.fields.has(key)
      )
        return undefined;
      if (context.self && this.e.names.hasMember(context.self, key)) return undefined;
      words.push(value.names[0]!);
    }
    return choiceOf(words);
  }

  private distanceCall(expr: Ast.ExprOf<'call'>, context: Context): Type {
    if (!this.env.firstSpace) return this.env.wrong(say.noSpace(expr.span, `“${expr.name.text}”`));
    if (expr.args.length < 1 || expr.args.length > 2)
      return this.env.wrong(
        say.argumentCount(expr.span, expr.name.text, `“${expr.name.key}(a, b)”, or with one place from here`),
      );
    if (expr.args.length === 1 && !context.asker)
      return this.env.wrong(say.noSelf(expr.span, `“${expr.name.text}” of one place`));
    const [first, second] = expr.args;
    const space = this.e.place(first!.value, context, second ? undefined : this.env.spaceOfType(context.asker!.type));
    if (second) this.e.place(second.value, context, space);
    if (space) this.env.spaceOf.set(expr, space);
    return expr.name.key === 'distance' ? number(space?.dim) : DIRECTION;
  }

  private aheadCall(expr: Ast.ExprOf<'call'>, context: Context): Type {
    if (!this.env.firstSpace) return this.env.wrong(say.noSpace(expr.span, '“ahead”'));
    if (!context.asker || context.asker.type.is !== 'agent') return this.env.wrong(say.noSelf(expr.span, '“ahead”'));
    if (expr.args.length < 1 || expr.args.length > 2)
      return this.env.wrong(say.argumentCount(expr.span, 'ahead', '“ahead(3 m)” or “ahead(3 m, 30 deg)”'));
    const space = this.env.spaceOfType(context.asker.type);
    this.e.distance(expr.args[0]!.value, context, space);
    if (expr.args[1]) this.e.demandAngle(expr.args[1].value, this.e.numeric(expr.args[1].value, context));
    return placeOn(space);
  }
}

/** Arguments in the order of the inputs' names, or undefined if they do not fit them. */
function orderedArguments(
  args: readonly Ast.Argument[],
  names: readonly string[],
  repeatsLast = false,
): Ast.Expr[] | undefined {
  const slots: (Ast.Expr | undefined)[] = [];
  for (const [i, arg] of args.entries()) {
    if (arg.share !== undefined) return undefined;
    const slot = arg.name ? names.indexOf(arg.name.key) : i;
    if (slot < 0 || slots[slot] || (slot >= names.length && !repeatsLast)) return undefined;
    slots[slot] = arg.value;
  }
  const full = slots.filter((arg) => arg !== undefined);
  return full.length === slots.length && full.length >= names.length ? full : undefined;
}
