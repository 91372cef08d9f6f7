import { formOf } from '../forms/forms.ts';
import type { ExpressionChecker } from './check-expression.ts';
import { checkRidingReach } from './check-riding.ts';
import type {
  KindSymbol,
  LocalSymbol,
  MachineSymbol,
  NetworkSymbol,
  QueryHead,
  FieldSymbol,
  SpaceSymbol,
  StateGroup,
  ZoneSymbol,
} from './checked.ts';
import type { Context, Environment } from './environment.ts';
import { fieldsRead, looksAtIt } from './looks-at.ts';
import * as say from './meaning-messages.ts';
import type * as Ast from './syntax.ts';
import type { Type } from './types.ts';
import {
  isPlain,
  number,
  PER_TIME,
  placeOn,
  PLAIN,
  PLAIN_NUMBER,
  sayType,
  TIME,
  UNKNOWN,
  WHOLE_NUMBER,
  YESNO,
} from './types.ts';

const GATHERS_WHOLE = ['sum', 'min', 'max'];

/** Checks queries, what is counted, gathered and picked by them, and questions about whole runs. */
export class QueryChecker {
  constructor(
    private readonly env: Environment,
    private readonly e: ExpressionChecker,
  ) {}

  /** Checks a query and gives what it asks for. */
  query(query: Ast.Query, from: Context): QueryHead | undefined {
    const { env } = this;
    const head = this.head(query, from);
    const context: Context = { ...from, asked: undefined };
    if (!head) return undefined;
    env.queryHeads.set(query, head);
    if (head.is === 'agents') env.kindOf.set(query, head.kind);
    const type = this.candidateType(head);
    const candidate: LocalSymbol = env.locals.get(query) ?? {
      is: 'local',
      name: query.alias?.text ?? 'it',
      span: (query.alias ?? query).span,
      type,
      isCell: head.is === 'cells' || undefined,
    };
    candidate.type = type;
    env.locals.set(query, candidate);
    if (query.alias) env.stands(query.alias, query.alias);
    for (const reach of query.reaches) {
      if (head.is === 'ties' || head.is === 'list' || head.is === 'tally')
        this.env.report(say.noReach(reach.span, env.textOf(reach.span)));
      else this.reach(reach, context, head);
    }
    const inner = this.candidateContext(query, candidate, context);
    if (query.where) this.where(query, query.where, inner);
    if (query.weight) {
      const asked = this.askedOf(query, query.weight, inner);
      const dim = this.e.numeric(query.weight, { ...asked, noDraws: '“weighted by”' });
      if (dim && !asked.cell && !looksAtIt(query.weight, query.alias?.key))
        env.report(say.overWithoutIt(query.weight.span));
    }
    return head;
  }

  private head(query: Ast.Query, context: Context): QueryHead | undefined {
    const { env } = this;
    if (query.head.is === 'cells') {
      const space = this.spaceOfCells(query, query.head.on, context);
      const field = context.field?.space === space ? context.field : space && this.fieldOfCells(query, context, space);
      if (!space) {
        if (!query.head.on || !env.firstSpace) env.report(say.noSpace(query.head.span, 'A cell'));
      } else if (!formOf(space).isOfCells && !space.part.cell && !field)
        env.report(say.noCells(query.head.span, space.part.span.end, `1 ${space.unit.label}`.trim()));
      else return { is: 'cells', empty: query.head.empty, space, field };
      return undefined;
    }
    if (query.head.is === 'ties') {
      const network = this.network(query.head.network);
      return network && { is: 'ties', network };
    }
    const { name, owner } = query.head;
    const agent = owner ? this.e.agentNamed(owner, context) : context.self;
    const kind = agent && env.kindNamed(agent.type);
    const attribute = kind?.attributes.find((a) => a.key === name.key && a.type.is === 'list');
    if (attribute && kind) {
      env.use(attribute);
      env.stands(name, attribute);
      return { is: 'list', kind, attribute, agent };
    }
    const asked = owner ? undefined : env.kinds.get(name.key);
    if (asked) {
      env.stands(name, asked);
      env.use(asked);
      return { is: 'agents', kind: asked };
    }
    const tally = owner ? undefined : env.tallies.get(name.key);
    if (tally) {
      env.stands(name, tally);
      env.use(tally);
      return { is: 'tally', tally };
    }
    const lists = kind?.attributes.filter((a) => a.line.list).map((a) => a.name) ?? [];
    env.report(
      say.unknownKind(
        name.span,
        name.text,
        env.near(
          name.text,
          [...env.kinds.values()].map((k) => k.name),
          [...env.tallies.values()].map((t) => t.name),
          lists,
        ),
      ),
    );
    return undefined;
  }

  /** On a plane without cells of its own those of a field are meant, if it is the only one that is asked for. */
  private fieldOfCells(query: Ast.Query, context: Context, space: SpaceSymbol): FieldSymbol | undefined {
    if (formOf(space).isOfCells || space.part.cell || (query.head.is === 'cells' && query.head.empty)) return undefined;
    const { fields } = this.env;
    const read = (exprs: readonly (Ast.Expr | undefined)[]): FieldSymbol[] =>
      [...fieldsRead(exprs, fields)].map((key) => fields.get(key)!).filter((field) => field.space === space);
    const asked = read([context.asked]);
    const all = asked.length > 0 ? asked : read([query.where, query.weight]);
    return all.length === 1 ? all[0] : undefined;
  }

  /** Where cells are asked for and nothing names the candidate, bare fields are read of it. */
  private askedOf(query: Ast.Query, asked: Ast.Expr, inner: Context): Context {
    const isOfCell =
      query.head.is === 'cells' &&
      !looksAtIt(asked, query.alias?.key) &&
      fieldsRead([asked], this.env.fields, true).size > 0;
    return isOfCell ? { ...inner, cell: inner.it } : inner;
  }

  /** Where it is not said, cells lie where the zone or place of the query lies, else where the asker stands. */
  private spaceOfCells(query: Ast.Query, on: Ast.Name | undefined, context: Context): SpaceSymbol | undefined {
    const { env } = this;
    if (on) return env.spaceNamed(on);
    for (const reach of query.reaches) {
      const zone = reach.is === 'zone' ? env.zones.get(reach.name!.key) : undefined;
      const space =
        zone?.space ??
        (reach.of && reach.is !== 'tied' && reach.is !== 'aboard' && reach.is !== 'carrying'
          ? env.spaceOfType(this.e.check(reach.of, context))
          : undefined);
      if (space) return space;
    }
    return env.spaceAt(context);
  }

  private candidateType(head: QueryHead): Type {
    switch (head.is) {
      case 'agents':
        return head.kind.self.type;
      case 'cells':
        return placeOn(head.space);
      case 'ties':
        return { is: 'tie', network: head.network.name };
      case 'tally':
        return head.tally.type;
      case 'list': {
        const { type } = head.attribute;
        if (type.is !== 'list') return UNKNOWN;
        if (type.of === 'agents') return type.kind === undefined ? UNKNOWN : { is: 'agent', kind: type.kind };
        return type.of === 'places' ? { is: 'place', space: type.space } : number(type.dim ?? PLAIN);
      }
    }
  }

  network(name: Ast.Name): NetworkSymbol | undefined {
    const { env } = this;
    const network = env.networks.get(name.key);
    if (!network) {
      env.report(
        say.unknownNetwork(
          name.span,
          name.text,
          env.near(
            name.text,
            [...env.networks.values()].map((n) => n.name),
          ),
        ),
      );
      return undefined;
    }
    env.stands(name, network);
    env.use(network);
    return network;
  }

  zone(name: Ast.Name): ZoneSymbol | undefined {
    const { env } = this;
    const zone = env.zones.get(name.key);
    if (!zone) {
      env.report(
        say.unknownZone(
          name.span,
          name.text,
          env.near(
            name.text,
            [...env.zones.values()].map((z) => z.name),
          ),
        ),
      );
      return undefined;
    }
    env.stands(name, zone);
    env.use(zone);
    return zone;
  }

  candidateContext(query: Ast.Query, candidate: LocalSymbol, context: Context): Context {
    const locals = query.alias ? new Map(context.locals).set(query.alias.key, candidate) : context.locals;
    return { ...context, it: candidate, locals, cell: undefined, asked: undefined };
  }

  reach(reach: Ast.Reach, context: Context, head?: QueryHead): void {
    const { env } = this;
    if (reach.is === 'anyone') return;
    if (reach.is === 'tied') {
      this.tied(reach, context, head);
      return;
    }
    if (reach.is === 'aboard' || reach.is === 'carrying') {
      const of = reach.of && this.e.check(reach.of, context);
      checkRidingReach(env, reach, head?.is === 'agents' ? head.kind : undefined, of, context);
      return;
    }
    const asked = head?.is === 'cells' ? head.space : head?.is === 'agents' ? head.kind.space : undefined;
    const space = asked ?? env.spaceAt(context);
    if (!space) {
      env.report(say.noSpace(reach.span, `“${env.textOf(reach.span)}”`));
      return;
    }
    if (reach.is === 'zone') {
      const zone = this.zone(reach.name!);
      if (!zone) return;
      env.zoneOf.set(reach, zone);
      this.e.sameSpace(reach.span, placeOn(zone.space), space);
      return;
    }
    if (reach.along && space.form !== 'map') {
      env.report(say.needsMap(reach.span, '“along the lanes”', formOf(space).words));
      return;
    }
    if (reach.along && head?.is === 'cells') env.report(say.noReach(reach.span, env.textOf(reach.span)));
    const isGrid =
      formOf(space).isOfCells || (head?.is === 'cells' && (space.part.cell !== undefined || head.field !== undefined));
    if ((reach.is === 'next to' || reach.is === 'cross' || reach.is === 'square') && !isGrid) {
      env.report(
        say.wrongType(reach.span, 'A grid', formOf(space).words, { hint: 'On a plane say “within” a distance.' }),
      );
    }
    const own = reach.of || !context.asker ? undefined : env.spaceOfType(context.asker.type);
    if (reach.distance) this.reachDistance(reach.is, reach.distance, context, own ?? space);
    env.spaceOf.set(reach, space);
    if (reach.of) this.e.place(reach.of, context, space);
    else if (context.asker) this.e.sameSpace(reach.span, context.asker.type, space);
    else
      env.report(
        say.noSelf(
          reach.span,
          'A query with a reach',
          context.it && env.kindNamed(context.it.type)
            ? reach.is === 'square' || reach.is === 'cross'
              ? ' around it'
              : reach.is === 'here'
                ? undefined
                : reach.is === 'next to'
                  ? ' it'
                  : ' of it'
            : undefined,
        ),
      );
  }

  /** Squares and crosses reach so many cells to each side, also where cells have a length. */
  private reachDistance(is: Ast.Reach['is'], distance: Ast.Expr, context: Context, space: SpaceSymbol): void {
    const inCells = is === 'square' || is === 'cross';
    if (inCells && space.cellLength !== undefined) this.e.count(distance, context);
    else this.e.distance(distance, context, space);
  }

  private tied(reach: Ast.Reach, context: Context, head: QueryHead | undefined): void {
    const { env } = this;
    const network = this.network(reach.name!);
    if (!network) return;
    env.networkOf.set(reach, network);
    let asker = context.asker && env.kindNamed(context.asker.type);
    if (reach.of) {
      const type = this.e.check(reach.of, context);
      if (type.is === 'unknown') return;
      asker = env.kindNamed(type);
      if (!asker) env.report(say.wrongType(reach.of.span, 'An agent', sayType(type)));
    } else if (!asker)
      env.report(
        say.noSelf(reach.span, '“tied by”', context.it && env.kindNamed(context.it.type) ? ' to it' : undefined),
      );
    if (!asker) return;
    if (asker !== network.from && asker !== network.to)
      env.report(say.notTied(reach.name!.span, asker.name, network.name, network.from.name, network.to.name));
    else if (head?.is === 'agents') {
      const others = [asker === network.from ? network.to : undefined, asker === network.to ? network.from : undefined];
      if (!others.includes(head.kind))
        env.report(say.notTied(reach.name!.span, head.kind.name, network.name, network.from.name, network.to.name));
    } else if (head) env.report(say.noReach(reach.span, env.textOf(reach.span)));
  }

  private where(query: Ast.Query, where: Ast.Expr, inner: Context): void {
    const asked = this.askedOf(query, where, inner);
    this.e.yesNo(where, { ...asked, noDraws: 'A condition of a query' });
    if (asked.cell) return;
    const alias = query.alias?.key;
    if (!looksAtIt(where, alias)) {
      this.env.report(say.whereWithoutIt(where.span));
      return;
    }
    if (where.is !== 'binary' || (where.op !== 'and' && where.op !== 'or')) return;
    for (const [part, other] of [
      [where.right, where.left],
      [where.left, where.right],
    ] as const) {
      if (looksAtIt(part, alias)) continue;
      // The word that asks (`any`, `count`, `nearest` ...) goes into the brackets with its query.
      const asking = /(?:count|any|share\s+of|nearest|random|first)\s+$/i.exec(
        this.env.text.slice(0, query.span.start),
      );
      const start = query.span.start - (asking?.[0].length ?? 0);
      const head = this.env.textOf({ start, end: where.span.start });
      const text = { before: head + this.env.textOf(other.span), part: this.env.textOf(part.span), join: where.op };
      this.env.report(
        say.wherePartWithoutIt(
          part.span,
          { start, end: query.span.end },
          text,
          `${head}(${this.env.textOf(where.span)})`,
        ),
      );
    }
  }

  ask(expr: Ast.ExprOf<'ask'>, context: Context): Type {
    this.query(expr.query, context);
    if (expr.ask === 'share' && !expr.query.where)
      return this.env.wrong(say.argumentCount(expr.span, 'share of', '“share of Kind where condition”'));
    return expr.ask === 'count' ? WHOLE_NUMBER : expr.ask === 'any' ? YESNO : PLAIN_NUMBER;
  }

  /** A picker, which may find nobody. Gives the type of the picked, who is surely there in the block of a `with`. */
  picker(expr: Ast.ExprOf<'pick'>, context: Context): Type {
    const { env } = this;
    const head = this.query(expr.query, { ...context, asked: expr.by });
    const candidate = env.locals.get(expr.query);
    if (expr.how === 'nearest') {
      if (!env.firstSpace) return this.env.wrong(say.noSpace(expr.span, '“nearest”'));
      if (head && head.is !== 'agents' && head.is !== 'cells')
        return this.env.wrong(say.wrongType(expr.query.span, 'Agents or cells', 'something without a place'));
      const isPlaced = expr.query.reaches.some((reach) => reach.of);
      if (!context.asker && !isPlaced) return this.env.wrong(say.noSelf(expr.span, '“nearest”'));
      if (context.asker && !isPlaced && candidate)
        this.e.sameSpace(expr.query.span, candidate.type, env.spaceOfType(context.asker.type));
    }
    if (expr.query.weight && expr.how !== 'random')
      env.report(
        say.argumentCount(expr.query.weight.span, 'weighted by', '“random Kind ... weighted by it.attribute”'),
      );
    if (expr.how !== 'first') this.e.drawing(expr.span, context);
    if (expr.by && candidate) {
      const asked = this.askedOf(expr.query, expr.by, this.candidateContext(expr.query, candidate, context));
      this.e.numeric(expr.by, { ...asked, noDraws: '“with most” and “with least”' });
      if (!asked.cell && !looksAtIt(expr.by, expr.query.alias?.key)) env.report(say.overWithoutIt(expr.by.span));
    }
    const type: Type = head && candidate ? candidate.type : UNKNOWN;
    env.types.set(expr, type);
    return type;
  }

  gather(expr: Ast.ExprOf<'gather'>, context: Context): Type {
    if (expr.level) this.e.chance(expr.level, context);
    if (expr.over) return this.gatherOver(expr, expr.over, context);
    const name = expr.of.is === 'path' && expr.of.names.length === 1 ? expr.of.names[0]! : undefined;
    const field = name && this.env.fields.get(name.key);
    const tally = name && this.env.tallies.get(name.key);
    if (name && field && !expr.last) {
      this.env.refs.set(expr.of, { is: 'field', field });
      this.env.use(field);
      this.env.stands(name, field);
      if (field.type.is === 'choice')
        this.env.report(say.wrongType(name.span, 'A field of numbers', sayType(field.type)));
      return field.type.is === 'number' ? field.type : PLAIN_NUMBER;
    }
    if (name && tally) {
      this.env.refs.set(expr.of, { is: 'tally', tally });
      this.env.use(tally);
      this.env.stands(name, tally);
      return tally.type;
    }
    return this.overRows(expr, context);
  }

  /** `max of voles` in a summary, `mean of new over last 7 days` in measures and the timeline too. */
  private overRows(expr: Ast.ExprOf<'gather'>, context: Context): Type {
    const lastRows = expr.last !== undefined && context.measuresAllowed;
    if (!context.summary && !lastRows) {
      this.e.check(expr.of, { ...context, measuresAllowed: true });
      return this.env.wrong(
        say.argumentCount(expr.span, `${expr.fn} of`, `“${expr.fn} of ... over Kind”, or of a field or tally`),
      );
    }
    if (expr.last) this.e.time(expr.last, { ...context, measuresAllowed: false });
    const dim = this.e.numeric(expr.of, context);
    if (!context.summary && this.env.refs.get(expr.of)?.is !== 'measure')
      return this.env.wrong(
        say.wrongType(expr.of.span, 'A measure', 'something else', {
          hint: 'Over the last rows only a measure is gathered: “mean of new over last 7 days”.',
        }),
      );
    return number(dim);
  }

  private gatherOver(expr: Ast.ExprOf<'gather'>, over: Ast.Query, context: Context): Type {
    const head = this.query(over, { ...context, asked: expr.of });
    const candidate = this.env.locals.get(over);
    if (!head || !candidate) return UNKNOWN;
    const inner = this.askedOf(over, expr.of, this.candidateContext(over, candidate, context));
    const type = this.e.check(expr.of, { ...inner, noDraws: 'What is gathered' });
    if (!inner.cell && !looksAtIt(expr.of, over.alias?.key)) this.env.report(say.overWithoutIt(expr.of.span));
    if (type.is === 'place' && expr.fn === 'mean') {
      const space = this.env.spaceOfType(type);
      if (space) this.env.spaceOf.set(expr, space);
      return type;
    }
    if (type.is === 'yesno' && (expr.fn === 'mean' || expr.fn === 'sum'))
      return this.env.wrong(
        say.wrongType(expr.of.span, 'A number', sayType(type), {
          hint: 'For a share write “share of Kind where ...”, for a number “count Kind where ...”.',
        }),
      );
    if (type.is !== 'number')
      return type.is === 'unknown' ? UNKNOWN : this.env.wrong(say.wrongType(expr.of.span, 'A number', sayType(type)));
    if (type.direction && expr.fn === 'mean') return type;
    return number(type.dim, type.whole && GATHERS_WHOLE.includes(expr.fn));
  }

  temporal(expr: Exclude<Extract<Ast.Expr, { of: Ast.Expr }>, Ast.ExprOf<'gather'>>, context: Context): Type {
    if (!context.summary)
      return this.env.wrong(
        say.wrongType(expr.span, 'A value at this moment', 'a question about the whole run', {
          hint: 'Such questions stand in a “summary”.',
        }),
      );
    switch (expr.is) {
      case 'last of':
        return this.e.check(expr.of, context);
      case 'time of':
      case 'period':
        this.e.numeric(expr.of, context);
        return number(TIME);
      case 'growth rate':
        this.e.numeric(expr.of, context);
        for (const span of [expr.first, expr.last]) if (span) this.e.time(span, context);
        return number(PER_TIME);
      case 'mean peak': {
        const type = this.e.check(expr.of, context);
        this.e.yesNo(expr.during, context);
        return type.is === 'number' || type.is === 'unknown'
          ? type
          : this.env.wrong(say.wrongType(expr.of.span, 'A number', sayType(type)));
      }
      default:
        this.e.yesNo(expr.of, context);
    }
    if (expr.is === 'ever' || expr.is === 'always') return YESNO;
    if (expr.is === 'share of steps') return PLAIN_NUMBER;
    return expr.is === 'spells' ? WHOLE_NUMBER : number(TIME);
  }

  flow(expr: Ast.ExprOf<'flow'>, context: Context): Type {
    if (!context.measuresAllowed) return this.env.wrong(say.flowInRule(expr.span, expr.which));
    const names = (expr.path as Ast.ExprOf<'path'>).names;
    const wanted = names[names.length - 1]!;
    const hits: { kind: KindSymbol; machine: MachineSymbol; state: number; group?: StateGroup }[] = [];
    for (const kind of this.env.kinds.values()) {
      for (const machine of kind.machines) {
        if (names.length > 1 && names[0]!.key !== machine.key && names[0]!.key !== kind.key) continue;
        const state = machine.states.findIndex((s) => s.key === wanted.key);
        const group = machine.groups.find((g) => g.key === wanted.key);
        if (state >= 0 || group) hits.push({ kind, machine, state, group });
      }
    }
    if (hits.length === 0)
      return this.env.wrong(
        say.unknownChoice(
          wanted.span,
          wanted.text,
          [...this.env.kinds.values()].flatMap((k) => k.machines.flatMap((m) => m.states.map((s) => s.name))),
          undefined,
        ),
      );
    if (hits.length > 1)
      return this.env.wrong(
        say.ambiguousRule(
          wanted.span,
          wanted.text,
          hits.map((hit) => `${hit.machine.name}.${wanted.text}`),
        ),
      );
    const hit = hits[0]!;
    this.env.refs.set(expr, { is: 'flow', ...hit });
    this.env.stands(wanted, hit.group ?? hit.machine.states[hit.state]!);
    if (names.length > 1) this.env.stands(names[0]!, names[0]!.key === hit.machine.key ? hit.machine : hit.kind);
    return WHOLE_NUMBER;
  }

  timeIn(expr: Ast.ExprOf<'time in'>, context: Context): Type {
    const type = this.e.check(expr.path, context);
    const ref = this.env.refs.get(expr.path);
    if (ref?.is !== 'machine')
      return type.is === 'unknown'
        ? UNKNOWN
        : this.env.wrong(say.wrongType(expr.path.span, 'A state machine', sayType(type)));
    this.env.timedMachines.add(ref.machine);
    return number(TIME);
  }

  tieTo(expr: Ast.ExprOf<'tie to'>, context: Context): Type {
    const network = this.network(expr.network);
    this.e.agentOrNobody(expr.other, context);
    if (!network) return UNKNOWN;
    if (!context.asker || !this.env.kindNamed(context.asker.type))
      return this.env.wrong(say.noSelf(expr.span, '“tie to”'));
    this.env.networkOf.set(expr, network);
    return { is: 'tie', network: network.name, maybe: true };
  }

  /** `is one of`, with a query or a list to the right. */
  oneOfQuery(expr: Ast.ExprOf<'one of'>, query: Ast.Query, left: Type, context: Context): Type {
    const head = this.query(query, context);
    const candidate = this.env.locals.get(query);
    if (!head || !candidate || left.is === 'unknown') return YESNO;
    const { type } = candidate;
    const fits =
      left.is === 'agent' && type.is === 'agent'
        ? left.kind === type.kind
        : left.is === type.is && left.is === 'number';
    if (!fits) this.env.report(say.notComparable(expr.span, sayType(left), sayType(type)));
    else if (left.is === 'number' && type.is === 'number' && left.dim && !isPlain(left.dim))
      this.e.agree(expr, left.dim, type.dim);
    return YESNO;
  }
}
