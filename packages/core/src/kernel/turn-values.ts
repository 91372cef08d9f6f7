import { isAtHand, isFixed } from '../plan/fixed-values.ts';
import { formOf } from '../forms/forms.ts';
import type { Positions } from '../plan/positions.ts';
import type { RuleSight } from '../plan/seen-before.ts';
import * as before from '../plan/seen-before.ts';
import { columnKey } from '../plan/analysis.ts';
import type * as P from '../plan/plan.ts';
import { hasObstacles, spaceOfKind, spaceOfRaster } from '../plan/plan.ts';
import type { OneState } from '../plan/acting-states.ts';
import type { CellReach } from './cells-asked.ts';
import type { AskedCells } from './asked-cells.ts';
import { PlaneCells } from './plane-cells.ts';
import type { GridCells } from './grid-cells.ts';
import type { F64, I32, Local, Numbers, Statement, Test } from './kernel.ts';
import {
  ALWAYS,
  compare,
  compareWhole,
  difference,
  f64,
  i32,
  load,
  loadWhole,
  number,
  ofOne,
  product,
  put,
  select,
  set,
  store,
  sum,
  whole,
} from './kernel.ts';
import type { MaskedCells } from './masks.ts';
import { isInZone, maskOf } from './masks.ts';
import { COMPARED, NeedsMore } from './needs-more.ts';
import { cellAt } from './cells-told.ts';
import { bearingOf } from './directions.ts';
import { calledFunction } from './functions.ts';
import * as items from './items.ts';
import type { KeptBuckets } from './kept-buckets.ts';
import { isKeptUp } from './kept-buckets.ts';
import * as outside from './outside.ts';
import { fieldAt } from './places.ts';
import { isInReach } from './reaches.ts';
import type { Sheet } from './sheet.ts';
import * as ties from './ties.ts';
import type { Trouble } from './turn-ends.ts';
import { LIFE, TROUBLES } from './turn-ends.ts';
import type { TurnReads } from './turn-reads.ts';
import { variableNow } from './variables.ts';
import { ahead, along, way, wayBetween } from './ways.ts';

const [ZERO, ONE] = [number(0), number(1)];

/** An attribute of the acting agent as it sees it itself. */
export interface Overlay {
  readonly kind: number;
  readonly column: number;
  /** Whether it sets it, in place of adding or multiplying only. */
  readonly isSetting: boolean;
  readonly value: Local<'f64'>;
  readonly isSet: Local<'i32'>;
}

/** What all rules of a line of the order have in common. */
export interface Line {
  readonly sheet: Sheet;
  readonly reads: TurnReads;
  /** Kinds that nobody leaves. */
  readonly steady: ReadonlySet<number>;
  /** Whether what waits for the end of the rule is noted in memory, of which there is enough for any one turn; else it is told. */
  readonly notesInMemory: boolean;
  /** What is worked out once, before the first turn. */
  readonly prologue: Statement[];
  /** Kinds of whom more may be born in one turn than there was room for before it. */
  readonly mayRunOut: ReadonlySet<number>;
  /** Kinds of whom the living are counted in blocks of slots. */
  readonly inBlocks: ReadonlySet<number>;
  /** Variables that turns write, and those after them read. */
  readonly variablesWritten: ReadonlySet<number>;
  /** The cells of a space, which is a square grid. */
  cells(space: number): GridCells;
  /** The agents of a kind by bucket, kept up while they move. */
  keptBuckets(kind: number): KeptBuckets;
}

/** What the expressions of a turn come to in kernel form. */
export class TurnValues {
  readonly sheet: Sheet;
  readonly reads: TurnReads;
  readonly steady: ReadonlySet<number>;
  readonly notesInMemory: boolean;
  readonly mayRunOut: ReadonlySet<number>;

  constructor(
    private readonly line: Line,
    readonly sight: RuleSight,
    /** Locals that hold agents by their slots, ties, and places in lists. */
    private readonly agents: ReadonlySet<number>,
    readonly positions: Positions,
    /** The kind that acts. */
    readonly actorKind: number,
    /** What the names of its locals begin with, where several rules share a kernel. */
    private readonly prefix = '',
    /** The state in which everybody is who has a turn, throughout it. */
    private readonly actingIn?: OneState,
  ) {
    this.sheet = line.sheet;
    this.reads = line.reads;
    this.steady = line.steady;
    this.notesInMemory = line.notesInMemory;
    this.mayRunOut = line.mayRunOut;
  }

  /** Numbers that are looked up (`tables.ts`), a column of those kernels that ask for it. */
  readonly tables = (): Numbers => this.reads.of({ is: 'tables' });

  // Locals

  slot(local: number): Local<'i32'> {
    const slot = i32(`${this.prefix}L${local}`);
    this.sheet.use(slot);
    return slot;
  }

  isAgent(local: number): boolean {
    return this.agents.has(local);
  }

  held(local: number): Local<'f64'> {
    const held = f64(`${this.prefix}L${local}`);
    this.sheet.use(held);
    return held;
  }

  // Failures

  /** Ends the kernel, saying what is wrong and with whom. */
  fail(trouble: Trouble, site: number, value: F64, at: I32 = this.slot(0)): void {
    const said = this.reads.of({ is: 'trouble' });
    this.sheet.add(
      store(said, whole(0), number(site)),
      store(said, whole(1), value),
      store(said, whole(2), number(TROUBLES.indexOf(trouble))),
      store(said, whole(3), number(this.actorKind)),
      { is: 'give', value: at },
    );
  }

  /** A value, once it is sure that it is a finite number. */
  checked(value: F64, site: number): F64 {
    if (value.is === 'f64' && Number.isFinite(value.value)) return value;
    const kept = this.sheet.kept(value);
    this.sheet.when(compare(difference(kept, kept), '!=', ZERO), () => this.fail('value', site, kept));
    return kept;
  }

  // Columns

  private seesBefore({ own, fresh }: P.AgentRef, isKept: boolean): boolean {
    return isKept && !own && !fresh;
  }

  /** Whether everybody only adds to a column, all at once. */
  isAdded(kind: number, column: number): boolean {
    return this.sight.atOnce && this.sight.effects.addedColumns.has(columnKey(kind, column));
  }

  private readonly overlays = new Map<string, Overlay>();

  /** What the acting agent itself makes of an attribute that others write too, until the rule is over. */
  overlay(kind: number, column: number): Overlay | undefined {
    const key = columnKey(kind, column);
    const how = this.sight.atOnce ? this.sight.effects.contested.get(key) : undefined;
    if (how === undefined || how === 'none') return undefined;
    let known = this.overlays.get(key);
    if (!known) {
      known = { kind, column, isSetting: how === '=', value: this.sheet.f64(), isSet: this.sheet.i32() };
      this.overlays.set(key, known);
    }
    return known;
  }

  /** Those that came to light while the body was written. */
  get allOverlays(): readonly Overlay[] {
    return [...this.overlays.values()];
  }

  attribute({ kind, column, agent }: Extract<P.Expr, { op: 'attribute' }>): F64 {
    const overlay = agent.own ? this.overlay(kind, column) : undefined;
    if (overlay) return overlay.value;
    const isAdded = !agent.fresh && this.isAdded(kind, column);
    const isBefore = isAdded || this.seesBefore(agent, before.keepsAttribute(this.sight, kind, column));
    return load(
      this.reads.of({ is: isBefore ? 'attribute before' : 'attribute', kind, column }),
      this.slot(agent.local),
    );
  }

  state({ kind, machine, agent }: Extract<P.Expr, { op: 'state' }>): I32 {
    const isBefore = this.seesBefore(agent, before.keepsState(this.sight, kind, machine));
    const column = this.reads.wholesOf({ is: isBefore ? 'state before' : 'state', kind, column: machine });
    return loadWhole(column, this.slot(agent.local));
  }

  /** A coordinate of somebody as others see it. */
  placeOf(kind: number, is: 'x' | 'y', slot: I32): F64 {
    const isBefore = before.keepsPositions(this.sight, kind);
    return load(this.reads.of({ is: isBefore ? `${is} before` : is, kind }), slot);
  }

  place(kind: number, is: 'x' | 'y' | 'direction' | 'sine' | 'cosine', agent: P.AgentRef): F64 {
    const isBefore = this.seesBefore(agent, before.keepsPositions(this.sight, kind));
    return load(this.reads.of({ is: isBefore ? `${is} before` : is, kind }), this.slot(agent.local));
  }

  // Expressions

  value(e: P.Expr): F64 {
    switch (e.op) {
      case 'number':
        return number(e.value);
      case 'local':
        return this.isAgent(e.local) ? { is: 'of i32', value: this.slot(e.local) } : this.held(e.local);
      case 'variable':
        return this.line.variablesWritten.has(e.index) ? variableNow(this.reads, e.index) : this.reads.number(e);
      case 'table':
        return outside.tableValue(this, e);
      case 'tally':
        return outside.tallyValue(this, e);

      case 'parameter':
      case 'clock':
      case 'measure':
        return this.reads.number(e);
      case 'field mean':
        return this.fieldMean(e);
      case 'size':
        return this.reads.size(e.space, e.axis === 'width' ? 'x' : 'y');
      case 'count of kind':
        return this.countOf(e.kind);
      case 'flow':
        return load(this.reads.of({ is: e.which }), whole(e.counter));
      case 'attribute':
        return this.attribute(e);
      case 'state':
        return { is: 'of i32', value: this.state(e) };
      case 'due':
        return load(this.reads.of({ is: 'due', kind: e.kind, column: e.column }), this.slot(e.agent.local));
      case 'position':
        return this.place(e.kind, e.axis, e.agent);
      case 'number of':
        return { is: 'of i32', value: this.numberOf(e.kind, e.agent.local) };
      case 'number or 0': {
        const somebody = compareWhole(this.slot(e.local), '>=', whole(0));
        return this.sheet.choose(
          somebody,
          () => ({ is: 'of i32', value: this.numberOf(e.kind, e.local) }),
          () => ZERO,
        );
      }
      case 'field':
        return this.field(e);
      case 'field cell':
        return this.fieldOfCell(e);
      case 'cell x':
      case 'cell y':
        return this.coordinateOf(e);
      case 'ahead':
        return ahead(this, e);
      case 'along':
        return along(this, e);
      case 'way':
        return way(this, e);
      case 'list length':
        return items.listLength(this, e);
      case 'list item':
        return items.listItem(this, e);
      case 'tie value':
        return ties.tieValue(this, e);
      case 'distance': {
        const [dx, dy] = wayBetween(this, e);
        return ofOne('sqrt', sum(product(dx, dx), product(dy, dy)));
      }
      case 'bearing':
        return bearingOf(this.sheet, ...wayBetween(this, e));
      case 'minus':
        return { is: 'minus', value: this.value(e.value) };
      case 'choose':
        return this.sheet.choose(
          this.test(e.condition),
          () => this.value(e.then),
          () => this.value(e.else),
        );
      case 'call':
        return calledFunction(
          this.sheet,
          this.tables,
          e.fn,
          e.args.map((arg) => this.sheet.kept(this.value(arg))),
        );
      case 'finite':
        if (e.mayBeEmpty) throw new NeedsMore();
        return this.checked(this.value(e.value), e.site);
      case 'binary':
        if (e.fn === '+' || e.fn === '-' || e.fn === '*' || e.fn === '/')
          return { is: 'f64 binary', fn: e.fn, left: this.value(e.left), right: this.value(e.right) };
        return this.truth(e);
      case 'not':
      case 'same agent':
      case 'is there':
      case 'somebody':
      case 'is nowhere':
      case 'in reach':
      case 'in zone':
      case 'tied':
        return this.truth(e);
      default:
        throw new NeedsMore();
    }
  }

  /** What all cells come to, once for the rule, which leaves them alone. */
  private fieldMean(e: Extract<P.Expr, { op: 'field mean' }>): F64 {
    const isFixed = !e.level || e.level.op === 'number' || e.level.op === 'parameter';
    if (!isFixed || this.sight.effects.writtenFields.has(e.field)) throw new NeedsMore();
    return this.reads.number(e);
  }

  private truth(e: P.Expr): F64 {
    return select(this.test(e), ONE, ZERO);
  }

  private numberOf(kind: number, local: number): I32 {
    return loadWhole(this.reads.wholesOf({ is: 'number', kind }), this.slot(local));
  }

  /** A whole number that is the same in all turns, worked out before the first. */
  onceWhole(value: I32): Local<'i32'> {
    const local = this.sheet.i32();
    this.line.prologue.push(put(local, value));
    return local;
  }

  /** How many there are of a kind. */
  countOf(kind: number): F64 {
    const { createdKinds, removes } = this.sight.effects;
    if (removes || createdKinds.has(kind))
      return { is: 'of i32', value: loadWhole(this.reads.wholesOf({ is: 'life', kind }), whole(LIFE.living)) };
    return this.reads.number({ op: 'count of kind', kind });
  }

  test(e: P.Expr): Test {
    switch (e.op) {
      case 'not':
        return { is: 'not', test: this.test(e.value) };
      case 'same agent':
        return compareWhole(this.slot(e.a.local), '==', this.slot(e.b.local));
      case 'somebody':
        return compareWhole(this.slot(e.local), '>=', whole(0));
      case 'is there':
        if (this.steady.has(e.kind)) return ALWAYS;
        return this.isThere(e.kind, e.agent.local);
      case 'in reach':
        return isInReach(this, e);
      case 'in zone':
        return isInZone(this, e);
      case 'tied':
        return ties.areTied(this, e);
      case 'is nowhere': {
        const x = this.sheet.kept(this.value(e.x));
        return compare(x, '!=', x);
      }
      case 'binary':
        return this.comparison(e);
      default:
        return compare(this.value(e), '!=', ZERO);
    }
  }

  isThere(kind: number, local: number): Test {
    const alive = loadWhole(this.reads.wholesOf({ is: 'alive', kind }), this.slot(local));
    return compareWhole({ is: 'i32 binary', fn: 'mask', left: alive, right: whole(1) }, '!=', whole(0));
  }

  /** Whether it is the state in which all are who act. */
  private isKnown(of: P.Expr, state: P.Expr): boolean {
    const { actingIn } = this;
    if (!actingIn || of.op !== 'state' || state.op !== 'number' || !of.agent.own) return false;
    return of.machine === actingIn.machine && state.value === actingIn.state;
  }

  private comparison(e: Extract<P.Expr, { op: 'binary' }>): Test {
    const { fn, left, right } = e;
    if (fn === 'and' || fn === 'or') {
      const first = this.test(left);
      if (fn === 'and' && first === ALWAYS) return this.test(right);
      // Two that are at hand are sooner compared than jumped over.
      if (isAtHand(left) && isAtHand(right)) return { is: fn, left: first, right: this.test(right) };
      return this.sheet.joined(fn, first, () => this.test(right));
    }
    if (fn === 'is' && this.isKnown(left, right)) return ALWAYS;
    if ((fn === 'is' || fn === 'is not') && left.op === 'state' && right.op === 'number')
      if (Number.isInteger(right.value))
        return compareWhole(this.state(left), fn === 'is' ? '==' : '!=', whole(right.value));
    const known = COMPARED[fn];
    if (!known) return compare(this.value(e), '!=', ZERO);
    return compare(this.value(left), known, this.value(right));
  }

  // Places

  private field({ field, x, y }: Extract<P.Expr, { op: 'field' }>): F64 {
    const values = this.reads.of({ is: before.keepsField(this.sight, field) ? 'field before' : 'field', field });
    const cell = cellAt(this, field, x, y);
    if (cell) return load(values, cell);
    this.demandNoLanes(this.sight.plan.fields[field]!.space);
    return fieldAt(this.sheet, this.reads.cellsOf(field), values, this.value(x), this.value(y));
  }

  /** The coordinates of cells that were picked, while they are at hand. */
  private readonly picked = new Map<number, Readonly<Record<'x' | 'y', F64>>>();

  /** Holds a cell in a local while something is written. */
  withCell(local: number, cells: AskedCells, cell: I32, then: () => void): void {
    const { sheet } = this;
    sheet.add(set(this.held(local), { is: 'of i32', value: cell }));
    const { x, y } = cells.coordinates(this.held(local));
    this.withCoordinates(local, { x: sheet.kept(x), y }, then);
  }

  /** Knows where the cell is that a local holds, while something is written. */
  withCoordinates(local: number, at: Readonly<Record<'x' | 'y', F64>>, then: () => void): void {
    if (!this.positions.assigned.has(local)) this.picked.set(local, at);
    then();
    this.picked.delete(local);
  }

  private coordinateOf({ op, raster, cell }: Extract<P.Expr, { op: 'cell x' | 'cell y' }>): F64 {
    const axis = op === 'cell x' ? 'x' : 'y';
    const known = cell.op === 'local' ? this.picked.get(cell.local) : undefined;
    if (known) return known[axis];
    return this.cellsOf(raster).coordinates(this.value(cell))[axis];
  }

  private fieldOfCell({ field, cell }: Extract<P.Expr, { op: 'field cell' }>): F64 {
    const values = this.reads.of({ is: before.keepsField(this.sight, field) ? 'field before' : 'field', field });
    return load(values, { is: 'truncated', value: this.value(cell) });
  }

  /** The cells of a raster: of a grid, or of a field on a plane. */
  cellsOf(raster: number): AskedCells {
    const space = spaceOfRaster(this.sight.plan, raster);
    this.demandNoLanes(space);
    const isGrid = formOf(this.sight.plan.spaces[space]!).isOfCells;
    return isGrid ? this.cells(space) : new PlaneCells(this, raster);
  }

  /** Whether it is counted in a turn how many of a kind live in blocks of slots. */
  countsLiving(kind: number): boolean {
    return this.line.inBlocks.has(kind);
  }

  /** The cells of a space, if it is a grid. */
  cells(space: number): GridCells {
    if (!formOf(this.sight.plan.spaces[space]!).isOfCells) throw new NeedsMore();
    return this.line.cells(space);
  }

  /** A reach whose distance is known before the first turn, also where a local holds it. */
  fixedReach({ is, distance }: P.SpaceReach): CellReach {
    const found = distance.op === 'local' ? this.positions.setOnce.get(distance.local) : distance;
    if (!found || !isFixed(found)) throw new NeedsMore();
    return { is, distance: found };
  }

  /** The cells of the space of a kind, where it is kept in a turn who stands on which. */
  trackedCells(kind: number): GridCells | undefined {
    const { plan, atOnce } = this.sight;
    if (atOnce || !spaceOfKind(plan, kind)?.tracksCells) return undefined;
    return this.cells(plan.kinds[kind]!.space);
  }

  /** The agents of a kind by bucket, where somebody asks for them by place while they move. */
  keptBuckets(kind: number): KeptBuckets | undefined {
    return isKeptUp(this.sight, kind) ? this.line.keptBuckets(kind) : undefined;
  }

  demandNoLanes(space: number): void {
    if (formOf(this.sight.plan.spaces[space]!).isOnLanes) throw new NeedsMore();
  }

  /** What obstacles take of the space of a kind, if there are any. */
  obstacles(kind: number): MaskedCells | undefined {
    const { plan } = this.sight;
    const { space } = plan.kinds[kind]!;
    return hasObstacles(plan, space) ? maskOf(this, { is: 'obstacles', space }) : undefined;
  }
}
