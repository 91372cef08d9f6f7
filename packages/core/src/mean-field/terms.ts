import type { Span } from '../diagnostics.ts';
import type { AttributeSymbol, CheckedModel, KindSymbol, LocalSymbol, Ref } from '../language/checked.ts';
import { FUNCTIONS } from '../language/functions.ts';
import { constantOf, unitScale } from '../language/scales.ts';
import type * as Ast from '../language/syntax.ts';
import { power } from '../math.ts';
import { applied, isPureFunction } from '../plan/functions.ts';
import { binaryFunction } from '../plan/values.ts';
import type { AgentClass, AgentClasses } from './classes.ts';
import type { Formula } from './formula.ts';
import { fractionOf, numberFormula, ONE, productOf } from './formula.ts';

/** Why no equation can be derived, and where. */
export class NotDerived extends Error {
  override name = 'NotDerived';
  constructor(
    readonly span: Span,
    message: string,
  ) {
    super(message);
  }
}

/** What terms are computed from: values of parameters in base units, and how many agents there are of each class. */
export interface Moment {
  readonly parameters: ArrayLike<number>;
  readonly counts: ArrayLike<number>;
}

/** A number of the limit: how it is written, and what it comes to. A truth value is 1 or 0. */
export interface Term {
  /** Where it is the same at any moment and for any parameters. */
  readonly constant?: number;
  /** Where it stands on the mean of an attribute, so that nothing may be decided by it. */
  readonly isMean?: boolean;
  readonly formula: Formula;
  readonly at: (moment: Moment) => number;
}

/** What names of a rule stand for: an agent of a class, or a value that is written elsewhere. */
export type Roles = ReadonlyMap<
  LocalSymbol,
  { readonly agent: AgentClass } | { readonly value: Ast.Expr; readonly roles: Roles }
>;
export const NO_ROLES: Roles = new Map();

export function constantTerm(value: number, formula = numberFormula(value)): Term {
  return { constant: value, formula, at: () => value };
}
export const CERTAIN = constantTerm(1, ONE);

/** Terms multiplied; a constant 0 makes all of it 0. */
export function times(...terms: readonly Term[]): Term {
  if (terms.some(({ constant }) => constant === 0)) return constantTerm(0);
  const told = terms.filter(({ constant, formula }) => !(constant === 1 && formula.is === 'number'));
  if (told.length === 0) return CERTAIN;
  if (told.length === 1) return told[0]!;
  const constant = told.every((term) => term.constant !== undefined)
    ? told.reduce((product, term) => product * term.constant!, 1)
    : undefined;
  return {
    ...(constant === undefined ? {} : { constant }),
    ...meanOf(told),
    formula: productOf(told.map(({ formula }) => formula)),
    at: (moment) => told.reduce((product, term) => product * term.at(moment), 1),
  };
}

const COMPARISONS: ReadonlySet<Ast.BinaryOperator> = new Set(['<', '<=', '>', '>=', 'is', 'is not']);

/** @throws NotDerived where agents would be told apart by an attribute of which only the mean is known */
function mustDecide(terms: readonly Term[], span: Span): void {
  if (terms.some(({ isMean }) => isMean))
    throw new NotDerived(
      span,
      'Agents are told apart here by an attribute in which they differ; the limit knows its mean only.',
    );
}

const MEANS: Readonly<Record<string, (p: number, q: number, r: number) => number>> = {
  uniform: (from, to) => (from + to) / 2,
  normal: (mean) => mean,
  lognormal: (mean) => mean,
  exponential: (mean) => mean,
  gamma: (mean) => mean,
  beta: (a, b) => a / (a + b),
  triangular: (from, peak, to) => (from + peak + to) / 3,
  poisson: (mean) => mean,
  binomial: (trials, chance) => trials * chance,
  whole: (from, to) => (from + to) / 2,
};

/** Reads expressions of a model as numbers of its well-mixed limit. */
export class TermReader {
  /** Attributes, variables and parameters that were read. */
  readonly read = new Set<object>();
  /** Attributes that differ between agents and count by their means. */
  readonly averaged = new Map<AttributeSymbol, KindSymbol>();

  constructor(
    readonly model: CheckedModel,
    readonly classes: AgentClasses,
  ) {}

  /** @throws NotDerived if it depends on more than states, numbers of agents and parameters */
  term(expr: Ast.Expr, roles: Roles): Term {
    switch (expr.is) {
      case 'number':
      case 'percent':
      case 'with unit':
      case 'per':
        return this.quantity(expr, roles);
      case 'yesno':
        return constantTerm(expr.value ? 1 : 0);
      case 'brackets':
        return this.term(expr.value, roles);
      case 'unary':
        return this.unary(expr, roles);
      case 'binary':
        return this.binary(expr, roles);
      case 'one of':
        return this.oneOf(expr, roles);
      case 'if':
        return this.choice(expr, roles);
      case 'call':
        return this.call(expr, roles);
      case 'path':
        return this.path(expr, roles);
      case 'ask':
        return this.asked(expr, roles);
      case 'gather':
        return this.gathered(expr, roles);
      default:
        throw new NotDerived(expr.span, 'This depends on more than states, numbers of agents and parameters.');
    }
  }

  /** What a name of the text stands for. */
  refOf(expr: Ast.Expr): Ref | undefined {
    return this.model.refs.get(expr);
  }

  /** A number with its unit, in base units; it is written as in the text. */
  private quantity(expr: Extract<Ast.Expr, { is: 'number' | 'percent' | 'with unit' | 'per' }>, roles: Roles): Term {
    const constant = constantOf(expr, this.model.scales);
    const written = writtenQuantity(expr);
    if (constant && written) return constantTerm(constant.value, { is: 'number', text: written });
    if (expr.is === 'number' || expr.is === 'percent') return constantTerm(constant?.value ?? expr.value);
    const value = this.term(expr.value, roles);
    const factor = unitScale(expr.unit.key, this.model.scales)?.factor ?? 1;
    return expr.is === 'per'
      ? mapped(
          value,
          (x) => x / (factor * expr.count),
          fractionOf(value.formula, unitFormula(expr.count, expr.unit.text)),
        )
      : mapped(value, (x) => x * factor, productOf([value.formula, unitFormula(1, expr.unit.text)]));
  }

  private unary(expr: Ast.ExprOf<'unary'>, roles: Roles): Term {
    const value = this.term(expr.value, roles);
    if (expr.op === '-') return mapped(value, (x) => -x, { is: 'sum', terms: [{ isLess: true, of: value.formula }] });
    return mapped(value, (x) => (x === 0 ? 1 : 0), { is: 'condition', words: ['not ', unbracketed(value.formula)] });
  }

  private binary(expr: Ast.ExprOf<'binary'>, roles: Roles): Term {
    const { op } = expr;
    if (op === 'and' || op === 'or') return this.junction(expr, roles);
    const state = op === 'is' || op === 'is not' ? this.stateIs(expr.left, [expr.right], roles) : undefined;
    if (state !== undefined) return constantTerm(state === (op === 'is') ? 1 : 0);
    const [left, right] = [this.term(expr.left, roles), this.term(expr.right, roles)];
    if (op === '*') return times(left, right);
    if (COMPARISONS.has(op)) mustDecide([left, right], expr.span);
    return combined(
      [left, right],
      ([a, b]) => (op === '^' ? power(a!, b!) : binaryFunction(op, a!, b!)),
      binaryFormula(op, left.formula, right.formula),
    );
  }

  /** Of `and` and `or` one side may settle it, whatever the other is. */
  private junction(expr: Ast.ExprOf<'binary'>, roles: Roles): Term {
    const settles = expr.op === 'and' ? 0 : 1;
    const sides = [expr.left, expr.right].map((side) => this.perhaps(side, roles));
    if (sides.some((side) => !(side instanceof NotDerived) && side.constant === settles)) return constantTerm(settles);
    const terms = sides.map((side) => {
      if (side instanceof NotDerived) throw side;
      return side;
    });
    const open = terms.filter(({ constant }) => constant === undefined);
    if (open.length === 0) return constantTerm(1 - settles);
    if (open.length === 1) return open[0]!;
    return combined(
      open,
      (values) => (values.some((value) => (value !== 0 ? 1 : 0) === settles) ? settles : 1 - settles),
      {
        is: 'condition',
        words: open.flatMap(({ formula }, i) => [...(i > 0 ? [` ${expr.op} `] : []), unbracketed(formula)]),
      },
    );
  }

  private perhaps(expr: Ast.Expr, roles: Roles): Term | NotDerived {
    try {
      return this.term(expr, roles);
    } catch (error) {
      if (error instanceof NotDerived) return error;
      throw error;
    }
  }

  private oneOf(expr: Ast.ExprOf<'one of'>, roles: Roles): Term {
    if (expr.query) throw new NotDerived(expr.span, 'Lists have no part in the limit.');
    const state = this.stateIs(expr.left, expr.options, roles);
    if (state !== undefined) return constantTerm(state === !expr.not ? 1 : 0);
    const left = this.term(expr.left, roles);
    const options = expr.options.map((option) => this.term(option, roles));
    mustDecide([left, ...options], expr.span);
    return combined([left, ...options], ([value, ...others]) => (others.includes(value!) === !expr.not ? 1 : 0), {
      is: 'condition',
      words: [
        unbracketed(left.formula),
        expr.not ? ' is not one of ' : ' is one of ',
        ...options.flatMap(({ formula }, i) => [...(i > 0 ? [', '] : []), unbracketed(formula)]),
      ],
    });
  }

  /** Whether a machine of an agent is in one of some states; nothing if no machine is asked. */
  private stateIs(left: Ast.Expr, options: readonly Ast.Expr[], roles: Roles): boolean | undefined {
    const ref = this.refOf(left);
    if (ref?.is !== 'machine') return undefined;
    const own = this.agent(ref.agent, left.span, roles).states[ref.machine.index]!;
    return options.some((option) => {
      const asked = this.refOf(option);
      if (asked?.is === 'group') return asked.group.members.includes(own);
      return asked?.is === 'option' && asked.option === own;
    });
  }

  /** The class of an agent that is named. @throws NotDerived where it is not one of those that act or meet */
  agent(local: LocalSymbol, span: Span, roles: Roles): AgentClass {
    const role = roles.get(local);
    if (role && 'agent' in role) return role.agent;
    if (role) return this.agentNamed(role.value, role.roles);
    throw new NotDerived(span, 'This looks at an agent that is told from others by more than its states.');
  }

  private agentNamed(expr: Ast.Expr, roles: Roles): AgentClass {
    const ref = this.refOf(expr);
    if (ref?.is === 'local') return this.agent(ref.local, expr.span, roles);
    throw new NotDerived(expr.span, 'This looks at an agent that is told from others by more than its states.');
  }

  private choice(expr: Ast.ExprOf<'if'>, roles: Roles): Term {
    const condition = this.term(expr.condition, roles);
    if (condition.constant !== undefined) return this.term(condition.constant === 0 ? expr.else : expr.then, roles);
    const [then, otherwise] = [this.term(expr.then, roles), this.term(expr.else, roles)];
    return combined([condition, then, otherwise], ([c, a, b]) => (c === 0 ? b! : a!), {
      is: 'function',
      name: 'if',
      args: [condition.formula, then.formula, otherwise.formula],
    });
  }

  private call(expr: Ast.ExprOf<'call'>, roles: Roles): Term {
    const formula = this.model.formulas.get(expr);
    if (formula) {
      const inner = new Map(roles);
      formula.inputs.forEach((input, i) => inner.set(input, { value: formula.values[i]!, roles }));
      if (expr.of) inner.set(this.model.kindOf.get(expr)!.self, { agent: this.agentNamed(expr.of, roles) });
      return this.term(formula.body, inner);
    }
    const name = expr.name.key;
    if (!isPureFunction(name)) throw new NotDerived(expr.span, `“${expr.name.text}” has no part in the limit.`);
    const args = argumentsOf(expr).map((arg) => this.term(arg, roles));
    return combined(
      args,
      (values) =>
        name === 'min' || name === 'max' ? values.reduce((a, b) => applied(name, [a, b])) : applied(name, values),
      { is: 'function', name: expr.name.text, args: args.map((arg) => arg.formula) },
    );
  }

  private path(expr: Ast.ExprOf<'path'>, roles: Roles): Term {
    const ref = this.refOf(expr);
    switch (ref?.is) {
      case 'parameter': {
        const { parameter } = ref;
        this.read.add(parameter);
        return {
          formula:
            parameter.type.is === 'yesno'
              ? { is: 'condition', words: [parameter.name] }
              : { is: 'name', text: parameter.name },
          at: ({ parameters }) => parameters[parameter.index]!,
        };
      }
      case 'variable':
        this.read.add(ref.variable);
        if (!ref.variable.part.value)
          throw new NotDerived(expr.span, `A table gives the values of ${ref.variable.name}.`);
        return named(this.term(ref.variable.part.value, NO_ROLES), ref.variable.name);
      case 'option':
        return constantTerm(ref.option, { is: 'name', text: expr.names.at(-1)!.text });
      case 'measure':
        return this.term(ref.measure.part.value, NO_ROLES);
      case 'machine':
        return constantTerm(this.agent(ref.agent, expr.span, roles).states[ref.machine.index]!);
      case 'derive': {
        const agent = this.agent(ref.agent, expr.span, roles);
        return this.term(ref.derive.line.value, new Map([...roles, [ref.kind.self, { agent }]]));
      }
      case 'model derive':
        return this.term(ref.derive.line.value, NO_ROLES);
      case 'attribute':
        this.agent(ref.agent, expr.span, roles);
        return this.attribute(ref.kind, ref.attribute);
      case 'local': {
        const role = roles.get(ref.local);
        if (role && 'value' in role) return this.term(role.value, role.roles);
        throw new NotDerived(expr.span, `“${ref.local.name}” is told from others by more than its states.`);
      }
      default:
        throw new NotDerived(
          expr.span,
          `What happens depends on “${expr.names.map(({ text }) => text).join('.')}”, which is no state, number of agents or parameter.`,
        );
    }
  }

  /** An attribute that all begin with and keep: its value, or its mean where it is drawn. */
  private attribute(kind: KindSymbol, attribute: AttributeSymbol): Term {
    this.read.add(attribute);
    const { value } = attribute.line;
    const law = value.is === 'call' ? MEANS[value.name.key] : undefined;
    if (value.is !== 'call' || !law) return named(this.term(value, NO_ROLES), attribute.name);
    this.averaged.set(attribute, kind);
    const args = argumentsOf(value).map((arg) => this.term(arg, NO_ROLES));
    const mean = combined(args, ([p = 0, q = 0, r = 0]) => law(p, q, r), { is: 'mean', text: attribute.name });
    return { isMean: true, formula: mean.formula, at: mean.at };
  }

  /** `count Vole where it.life is Grown`: how many there are in all classes that fit. */
  private asked(expr: Ast.ExprOf<'ask'>, roles: Roles): Term {
    const { fits, all } = this.members(expr.query, roles);
    const count = totalOf(fits.map((each) => [CERTAIN, each]));
    if (expr.ask === 'count') return count;
    if (expr.ask === 'any')
      return mapped(count, (x) => (x > 0 ? 1 : 0), { is: 'condition', words: [count.formula, ' > 0'] });
    const whole = totalOf(all.map((each) => [CERTAIN, each]));
    return combined([count, whole], ([a, b]) => a! / b!, fractionOf(count.formula, whole.formula));
  }

  private gathered(expr: Ast.ExprOf<'gather'>, roles: Roles): Term {
    if (!expr.over || !(expr.fn === 'sum' || expr.fn === 'mean'))
      throw new NotDerived(expr.span, `A ${expr.fn} has no part in the limit.`);
    const { fits, candidate } = this.members(expr.over, roles);
    const values = fits.map(
      (agent) => [this.term(expr.of, new Map([...roles, [candidate, { agent }]])), agent] as const,
    );
    const sum = totalOf(values);
    if (expr.fn === 'sum') return sum;
    const count = totalOf(fits.map((each) => [CERTAIN, each]));
    return combined([sum, count], ([a, b]) => a! / b!, fractionOf(sum.formula, count.formula));
  }

  /** The classes that a query asks for, and those that fit its condition. */
  private members(
    query: Ast.Query,
    roles: Roles,
  ): { readonly all: readonly AgentClass[]; readonly fits: readonly AgentClass[]; readonly candidate: LocalSymbol } {
    const kind = this.model.kindOf.get(query);
    const candidate = this.model.locals.get(query);
    if (!kind || !candidate || query.head.is !== 'kind' || query.head.owner || query.weight)
      throw new NotDerived(query.span, 'Only agents of a kind can be counted in the limit.');
    if (query.reaches.some(({ is }) => is !== 'anyone'))
      throw new NotDerived(query.span, 'Who is near or tied has no part in the limit.');
    const all = this.classes.of(kind);
    const fits = all.filter((agent) => {
      if (!query.where) return true;
      const term = this.term(query.where, new Map([...roles, [candidate, { agent }]]));
      if (term.constant === undefined) throw new NotDerived(query.span, 'Who is counted depends on more than states.');
      return term.constant !== 0;
    });
    return { all, fits, candidate };
  }
}

/** A sum over classes, each with a weight of its own. */
function totalOf(parts: readonly (readonly [Term, AgentClass])[]): Term {
  if (parts.length === 0) return constantTerm(0);
  return {
    formula: sumOf(parts.map(([weight, each]) => productOf([weight.formula, { is: 'name', text: each.name }]))),
    at: (moment) => parts.reduce((sum, [weight, { index }]) => sum + weight.at(moment) * moment.counts[index]!, 0),
  };
}

function sumOf(formulas: readonly Formula[]): Formula {
  return formulas.length === 1 ? formulas[0]! : { is: 'sum', terms: formulas.map((of) => ({ isLess: false, of })) };
}

export function mapped(term: Term, map: (x: number) => number, formula: Formula): Term {
  return combined([term], ([x]) => map(x!), formula);
}

function combined(terms: readonly Term[], of: (values: readonly number[]) => number, formula: Formula): Term {
  if (terms.every(({ constant }) => constant !== undefined))
    return constantTerm(of(terms.map(({ constant }) => constant!)), formula);
  return { ...meanOf(terms), formula, at: (moment) => of(terms.map((term) => term.at(moment))) };
}

function meanOf(terms: readonly Term[]): Pick<Term, 'isMean'> {
  return terms.some(({ isMean }) => isMean) ? { isMean: true } : {};
}

function named(term: Term, text: string): Term {
  return { ...term, formula: { is: 'name', text } };
}

/** The arguments of a call in the order in which the function takes them. */
export function argumentsOf({ name, args }: Ast.ExprOf<'call'>): Ast.Expr[] {
  const names = FUNCTIONS.get(name.key)?.names ?? [];
  const placed: Ast.Expr[] = [];
  args.forEach((arg, i) => {
    const at = arg.name ? names.indexOf(arg.name.key) : i;
    placed[at < 0 ? i : at] = arg.value;
  });
  return placed;
}

function writtenQuantity(expr: Ast.Expr): string | undefined {
  switch (expr.is) {
    case 'number':
      return `${expr.value}${expr.unit ? ` ${expr.unit.text}` : ''}`;
    case 'percent':
      return `${Number((expr.value * 100).toPrecision(12))} %`;
    case 'per': {
      const value = writtenQuantity(expr.value);
      return value && `${value} per ${expr.count === 1 ? '' : `${expr.count} `}${expr.unit.text}`;
    }
    default:
      return undefined;
  }
}

function unitFormula(count: number, unit: string): Formula {
  return { is: 'number', text: count === 1 ? unit : `${count} ${unit}` };
}

/** A condition within another one. */
function unbracketed(formula: Formula): Formula | string {
  return formula.is === 'condition' && formula.words.length === 1 ? formula.words[0]! : formula;
}

function binaryFormula(op: Ast.BinaryOperator, left: Formula, right: Formula): Formula {
  switch (op) {
    case '+':
    case '-':
      return {
        is: 'sum',
        terms: [...(left.is === 'sum' ? left.terms : [{ isLess: false, of: left }]), { isLess: op === '-', of: right }],
      };
    case '*':
      return productOf([left, right]);
    case '/':
      return fractionOf(left, right);
    case '^':
      return { is: 'power', base: left, exponent: right };
    default:
      return { is: 'condition', words: [unbracketed(left), ` ${op} `, unbracketed(right)] };
  }
}
