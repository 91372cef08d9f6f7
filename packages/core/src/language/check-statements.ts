import { formOf } from '../forms/forms.ts';
import type { KindSymbol, LocalSymbol, NetworkSymbol, SpaceSymbol } from './checked.ts';
import { checkAlighting, checkBoarding, needTurns } from './check-riding.ts';
import { takeLines } from './check-lines.ts';
import { checkWays } from './check-maps.ts';
import type { ExpressionChecker } from './check-expression.ts';
import { withSure } from './check-names.ts';
import { WritingChecker } from './check-writing.ts';
import { copyOf } from './copy.ts';
import type { Context, Environment } from './environment.ts';
import * as say from './meaning-messages.ts';
import type * as Ast from './syntax.ts';
import type { Type } from './types.ts';
import { placeOn, sayType, UNKNOWN } from './types.ts';

const TRAVEL_HINT =
  'Say “travel to P at 3 km per hour” or “move toward P by 5 m”, which follow the lanes, or “move to P”, which jumps.';

/** Checks blocks of statements. A `let` or picked name lives to the end of its block. */
export class StatementChecker {
  private readonly writing: WritingChecker;

  constructor(
    private readonly env: Environment,
    private readonly e: ExpressionChecker,
  ) {
    this.writing = new WritingChecker(env, e);
  }

  block(block: Ast.Block, outer: Context, isLoop = false): void {
    let context = outer;
    for (const statement of block) {
      if (statement.is !== 'until') context = this.statement(statement, context, isLoop);
      else {
        if (!isLoop) this.env.report(say.untilOutside(statement.span));
        this.e.yesNo(statement.condition, context);
      }
    }
  }

  private declare(owner: object, name: Ast.Name, type: Type, context: Context, isCell = false): Context {
    const taken = this.takenBy(name, context);
    if (taken) this.env.report(say.takenName(name.span, name.text, taken));
    const local: LocalSymbol = this.env.locals.get(owner) ?? {
      is: 'local',
      name: name.text,
      span: name.span,
      type,
      isCell,
    };
    local.type = type;
    this.env.locals.set(owner, local);
    this.env.stands(name, name);
    return { ...context, locals: new Map(context.locals).set(name.key, local) };
  }

  private takenBy(name: Ast.Name, context: Context): string | undefined {
    const kind =
      context.self?.type.is === 'agent' ? this.env.kinds.get(context.self.type.kind.toLowerCase()) : undefined;
    if (context.locals.has(name.key)) return 'another value in this rule';
    if (kind?.attributes.some((attribute) => attribute.key === name.key)) return `an attribute of ${kind.name}`;
    if (kind?.derives.some((derive) => derive.key === name.key)) return `a derived attribute of ${kind.name}`;
    if (kind?.machines.some((machine) => machine.key === name.key)) return `a state machine of ${kind.name}`;
    if (this.env.parameters.has(name.key)) return 'a parameter';
    if (this.env.variables.has(name.key)) return 'a variable';
    if (this.env.derives.has(name.key)) return 'a derived value';
    if (this.env.fields.has(name.key)) return 'a field';
    return undefined;
  }

  /** @param isLoop whether it stands in a `repeat`, directly or under `if` */
  private statement(statement: Ast.Statement, context: Context, isLoop: boolean): Context {
    const e = this.e;
    this.env.progress.at = statement.span;
    switch (statement.is) {
      case 'let':
        return this.declare(statement, statement.name, this.letType(statement, context), context);
      case 'assign':
        this.writing.assign(statement, context);
        return context;
      case 'if':
        e.yesNo(statement.condition, context);
        this.block(statement.then, withSure(context, statement.condition, true), isLoop);
        if (statement.else) this.block(statement.else, withSure(context, statement.condition, false), isLoop);
        return context;
      case 'with':
        this.with(statement, context);
        return context;
      case 'for each': {
        const head = e.queries.query(statement.query, context);
        const type = head ? (this.env.locals.get(statement.query)?.type ?? UNKNOWN) : UNKNOWN;
        this.block(statement.body, this.declare(statement, statement.name, type, context, head?.is === 'cells'));
        return context;
      }
      case 'turn':
      case 'move':
      case 'move toward':
        this.movement(statement, context);
        return context;
      case 'travel':
        this.travel(statement, context);
        return context;
      case 'create':
        return this.create(statement, context);
      case 'remove':
        this.remove(statement, context);
        return context;
      case 'repeat':
        e.whole(statement.most, context);
        this.block(statement.body, context, true);
        return context;
      case 'until':
        return context;
      case 'add':
        this.writing.add(statement, context);
        return context;
      case 'send':
        this.send(statement, context);
        return context;
      case 'tie':
        this.tie(statement, context);
        return context;
      case 'untie':
        this.ends(statement, context, [statement.from, statement.to]);
        return context;
      case 'join':
        this.ends(statement, context, [undefined, statement.other]);
        return context;
      case 'board':
      case 'alight': {
        const types = [statement.rider, statement.is === 'board' ? statement.vehicle : undefined].map(
          (expr) => expr && e.check(expr, context),
        );
        if (statement.is === 'board') checkBoarding(this.env, statement, types, context);
        else checkAlighting(this.env, statement, types[0], context);
        if (statement.is === 'board' && statement.else) this.block(statement.else, context);
        return context;
      }
      case 'do':
        this.routine(statement, context);
        return context;
      case 'log':
        for (const value of statement.values) this.logged(value, context);
        return context;
      case 'end run':
        return context;
    }
  }

  /** The map on which somebody acts. */
  private mapOf(context: Context): SpaceSymbol | undefined {
    const space = context.self && this.env.spaceOfType(context.self.type);
    return space?.form === 'map' ? space : undefined;
  }

  private travel(statement: Ast.StatementOf<'travel'>, context: Context): void {
    if (!this.mover(statement, context)) return;
    const map = this.mapOf(context);
    const own = this.env.spaceOfType(context.self!.type);
    if (!map) this.env.report(say.needsMap(statement.span, '“travel”', own ? formOf(own).words : 'none'));
    this.target(statement.target, context);
    if (map) {
      this.e.speed(statement.at, context, map);
      checkWays(this.env, statement.way, map);
      if (statement.lines) takeLines(this.env, statement, statement.lines, map, context);
    }
    if (statement.else) this.block(statement.else, context);
  }

  private letType(statement: Ast.StatementOf<'let'>, context: Context): Type {
    const type = this.e.check(statement.value, context);
    if (type.is === 'nobody' || type.is === 'list' || type.is === 'message') {
      this.env.report(say.wrongType(statement.value.span, 'A value', sayType(type)));
      return UNKNOWN;
    }
    return type;
  }

  private logged(value: Ast.Expr, context: Context): void {
    if (value.is === 'string') return;
    const type = this.e.check(value, context);
    if (type.is === 'list' || type.is === 'tie' || type.is === 'message')
      this.env.report(say.wrongType(value.span, 'A value', sayType(type)));
  }

  private send(statement: Ast.StatementOf<'send'>, context: Context): void {
    const { env, e } = this;
    this.message(statement, context);
    if (statement.all) {
      const head = e.queries.query(statement.all, context);
      const type = env.locals.get(statement.all)?.type;
      if (head && type?.is !== 'agent') env.report(say.wrongType(statement.all.span, 'Agents', 'something else'));
    } else if (statement.to) e.agentOrNobody(statement.to, context);
    if (statement.after) e.time(statement.after, context);
  }

  private message(statement: Ast.StatementOf<'send'>, context: Context): void {
    const { env, e } = this;
    const { message: name } = statement;
    const message = env.messageNamed(name);
    if (!message) {
      for (const arg of statement.args) e.check(arg.value, context);
      return;
    }
    env.stands(name, message);
    env.messageOf.set(statement, message);
    env.sent.add(message);
    const sender = context.asker && env.kindNamed(context.asker.type);
    if (sender) message.senders.add(sender.key);
    statement.args.forEach((arg, i) => {
      const attribute = arg.name ? message.attributes.find((a) => a.key === arg.name!.key) : message.attributes[i];
      if (!attribute || arg.share !== undefined) {
        e.check(arg.value, context);
        const form = message.attributes.length
          ? `(${message.attributes.map((a) => `${a.name} = ...`).join(', ')})`
          : '';
        env.report(say.argumentCount(arg.span, message.name, `“${message.name}${form}”`));
        return;
      }
      if (arg.name) env.stands(arg.name, attribute);
      this.writing.holds(attribute, arg.value, context);
    });
  }

  /** Checks the agents at the ends of a tie; where the first is not named it is the acting agent. */
  private ends(
    statement: Ast.StatementOf<'tie' | 'untie' | 'join'>,
    context: Context,
    ends: readonly (Ast.Expr | undefined)[],
  ): NetworkSymbol | undefined {
    const network = this.e.queries.network(statement.network);
    const acting = context.asker && this.env.kindNamed(context.asker.type);
    if (!ends[0] && !acting) this.env.report(say.noSelf(statement.span, `“${statement.is}”`));
    const kinds = ends.map((end) => (end ? this.e.agentOrNobody(end, context) : undefined));
    if (!network) return undefined;
    for (const kind of [...kinds, ends[0] ? undefined : acting]) {
      if (kind && kind !== network.from && kind !== network.to)
        this.env.report(
          say.notTied(statement.network.span, kind.name, network.name, network.from.name, network.to.name),
        );
    }
    this.env.networkOf.set(statement, network);
    return network;
  }

  private tie(statement: Ast.StatementOf<'tie'>, context: Context): void {
    const network = this.ends(statement, context, [statement.from, statement.to]);
    if (!network) return;
    for (const line of statement.block) {
      const name =
        line.is === 'assign' && line.op === '=' && line.target.is === 'path' && line.target.names.length === 1
          ? line.target.names[0]!
          : undefined;
      const attribute = name && network.attributes.find((a) => a.key === name.key);
      if (line.is !== 'assign' || !attribute || !name) {
        this.env.report(say.cannotSet(line.span, `What is no attribute of a tie of ${network.name}`));
        continue;
      }
      this.env.stands(name, attribute);
      this.writing.holds(attribute, line.value, context);
    }
  }

  private routine(statement: Ast.StatementOf<'do'>, context: Context): void {
    const { env } = this;
    const { name } = statement;
    const part = context.owner?.part.routines.find((r) => r.name.key === name.key) ?? env.routineParts.get(name.key);
    if (!part) {
      const known = [...env.routineParts.values(), ...(context.owner?.part.routines ?? [])].map((r) => r.name.text);
      env.report(say.unknownRoutine(name.span, name.text, env.near(name.text, known)));
      return;
    }
    env.use(part);
    env.stands(name, part.name);
    const expansion = this.e.calls.expansion(
      statement,
      part,
      statement.args,
      () => copyOf(part.body),
      env.routines,
      context,
    );
    if (!expansion) return;
    const locals = new Map(part.inputs.map((input, i) => [input.key, expansion.inputs[i]!]));
    this.block(expansion.body, {
      ...context,
      locals,
      sure: undefined,
      cell: undefined,
      within: [...(context.within ?? []), part],
    });
  }

  private movement(statement: Ast.StatementOf<'turn' | 'move' | 'move toward'>, context: Context): void {
    const { e, env } = this;
    const moved = statement.who ? this.somebodyElse(statement, statement.who, context) : context.self?.type;
    if (!statement.who && !this.mover(statement, context)) return;
    const space = moved && env.spaceOfType(moved);
    if (!space) return;
    const isOnMap = formOf(space).isOnLanes;
    if (statement.is === 'move toward') {
      this.target(statement.target, context, space);
      e.distance(statement.by, context);
      if (isOnMap && statement.who)
        env.report(
          say.onLanesOnly(statement.span, '“move toward” of somebody else', 'It goes there by a rule of its own.'),
        );
    } else if (statement.is === 'turn') {
      if (statement.how === 'by') e.angle(statement.value, context);
      else if (statement.value.is === 'pick') this.target(statement.value, context, space);
      else this.placeOrAngle(statement.value, context, space);
    } else if (statement.how === 'by') {
      e.distance(statement.value, context);
      if (isOnMap) env.report(say.onLanesOnly(statement.span, '“move by”', TRAVEL_HINT));
    } else this.target(statement.value, context, space);
  }

  /** Who is moved or turned by somebody else: one after another, as all who are written to. */
  private somebodyElse(statement: Ast.Statement, who: Ast.Expr, context: Context): Type | undefined {
    const type = this.e.check(who, context);
    needTurns(this.env, statement, context);
    if (type.is === 'agent') {
      if (!this.env.spaceOfType(type)) this.env.report(say.noSpace(statement.span, `“${this.env.textOf(who.span)}”`));
      return type;
    }
    if (type.is !== 'unknown') this.env.report(say.wrongType(who.span, 'An agent', sayType(type)));
    return undefined;
  }

  private mover(statement: Ast.Statement, context: Context): boolean {
    const what = `“${this.env.textOf(statement.span).split(/\s/)[0]}”`;
    if (!context.self) this.env.report(say.noSelf(statement.span, what));
    else if (!this.env.firstSpace) this.env.report(say.noSpace(statement.span, what));
    else if (statement.is !== 'turn' && this.env.kindNamed(context.self.type)?.seats)
      needTurns(this.env, statement, context);
    return context.self !== undefined && this.env.firstSpace !== undefined;
  }

  /** A place, or somebody; who turns out to be nobody is no place, and nothing happens. */
  private target(expr: Ast.Expr, context: Context, space = this.env.spaceOfType(context.self!.type)): void {
    if (expr.is === 'pick') this.e.sameSpace(expr, this.e.queries.picker(expr, context), space);
    else this.e.place(expr, context, space, true);
  }

  private placeOrAngle(expr: Ast.Expr, context: Context, space: SpaceSymbol): void {
    const type = this.e.check(expr, context);
    if (type.is === 'number') this.e.angle(expr, context);
    else this.e.place(expr, context, space, true);
  }

  private with(statement: Ast.StatementOf<'with'>, context: Context): void {
    const { value } = statement;
    let type: Type = UNKNOWN;
    let isCell = false;
    if (value.is === 'pick') {
      type = this.e.queries.picker(value, context);
      isCell = value.query.head.is === 'cells';
    } else {
      const found = this.e.check(value, context);
      if ((found.is === 'agent' || found.is === 'tie') && found.maybe) type = { ...found, maybe: undefined };
      else if (found.is !== 'unknown') {
        this.env.report(
          say.wrongType(value.span, 'Somebody who may be nobody', sayType(found), {
            hint: '“with v = nearest Kind within 5 m”, “with v = random Kind where ...”; a value that always exists takes “let”.',
            fixes:
              value.is === 'ask' && value.ask === 'any'
                ? [say.randomOfAny({ start: value.span.start, end: value.span.start + 'any'.length })]
                : [],
          }),
        );
      }
    }
    this.block(statement.then, this.declare(statement, statement.name, type, context, isCell));
    if (statement.else) this.block(statement.else, context);
  }

  private create(statement: Ast.StatementOf<'create'>, context: Context): Context {
    const env = this.env;
    this.e.whole(statement.count, context);
    const kind = env.kinds.get(statement.kind.key);
    if (!kind) {
      env.report(
        say.unknownKind(
          statement.kind.span,
          statement.kind.text,
          env.near(
            statement.kind.text,
            [...env.kinds.values()].map((k) => k.name),
          ),
        ),
      );
      return context;
    }
    env.stands(statement.kind, kind);
    env.kindOf.set(statement, kind);
    env.use(kind.self);
    if (statement.placing) this.placing(statement.placing, kind, context);
    else if (kind.space) env.report(say.noPlace(statement.kind.span, kind.name));
    const newborn: LocalSymbol = env.locals.get(statement) ?? {
      is: 'local',
      name: statement.alias?.text ?? `new ${kind.name}`,
      span: (statement.alias ?? statement).span,
      type: kind.self.type,
    };
    env.locals.set(statement, newborn);
    const inner = statement.alias ? this.declare(statement, statement.alias, kind.self.type, context) : context;
    for (const line of statement.block) this.newborn(line, kind, newborn, inner);
    return statement.alias ? inner : context;
  }

  /** In the block of `create`, `attribute = E` is the new agent's attribute, and E is read by the creator (D19). */
  private newborn(line: Ast.Statement, kind: KindSymbol, newborn: LocalSymbol, context: Context): void {
    const single =
      line.is === 'assign' && line.op === '=' && line.target.is === 'path' && line.target.names.length === 1;
    if (!single) {
      this.statement(line, context, false);
      return;
    }
    this.writing.give(line, kind, newborn, context);
  }

  placing(placing: Ast.Placing, { space }: KindSymbol, outer: Context): void {
    const env = this.env;
    const context: Context = { ...outer, space };
    if (!space) {
      env.report(say.noSpace(placing.span, `“${env.textOf(placing.span)}”`));
      return;
    }
    if (placing.is === 'here') {
      if (context.asker) this.e.sameSpace(placing.span, context.asker.type, space);
      else env.report(say.noSelf(placing.span, '“here”'));
    }
    const { isOfCells, words } = formOf(space);
    if (placing.is === 'one to a cell' && !isOfCells) env.report(say.wrongType(placing.span, 'A grid', words));
    if (placing.distance) this.e.distance(placing.distance, context, space);
    if (placing.of) this.e.place(placing.of, context, space);
    if (placing.is === 'next to' && !isOfCells) env.report(say.wrongType(placing.span, 'A grid', words));
    const zone = placing.zone && this.e.queries.zone(placing.zone);
    if (zone) {
      env.zoneOf.set(placing, zone);
      this.e.sameSpace(placing.span, placeOn(zone.space), space);
    }
    env.spaceOf.set(placing, space);
    if (placing.where) this.cellCondition(placing, placing.where, space, context);
  }

  /** A condition on cells, each of which is `it`. */
  cellCondition(owner: object, where: Ast.Expr, space: SpaceSymbol, context: Context): void {
    const { env } = this;
    if (!formOf(space).isOfCells && !space.part.cell)
      env.report(say.noCells(where.span, space.part.span.end, `1 ${space.unit.label}`.trim()));
    const cell: LocalSymbol = env.locals.get(owner) ?? {
      is: 'local',
      name: 'it',
      span: where.span,
      type: placeOn(space),
      isCell: true,
    };
    env.locals.set(owner, cell);
    this.e.yesNo(where, { ...context, it: cell, asker: context.asker ?? cell, noDraws: 'A condition on cells' });
  }

  private remove(statement: Ast.StatementOf<'remove'>, context: Context): void {
    if (statement.target.is === 'pick') {
      this.e.queries.picker(statement.target, context);
      return;
    }
    const type = this.e.check(statement.target, context);
    if (type.is !== 'agent' && type.is !== 'unknown')
      this.env.report(say.wrongType(statement.target.span, 'An agent', sayType(type)));
  }
}
