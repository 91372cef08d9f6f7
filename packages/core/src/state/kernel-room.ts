import type { RunMemory } from '../engine/memory/run-memory.ts';
import type { Population } from '../engine/population.ts';
import type { RunContext } from '../engine/run-context.ts';
import type { Network } from '../engine/spaces/network.ts';
import type { Mask } from '../engine/zones.ts';
import type { CellValues, FieldGrid } from '../forms/space.ts';
import { LIVING_BITS } from '../kernel/turn-ends.ts';
import type { CellsAsked } from '../kernel/cells-asked.ts';
import type { AnyColumn } from '../kernel/kernels.ts';
import type { ChangeKernel, RuleKernel } from '../kernel/rule-kernel.ts';
import type { ColumnBefore, MaskOf, RoomOf, TurnColumn } from '../kernel/turn-reads.ts';
import type * as P from '../plan/plan.ts';
import { spaceOfRaster } from '../plan/plan.ts';
import type { SpaceOfRun, Zones } from '../plan/start-space.ts';
import { MOST_ITEMS } from '../plan/values.ts';
import { CellsOfLine } from './cells-of-line.ts';
import {
  BytesColumn,
  Int32Column,
  KeptColumn,
  ListedAgents,
  NotesColumn,
  NumbersColumn,
  PartColumns,
  SortedAgents,
} from './kernel-columns.ts';

/** What of the state of a run kernels reach. */
interface Reached {
  readonly plan: P.Plan;
  readonly memory: RunMemory;
  readonly context: RunContext;
  readonly populations: readonly Population[];
  readonly networks: readonly Network[];
  readonly grounds: readonly SpaceOfRun[];
  readonly occupied: readonly Int32Array[];
  readonly zones: Zones;
  readonly fields: readonly FieldGrid[];
  readonly nextValues: readonly CellValues[];
  readonly inState: Float64Array;
  readonly trouble: Float64Array;
  readonly tables: Float64Array;
  lifeOf(kind: number): Int32Array;
}

/** The rows of ties, as kernels call their parts. */
const ROW_PARTS = { 'tied start': 'start', 'tied many': 'length', 'tied other': 'other', 'tied tie': 'tie' } as const;

/** What others want the states of a machine to be. */
export interface WantedStates {
  readonly kind: number;
  readonly machine: number;
  /** Those who change; some may be there several times. */
  readonly slots: Int32Array;
  /** The state that each slot is to be in; made where they differ. */
  readonly states: Float64Array;
  /** The state, where it is the same for all. */
  readonly only: number | undefined;
}

/** Room for what only kernels use, and the columns that they are given. Making room may replace all views, so that nothing is read there but how many there are. */
export class KernelRoom {
  /** The slots of those who have a turn, in order, where a kernel goes through them. */
  readonly turnOrder: Int32Column;
  /** Where the columns of the kernel under way lie, once room was made meanwhile. */
  private readonly addresses: Int32Column;
  /** Of each kind, its agents sorted by bucket, where a kernel asks who is near. */
  private readonly sorted: SortedAgents[] = [];
  /** Of each kind, who is listed by bucket, where a kernel asks who is near while they move. */
  private readonly listed: ListedAgents[] = [];
  /** Of each kind, how many live in blocks of slots of each level, where a kernel draws among them. */
  private readonly living: (readonly Int32Column[])[] = [];
  private readonly lists: Int32Column[] = [];
  private readonly weights: NumbersColumn[] = [];
  private readonly kept = new Map<string, KeptColumn>();
  /** Of each machine of a kind, which states others have set all at once. */
  private readonly wanted: BytesColumn[][] = [];
  private readonly cells = new Map<string, CellsOfLine>();
  private readonly masks = new Map<string, KeptColumn>();
  readonly notes: NotesColumn;
  /** For threads that do parts of a kernel. */
  private readonly parts: PartColumns[] = [];

  constructor(private readonly state: Reached) {
    this.turnOrder = new Int32Column(state.memory);
    this.addresses = new Int32Column(state.memory);
    this.notes = new NotesColumn(state.memory);
  }

  /** Takes all views from the memory as it is now. */
  renew(): void {
    const { turnOrder, addresses, sorted, listed, living, lists, weights, wanted, kept, cells, masks } = this;
    const inMaps = [...kept.values(), ...cells.values(), ...masks.values()];
    const others = [...sorted, ...listed, ...living.flat(), ...wanted.flat(), ...lists, ...weights, ...this.parts];
    for (const one of [turnOrder, addresses, this.notes, ...others, ...inMaps]) one?.renew();
  }

  /** Room for a drawn order of so many turns that a kernel goes through. */
  reserveTurns(turns: number): void {
    this.turnOrder.reserve(turns);
  }

  /** Room to say where so many columns lie. */
  reserveAddresses(columns: number): void {
    this.addresses.reserve(columns);
  }

  /** Says where the columns of a kernel lie, for one that waits. */
  columnsAnew(columns: readonly TurnColumn[]): readonly AnyColumn[] {
    const found = columns.map((column) => this.columnOf(column));
    this.addresses.column.set(found.map(({ byteOffset }) => byteOffset));
    return found;
  }

  /** Gives a kind as many buckets as suits the number of its agents. */
  shapeIndex(kind: number): void {
    const { index, used } = this.state.populations[kind]!;
    index.shape(this.state.grounds[this.state.plan.kinds[kind]!.space]!.space, used);
  }

  /** Room for the agents of a kind sorted by bucket. @param isKeptUp whether it is to be kept up who is in which */
  reserveIndex(kind: number, isKeptUp: boolean): void {
    const { index, capacity } = this.state.populations[kind]!;
    const { memory } = this.state;
    const buckets = index.columns * index.rows;
    (this.sorted[kind] ??= new SortedAgents(memory)).reserve(buckets, capacity);
    if (isKeptUp) (this.listed[kind] ??= new ListedAgents(memory)).reserve(buckets, capacity);
  }

  /** Room to count how many of a kind live in blocks of slots. */
  reserveLiving(kind: number): void {
    const { memory, populations } = this.state;
    const levels = (this.living[kind] ??= LIVING_BITS.map(() => new Int32Column(memory)));
    levels.forEach((level, i) => level.reserve((populations[kind]!.capacity >> LIVING_BITS[i]!) + 1));
  }

  /** Counts them. */
  countLiving(kind: number): void {
    const { alive, used } = this.state.populations[kind]!;
    this.living[kind]!.forEach(({ column }, i) => {
      column.fill(0);
      for (let slot = 0; slot < used; slot++) column[slot >> LIVING_BITS[i]!]! += alive[slot]! & 1;
    });
  }

  /** Room for a list, or for a weight of each that it may hold. */
  reserveList({ is, list, of }: RuleKernel['lists'][number]): void {
    const room = this.roomOf(of);
    if (is === 'list') (this.lists[list] ??= new Int32Column(this.state.memory)).reserve(room);
    else (this.weights[list] ??= new NumbersColumn(this.state.memory)).reserve(room);
  }

  private roomOf(of: RoomOf): number {
    switch (of.is) {
      case 'agents':
        return this.state.populations[of.kind]!.capacity;
      case 'items':
        return MOST_ITEMS;
      case 'cells': {
        const { columns, rows } =
          of.raster < 0
            ? this.state.grounds[spaceOfRaster(this.state.plan, of.raster)]!.raster
            : this.state.fields[of.raster]!;
        return columns * rows;
      }
    }
  }

  /** Room for the states that others set all at once. */
  reserveChange({ kind, machine, turns }: ChangeKernel): void {
    const ofKind = (this.wanted[kind] ??= []);
    (ofKind[machine] ??= new BytesColumn(this.state.memory)).reserve(this.state.populations[kind]!.capacity);
    this.reserveAddresses(turns.columns.length);
  }

  /** Says which agents others have set. */
  want({ kind, machine, slots, states, only }: WantedStates): void {
    const { column } = this.wanted[kind]![machine]!;
    column.fill(0, 0, this.state.populations[kind]!.used);
    for (const slot of slots) column[slot] = 1 + (only ?? states[slot]!);
  }

  /** Room for several threads to do parts of a kernel. @param notes what each may note */
  reserveParts(many: number, { lists }: RuleKernel, notes: number): void {
    for (let part = 0; part < many; part++) {
      const columns = (this.parts[part] ??= new PartColumns(
        this.state.memory,
        this.state.plan.counters,
        this.state.trouble.length,
      ));
      columns.reserve();
      columns.notes.reserve(notes);
      for (const list of lists) columns.reserveList(list, this.roomOf(list.of));
    }
  }

  /** What the thread that does a part has for itself. */
  partOf(part: number): PartColumns {
    return this.parts[part]!;
  }

  /** A column that a kernel is given which does a part beside others. */
  columnOfPart(column: TurnColumn, part: number): AnyColumn {
    const own = this.partOf(part);
    switch (column.is) {
      case 'entered':
      case 'left':
      case 'in state':
      case 'trouble':
        return own[column.is];
      case 'notes':
        return own.notes.column;
      case 'list':
        return own.lists[column.list]!.column;
      case 'weights':
        return own.weights[column.list]!.column;
      default:
        return this.columnOf(column);
    }
  }

  private maskOf(of: MaskOf): Mask {
    return of.is === 'zone' ? this.state.zones.masks[of.zone]! : this.state.zones.blocked[of.space]!;
  }

  private maskColumn(of: MaskOf): KeptColumn {
    const key = JSON.stringify(of);
    let known = this.masks.get(key);
    if (!known) this.masks.set(key, (known = new KeptColumn(this.state.memory, true)));
    return known;
  }

  /** Room for a zone as kernels see it. */
  reserveMask(of: MaskOf): void {
    this.maskColumn(of).reserve(this.maskOf(of).inside.length);
  }

  /** Lays out a zone as it is now. */
  keepMask(of: MaskOf): void {
    const { inside } = this.maskOf(of);
    this.maskColumn(of).keep(inside, inside.length);
  }

  private keptOf(column: ColumnBefore): KeptColumn {
    const key = JSON.stringify(column);
    let known = this.kept.get(key);
    if (!known) this.kept.set(key, (known = new KeptColumn(this.state.memory, column.is === 'state before')));
    return known;
  }

  /** The column of which another is what it was before a rule. */
  private columnNow(column: ColumnBefore): Float64Array | Uint8Array {
    const population = this.state.populations[column.kind]!;
    switch (column.is) {
      case 'attribute before':
        return population.attributes[column.column]!;
      case 'state before':
        return population.states[column.column]!;
      default:
        return population[column.is.slice(0, -' before'.length) as 'x'];
    }
  }

  /** Room for a column as it is before a rule. */
  reserveBefore(column: ColumnBefore): void {
    this.keptOf(column).reserve(this.state.populations[column.kind]!.capacity);
  }

  /** Keeps a column as it is. */
  keep(column: ColumnBefore): void {
    this.keptOf(column).keep(this.columnNow(column), this.state.populations[column.kind]!.used);
  }

  private cellsOf({ line, space }: Pick<CellsAsked, 'line' | 'space'>): CellsOfLine | undefined {
    return this.cells.get(`${line}:${space}`);
  }

  /** Room for the cells of a line of the order. @returns whether they can be laid out */
  reserveCells(asked: CellsAsked): boolean {
    let cells = this.cellsOf(asked);
    if (!cells) {
      cells = new CellsOfLine(this.state.memory, asked);
      this.cells.set(`${asked.line}:${asked.space}`, cells);
    }
    return cells.reserve(this.state.grounds[asked.space]!, this.state.context.parameters);
  }

  /** Nobody is kept on the cells of a line, before it is filled in who stands where. */
  clearCells(asked: CellsAsked): void {
    this.cellsOf(asked)!.clear();
  }

  /** Rises whenever a column may lie elsewhere than before. */
  get layout(): number {
    let version = this.state.memory.taken;
    for (let k = 0; k < this.state.populations.length; k++) version += this.state.populations[k]!.version;
    return version;
  }

  /** All that lies side by side from an attribute of a kind on. */
  private itemsFrom(kind: number, column: number): Float64Array {
    const { attributes, capacity } = this.state.populations[kind]!;
    const { buffer, byteOffset } = attributes[column]!;
    return new Float64Array(buffer, byteOffset, (attributes.length - column) * capacity);
  }

  /** A column that a kernel is given. */
  columnOf(column: TurnColumn): AnyColumn {
    switch (column.is) {
      case 'attribute':
        return this.state.populations[column.kind]!.attributes[column.column]!;
      case 'state':
        return this.state.populations[column.kind]!.states[column.column]!;
      case 'items':
        return this.itemsFrom(column.kind, column.column);
      case 'attribute before':
      case 'state before':
      case 'x before':
      case 'y before':
      case 'direction before':
      case 'sine before':
      case 'cosine before':
        return this.keptOf(column).column;
      case 'wanted':
        return this.wanted[column.kind]![column.column]!.column;
      case 'due':
        return this.state.populations[column.kind]!.due[column.column]!;
      case 'field':
        return this.state.fields[column.field]!.values;
      case 'field before':
        return this.state.nextValues[column.field]!;
      case 'tied start':
      case 'tied many':
      case 'tied other':
      case 'tied tie':
        return this.state.networks[column.network]!.rows[column.side]![ROW_PARTS[column.is]];
      case 'tie a':
        return this.state.networks[column.network]!.a;
      case 'tie b':
        return this.state.networks[column.network]!.b;
      case 'tie there':
        return this.state.networks[column.network]!.there;
      case 'tie value':
        return this.state.networks[column.network]!.columns[column.column]!;
      case 'mask':
        return this.maskColumn(column.of).column;
      case 'occupied':
        return this.state.occupied[column.space]!;
      case 'cells':
        return this.cellsOf(column)!.part(column.part);
      case 'entered':
      case 'left':
      case 'variables':
        return this.state.context[column.is];
      case 'in state':
        return this.state.inState;
      case 'trouble':
        return this.state.trouble;
      case 'notes':
        return this.notes.column;
      case 'tables':
        return this.state.tables;
      case 'order':
        return this.turnOrder.column;
      case 'addresses':
        return this.addresses.column;
      case 'life':
        return this.state.lifeOf(column.kind);
      case 'living':
        return this.living[column.kind]![column.level]!.column;
      case 'start':
      case 'members':
      case 'bucket':
      case 'memberX':
      case 'memberY':
        return this.sorted[column.kind]![column.is];
      case 'sortedAt':
      case 'head':
      case 'following':
      case 'preceding':
        return this.listed[column.kind]![column.is];
      case 'list':
        return this.lists[column.list]!.column;
      case 'weights':
        return this.weights[column.list]!.column;
      default:
        return this.state.populations[column.kind]![column.is];
    }
  }
}
