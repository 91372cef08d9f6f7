import type { AttributeSymbol, KindSymbol, LocalSymbol, VariableSymbol } from './checked.ts';
import type { ExpressionChecker } from './check-expression.ts';
import type { Context, Environment } from './environment.ts';
import * as say from './messages.ts';
import type * as Ast from './syntax.ts';
import type { Type } from './types.ts';
import { PLAIN, number, sameDimension, sayDimension, sayType, UNKNOWN } from './types.ts';

/** Checks blocks of statements. A `let` or picked name lives to the end of its block. */
export class StatementChecker {
  constructor(
    private readonly env: Environment,
    private readonly e: ExpressionChecker,
  ) {}

  block(block: Ast.Block, outer: Context): void {
    let context = outer;
    for (const statement of block) context = this.statement(statement, context);
  }

  private declare(owner: object, name: Ast.Name, type: Type, context: Context): Context {
    const taken = this.takenBy(name, context);
    if (taken) this.env.report(say.takenName(name.span, name.text, taken));
    const local: LocalSymbol = this.env.locals.get(owner) ?? { is: 'local', name: name.text, span: name.span, type };
    local.type = type;
    this.env.locals.set(owner, local);
    return { ...context, locals: new Map(context.locals).set(name.key, local) };
  }

  private takenBy(name: Ast.Name, context: Context): string | undefined {
    const kind = context.self?.type.is === 'agent' ? this.env.kinds.get(context.self.type.kind.toLowerCase()) : undefined;
    if (context.locals.has(name.key)) return 'another value in this rule';
    if (kind?.attributes.some((attribute) => attribute.key === name.key)) return `an attribute of ${kind.name}`;
    if (kind?.derives.some((derive) => derive.key === name.key)) return `a derived attribute of ${kind.name}`;
    if (kind?.machines.some((machine) => machine.key === name.key)) return `a state machine of ${kind.name}`;
    if (this.env.parameters.has(name.key)) return 'a parameter';
    if (this.env.variables.has(name.key)) return 'a variable';
    if (this.env.fields.has(name.key)) return 'a field';
    return undefined;
  }

  private statement(statement: Ast.Statement, context: Context): Context {
    const e = this.e;
    switch (statement.is) {
      case 'let':
        return this.declare(statement, statement.name, e.check(statement.value, context), context);
      case 'assign':
        this.assign(statement, context);
        return context;
      case 'if':
        e.yesNo(statement.condition, context);
        this.block(statement.then, context);
        if (statement.else) this.block(statement.else, context);
        return context;
      case 'with':
        this.with(statement, context);
        return context;
      case 'for each': {
        const kind = e.query(statement.query, context);
        this.block(statement.body, this.declare(statement, statement.name, kind?.self.type ?? UNKNOWN, context));
        return context;
      }
      case 'turn':
        if (!this.mover(statement, context)) return context;
        if (statement.how === 'by') e.angle(statement.value, context);
        else if (statement.value.is === 'pick') e.picker(statement.value, context);
        else this.placeOrAngle(statement.value, context);
        return context;
      case 'move':
        if (!this.mover(statement, context)) return context;
        if (statement.how === 'by') e.distance(statement.value, context);
        else this.target(statement.value, context);
        return context;
      case 'move toward':
        if (!this.mover(statement, context)) return context;
        this.target(statement.target, context);
        e.distance(statement.by, context);
        return context;
      case 'create':
        return this.create(statement, context);
      case 'remove':
        this.remove(statement, context);
        return context;
      case 'end run':
        return context;
    }
  }

  private mover(statement: Ast.Statement, context: Context): boolean {
    const what = `“${this.env.textOf(statement.span).split(/\s/)[0]}”`;
    if (!context.self) this.env.report(say.noSelf(statement.span, what));
    else if (!this.env.space) this.env.report(say.noSpace(statement.span, what));
    else if (statement.is !== 'turn') this.env.modal.push({ rule: this.env.rule, span: statement.span, agent: context.self, is: 'move' });
    return context.self !== undefined && this.env.space !== undefined;
  }

  private target(expr: Ast.Expr, context: Context): void {
    if (expr.is === 'pick') this.e.picker(expr, context);
    else this.e.place(expr, context);
  }

  private placeOrAngle(expr: Ast.Expr, context: Context): void {
    const type = this.e.check(expr, context);
    if (type.is === 'number') this.e.angle(expr, context);
    else this.e.place(expr, context);
  }

  private with(statement: Ast.StatementOf<'with'>, context: Context): void {
    let type: Type = UNKNOWN;
    if (statement.value.is === 'pick') type = this.e.picker(statement.value, context);
    else {
      const found = this.e.check(statement.value, context);
      if (found.is !== 'unknown') {
        this.env.report(say.wrongType(statement.value.span, 'A picked agent', sayType(found), { hint: '“with v = nearest Kind within 5 m”; a value that always exists takes “let”.' }));
      }
    }
    this.block(statement.then, this.declare(statement, statement.name, type, context));
    if (statement.else) this.block(statement.else, context);
  }

  private assign(statement: Ast.StatementOf<'assign'>, context: Context): void {
    const { target, op, value } = statement;
    const held = this.e.check(target, context);
    const ref = this.env.refs.get(target);
    const found = this.e.check(value, context, held);
    if (target.is === 'path' && (ref?.is === 'parameter' || ref?.is === 'measure' || ref?.is === 'clock' || ref?.is === 'builtin')) {
      this.env.report(say.cannotSet(target.span, describeRef(ref.is, this.env.textOf(target.span))));
      return;
    }
    if (ref?.is === 'derive') {
      this.env.report(say.cannotSet(target.span, `“${this.env.textOf(target.span)}”, which is derived from other attributes,`));
      return;
    }
    if (ref?.is === 'local') {
      this.env.report(say.cannotSet(target.span, `“${this.env.textOf(target.span)}”, a name given by “let” or a query,`));
      return;
    }
    if (ref?.is === 'machine') {
      this.env.setMachines.add(ref.machine);
      this.env.modal.push({ rule: this.env.rule, span: statement.span, agent: ref.agent, is: 'machine' });
    }
    this.fits(statement, held, found, op);
    if (ref?.is === 'attribute') this.widen(ref.attribute, found, op);
    if (ref?.is === 'variable') this.widen(ref.variable, found, op);
  }

  private fits(statement: Ast.StatementOf<'assign'>, held: Type, found: Type, op: string): void {
    if (held.is === 'unknown' || found.is === 'unknown') return;
    if (held.is === 'number' && found.is === 'number') {
      const scaling = op === '*=' || op === '/=';
      const wanted = scaling ? PLAIN : held.dim;
      if (wanted && found.dim && !sameDimension(wanted, found.dim)) {
        this.env.report(say.wrongDimension(statement.span, sayDimension(wanted), sayDimension(found.dim)));
      }
    } else if (op !== '=' || (held.is === 'choice' ? held !== found : held.is !== found.is)) {
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

  private create(statement: Ast.StatementOf<'create'>, context: Context): Context {
    const env = this.env;
    this.e.whole(statement.count, context);
    const kind = env.kinds.get(statement.kind.key);
    if (!kind) {
      env.report(say.unknownKind(statement.kind.span, statement.kind.text, env.near(statement.kind.text, [...env.kinds.values()].map((k) => k.name))));
      return context;
    }
    env.spell(statement.kind, kind.name);
    env.kindOf.set(statement, kind);
    env.use(kind.self);
    if (statement.placing) this.placing(statement.placing, context);
    else if (env.space) env.report(say.noPlace(statement.kind.span, kind.name));
    const newborn: LocalSymbol = env.locals.get(statement) ?? { is: 'local', name: statement.alias?.text ?? `new ${kind.name}`, span: statement.span, type: kind.self.type };
    env.locals.set(statement, newborn);
    const inner = statement.alias ? this.declare(statement, statement.alias, kind.self.type, context) : context;
    for (const line of statement.block) this.newborn(line, kind, newborn, inner);
    return statement.alias ? inner : context;
  }

  /** In the block of `create`, `attribute = E` is the new agent's attribute, and E is read by the creator (D19). */
  private newborn(line: Ast.Statement, kind: KindSymbol, newborn: LocalSymbol, context: Context): void {
    const single = line.is === 'assign' && line.op === '=' && line.target.is === 'path' && line.target.names.length === 1;
    if (!single) {
      this.statement(line, context);
      return;
    }
    const asNew: Context = { ...context, self: newborn };
    const held = this.e.check(line.target, asNew);
    const ref = this.env.refs.get(line.target);
    const found = this.e.check(line.value, context, held);
    if (ref?.is !== 'attribute' && ref?.is !== 'machine' && held.is !== 'unknown') {
      this.env.report(say.cannotSet(line.target.span, `“${this.env.textOf(line.target.span)}”, no attribute of ${kind.name},`));
      return;
    }
    if (ref?.is === 'machine') this.env.setMachines.add(ref.machine);
    this.fits(line, held, found, '=');
    if (ref?.is === 'attribute') this.widen(ref.attribute, found, '=');
  }

  placing(placing: Ast.Placing, context: Context): void {
    const env = this.env;
    if (!env.space) {
      env.report(say.noSpace(placing.span, `“${env.textOf(placing.span)}”`));
      return;
    }
    if (placing.is === 'here' && !context.asker) env.report(say.noSelf(placing.span, '“here”'));
    if (placing.is === 'one to a cell' && env.space.form !== 'grid') env.report(say.wrongType(placing.span, 'A grid', 'a plane'));
    if (placing.distance) this.e.distance(placing.distance, context);
    if (placing.of) this.e.place(placing.of, context);
  }

  private remove(statement: Ast.StatementOf<'remove'>, context: Context): void {
    if (statement.target.is === 'pick') {
      this.e.picker(statement.target, context);
      return;
    }
    const type = this.e.check(statement.target, context);
    if (type.is !== 'agent' && type.is !== 'unknown') this.env.report(say.wrongType(statement.target.span, 'An agent', sayType(type)));
  }
}

function describeRef(is: string, text: string): string {
  if (is === 'parameter') return `The parameter “${text}”: rules read parameters, only the timeline and the modeler change them. It`;
  if (is === 'measure') return `The measure “${text}”`;
  if (is === 'builtin') return `“${text}” (use turn and move)`;
  return `“${text}”, which the clock gives,`;
}

function capitalType(type: Type): string {
  const text = sayType(type);
  return text.charAt(0).toUpperCase() + text.slice(1);
}
