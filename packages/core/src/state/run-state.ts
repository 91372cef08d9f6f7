import { MessageQueue } from '../engine/message-queue.ts';
import { DEAD, LEAVING, Population, UNBORN } from '../engine/population.ts';
import { Network } from '../engine/spaces/network.ts';
import { Tally } from '../engine/tallies.ts';
import { RunContext } from '../engine/run-context.ts';
import { formOf } from '../forms/forms.ts';
import type { CellValues, FieldGrid } from '../forms/space.ts';
import { arrayOfCells, cellOfPlace, cellX, cellY } from '../forms/space.ts';
import type { Block } from '../engine/memory/run-memory.ts';
import { RunMemory } from '../engine/memory/run-memory.ts';
import { TABLES } from '../kernel/tables.ts';
import { LIFE } from '../kernel/turn-ends.ts';
import type { KernelRoom } from './kernel-room.ts';
import { mayChangeItself } from '../plan/analysis.ts';
import * as P from '../plan/plan.ts';
import { heldFields } from '../plan/seen-before.ts';
import type { SpaceOfRun, Zones } from '../plan/start-space.ts';
import { NO_ZONES, startGrounds, startZones } from '../plan/start-space.ts';
import { AgentsReader, TiesReader } from './readers.ts';

function hasManyHoles({ used, living }: Population): boolean {
  return used - living > Math.max(64, used >> 3);
}

/** Numbers that a kernel leaves of a failure. */
const TROUBLE = 4;
/** Numbers that tell a kernel of the coming and going of a kind. */
const LIFE_NUMBERS = Object.keys(LIFE).length;

/** A column of values of cells. */
interface FieldColumn {
  readonly count: number;
  readonly isSingle: boolean;
}

/** What it takes, so that the next begins where a number of double precision may lie. */
function bytesOf({ count, isSingle }: FieldColumn): number {
  return isSingle ? Math.ceil(count / 2) * 8 : count * 8;
}

function hasManyCut({ count, living }: Network): boolean {
  return count - living > Math.max(64, count >> 1);
}

/** Everything that a run of compiled code is in, in columns: agents, ties, fields, messages, who stands where. Others read it by `agents` and `ties`. */
export class RunState {
  readonly context: RunContext;
  readonly populations: readonly Population[];
  readonly networks: readonly Network[];
  readonly tallies: readonly Tally[];
  readonly mail: MessageQueue;
  fields: readonly FieldGrid[] = [];
  grounds: readonly SpaceOfRun[] = [];
  /** Where all lies that kernels reach. */
  readonly memory: RunMemory;
  /** The buffer of the memory of which the views here are. */
  private buffer: ArrayBuffer | undefined;
  /** Values of fields, now and next. */
  private fieldBlock: Block | undefined;
  /** Who stands on which cell. */
  private occupiedBlock: Block | undefined;
  /** Counters of states, what a kernel leaves of a failure, and variables. */
  private countsBlock: Block;
  /** How many agents are in each state, by counter, of kinds that nobody joins or leaves. */
  inState!: Float64Array;
  /** What a kernel says of a failure: the site, the value, which kind of failure it is, and the kind of agents that acts. */
  trouble!: Float64Array;
  private lives!: Int32Array;
  /** Numbers that kernels look up; in the memory of the run where WebAssembly does. */
  tables = TABLES;
  /** What only kernels of turns use, which comes with them. */
  room: KernelRoom | undefined;
  /** Of each field that changes, or is read as it was before a rule, room for its next values, or those; and room for those that have grown and are still to spread or fade. */
  nextValues: readonly CellValues[] = [];
  private spareValues: Float64Array<ArrayBuffer> = new Float64Array(0);
  zones: Zones = NO_ZONES;
  /** How many stand on each cell of a space, obstacles counted as one; empty where it does not matter. */
  occupied: readonly Int32Array[] = [];
  /** The fields that are read as they were before some rule. */
  private readonly held: ReadonlySet<number>;
  /** Of each kind, whether it is counted who stands on which cell of its space. */
  private readonly tracked: readonly boolean[];

  /**
   * @param hasKernels whether the memory of the run is to be one of WebAssembly
   * @param isForThreads whether several threads are to see it
   */
  constructor(
    readonly plan: P.Plan,
    private readonly hasKernels = false,
    isForThreads = false,
  ) {
    this.held = heldFields(plan);
    this.memory = new RunMemory(hasKernels, isForThreads);
    this.context = new RunContext(
      plan.clock,
      plan.parameters.length,
      plan.counters,
      plan.measures.length,
      plan.variables.length,
    );
    this.populations = plan.kinds.map(
      (kind, k) =>
        new Population({
          attributes: kind.columns.length,
          machines: kind.machines.length,
          dues: kind.dueCount,
          isSomewhere: P.spaceOfKind(plan, k) !== undefined,
        }),
    );
    this.networks = plan.networks.map(
      (network) => new Network(network.from, network.to, network.directed, network.firsts.length),
    );
    this.tallies = plan.tallies.map((tally) => new Tally(tally.kept));
    this.mail = new MessageQueue(plan.messages.reduce((most, message) => Math.max(most, message.columns), 0));
    this.tracked = plan.kinds.map((_, kind) => P.spaceOfKind(plan, kind)?.tracksCells === true);
    const numbers = 3 * plan.counters + TROUBLE + plan.variables.length + (hasKernels ? TABLES.length : 0);
    this.countsBlock = this.memory.take(numbers * 8 + plan.kinds.length * LIFE_NUMBERS * 4);
    this.viewCounts();
    if (hasKernels) this.tables.set(TABLES);
  }

  // Beginning

  /** Nobody is there, and no space has a size yet. */
  clear(): void {
    for (const population of this.populations) population.clear();
    for (const network of this.networks) network.clear();
    for (const tally of this.tallies) tally.clear();
    this.mail.clear();
    this.grounds = [];
    this.fields = [];
  }

  /** Gives spaces, zones and fields their sizes; fields are 0 everywhere. */
  layOut(value: (body: P.AskedBody) => number): void {
    const { plan } = this;
    this.grounds = startGrounds(plan, value);
    this.zones = startZones(plan, this.grounds, value);
    this.occupiedCounts = this.grounds.map(({ raster }, s) =>
      plan.spaces[s]!.tracksCells ? raster.columns * raster.rows : 0,
    );
    const rasters = plan.fields.map((field) => {
      const cell = field.cell ? value(field.cell) : 1;
      const { space } = this.grounds[field.space]!;
      const { columns, rows } = formOf(space).rasterOf(space, cell);
      return { columns, rows, cell };
    });
    const cells = rasters.map(({ columns, rows }) => columns * rows);
    const isGrownFirst = ({ grow, spread, fade }: P.FieldPlan): boolean =>
      grow !== undefined && (spread !== undefined || fade !== undefined);
    const spare = plan.fields.reduce((most, field, i) => (isGrownFirst(field) ? Math.max(most, cells[i]!) : most), 0);
    const next = plan.fields.map((field, i) => (mayChangeItself(field) || this.held.has(i) ? cells[i]! : 0));
    this.fields = rasters.map((raster) => ({ ...raster, values: new Float64Array(0) }));
    const columnOf = (count: number, i: number): FieldColumn => ({ count, isSingle: plan.fields[i]!.isSingle });
    this.fieldColumns = [...cells.map(columnOf), ...next.map(columnOf), { count: spare, isSingle: false }];
    for (const block of [this.fieldBlock, this.occupiedBlock]) if (block) this.memory.give(block);
    const sum = (counts: readonly number[]): number => counts.reduce((all, count) => all + count, 0);
    this.fieldBlock = this.memory.take(sum(this.fieldColumns.map(bytesOf)));
    this.occupiedBlock = this.memory.take(sum(this.occupiedCounts) * 4);
    this.renew();
    this.countCells();
  }

  /** Of each space, of how many cells it is counted who stands on them. */
  private occupiedCounts: readonly number[] = [];

  /** Of each field, of the next values of each, and of the room to spare. */
  private fieldColumns: readonly FieldColumn[] = [];

  /** Room for so many agents of a kind, before any rule goes through columns. */
  reserve(kind: number, slots: number): void {
    this.populations[kind]!.reserve(slots, this.memory);
    this.renewAfterGrowth();
  }

  /** Brings the rows of a network into the memory of the run, with room for all whom there is room for, as kernels ask also after those who have no ties. */
  reserveRows(network: number): void {
    const of = this.networks[network]!;
    of.moveRowsInto(this.memory);
    of.ensureAgents(this.populations[of.from]!.capacity, this.populations[of.to]!.capacity, this.memory);
    this.renewAfterGrowth();
  }

  /** Brings what is kept of the ties of a network there. */
  reserveTies(network: number): void {
    this.networks[network]!.moveTiesInto(this.memory);
    this.renewAfterGrowth();
  }

  /** Room in the memory of the run for one more tie. */
  reserveTie(network: number, a: number, b: number): void {
    this.networks[network]!.makeRoomFor(a, b, this.memory);
    this.renewAfterGrowth();
  }

  /** Takes all views anew, if the memory has grown since they were taken. @returns whether it has */
  renewAfterGrowth(): boolean {
    const hasGrown = this.buffer !== this.memory.buffer;
    if (hasGrown) this.renew();
    return hasGrown;
  }

  /** What a kernel is told of the coming and going of a kind, and tells of it. */
  lifeOf(kind: number): Int32Array {
    return this.lives.subarray(kind * LIFE_NUMBERS, (kind + 1) * LIFE_NUMBERS);
  }

  /** Brings all columns of agents into the one memory, so that kernels reach them. @returns whether arrays were replaced */
  gather(): boolean {
    let version = 0;
    for (const population of this.populations) version -= population.version;
    for (const population of this.populations) population.moveInto(this.memory);
    const hasGrown = this.renewAfterGrowth();
    for (const population of this.populations) version += population.version;
    return hasGrown || version > 0;
  }

  /** Takes all views from the memory as it is now. */
  private renew(): void {
    this.buffer = this.memory.buffer;
    for (const one of [...this.populations, ...this.networks]) one.renew();
    this.countsBlock = this.memory.renewed(this.countsBlock);
    this.viewCounts();
    this.room?.renew();
    if (!this.fieldBlock || !this.occupiedBlock) return;
    this.viewOccupied(this.memory.renewed(this.occupiedBlock));
    this.fieldBlock = this.memory.renewed(this.fieldBlock);
    const { buffer } = this.fieldBlock;
    let { at } = this.fieldBlock;
    const columns = this.fieldColumns.map((of) => {
      const column = new (arrayOfCells(of.isSingle))(buffer, at, of.count);
      at += bytesOf(of);
      return column;
    });
    this.fields = this.fields.map((raster, i) => ({ ...raster, values: columns[i]! }));
    this.nextValues = columns.slice(this.fields.length, -1);
    this.spareValues = columns[columns.length - 1] as Float64Array<ArrayBuffer>;
  }

  /** Room for the values of a field that have grown and are still to spread or fade. */
  spareOf(field: number): CellValues {
    const { length } = this.fields[field]!.values;
    const { buffer, byteOffset } = this.spareValues;
    return new (arrayOfCells(this.plan.fields[field]!.isSingle))(buffer, byteOffset, length);
  }

  private viewOccupied(block: Block): void {
    this.occupiedBlock = block;
    let { at } = block;
    this.occupied = this.occupiedCounts.map((count) => {
      const column = new Int32Array(block.buffer, at, count);
      at += count * 4;
      return column;
    });
  }

  private viewCounts(): void {
    const { context, countsBlock, plan } = this;
    const at = (part: number): number => countsBlock.at + part * plan.counters * 8;
    const [entered, left, inState] = [0, 1, 2].map(
      (part) => new Float64Array(countsBlock.buffer, at(part), plan.counters),
    );
    const afterTrouble = at(3) + TROUBLE * 8;
    const variables = new Float64Array(countsBlock.buffer, afterTrouble, plan.variables.length);
    Object.assign(context, { entered, left, variables });
    this.inState = inState!;
    this.trouble = new Float64Array(countsBlock.buffer, at(3), TROUBLE);
    this.lives = new Int32Array(
      countsBlock.buffer,
      afterTrouble + variables.byteLength,
      plan.kinds.length * LIFE_NUMBERS,
    );
    if (this.hasKernels)
      this.tables = new Float64Array(
        countsBlock.buffer,
        countsBlock.at + countsBlock.bytes - TABLES.length * 8,
        TABLES.length,
      );
  }

  useZones(zones: Zones): void {
    this.zones = zones;
    this.countCells();
  }

  // Who stands where

  cellOf(s: number, x: number, y: number): number {
    const { space, raster } = this.grounds[s]!;
    return cellOfPlace(x, y, raster, space);
  }

  /** Counts anew who stands on which cell; obstacles are as good as taken. */
  countCells(): void {
    this.occupied.forEach((occupied, s) => {
      if (occupied.length === 0) return;
      occupied.fill(0);
      const { space } = this.grounds[s]!;
      const blocked = this.zones.blocked[s];
      if (blocked)
        for (const cell of blocked.cells)
          occupied[this.cellOf(s, cellX(cell, blocked.raster, space), cellY(cell, blocked.raster, space))]!++;
      this.populations.forEach(({ x, y, used, alive }, k) => {
        if (this.plan.kinds[k]!.space !== s) return;
        for (let slot = 0; slot < used; slot++)
          if (alive[slot] !== DEAD && x[slot] === x[slot]) occupied[this.cellOf(s, x[slot]!, y[slot]!)]!++;
      });
    });
  }

  // Agents

  /** Agents that are there or will be once the rule is over. */
  total(): number {
    let all = 0;
    for (const { living, unborn } of this.populations) all += living + unborn;
    return all;
  }

  living(kind: number): number {
    return this.populations[kind]!.living;
  }

  removeAt(kind: number, slot: number): void {
    const population = this.populations[kind]!;
    population.removeAt(slot);
    const { context } = this;
    if (this.tracked[kind] && population.x[slot] === population.x[slot]) {
      const s = this.plan.kinds[kind]!.space;
      this.occupied[s]![this.cellOf(s, population.x[slot]!, population.y[slot]!)]!--;
    }
    this.plan.kinds[kind]!.machines.forEach((machine, m) => {
      const state = population.states[m]![slot]!;
      context.left[machine.firstCounter + state]!++;
      for (const { members, counter } of machine.groups) if (members.includes(state)) context.left[counter]!++;
    });
    this.untie(kind, slot);
  }

  /** Cuts all ties of an agent. */
  untie(kind: number, slot: number): void {
    for (const network of this.networks) if (network.from === kind || network.to === kind) network.isolate(kind, slot);
  }

  /** After a rule all at once: the removed go, the new are there. */
  endOfRule(): void {
    this.populations.forEach((population, kind) => {
      const { alive } = population;
      for (let slot = 0; slot < population.used; slot++) {
        if (alive[slot] === LEAVING) this.removeAt(kind, slot);
        else if (alive[slot] === UNBORN) population.bear(slot);
      }
    });
  }

  /** Closes the holes of the removed where they have become many; networks follow. */
  closeHoles(): void {
    // Asked after every rule, so without making anything while there is nothing to do.
    let isNeeded = false;
    for (let k = 0; k < this.populations.length; k++) isNeeded ||= hasManyHoles(this.populations[k]!);
    for (let n = 0; n < this.networks.length; n++) isNeeded ||= hasManyCut(this.networks[n]!);
    if (!isNeeded) return;
    const maps = this.populations.map((population) => {
      if (!hasManyHoles(population)) return undefined;
      const moved = this.networks.length > 0 ? new Int32Array(population.used) : undefined;
      population.compact(moved);
      return moved;
    });
    this.networks.forEach((network) => {
      const [from, to] = [maps[network.from], maps[network.to]];
      if (from || to || hasManyCut(network)) {
        network.renumber(from, to, Math.max(this.populations[network.from]!.used, this.populations[network.to]!.used));
      }
    });
  }

  /** So that slots are the same whenever a snapshot was taken. */
  closeAllHoles(): void {
    const maps = this.populations.map((population) => {
      if (population.living === population.used) return undefined;
      const moved = new Int32Array(population.used);
      population.compact(moved);
      return moved;
    });
    for (const network of this.networks) {
      if (maps[network.from] || maps[network.to] || network.living < network.count)
        network.renumber(
          maps[network.from],
          maps[network.to],
          Math.max(this.populations[network.from]!.used, this.populations[network.to]!.used),
        );
    }
  }

  // Ties

  tie(n: number, a: number, b: number, values: readonly number[]): void {
    const network = this.networks[n]!;
    if (
      a < 0 ||
      b < 0 ||
      !(this.populations[network.from]!.alive[a]! & 1) ||
      !(this.populations[network.to]!.alive[b]! & 1)
    )
      return;
    const tie = network.add(a, b);
    if (tie >= 0) values.forEach((value, column) => (network.columns[column]![tie] = value));
  }

  isolate(n: number, side: number, slot: number): void {
    const network = this.networks[n]!;
    if (slot >= 0) network.isolate(side === 0 ? network.from : network.to, slot);
  }

  /** Of each living agent of a network's kinds those it is tied to, whichever way, as places in this list. */
  tiedTo(n: number): number[][] {
    const network = this.networks[n]!;
    const index = new Map<string, number>();
    for (const kind of new Set([network.from, network.to])) {
      const { alive, used } = this.populations[kind]!;
      for (let slot = 0; slot < used; slot++) if (alive[slot]! & 1) index.set(`${kind} ${slot}`, index.size);
    }
    const ties = Array.from(index, () => new Set<number>());
    for (const tie of network.list) {
      const a = index.get(`${network.from} ${network.a[tie]!}`)!;
      const b = index.get(`${network.to} ${network.b[tie]!}`)!;
      ties[a]!.add(b);
      ties[b]!.add(a);
    }
    return ties.map((set) => [...set].sort((p, q) => p - q));
  }

  /** Bytes held by agents, ties, fields and what kernels need beside them. */
  get bytes(): number {
    const indices = this.populations.reduce((sum, { index }) => sum + index.bytes, 0);
    const apart = [...this.populations, ...this.networks].reduce((sum, { bytesApart }) => sum + bytesApart, 0);
    return indices + apart + this.memory.bytes;
  }

  // For others

  agents(kind: number): AgentsReader {
    return new AgentsReader(this.populations[kind]!);
  }

  ties(network: number): TiesReader {
    const ties = this.networks[network]!;
    return new TiesReader(ties, this.populations[ties.from]!, this.populations[ties.to]!);
  }
}
