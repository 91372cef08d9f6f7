import { cellsInto, CellList } from '../engine/cells.ts';
import { spreadInto } from '../engine/field-change.ts';
import { MessageQueue } from '../engine/message-queue.ts';
import * as math from '../math.ts';
import { ALIVE, DEAD, LEAVING, Population, UNBORN } from '../engine/population.ts';
import { below, mix, ruleKey0, ruleKey1, shuffleInPlace, RandomStream } from '../engine/random/stream.ts';
import type { RecordRows, Script, ScriptTimelineLine, StateView } from '../engine/script.ts';
import type { FieldGrid } from '../forms/space.ts';
import { cellOfPlace, cellX, cellY } from '../forms/space.ts';
import { formOf } from '../forms/forms.ts';
import { Network } from '../engine/spaces/network.ts';
import { makePairs } from '../engine/spaces/network-makers.ts';
import { Tally } from '../engine/tallies.ts';
import { World } from '../engine/world.ts';
import { Trace } from '../engine/trace.ts';
import { componentCount, meanClustering } from '../measures/network-measures.ts';
import { visitExpr, visitStatements } from '../plan/analysis.ts';
import { agentBodyOf, emitPlan, valueBodiesOf } from './emit.ts';
import { ENGINE, keepWithin } from './engine-functions.ts';
import { failAt, failCeiling, failCount, failMemory, failNobody, failRounds, failShare } from '../plan/failures.ts';
import type { Binder, Bound, GeneratedState } from './generated-state.ts';
import { Lists } from './generated-state.ts';
import { filePairs, makerOf, pairsOf } from '../plan/make-network.ts';
import * as P from '../plan/plan.ts';
import { CELL_COLUMN, changeKey, isMachineColumn, settleStream } from '../plan/settling.ts';
import type { SpaceOfRun, Zones } from '../plan/start-space.ts';
import { NO_ZONES, rasterValue, startGrounds, startZones } from '../plan/start-space.ts';
import { askWhen, deliveryKey, noteText, startKeys } from '../plan/values.ts';
import { WriteLog } from './write-log.ts';

/** A plan as compiled JavaScript, ready to be bound to any number of runs. Needs `new Function`: workers and Node only. */
export class CompiledPlan {
  readonly source: string;
  private readonly binder: Binder;

  /** @param traces whether runs tell, to their `trace`, what one agent goes through; slower */
  constructor(
    readonly plan: P.Plan,
    traces = false,
  ) {
    this.source = emitPlan(plan, traces);
    this.binder = new Function('W', 'S', 'E', this.source) as Binder;
  }

  script(): GeneratedScript {
    return new GeneratedScript(this.plan, this.binder);
  }

  bindTo(world: World, state: GeneratedState): Bound {
    return this.binder(world, state, ENGINE);
  }

  private reused: GeneratedScript | undefined;

  /** One script for runs that follow one another: its arrays and its machine code are warm. A run on it ends when the next begins. */
  shared(): GeneratedScript {
    return (this.reused ??= this.script());
  }
}

function hasManyHoles({ used, living }: Population): boolean {
  return used - living > Math.max(64, used >> 3);
}

function hasManyCut({ count, living }: Network): boolean {
  return count - living > Math.max(64, count >> 1);
}

export class GeneratedScript implements Script {
  readonly world: World;
  readonly populations: readonly Population[];
  fields: readonly FieldGrid[] = [];
  grounds: SpaceOfRun[] = [];
  readonly entries: readonly (() => void)[];
  readonly timeline: readonly ScriptTimelineLine[];
  readonly measures: readonly (() => number)[];
  readonly measureOrder: readonly number[];
  readonly endAfter: () => number;
  readonly endWhen: readonly (() => number)[];
  readonly finals: readonly (() => number)[];
  private readonly bodies: P.ValueBody[];
  private readonly lists = new Lists();
  private readonly log = new WriteLog();
  private occupied: Int32Array[] = [];
  /** Of each kind, whether it is counted who stands on which cell of its space. */
  private readonly tracked: readonly boolean[];
  /** Of each field, whether a cell's next value depends on nothing but the cell itself, so that it can be written at once. */
  private readonly inPlace: readonly boolean[];
  readonly networks: readonly Network[];
  readonly tallies: readonly Tally[];
  readonly mail: MessageQueue;
  zones: Zones = NO_ZONES;
  private readonly cellList = new CellList();
  private readonly later: (() => void)[] = [];
  private readonly keptFields: Float64Array[] = [];
  private kept: { width: number; data: number[] }[];
  recording = false;
  readonly trace = new Trace();
  /** Lines of the order that are switched off by hand. */
  readonly off = new Set<number>();
  private readonly logNotes: ReadonlyMap<number, Extract<P.Statement, { op: 'log' }>>;
  private readonly inState: Float64Array;
  private areStatesOpen = true;
  private isStarting = false;
  private turnList = new Int32Array(64);
  private state!: GeneratedState;
  private bound!: Bound;
  private boundVersion = -1;
  private fieldScratch: Float64Array[] = [];

  constructor(
    readonly plan: P.Plan,
    private readonly binder: Binder,
  ) {
    this.world = new World(
      plan.clock,
      plan.parameters.length,
      plan.counters,
      plan.measures.length,
      plan.variables.length,
    );
    this.populations = plan.kinds.map(
      (kind) =>
        new Population({ attributes: kind.columns.length, machines: kind.machines.length, dues: kind.dueCount }),
    );
    this.networks = plan.networks.map(
      (network) => new Network(network.from, network.to, network.directed, network.firsts.length),
    );
    this.tallies = plan.tallies.map((tally) => new Tally(tally.kept));
    this.mail = new MessageQueue(plan.messages.reduce((most, message) => Math.max(most, message.columns), 0));
    this.kept = plan.records.map((record) => ({
      width: 1 + (record.kind >= 0 ? 1 : 0) + record.columns.length,
      data: [],
    }));
    this.inState = new Float64Array(plan.counters);
    this.inPlace = plan.fields.map(({ grow, spread, becomes }) => !spread && !becomes && (!grow || isOfOwnCell(grow)));
    this.tracked = plan.kinds.map((_, kind) => P.spaceOfKind(plan, kind)?.tracksCells === true);
    this.logNotes = logStatements(plan);
    this.bodies = valueBodiesOf(plan);
    const ask = (body: P.ValueBody): (() => number) => {
      const index = this.bodies.indexOf(body);
      return () => this.code.values[index]!();
    };
    this.entries = plan.schedule.map((entry, i) => () => {
      if (this.off.has(i)) return;
      if (entry.is === 'fields') this.changeFields(entry.fields);
      else this.runEntry(i);
    });
    this.timeline = plan.timeline.map((line, i) => ({
      when: askWhen(line.when, ask),
      lay: line.lay.map(({ parameter, value }) => ({ parameter, value: ask(value) })),
      act: () => this.code.acts[i]!(),
    }));
    this.measures = plan.measures.map((measure) => ask(measure.body));
    this.measureOrder = plan.measureOrder;
    this.endAfter = ask(plan.clock.endAfter);
    this.endWhen = plan.clock.endWhen.map(ask);
    this.finals = plan.finals.map(ask);
    this.makeState();
  }

  /** The value of one of the plan's value bodies as things stand. */
  valueOf(body: P.ValueBody): number {
    return this.code.values[this.bodies.indexOf(body)]!();
  }

  /** Asks a value body of another plan of the run as it stands; that plan may have more measures, else it must be the same. */
  askOf(other: CompiledPlan, body: P.ValueBody): () => number {
    const index = valueBodiesOf(other.plan).indexOf(body);
    return () => other.bindTo(this.world, this.state).values[index]!();
  }

  /** The code bound to the arrays as they are now. */
  private get code(): Bound {
    let version = 0;
    for (let k = 0; k < this.populations.length; k++) version += this.populations[k]!.version;
    if (version !== this.boundVersion) this.bind(version);
    return this.bound;
  }

  private bind(version: number): void {
    this.bound = this.binder(this.world, this.state, ENGINE);
    this.boundVersion = version;
  }

  private makeState(): void {
    const { plan, world, populations } = this;
    const nameOf = (kind: number, slot: number): string | undefined =>
      kind < 0 ? undefined : `${plan.kinds[kind]!.name} ${populations[kind]!.number[slot]!}`;
    const isRecording = (): boolean => this.recording;
    const areStatesOpen = (): boolean => this.areStatesOpen;
    this.state = {
      get recording() {
        return isRecording();
      },
      get areStatesOpen() {
        return areStatesOpen();
      },
      inState: this.inState,
      countStates: () => this.countStates(),
      trace: this.trace,
      populations,
      fields: this.fields,
      lists: this.lists,
      log: this.log,
      grounds: this.grounds,
      networks: this.networks,
      tallies: this.tallies,
      tables: plan.tables,
      mail: this.mail,
      zones: this.zones,
      cellList: this.cellList,
      later: this.later,
      occupied: this.occupied,
      turnCount: 0,
      turns: (kinds, key, shuffled) => this.turns(kinds, key, shuffled),
      turnsBefore: (kind, began, key, order, at) => this.turnsBefore(kind, began, key, order, at),
      total: () => populations.reduce((sum, population) => sum + population.living + population.unborn, 0),
      removeAt: (kind, slot) => this.removeAt(kind, slot),
      settle: (rule) => this.settle(rule),
      settleMoves: (kind, rule) => this.settleMoves(kind, rule),
      settleChanges: (rule) => this.settleChanges(rule),
      runLater: () => {
        for (const action of this.later) action();
        this.later.length = 0;
      },
      countCells: () => this.countCells(),
      keepField: (field) => this.keepField(field),
      tie: (network, a, b, values) => this.tie(network, a, b, values),
      untie: (network, a, b) => this.networks[network]!.remove(this.networks[network]!.between(a, b)),
      isolate: (network, side, slot) => this.isolate(network, side, slot),
      networkMeasure: (which, network) => this.networkMeasure(which, network),
      note: (site, numbers, kind, slot) =>
        world.note(site, nameOf(kind, slot) ?? '', noteText(this.logNotes.get(site)!.values, numbers)),
      keep: (record, values) => this.keepRecord(record, values),
      failNobody: (site, kind, slot) => failNobody(plan.sites[site]!, world, nameOf(kind, slot)),
      endOfRule: () => this.endOfRule(),
      fail: (site, value, kind, slot) => failAt(plan.sites[site]!, world, nameOf(kind, slot), value),
      failCount: (site, value, kind, slot) => failCount(plan.sites[site]!, world, nameOf(kind, slot), value),
      failCeiling: (site) => failCeiling(plan.sites[site]!, world),
      failRounds: (site, kind, slot) => failRounds(plan.sites[site]!, world, nameOf(kind, slot)),
    };
    this.boundVersion = -1;
  }

  // Start

  start(): void {
    this.isStarting = true;
    this.areStatesOpen = true;
    this.startAll();
    this.isStarting = false;
    this.openStates();
  }

  /** Says that agents may be in other states than was counted. */
  openStates(): void {
    this.areStatesOpen = true;
  }

  private countStates(): void {
    this.inState.fill(0);
    this.populations.forEach(({ used, alive, states }, k) =>
      this.plan.kinds[k]!.machines.forEach(({ firstCounter }, m) => {
        const column = states[m]!;
        for (let slot = 0; slot < used; slot++) if (alive[slot]! & 1) this.inState[firstCounter + column[slot]!]!++;
      }),
    );
    this.areStatesOpen = this.isStarting;
  }

  private startAll(): void {
    const { plan, world } = this;
    for (const population of this.populations) population.clear();
    const value = (body: P.ValueBody): number => this.valueOf(body);
    this.grounds = [];
    this.fields = [];
    this.makeState();
    plan.variables.forEach((variable, i) => {
      const first = value(variable.start);
      world.variables[i] = Number.isFinite(first) ? first : failAt(plan.sites[variable.site]!, world, undefined, first);
    });
    for (const network of this.networks) network.clear();
    for (const tally of this.tallies) tally.clear();
    this.mail.clear();
    this.later.length = 0;
    for (const record of this.kept) record.data.length = 0;
    this.grounds = startGrounds(plan, value);
    this.zones = startZones(plan, this.grounds, value);
    this.occupied = this.grounds.map(
      ({ raster }, s) => new Int32Array(plan.spaces[s]!.tracksCells ? raster.columns * raster.rows : 0),
    );
    this.countCells();
    this.fields = plan.fields.map((field) => {
      const cell = field.cell ? value(field.cell) : 1;
      const { space } = this.grounds[field.space]!;
      const { columns, rows } = formOf(space).rasterOf(space, cell);
      return { columns, rows, cell, values: new Float64Array(columns * rows) };
    });
    this.fieldScratch = this.fields.map((field) => new Float64Array(field.values.length));
    this.makeState();
    plan.fields.forEach((field, i) => this.startField(field, i));
    plan.kinds.forEach((kind, k) => this.startKind(kind, k, value));
    plan.networks.forEach((network, n) => this.startNetwork(network, n, value));
    plan.kinds.forEach((kind, k) => this.startExact(kind, k, value));
  }

  private startField(field: P.FieldPlan, i: number): void {
    const { world } = this;
    const grid = this.fields[i]!;
    if (field.raster) {
      const low = field.keep ? this.valueOf(field.keep.min) : -Infinity;
      const high = field.keep ? this.valueOf(field.keep.max) : Infinity;
      for (let cell = 0; cell < grid.values.length; cell++)
        grid.values[cell] = math.clip(rasterValue(field.raster, grid, cell), low, high);
      return;
    }
    const key = mix(i + 0x6b43a9b5);
    this.code.fieldStarts[i]?.(grid.values, ruleKey0(world.seed, 0, key), ruleKey1(world.seed, 0, key));
    if (!field.start && field.keep) keepWithin(grid.values, this.valueOf(field.keep.min), this.valueOf(field.keep.max));
  }

  private startNetwork(network: P.NetworkPlan, n: number, value: (body: P.ValueBody) => number): void {
    const { world, plan } = this;
    const [from, to] = [this.populations[network.from]!, this.populations[network.to]!];
    const { maker } = network;
    const ofEach = agentBodyOf(network);
    const asked = ofEach
      ? Float64Array.from({ length: from.used }, (_, slot) => this.code.tieAgents[n]!(slot))
      : new Float64Array(0);
    const pairs =
      maker.is === 'file'
        ? filePairs(maker, network, from.used, to.used, plan.sites[network.site]!)
        : pairsOf(network, plan.sites[network.site]!, () =>
            makePairs(
              makerOf(maker, this.grounds[plan.kinds[network.from]!.space]?.space, value, from, to, () => asked),
              from.used,
              to.used,
              network.from === network.to,
              network.directed,
              RandomStream.of(world.seed, 0, network.key),
            ),
          );
    const ties = this.networks[n]!;
    ties.fill(new Int32Array(pairs.a), new Int32Array(pairs.b), Math.max(from.used, to.used));
    network.firsts.forEach((_, column) =>
      this.firstOfTies(n, column, maker.is === 'file' ? (tie) => maker.values[column]?.[pairs.rows![tie]!] : undefined),
    );
  }

  /** The first values of a column of all ties, by the tie's own luck where none is given. */
  firstOfTies(n: number, column: number, given?: (tie: number) => number | undefined): void {
    const { world, plan } = this;
    const network = plan.networks[n]!;
    const ties = this.networks[n]!;
    const key = mix(network.key + column + 1);
    const [key0, key1] = [ruleKey0(world.seed, 0, key), ruleKey1(world.seed, 0, key)];
    for (let tie = 0; tie < ties.count; tie++) {
      const first = given?.(tie) ?? this.code.tieFirsts[n]![column]!(tie, key0, key1);
      ties.columns[column]![tie] =
        first - first === 0 ? first : failAt(plan.sites[network.site]!, world, undefined, first);
    }
  }

  private startKind(kind: P.KindPlan, k: number, value: (body: P.ValueBody) => number): void {
    const { plan, world } = this;
    const population = this.populations[k]!;
    kind.starts.forEach((start, i) => {
      if (start.cells) this.listCells(k, i, start.cells.where !== undefined);
      const count = start.count ? value(start.count) : this.cellList.count;
      if (!(count >= 0) || Math.floor(count) !== count) failCount(plan.sites[start.site]!, world, undefined, count);
      if (this.state.total() + count > world.ceiling) failCeiling(plan.sites[start.site]!, world);
      const needed =
        this.bytes +
        Math.max(0, population.used + count - population.capacity) * (Population.bytesPerAgent(population.shape) + 12);
      if (needed > world.memory) failMemory(plan.sites[start.site]!, needed, world.memory);
      population.reserve(population.used + count);
      this.code.starts[k]![i]!(count, ruleKey0(world.seed, 0, start.key), ruleKey1(world.seed, 0, start.key));
    });
  }

  /** One more agent by the first start line of a kind; its slot, or -1 if there was no room for it. */
  startOne(kind: number, key0: number, key1: number): number {
    const population = this.populations[kind]!;
    const before = population.used;
    this.code.starts[kind]![0]?.(1, key0, key1);
    return population.used > before ? before : -1;
  }

  /** Brings an agent into a state, with what it does on leaving and entering. */
  changeState(kind: number, machine: number, slot: number, state: number, key0: number, key1: number): void {
    this.code.changes[kind]![machine]!(slot, state, key0, key1);
  }

  useZones(zones: Zones): void {
    this.zones = zones;
    this.makeState();
    this.countCells();
  }

  private listCells(kind: number, line: number, hasCondition: boolean): void {
    const { cellList } = this;
    const { raster, space } = this.grounds[this.plan.kinds[kind]!.space]!;
    cellList.cells = new Int32Array(raster.columns * raster.rows);
    cellsInto(raster, space, 'all', 0, 0, 0, cellList.cells);
    cellList.count = hasCondition ? this.code.cellLists[kind]![line]!(cellList.cells) : cellList.cells.length;
  }

  private startExact(kind: P.KindPlan, k: number, value: (body: P.ValueBody) => number): void {
    const { world } = this;
    const population = this.populations[k]!;
    kind.machines.forEach((machine, m) => {
      if (machine.exact.length === 0) return;
      const order = Int32Array.from({ length: population.used }, (_, slot) => slot);
      const keys = startKeys(k, m);
      const luck = RandomStream.of(world.seed, 0, keys.draw);
      const key = keys.enter;
      let drawn = 0;
      machine.exact.forEach((exact, e) => {
        const count = value(exact.count);
        for (let i = 0; i < count && drawn < order.length; i++, drawn++) {
          const j = drawn + below(luck.word(), order.length - drawn);
          const slot = order[j]!;
          order[j] = order[drawn]!;
          order[drawn] = slot;
          this.code.exacts[k]![m]![e]!(slot, ruleKey0(world.seed, 0, key), ruleKey1(world.seed, 0, key));
        }
      });
    });
  }

  // Rules

  private runEntry(i: number): void {
    this.code.entries[i]!();
    this.closeHoles();
  }

  /** Closes the holes of the removed where they have become many; networks follow. */
  private closeHoles(): void {
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

  /** Who has a turn, in which order; with several kinds, slots follow one another kind by kind. */
  private turns(kinds: readonly Pick<Population, 'alive' | 'used'>[], key: number, shuffled: boolean): Int32Array {
    let room = 0;
    for (const population of kinds) room += population.used;
    if (this.turnList.length < room) this.turnList = new Int32Array(room * 2);
    const list = this.turnList;
    let n = 0;
    let from = 0;
    for (const { alive, used } of kinds) {
      for (let slot = 0; slot < used; slot++) if (alive[slot]! & 1) list[n++] = from + slot;
      from += used;
    }
    if (shuffled) shuffleInPlace(list, n, RandomStream.of(this.world.seed, this.world.step, key));
    this.state.turnCount = n;
    return list;
  }

  private turnsBefore(
    { used }: Population,
    began: Uint8Array,
    key: number | undefined,
    order: Int32Array | undefined,
    at: number,
  ): Int32Array {
    const had = new Uint8Array(used);
    for (let i = 0; i < at; i++) had[order ? order[i]! : i] = 1;
    const failed = order ? order[at]! : at;
    const turns = this.turns([{ alive: began, used }], key ?? 0, key !== undefined).slice(0, this.state.turnCount);
    const before = turns.subarray(0, turns.indexOf(failed)).filter((slot) => !had[slot]);
    this.state.turnCount = before.length;
    return before;
  }

  removeAt(kind: number, slot: number): void {
    const population = this.populations[kind]!;
    population.removeAt(slot);
    const { world } = this;
    if (this.tracked[kind] && population.x[slot] === population.x[slot]) {
      const s = this.plan.kinds[kind]!.space;
      this.occupied[s]![this.cellOf(s, population.x[slot]!, population.y[slot]!)]!--;
    }
    this.plan.kinds[kind]!.machines.forEach((machine, m) => {
      const state = population.states[m]![slot]!;
      world.left[machine.firstCounter + state]!++;
      for (const { members, counter } of machine.groups) if (members.includes(state)) world.left[counter]!++;
    });
    for (const network of this.networks) if (network.from === kind || network.to === kind) network.isolate(kind, slot);
  }

  private cellOf(s: number, x: number, y: number): number {
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

  private keepField(field: number): Float64Array {
    const { values } = this.fields[field]!;
    let kept = this.keptFields[field];
    if (!kept || kept.length !== values.length) this.keptFields[field] = kept = new Float64Array(values.length);
    kept.set(values);
    return kept;
  }

  // All at once

  private settle(rule: number): void {
    const { log, world } = this;
    for (const column of log.columns) {
      if (isMachineColumn(column)) continue;
      const { values, size, keyOf, clip } = this.columnNamed(column);
      log.settleInto(column, values, size, (target) =>
        settleStream(world.seed, world.step, rule, column, keyOf(target)),
      );
      if (!clip) continue;
      const [low, high] = [this.valueOf(clip.min), this.valueOf(clip.max)];
      for (const target of log.targetsOf(column)) values[target] = math.clip(values[target]!, low, high);
    }
    if (!log.columns.some(isMachineColumn)) log.clear();
  }

  /** The values behind a column of the log, and what keys the luck of its targets. */
  private columnNamed(column: number): {
    values: Float64Array;
    size: number;
    keyOf: (target: number) => number;
    clip?: P.FieldPlan['keep'];
  } {
    if (column >= 0x4000000) {
      const network = this.networks[Math.floor((column - 0x4000000) / 256)]!;
      return { values: network.columns[column % 256]!, size: network.count, keyOf: (tie) => network.serial[tie]! };
    }
    if (column >= 0x2000000)
      return { values: this.world.variables.subarray(column - 0x2000000), size: 1, keyOf: () => 0 };
    if (column >= 0x1000000) {
      const field = column - 0x1000000;
      return {
        values: this.fields[field]!.values,
        size: this.fields[field]!.values.length,
        keyOf: (cell) => cell,
        clip: this.plan.fields[field]!.keep,
      };
    }
    const population = this.populations[Math.floor(column / 4096)]!;
    return {
      values: population.attributes[column % 4096]!,
      size: population.used,
      keyOf: (slot) => population.number[slot]!,
    };
  }

  /** Changes of machines that were set by others, agent by agent in order of number. */
  private settleChanges(rule: number): void {
    const { log, world } = this;
    const changes = log.columns.filter(isMachineColumn).flatMap((column) => {
      const kind = Math.floor((column - 0x3000000) / 256);
      const machine = column % 256;
      const population = this.populations[kind]!;
      const states = new Float64Array(population.used);
      log.settleInto(column, states, population.used, (slot) =>
        settleStream(world.seed, world.step, rule, column, population.number[slot]!),
      );
      return [...new Set(log.targetsOf(column))].map((slot) => ({ kind, machine, slot, state: states[slot]! }));
    });
    log.clear();
    changes.sort((a, b) => a.kind - b.kind || a.slot - b.slot || a.machine - b.machine);
    for (const { kind, machine, slot, state } of changes) {
      if (!(this.populations[kind]!.alive[slot]! & 1)) continue;
      const key = changeKey(rule) + machine;
      this.changeState(
        kind,
        machine,
        slot,
        state,
        ruleKey0(world.seed, world.step, key),
        ruleKey1(world.seed, world.step, key),
      );
    }
  }

  /** Several that want one empty cell: a keyed draw picks one, the others stay (S18). */
  private settleMoves(kind: number, rule: number): void {
    const { world } = this;
    const s = this.plan.kinds[kind]!.space;
    const occupied = this.occupied[s]!;
    const { x, y, alive, used, before } = this.populations[kind]!;
    const wants = new Map<number, number[]>();
    for (let slot = 0; slot < used; slot++) {
      if (!(alive[slot]! & 1) || x[slot] !== x[slot] || (x[slot] === before.x[slot] && y[slot] === before.y[slot]))
        continue;
      const cell = this.cellOf(s, x[slot]!, y[slot]!);
      const others = wants.get(cell);
      if (others) others.push(slot);
      else wants.set(cell, [slot]);
    }
    for (const [cell, slots] of wants) {
      const chosen =
        occupied[cell]! > 0
          ? -1
          : slots.length === 1
            ? 0
            : below(settleStream(world.seed, world.step, rule, CELL_COLUMN, cell).word(), slots.length);
      slots.forEach((slot, i) => {
        if (i === chosen) return;
        x[slot] = before.x[slot]!;
        y[slot] = before.y[slot]!;
        world.refused++;
      });
    }
  }

  // Ties, messages, records

  private tie(n: number, a: number, b: number, values: readonly number[]): void {
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

  private isolate(n: number, side: number, slot: number): void {
    const network = this.networks[n]!;
    if (slot >= 0) network.isolate(side === 0 ? network.from : network.to, slot);
  }

  private networkMeasure(which: 'components' | 'clustering', n: number): number {
    const lists = this.tiedTo(n);
    return which === 'components' ? componentCount(lists) : meanClustering(lists);
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

  beginStep(): void {
    for (const tally of this.tallies) tally.beginStep();
  }

  deliver(round: number): void {
    const { world, plan, mail } = this;
    if (mail.message.length === 0) return;
    mail.round(world.seed, world.step, round, world.end, world.stepLength * 1e-9, round === 0, (row, ordinal) => {
      const kind = mail.kind[row]!;
      const slot = this.populations[kind]!.slotOf(mail.receiver[row]!);
      const index = plan.reactions.findIndex((r) => r.kind === kind && r.message === mail.message[row]);
      if (slot < 0 || index < 0) return;
      const key = deliveryKey(plan.reactions[index]!.key, round, ordinal);
      this.code.reactions[index]!(
        slot,
        row,
        ruleKey0(world.seed, world.step, key),
        ruleKey1(world.seed, world.step, key),
      );
    });
    this.closeHoles();
  }

  private isRecordedNow(record: number): boolean {
    const { every } = this.plan.records[record]!;
    return !every || this.world.isRowOf(this.valueOf(every));
  }

  private keepRecord(record: number, values: readonly number[]): void {
    if (this.recording && this.isRecordedNow(record)) this.kept[record]!.data.push(this.world.step, ...values);
  }

  get records(): readonly RecordRows[] {
    return this.kept;
  }

  record(): void {
    this.plan.records.forEach((record, i) => {
      if (record.kind < 0 || !this.isRecordedNow(i)) return;
      const { alive, used, number } = this.populations[record.kind]!;
      const values = this.code.records[i]!;
      for (let slot = 0; slot < used; slot++)
        if (alive[slot]! & 1)
          this.kept[i]!.data.push(this.world.step, number[slot]!, ...values.map((value) => value(slot)));
    });
  }

  /** After a rule all at once: the removed go, the new are there. */
  private endOfRule(): void {
    this.populations.forEach((population, kind) => {
      const { alive } = population;
      for (let slot = 0; slot < population.used; slot++) {
        if (alive[slot] === LEAVING) this.removeAt(kind, slot);
        else if (alive[slot] === UNBORN) population.bear(slot);
      }
    });
  }

  private changeFields(indices: readonly number[]): void {
    const changing = indices.filter((index) => {
      const { grow, spread, fade, becomes } = this.plan.fields[index]!;
      return grow ?? spread ?? fade ?? becomes;
    });
    const [only] = changing;
    if (changing.length === 1 && this.inPlace[only!]) return this.changeField(only!, this.fields[only!]!.values);
    for (const index of changing) this.changeField(index, this.fieldScratch[index]!);
    for (const index of changing) this.fields[index]!.values.set(this.fieldScratch[index]!);
  }

  /** The next values of a field: grown, spread, faded, become others, kept within its bounds (S25). */
  private changeField(index: number, out: Float64Array): void {
    const { grow, spread, fade, becomes, keep, site } = this.plan.fields[index]!;
    const grid = this.fields[index]!;
    if (grow) this.code.fieldGrows[index]!(out, 0, 0);
    else out.set(grid.values);
    if (spread)
      spreadInto(out, out.slice(), grid, this.grounds[this.plan.fields[index]!.space]!.space, this.share(spread, site));
    if (fade) {
      const rest = 1 - this.share(fade, site);
      for (let i = 0; i < out.length; i++) out[i]! *= rest;
    }
    if (becomes) this.become(index, out);
    else if (keep && (spread || fade)) keepWithin(out, this.valueOf(keep.min), this.valueOf(keep.max));
  }

  /** Its own lines are read from what has grown, spread and faded, all of it at once. */
  private become(index: number, out: Float64Array): void {
    const { world } = this;
    const { values } = this.fields[index]!;
    const { grow, spread, fade } = this.plan.fields[index]!;
    const changed = grow ?? spread ?? fade;
    const kept = changed && values.slice();
    if (changed) values.set(out);
    const key = mix(index + 0x1f83d9ab);
    this.code.fieldBecomes[index]!(out, ruleKey0(world.seed, world.step, key), ruleKey1(world.seed, world.step, key));
    if (kept) values.set(kept);
  }

  private share(body: P.ValueBody, site: number): number {
    const share = this.valueOf(body);
    return share >= 0 && share <= 1 ? share : failShare(this.plan.sites[site]!, this.world, share);
  }

  // For others

  living(kind: number): number {
    return this.populations[kind]!.living;
  }

  /** Sizes of the living of a kind, in order of number; false if its show gives none. */
  sizesInto(kind: number, out: Float64Array): boolean {
    const sizes = this.code.sizes[kind];
    sizes?.(out);
    return sizes !== null && sizes !== undefined;
  }

  coloursInto(kind: number, out: Float64Array): boolean {
    const colours = this.code.colours[kind];
    colours?.(out);
    return colours !== null && colours !== undefined;
  }

  /** Bytes held by populations and fields. */
  get bytes(): number {
    const agents = this.populations.reduce(
      (sum, population) => sum + population.capacity * (Population.bytesPerAgent(population.shape) + 12),
      0,
    );
    return agents + this.fields.reduce((sum, field) => sum + field.values.byteLength * 2, 0);
  }

  snapshot(): ArrayBuffer[] {
    this.closeAllHoles();
    const networks = this.networks.map((network) => {
      const ties = [
        Float64Array.from(network.a.subarray(0, network.count)),
        Float64Array.from(network.b.subarray(0, network.count)),
        network.serial.subarray(0, network.count),
      ];
      const parts = [
        Float64Array.of(network.count, network.nextSerial),
        ...ties,
        ...network.columns.map((column) => column.subarray(0, network.count)),
      ];
      return joined(parts);
    });
    const tallies = this.tallies.map((tally) => tally.values.slice(0, tally.count).buffer);
    const fields = this.fields.map((field) => field.values.slice().buffer);
    return [
      ...this.populations.map((population) => population.snapshot()),
      ...fields,
      ...networks,
      ...tallies,
      this.mail.snapshot(),
    ];
  }

  /** So that slots are the same whenever a snapshot was taken. */
  private closeAllHoles(): void {
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

  restore(parts: readonly ArrayBuffer[]): void {
    let at = 0;
    for (const population of this.populations) population.restore(parts[at++]!);
    for (const field of this.fields) field.values.set(new Float64Array(parts[at++]!));
    for (const network of this.networks) this.restoreNetwork(network, new Float64Array(parts[at++]!));
    for (const tally of this.tallies) {
      tally.clear();
      for (const value of new Float64Array(parts[at++]!)) tally.add(value, false);
    }
    this.mail.restore(parts[at]!);
    this.openStates();
    this.later.length = 0;
    this.countCells();
  }

  private restoreNetwork(network: Network, all: Float64Array): void {
    const [count, nextSerial] = all as unknown as [number, number];
    const column = (i: number): Float64Array => all.subarray(2 + i * count, 2 + (i + 1) * count);
    network.clear();
    network.fill(
      Int32Array.from(column(0)),
      Int32Array.from(column(1)),
      Math.max(this.populations[network.from]!.used, this.populations[network.to]!.used),
    );
    network.serial.set(column(2));
    network.nextSerial = nextSerial;
    network.columns.forEach((values, i) => values.set(column(3 + i)));
  }

  view(): StateView {
    return {
      populations: this.populations.map((population) => {
        const slots = Array.from({ length: population.used }, (_, slot) => slot).filter(
          (slot) => population.alive[slot] === ALIVE,
        );
        const pick = (column: ArrayLike<number>): number[] => slots.map((slot) => column[slot]!);
        return {
          numbers: pick(population.number),
          x: pick(population.x),
          y: pick(population.y),
          direction: pick(population.direction),
          attributes: population.attributes.map(pick),
          states: population.states.map(pick),
          due: population.due.map(pick),
        };
      }),
      fields: this.fields.map((field) => [...field.values]),
      networks: this.networks.map((network) => ({
        a: network.list.map((tie) => this.populations[network.from]!.number[network.a[tie]!]!),
        b: network.list.map((tie) => this.populations[network.to]!.number[network.b[tie]!]!),
        values: network.columns.map((column) => network.list.map((tie) => column[tie]!)),
      })),
      tallies: this.tallies.map((tally) => [...tally.values.subarray(0, tally.count)]),
      mail: this.mail.view(),
    };
  }
}

function joined(parts: readonly Float64Array[]): ArrayBuffer {
  const out = new Float64Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out.buffer;
}

/** Whether the value for a cell of a field reads no field but in that cell. */
function isOfOwnCell({ statements, value }: P.ValueBody): boolean {
  let isOwn = statements.length === 0;
  visitExpr(value, {
    expr: (e) => {
      if (e.op === 'field' || e.op === 'field cell' || e.op === 'field mean') isOwn = false;
    },
  });
  return isOwn;
}

/** The `log` lines of a plan, by their places. */
function logStatements(plan: P.Plan): Map<number, Extract<P.Statement, { op: 'log' }>> {
  const found = new Map<number, Extract<P.Statement, { op: 'log' }>>();
  const statement = (s: P.Statement): void => {
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
