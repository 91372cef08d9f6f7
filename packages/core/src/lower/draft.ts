import type { Progress, Span } from '../diagnostics.ts';
import type { AttributeSymbol, CheckedModel, FieldSymbol, KindSymbol, LocalSymbol } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import type { Law } from '../plan/functions.ts';
import type { AgentRef, Code, Expr, Site, Statement, JourneyColumn } from '../plan/plan.ts';
import { binary, local, num } from './code.ts';

/** Where the values of an attribute lie: from a first column on; places take two, lists one for their length and one an item or two. */
export interface ColumnRange {
  readonly first: number;
  readonly width: number;
}

/** What all bodies of a model share while it is lowered. */
export interface Lowering {
  readonly model: CheckedModel;
  readonly sites: Site[];
  /** First counter of each machine, by machine symbol. */
  readonly counters: ReadonlyMap<object, number>;
  /**
   * Column of due times of each transition after a time, of each machine for the time at which its state began, of the part of each machine that hears of arrivals for
   * what it has heard, and of each kind on a map for the time up to which it has travelled.
   */
  readonly dueColumns: ReadonlyMap<object, number>;
  /** By kind, the due columns that have to do with journeys. */
  readonly journeyColumns: readonly Readonly<Partial<Record<JourneyColumn, number>>>[];
  readonly columns: ReadonlyMap<AttributeSymbol, ColumnRange>;
  /** Fields whose bounds differ from cell to cell. */
  readonly keptByCell: Set<FieldSymbol>;
  readonly progress: Progress;
  /** Statements by which agents travel with lines, as far as they have been lowered. */
  readonly journeys: Ast.StatementOf<'travel'>[];
}

export interface Point {
  readonly x: Expr;
  readonly y: Expr;
}

/** Where the body acts from: its agent, or a place for fields. */
export interface Standing {
  readonly actor?: LocalSymbol;
  readonly here?: Point;
  /** Locals that are given their values from outside. */
  readonly given?: number;
  /** The field whose own cell is meant by its bare name. */
  readonly ownField?: number;
  /** A measure: values may be empty. */
  readonly empties?: boolean;
  readonly atOnce?: boolean;
  /** Machines that the rule sets in others. */
  readonly changed?: ReadonlySet<object>;
}

/** What lowering does with each kind of syntax, so that files of one verb each can call one another through the draft. */
export interface Verbs {
  value(draft: Draft, expr: Ast.Expr): Expr;
  pick(draft: Draft, expr: Ast.ExprOf<'pick'>, slot: number, then: () => void, otherwise: readonly Statement[]): void;
  centre(draft: Draft, expr: Ast.ExprOf<'gather'>): Point;
  block(draft: Draft, block: Ast.Block): void;
}

/** The local of the acting agent, where there is one. */
const ACTOR_SLOT = 0;

export interface CellLocal {
  readonly slot: number;
  readonly raster: number;
}

/** A body while it is lowered: numbered locals, statements collected before the values that need them, and who acts. */
export class Draft {
  readonly slots = new Map<LocalSymbol, number>();

  private readonly aliases = new Map<LocalSymbol, number>();

  /** Locals that hold agents made in this body. */
  readonly freshSlots = new Set<number>();

  /** Whose place is here and whose `turn` and `move` are meant. */
  acting: LocalSymbol | undefined;

  private isNobody = false;
  private cellHere: Point | undefined;

  /** Places kept by `let`. */
  readonly heldPlaces = new Map<LocalSymbol, Point>();
  /** Names that stand for cells. */
  readonly cells = new Map<LocalSymbol, CellLocal>();
  /** Names that stand for an item of a list or tally of numbers. */
  readonly items = new Map<LocalSymbol, Expr>();
  private sink: Statement[] = [];

  private nextLocal = 0;

  constructor(
    readonly shared: Lowering,
    readonly rule: string,
    readonly standing: Standing,
    private readonly verbs: Verbs,
  ) {
    this.acting = standing.actor;
    if (standing.actor) this.slots.set(standing.actor, this.newLocal());
    this.nextLocal = Math.max(this.nextLocal, standing.given ?? 0);
  }

  /** The value of an expression; what it needs done before is emitted. */
  lower(expr: Ast.Expr): Expr {
    return this.verbs.value(this, expr);
  }

  /** Picks into a local, then runs `then`, else `otherwise`. */
  pick(expr: Ast.ExprOf<'pick'>, slot: number, then: () => void, otherwise: readonly Statement[]): void {
    this.verbs.pick(this, expr, slot, then, otherwise);
  }

  centre(expr: Ast.ExprOf<'gather'>): Point {
    return this.verbs.centre(this, expr);
  }

  block(block: Ast.Block): void {
    this.verbs.block(this, block);
  }

  get localCount(): number {
    return this.nextLocal;
  }

  newLocal(): number {
    return this.nextLocal++;
  }

  /** Who asks queries, and whose place is here. */
  get asker(): LocalSymbol | undefined {
    return this.isNobody ? undefined : (this.acting ?? this.standing.actor);
  }

  slotOf(symbol: LocalSymbol): number {
    const alias = this.aliases.get(symbol);
    if (alias !== undefined) return alias;
    let slot = this.slots.get(symbol);
    if (slot === undefined) {
      slot = this.newLocal();
      this.slots.set(symbol, slot);
    }
    return slot;
  }

  agent(symbol: LocalSymbol): AgentRef {
    return this.agentIn(this.slotOf(symbol));
  }

  agentIn(slot: number): AgentRef {
    return {
      local: slot,
      own: this.standing.actor !== undefined && slot === ACTOR_SLOT,
      fresh: this.freshSlots.has(slot) || undefined,
    };
  }

  /** While `build` runs, the kind's own names mean the agent in `slot`: a new one, a candidate, one whose machine is set. */
  asSelf(self: LocalSymbol, slot: number, build: () => void): void {
    const before = this.aliases.get(self);
    const { acting, isNobody } = this;
    this.aliases.set(self, slot);
    this.acting = self;
    this.isNobody = false;
    build();
    this.acting = acting;
    this.isNobody = isNobody;
    if (before === undefined) this.aliases.delete(self);
    else this.aliases.set(self, before);
  }

  /** The place from which a body acts that no agent does. */
  get here(): Point | undefined {
    return this.cellHere ?? this.standing.here;
  }

  /** While `build` runs, nobody acts: what is asked for is of the whole model, or as seen from a cell. */
  asNobody(build: () => void, cell?: Point): void {
    const { acting, isNobody, cellHere } = this;
    this.acting = undefined;
    this.isNobody = true;
    this.cellHere = cell;
    build();
    this.acting = acting;
    this.isNobody = isNobody;
    this.cellHere = cellHere;
  }

  site(span: Span, what: string): number {
    return this.shared.sites.push({ span, rule: this.rule, what }) - 1;
  }

  emit(statement: Statement): void {
    this.sink.push(statement);
  }

  /** Collects the statements that `build` emits. */
  collect(build: () => void): Statement[] {
    const outer = this.sink;
    this.sink = [];
    build();
    const collected = this.sink;
    this.sink = outer;
    return collected;
  }

  code(expr: Ast.Expr): Code {
    let value: Expr = num(0);
    const statements = this.collect(() => (value = this.lower(expr)));
    return { statements, value };
  }

  /** Keeps a value in a local, so that using it twice computes it once. */
  hold(value: Expr): Expr {
    if (value.op === 'number' || value.op === 'local' || value.op === 'parameter') return value;
    const slot = this.newLocal();
    this.emit({ op: 'set', local: slot, value });
    return local(slot);
  }

  finite(value: Expr, span: Span, what: string): Expr {
    return { op: 'finite', value, site: this.site(span, what), mayBeEmpty: this.standing.empties };
  }

  draw(law: Law, args: readonly Expr[], span: Span): Expr {
    const slot = this.newLocal();
    this.emit({ op: 'draw', local: slot, law, args, site: this.site(span, `a draw from ${law}`) });
    return local(slot);
  }

  kindOfLocal(symbol: LocalSymbol): KindSymbol {
    const name = symbol.type.is === 'agent' ? symbol.type.kind : '';
    const kind = this.shared.model.kinds.find((k) => k.name === name);
    if (!kind) throw new RangeError(`“${symbol.name}” is no agent`);
    return kind;
  }

  columnOf(attribute: AttributeSymbol): number {
    return this.shared.columns.get(attribute)!.first;
  }

  /** Joins a condition with one that may need statements of its own, which run only if the first holds. */
  andThen(condition: Expr, build: () => Expr): Expr {
    let value: Expr = num(0);
    const statements = this.collect(() => (value = build()));
    if (statements.length === 0) return condition.op === 'number' ? value : binary('and', condition, value);
    const slot = this.newLocal();
    this.emit({ op: 'set', local: slot, value: condition });
    this.emit({ op: 'if', condition: local(slot), then: [...statements, { op: 'set', local: slot, value }], else: [] });
    return local(slot);
  }
}
