import type { AttributeSymbol, KindSymbol, LocalSymbol, TallySymbol, VariableSymbol, Ref } from './checked.ts';
import type { ExpressionChecker } from './check-expression.ts';
import { comparable } from './check-expression.ts';
import type { Context, Environment } from './environment.ts';
import * as say from './meaning-messages.ts';
import type * as Ast from './syntax.ts';
import type { Dimension, Type } from './types.ts';
import { PLAIN, number, sameDimension, sayDimension, sayType } from './types.ts';

/** Checks what is written to attributes, variables, fields, lists and tallies: whether it fits, and what it says of their types. */
export class WritingChecker {
  constructor(
    private readonly env: Environment,
    private readonly e: ExpressionChecker,
  ) {}

  assign(statement: Ast.StatementOf<'assign'>, context: Context): void {
    const { target, value } = statement;
    if (
      target.is === 'path' &&
      target.names.length === 1 &&
      !context.asker &&
      this.env.fields.has(target.names[0]!.key)
    ) {
      this.setEverywhere(statement, target, context);
      return;
    }
    const held = this.e.check(target, context);
    const ref = this.env.refs.get(target);
    const found = this.e.check(value, context, held, ref?.is === 'machine');
    if (
      target.is === 'path' &&
      (ref?.is === 'parameter' ||
        ref?.is === 'measure' ||
        ref?.is === 'clock' ||
        ref?.is === 'builtin' ||
        ref?.is === 'vehicle' ||
        ref?.is === 'waiting')
    ) {
      this.env.report(say.cannotSet(target.span, describeRef(ref.is, this.env.textOf(target.span))));
      return;
    }
    if (ref?.is === 'variable' && ref.variable.part.table) {
      this.env.report(say.cannotSet(target.span, `“${this.env.textOf(target.span)}”, which a table gives,`));
      return;
    }
    if (ref?.is === 'derive' || ref?.is === 'model derive') {
      this.env.report(
        say.cannotSet(target.span, `“${this.env.textOf(target.span)}”, which is derived from other values,`),
      );
      return;
    }
    if (ref?.is === 'local' && !this.isLet(ref.local)) {
      this.env.report(
        say.cannotSet(target.span, `“${this.env.textOf(target.span)}”, a name given by a query, a role or “with”,`),
      );
      return;
    }
    if (ref?.is === 'tie end' || ref?.is === 'message attribute' || ref?.is === 'sender' || ref?.is === 'coordinate') {
      this.env.report(say.cannotSet(target.span, `“${this.env.textOf(target.span)}”`));
      return;
    }
    if (held.is === 'list') {
      this.env.report(say.cannotSet(target.span, `The list “${this.env.textOf(target.span)}” (use “add ... to”)`));
      return;
    }
    this.set(statement, held, found, ref);
  }

  /** `smear = 0` where nobody asks: in all cells. */
  private setEverywhere(statement: Ast.StatementOf<'assign'>, target: Ast.ExprOf<'path'>, context: Context): void {
    const { env, e } = this;
    const [name] = target.names;
    const field = env.fields.get(name!.key)!;
    env.refs.set(target, { is: 'field', field });
    env.types.set(target, field.type);
    env.use(field);
    env.stands(name!, field);
    this.set(statement, field.type, e.check(statement.value, context, field.type), { is: 'field', field });
  }

  /** `add price to deals`, `add v to friends` */
  add(statement: Ast.StatementOf<'add'>, context: Context): void {
    const { env, e } = this;
    const target = statement.target as Ast.ExprOf<'path'>;
    const name = target.names[target.names.length - 1]!;
    const isMember =
      target.names.length > 1 || (context.self !== undefined && e.names.hasMember(context.self, name.key));
    const tally = isMember ? undefined : env.tallies.get(name.key);
    if (tally) {
      env.use(tally);
      env.stands(name, tally);
      env.refs.set(target, { is: 'tally', tally });
      this.widenTally(tally, e.numeric(statement.value, context), statement);
      return;
    }
    const found = e.check(statement.value, context);
    if (!isMember) {
      env.report(
        say.unknownTarget(
          name.span,
          name.text,
          env.near(
            name.text,
            [...env.tallies.values()].map((t) => t.name),
          ),
        ),
      );
      return;
    }
    const held = e.check(target, context);
    const ref = env.refs.get(target);
    if (held.is !== 'list' || ref?.is !== 'attribute') {
      if (held.is !== 'unknown') env.report(say.unknownTarget(name.span, name.text, undefined));
    } else this.addToList(statement, ref.attribute, held, found);
  }

  /** Checks what a newborn agent is given: the attribute is its own, the value is read by its creator (D19). */
  give(line: Ast.StatementOf<'assign'>, kind: KindSymbol, newborn: LocalSymbol, context: Context): void {
    const held = this.e.check(line.target, { ...context, self: newborn });
    const ref = this.env.refs.get(line.target);
    const found = this.e.check(line.value, context, held, ref?.is === 'machine');
    if (ref?.is !== 'attribute' && ref?.is !== 'machine' && held.is !== 'unknown') {
      this.env.report(
        say.cannotSet(line.target.span, `“${this.env.textOf(line.target.span)}”, no attribute of ${kind.name},`),
      );
      return;
    }
    this.set(line, held, found, ref);
  }

  private set(statement: Ast.StatementOf<'assign'>, held: Type, found: Type, ref: Ref | undefined): void {
    if (ref?.is === 'machine') this.env.setMachines.add(ref.machine);
    this.fits(statement, held, found, statement.op);
    if (ref?.is === 'attribute' || ref?.is === 'tie attribute') this.widen(ref.attribute, found, statement.op);
    if (ref?.is === 'variable') this.widen(ref.variable, found, statement.op);
  }

  /** Checks a value that is given to an attribute of a tie or a message. */
  holds(attribute: AttributeSymbol, value: Ast.Expr, context: Context): void {
    const { type: held } = attribute;
    const found = this.e.check(value, context, held);
    if (held.is === 'unknown' || found.is === 'unknown') return;
    if (held.is === 'number' && found.is === 'number') {
      if (held.dim && found.dim && !sameDimension(held.dim, found.dim))
        this.env.report(say.wrongDimension(value.span, sayDimension(held.dim), sayDimension(found.dim)));
    } else if (!comparable(held, found)) this.env.report(say.wrongType(value.span, capitalType(held), sayType(found)));
    this.widen(attribute, found, '=');
  }

  private addToList(
    statement: Ast.StatementOf<'add'>,
    attribute: AttributeSymbol,
    held: Extract<Type, { is: 'list' }>,
    found: Type,
  ): void {
    if (held.of === 'numbers' && found.is === 'number') {
      if (held.dim && found.dim && !sameDimension(held.dim, found.dim))
        this.env.report(say.wrongDimension(statement.span, sayDimension(held.dim), sayDimension(found.dim)));
      attribute.type = { ...held, dim: held.dim ?? found.dim };
      return;
    }
    if (held.of === 'places')
      this.e.sameSpace(statement.value, found, held.space ? this.env.spaces.get(held.space.toLowerCase()) : undefined);
    const fits =
      held.of === 'places'
        ? found.is === 'place' || found.is === 'agent'
        : held.of === 'agents' && found.is === 'agent' && found.kind === held.kind;
    if (fits || found.is === 'unknown' || (held.of === 'agents' && held.kind === undefined)) return;
    const wanted =
      held.of === 'agents'
        ? capitalType({ is: 'agent', kind: held.kind! })
        : held.of === 'numbers'
          ? 'A number'
          : 'A place';
    this.env.report(say.wrongType(statement.value.span, wanted, sayType(found)));
  }

  private widenTally(tally: TallySymbol, dim: Dimension | undefined, statement: Ast.Statement): void {
    const { type } = tally;
    if (type.is !== 'number') return;
    if (type.dim && dim && !sameDimension(type.dim, dim))
      this.env.report(say.wrongDimension(statement.span, sayDimension(type.dim), sayDimension(dim)));
    tally.type = number(type.dim ?? dim);
  }

  /** Whether a name was given by `let` to a value that can change. */
  private isLet(local: LocalSymbol): boolean {
    for (const [owner, symbol] of this.env.locals) {
      if (symbol === local)
        return (
          (owner as Ast.Statement).is === 'let' && ['number', 'yesno', 'choice', 'unknown'].includes(local.type.is)
        );
    }
    return false;
  }

  private fits(statement: Ast.StatementOf<'assign'>, held: Type, found: Type, op: string): void {
    if (held.is === 'unknown' || found.is === 'unknown') return;
    if (held.is === 'number' && found.is === 'number') {
      const scaling = op === '*=' || op === '/=';
      const wanted = scaling ? PLAIN : held.dim;
      if (wanted && found.dim && !sameDimension(wanted, found.dim)) {
        this.env.report(say.wrongDimension(statement.span, sayDimension(wanted), sayDimension(found.dim)));
      }
    } else if (op !== '=' || !comparable(held, found)) {
      this.env.report(say.wrongType(statement.value.span, capitalType(held), sayType(found)));
    }
  }

  /** What is set to an attribute can settle its dimension and take away its wholeness (T2, T6). */
  private widen(attribute: AttributeSymbol | VariableSymbol, found: Type, op: string): void {
    const held = attribute.type;
    if (held.is !== 'number' || found.is !== 'number') return;
    const whole = held.whole && found.whole && op !== '/=';
    const dim = held.dim ?? (op === '*=' || op === '/=' ? undefined : found.dim);
    attribute.type = number(dim, whole);
  }
}

function describeRef(is: string, text: string): string {
  if (is === 'parameter')
    return `The parameter “${text}”: rules read parameters, only the timeline and the modeler change them. It`;
  if (is === 'measure') return `The measure “${text}”`;
  if (is === 'builtin') return `“${text}” (use turn and move)`;
  if (is === 'waiting') return `“${text}” (whether it waits at a stop)`;
  if (is === 'vehicle') return `“${text}” (use board and alight)`;
  return `“${text}”, which the clock gives,`;
}

function capitalType(type: Type): string {
  const text = sayType(type);
  return text.charAt(0).toUpperCase() + text.slice(1);
}
