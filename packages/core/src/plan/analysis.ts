import type { Body, Code, CountedPlan, FieldPlan, Mode, Plan, Statement, WriteHow } from './plan.ts';
import { isSought } from './picks.ts';
import { zoneOfAgents } from './zone-asked.ts';
import { spaceOfKind } from './plan.ts';
import { visitCode, visitExpr, visitStatements } from './visit.ts';

type OwnWrites = 'none' | '+=' | '*=' | '=';

/** What a rule reads and writes, as far as the way of running it depends on it. Keys of columns are `kind:column`. */
export interface RuleEffects {
  readonly draws: boolean;
  readonly removes: boolean;
  /** Kinds that are asked for by place. */
  readonly queried: ReadonlySet<number>;
  /** Kinds of which the nearest is asked for. */
  readonly sought: ReadonlySet<number>;
  /** Of those asked for by place the kinds asked for beyond the cells next to a place. */
  readonly askedFar: ReadonlySet<number>;
  /** Of these the kinds of whom nobody moves or comes while the rule runs. */
  readonly standing: ReadonlySet<number>;
  readonly movedKinds: ReadonlySet<number>;
  readonly createdKinds: ReadonlySet<number>;
  readonly writtenStates: ReadonlySet<string>;
  /** Written columns of agents that exist already. */
  readonly writtenColumns: ReadonlySet<string>;
  readonly othersRead: ReadonlySet<string>;
  readonly othersStatesRead: ReadonlySet<string>;
  readonly othersPlacesRead: ReadonlySet<number>;
  /** Columns that others write in the rule, with how an agent itself writes them: all at once these are gathered (S17). */
  readonly contested: ReadonlyMap<string, OwnWrites>;
  /** Of the contested columns those to which everybody only adds. */
  readonly addedColumns: ReadonlySet<string>;
  readonly writtenFields: ReadonlyMap<number, ReadonlySet<WriteHow>>;
  readonly readFields: ReadonlySet<number>;
  readonly changes: boolean;
  readonly asksCells: boolean;
  /** Whether nothing an agent does in its turn can be seen in another's turn, so that the order of turns makes no difference. */
  readonly orderFree: boolean;
  /** Whether ties are made or cut, be it by agents coming and going. */
  readonly movesTies: boolean;
  /** Rows of ties that are gone through, as `network:side`. */
  readonly rowsAsked: ReadonlySet<string>;
}

export function columnKey(kind: number, column: number): string {
  return `${kind}:${column}`;
}

/** Statements through which an agent's turn can reach another's, whatever they write. */
const SHARED_STATEMENTS: ReadonlySet<Statement['op']> = new Set([
  'write field',
  'write variable',
  'write parameter',
  'write tie',
  'add to tally',
  'tie',
  'untie',
  'send',
  'log',
  'record',
  'create',
  'change',
  'move to',
  'vanish',
]);

export function effectsOf(rule: { readonly body: Body }): RuleEffects {
  let draws = false;
  let removes = false;
  let changes = false;
  let asksCells = false;
  let shares = false;
  let asksAgents = false;
  let movesTies = false;
  const rowsAsked = new Set<string>();
  const queried = new Set<number>();
  const sought = new Set<number>();
  const askedFar = new Set<number>();
  const movedKinds = new Set<number>();
  const createdKinds = new Set<number>();
  const writtenStates = new Set<string>();
  const writtenColumns = new Set<string>();
  const othersRead = new Set<string>();
  const othersStatesRead = new Set<string>();
  const othersPlacesRead = new Set<number>();
  const own = new Map<string, Set<WriteHow>>();
  const foreign = new Map<string, Set<WriteHow>>();
  const writtenFields = new Map<number, Set<WriteHow>>();
  const readFields = new Set<number>();
  const foreignStates = new Set<string>();
  visitStatements(rule.body.statements, {
    statement(s) {
      if (SHARED_STATEMENTS.has(s.op)) shares = true;
      if (s.op === 'tie' || s.op === 'untie' || s.op === 'create' || s.op === 'remove') movesTies = true;
      switch (s.op) {
        case 'draw':
        case 'draw cell':
        case 'draw in zone':
        case 'draw listed':
          draws = true;
          return;
        case 'pick':
          if (s.how !== 'first') draws = true;
          if (s.how === 'nearest' && s.query.kind >= 0) othersPlacesRead.add(s.query.kind);
          if (isSought(s)) sought.add(s.query.kind);
          return;
        case 'each':
          if (s.shuffled) draws = true;
          return;
        case 'write': {
          if (s.agent.fresh) return;
          const key = columnKey(s.kind, s.column);
          writtenColumns.add(key);
          const hows = s.agent.own ? own : foreign;
          hows.set(key, (hows.get(key) ?? new Set<WriteHow>()).add(s.how));
          return;
        }
        case 'add to list':
          if (!s.agent.own) shares = true;
          for (let i = 0; i <= s.size * s.values.length; i++) writtenColumns.add(columnKey(s.kind, s.column + i));
          return;
        case 'write field':
          writtenFields.set(s.field, (writtenFields.get(s.field) ?? new Set<WriteHow>()).add(s.how));
          return;
        case 'change':
          changes = true;
          return;
        case 'find':
        case 'find tie':
          asksAgents = true;
          return;
        case 'become':
          if (s.agent.fresh) return;
          writtenStates.add(columnKey(s.kind, s.machine));
          if (!s.agent.own) foreignStates.add(columnKey(s.kind, s.machine));
          return;
        case 'turn':
        case 'move by':
        case 'move to':
        case 'travel':
        case 'vanish':
          if (!s.agent.fresh) movedKinds.add(s.kind);
          if (!s.agent.fresh && !s.agent.own) shares = true;
          return;
        case 'create':
          createdKinds.add(s.kind);
          return;
        case 'remove':
          removes = true;
          if (!s.agent.own) shares = true;
          return;
        case 'set':
        case 'if':
        case 'switch':
        case 'repeat':
        case 'until':
        case 'count':
        case 'any':
        case 'gather':
        case 'write due':
        case 'write parameter':
        case 'write variable':
        case 'write tie':
        case 'add to tally':
        case 'tie':
        case 'untie':
        case 'record':
        case 'send':
        case 'log':
        case 'nobody':
        case 'demand':
        case 'demand ashore':
        case 'other end':
        case 'end turn':
        case 'end run':
          return;
      }
    },
    expr(e) {
      if (e.op === 'attribute' && !e.agent.own) othersRead.add(columnKey(e.kind, e.column));
      else if ((e.op === 'list item' || e.op === 'list length') && !e.agent.own) shares = true;
      else if (e.op === 'state' && !e.agent.own) othersStatesRead.add(columnKey(e.kind, e.machine));
      else if ((e.op === 'position' || e.op === 'ahead') && !e.agent.own) othersPlacesRead.add(e.kind);
      else if (e.op === 'field' || e.op === 'field cell' || e.op === 'field mean' || e.op === 'cell')
        readFields.add(e.field);
      else if (e.op === 'count of kind') asksAgents = true;
      else if (e.op === 'due' && !e.agent.own) shares = true;
    },
    query(q) {
      if (q.over.is === 'cells') {
        asksCells = true;
        if (q.over.empty) asksAgents = true;
        return;
      }
      if (q.over.is !== 'tally') asksAgents = true;
      if (zoneOfAgents(q)) sought.add(q.kind);
      if (q.reach.is === 'tied') rowsAsked.add(`${q.reach.network}:${q.reach.side}`);
      if (q.over.is !== 'agents' || q.reach.is === 'all' || q.reach.is === 'tied') return;
      queried.add(q.kind);
      if (q.reach.is !== 'here' && q.reach.is !== 'next to') askedFar.add(q.kind);
      othersPlacesRead.add(q.kind);
    },
  });
  const contested = new Map<string, OwnWrites>();
  const addedColumns = new Set<string>();
  for (const [key, hows] of foreign) {
    contested.set(key, ownWrites(own.get(key)));
    const all = new Set([...hows, ...(own.get(key) ?? [])]);
    if (all.size === 1 && all.has('+=')) addedColumns.add(key);
  }
  const overlaps = <T>(a: ReadonlySet<T>, b: ReadonlySet<T>): boolean => [...a].some((item) => b.has(item));
  const orderFree =
    !shares &&
    foreign.size === 0 &&
    foreignStates.size === 0 &&
    !(removes && asksAgents) &&
    !(asksCells && movedKinds.size > 0) &&
    !overlaps(writtenColumns, othersRead) &&
    !overlaps(writtenStates, othersStatesRead) &&
    !overlaps(movedKinds, othersPlacesRead);
  return {
    draws,
    removes,
    changes,
    asksCells,
    queried,
    sought,
    askedFar,
    standing: standingOf(askedFar, movedKinds, createdKinds),
    movedKinds,
    createdKinds,
    writtenStates,
    writtenColumns,
    othersRead,
    othersStatesRead,
    othersPlacesRead,
    contested,
    addedColumns,
    writtenFields,
    readFields,
    orderFree,
    movesTies,
    rowsAsked,
  };
}

/** What of rules that share turns holds for each of them, whichever of them does it: what one does, the turns of the others see. */
export function sharedEffects(
  all: readonly RuleEffects[],
): Pick<
  RuleEffects,
  | 'removes'
  | 'queried'
  | 'sought'
  | 'standing'
  | 'writtenStates'
  | 'movedKinds'
  | 'createdKinds'
  | 'writtenFields'
  | 'movesTies'
> {
  const union = <T>(of: (effects: RuleEffects) => Iterable<T>): Set<T> => new Set(all.flatMap((one) => [...of(one)]));
  const movedKinds = union((effects) => effects.movedKinds);
  const createdKinds = union((effects) => effects.createdKinds);
  return {
    removes: all.some(({ removes }) => removes),
    queried: union((effects) => effects.queried),
    sought: union((effects) => effects.sought),
    writtenStates: union((effects) => effects.writtenStates),
    standing: standingOf(
      union((effects) => effects.askedFar),
      movedKinds,
      createdKinds,
    ),
    movedKinds,
    createdKinds,
    writtenFields: new Map(all.flatMap(({ writtenFields }) => [...writtenFields])),
    movesTies: all.some(({ movesTies }) => movesTies),
  };
}

/** Kinds worth sorting by place: asked for further than the own cell and those next to it, and nobody of them moves or comes. */
function standingOf(
  askedFar: ReadonlySet<number>,
  moved: ReadonlySet<number>,
  created: ReadonlySet<number>,
): ReadonlySet<number> {
  return new Set([...askedFar].filter((kind) => !moved.has(kind) && !created.has(kind)));
}

function ownWrites(how: ReadonlySet<WriteHow> | undefined): OwnWrites {
  if (!how) return 'none';
  return how.size === 1 ? [...how][0]! : '=';
}

/**
 * Whether the agents of a rule may have their turns by number: all at once, in fixed order, and where no turn can be seen in another, so that the order of turns makes
 * no difference and need not be drawn.
 */
export function hasPlainTurns(plan: Plan, effects: RuleEffects, mode: Mode): boolean {
  return mode !== 'in turn' || (effects.orderFree && !contendsForCells(plan, effects));
}

/** Whether where one goes to may be closed to another. */
export function contendsForCells(plan: Plan, { movedKinds }: RuleEffects): boolean {
  return [...movedKinds].some((moved) => spaceOfKind(plan, moved)?.tracksCells);
}

/** Whether statements remove anybody. */
export function removesAgents(statements: readonly Statement[]): boolean {
  return effectsOf({ body: { statements, locals: 0 } }).removes;
}

/** Whether a statement, or one inside it, draws from the stream of the acting agent. */
export function drawsLuck(statement: Statement): boolean {
  return effectsOf({ body: { statements: [statement], locals: 0 } }).draws;
}

/** Statements of a body that change nothing but attributes and states. */
const QUIET_STATEMENTS: ReadonlySet<Statement['op']> = new Set([
  'set',
  'draw',
  'if',
  'switch',
  'write',
  'become',
  'write due',
  'record',
]);

/** Statements by which an agent in its turn only asks, draws and changes. */
const PRIVATE_STATEMENTS: ReadonlySet<Statement['op']> = new Set([
  ...QUIET_STATEMENTS,
  'repeat',
  'until',
  'count',
  'any',
  'gather',
  'pick',
  'each',
  'turn',
  'move by',
  'travel',
  'end turn',
]);

/** Whether an agent changes nobody but itself in its turn, and nothing in an order that could be seen. */
export function keepsToItself(body: Body, effects: RuleEffects): boolean {
  let isSo = true;
  visitStatements(body.statements, {
    statement(s) {
      if (!PRIVATE_STATEMENTS.has(s.op) || s.op === 'record') isSo = false;
      else if (
        (s.op === 'write' ||
          s.op === 'become' ||
          s.op === 'write due' ||
          s.op === 'turn' ||
          s.op === 'move by' ||
          s.op === 'travel') &&
        !s.agent.own
      )
        isSo = false;
      else if (s.op === 'write' && effects.contested.has(columnKey(s.kind, s.column))) isSo = false;
    },
  });
  return isSo;
}

/** Whether statements change attributes and states of the agent in one local, and nothing else. */
export function changesOnly(agent: number, statements: readonly Statement[]): boolean {
  let isSo = true;
  visitStatements(statements, {
    statement(s) {
      if (!QUIET_STATEMENTS.has(s.op) || ((s.op === 'write' || s.op === 'become') && s.agent.local !== agent))
        isSo = false;
    },
  });
  return isSo;
}

/**
 * Whether those tied to an agent may be gone through as they stand in its row, without listing them before: what the body does to one
 * cannot change whether another is tied or fits.
 */
export function needsNoList(each: Extract<Statement, { op: 'each' }>): boolean {
  const { query } = each;
  if (
    each.shuffled ||
    each.most !== undefined ||
    query.over.is !== 'agents' ||
    query.reach.is !== 'tied' ||
    (query.where?.statements.length ?? 0) > 0
  )
    return false;
  const asked = new Set<string>();
  let isPlain = true;
  if (query.where) {
    visitExpr(query.where.value, {
      expr(e) {
        if (e.op === 'attribute') asked.add(`a${columnKey(e.kind, e.column)} ${e.agent.local === query.candidate}`);
        else if (e.op === 'state') asked.add(`s${columnKey(e.kind, e.machine)} ${e.agent.local === query.candidate}`);
        else if (
          e.op !== 'number' &&
          e.op !== 'parameter' &&
          e.op !== 'binary' &&
          e.op !== 'not' &&
          e.op !== 'minus' &&
          e.op !== 'call'
        )
          isPlain = false;
      },
    });
  }
  const change = (key: string, agent: { readonly local: number }): void => {
    // Of the candidate itself nothing is asked again; of all others what the condition reads must stay.
    if (
      agent.local === query.candidate
        ? asked.has(`${key} false`) && query.except === undefined
        : asked.has(`${key} true`) || asked.has(`${key} false`)
    )
      isPlain = false;
  };
  visitStatements(each.body, {
    statement(s) {
      if (!QUIET_STATEMENTS.has(s.op)) isPlain = false;
      else if (s.op === 'write') change(`a${columnKey(s.kind, s.column)}`, s.agent);
      else if (s.op === 'become') change(`s${columnKey(s.kind, s.machine)}`, s.agent);
    },
  });
  return isPlain;
}

/** The kinds that nobody leaves or joins after the start: all their slots are in use and alive. */
export function kindsOfFixedSize(plan: Plan): ReadonlySet<number> {
  const changing = new Set<number>();
  const statement = (s: Statement): void => {
    if (s.op === 'remove' || s.op === 'create') changing.add(s.kind);
  };
  const bodies = [...plan.rules, ...plan.timeline, ...plan.reactions].map(({ body }) => body);
  for (const kind of plan.kinds) for (const machine of kind.machines) bodies.push(machine.change);
  for (const body of bodies) visitStatements(body.statements, { statement });
  return new Set([...plan.kinds.keys()].filter((kind) => !changing.has(kind)));
}

/** Measures in an order in which each comes after those that it reads; where they go round in a circle, which the checker refuses, somewhere. */
export function measureOrder(measures: readonly { readonly body: Code }[]): number[] {
  const order: number[] = [];
  const begun = new Set<number>();
  const take = (index: number): void => {
    if (begun.has(index)) return;
    begun.add(index);
    visitCode(measures[index]!.body, {
      expr: (e) => {
        if (e.op === 'measure') take(e.index);
        else if (e.op === 'recent') take(e.measure);
      },
    });
    order.push(index);
  };
  measures.forEach((_, index) => take(index));
  return order;
}

/** Whom a measure counts, where it counts a whole kind or those of it in one state and nothing else. */
export function countedBy({ statements, value }: Code): CountedPlan | undefined {
  const [only, more] = statements;
  if (only?.op !== 'count' || more || value.op !== 'local' || value.local !== only.local) return undefined;
  const { over, kind, reach, where } = only.query;
  if (over.is !== 'agents' || reach.is !== 'all') return undefined;
  if (!where) return { kind };
  const { left, right } =
    where.value.op === 'binary' && where.value.fn === 'is' && where.statements.length === 0
      ? where.value
      : { left: undefined, right: undefined };
  return left?.op === 'state' && right?.op === 'number'
    ? { kind, machine: left.machine, state: right.value }
    : undefined;
}

/** The `log` lines of a plan, by their places. */
export function logLines(plan: Plan): Map<number, Extract<Statement, { op: 'log' }>> {
  const found = new Map<number, Extract<Statement, { op: 'log' }>>();
  const statement = (s: Statement): void => {
    if (s.op === 'log') found.set(s.site, s);
  };
  const bodies = [
    ...plan.rules.map((rule) => rule.body),
    ...plan.timeline.map((line) => line.body),
    ...plan.reactions.map((reaction) => reaction.body),
  ];
  for (const kind of plan.kinds) {
    for (const machine of kind.machines) bodies.push(machine.change);
    for (const start of kind.starts) bodies.push(start.one);
  }
  for (const body of bodies) visitStatements(body.statements, { statement });
  return found;
}

/** Whether a field may change by itself; bounds that may move take it along. */
export function mayChangeItself({ grow, spread, fade, becomes, bounds, kept }: FieldPlan): boolean {
  const doMove = bounds && !(bounds.min.value.op === 'number' && bounds.max.value.op === 'number');
  return [grow, spread, fade, becomes, kept].some((line) => line !== undefined) || doMove === true;
}
