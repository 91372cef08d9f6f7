import * as math from '../engine/math.ts';
import { ALIVE, DEAD, LEAVING, Population, UNBORN } from '../engine/population.ts';
import { spreadInto } from '../engine/field-change.ts';
import * as laws from '../engine/random/laws.ts';
import { agentKey0, agentKey1, below, mix, ruleKey0, ruleKey1, shuffleInPlace, Stream } from '../engine/random/stream.ts';
import type { Script, ScriptTimelineLine, StateView } from '../engine/script.ts';
import type { FieldGrid, Space } from '../engine/space.ts';
import { bearingBetween, directionAfter, distanceBetween, fieldShape, placeOnAxis, wrap } from '../engine/space.ts';
import { World } from '../engine/world.ts';
import type { Gathering } from '../measures/numeric/gather.ts';
import { gather } from '../measures/numeric/gather.ts';
import { emitPlan, valueBodiesOf } from './emit.ts';
import { failAt, failCeiling, failCount, failShare } from './failures.ts';
import { askWhen } from './values.ts';
import type * as P from './plan.ts';
import { attributeColumnId, Contributions, fieldColumnId, settleStream, variableColumnId } from './settling.ts';
import { startSpace } from './start-space.ts';

type Binder = (world: World, state: GeneratedState, engine: object) => Bound;

interface Bound {
  readonly values: readonly (() => number)[];
  readonly fieldStarts: readonly (((out: Float64Array, key0: number, key1: number) => void) | null)[];
  readonly fieldGrows: readonly (((out: Float64Array, key0: number, key1: number) => void) | null)[];
  readonly starts: readonly (readonly ((count: number, key0: number, key1: number) => void)[])[];
  readonly exacts: readonly (readonly (readonly ((slot: number, key0: number, key1: number) => void)[])[])[];
  readonly entries: readonly ((() => void) | null)[];
  readonly acts: readonly (() => void)[];
  readonly sizes: readonly (((out: Float64Array) => void) | null)[];
  readonly colours: readonly (((out: Float64Array) => void) | null)[];
}

const least = (a: number, b: number): number => (b < a ? b : a);
const greatest = (a: number, b: number): number => (b > a ? b : a);

function sortSlots(list: Int32Array, n: number): void {
  if (n > 24) {
    list.subarray(0, n).sort();
    return;
  }
  for (let i = 1; i < n; i++) {
    const held = list[i]!;
    let j = i - 1;
    while (j >= 0 && list[j]! > held) {
      list[j + 1] = list[j]!;
      j--;
    }
    list[j + 1] = held;
  }
}

function gatherField(fn: Gathering, values: Float64Array, level: number | undefined): number {
  const sorts = fn === 'median' || fn === 'quantile';
  return gather(fn, sorts ? values.slice() : values, values.length, level);
}

const ENGINE = {
  ...math, ...laws, mix, ruleKey0, ruleKey1, agentKey0, agentKey1, wrap, placeOnAxis, directionAfter, distanceBetween, bearingBetween, gather, gatherField,
  least, greatest, sortSlots,
};

/** A plan as compiled JavaScript, ready to be bound to any number of runs. Needs `new Function`: workers and Node only. */
export class CompiledPlan {
  readonly source: string;
  private readonly binder: Binder;

  constructor(readonly plan: P.Plan) {
    this.source = emitPlan(plan);
    this.binder = new Function('W', 'S', 'E', this.source) as Binder;
  }

  script(): GeneratedScript {
    return new GeneratedScript(this.plan, this.binder);
  }
}

/** Scratch lists, one a query. */
class Lists {
  private readonly slots: Int32Array[] = [];
  private readonly numbers: Float64Array[] = [];

  get(id: number, size: number): Int32Array {
    const list = this.slots[id];
    if (list && list.length >= size) return list;
    return (this.slots[id] = new Int32Array(Math.max(64, size * 2)));
  }

  values(id: number, size: number): Float64Array {
    const list = this.numbers[id];
    if (list && list.length >= size) return list;
    return (this.numbers[id] = new Float64Array(Math.max(64, size * 2)));
  }
}

/** What agents do to others all at once, until the end of the rule. */
class WriteLog {
  readonly attributes = new Map<number, Map<number, Contributions>>();
  readonly fields = new Map<number, Map<number, Contributions>>();
  readonly variables = new Map<number, Map<number, Contributions>>();

  attribute(column: number, slot: number, how: P.WriteHow, value: number): void {
    contributionsAt(this.attributes, column, slot).add(how, value);
  }

  variable(index: number, how: P.WriteHow, value: number): void {
    contributionsAt(this.variables, index, 0).add(how, value);
  }

  field(field: number, cell: number, how: P.WriteHow, value: number): void {
    contributionsAt(this.fields, field, cell).add(how, value);
  }
}

function contributionsAt(map: Map<number, Map<number, Contributions>>, first: number, second: number): Contributions {
  let inner = map.get(first);
  if (!inner) map.set(first, (inner = new Map()));
  let found = inner.get(second);
  if (!found) inner.set(second, (found = new Contributions()));
  return found;
}

/** What generated code sees of a run besides the world. */
interface GeneratedState {
  readonly populations: readonly Population[];
  readonly fields: readonly FieldGrid[];
  readonly lists: Lists;
  readonly log: WriteLog;
  readonly space: Space | undefined;
  readonly occupied: Uint8Array;
  turnCount: number;
  readonly turns: (kinds: readonly Population[], key: number, shuffled: boolean) => Int32Array;
  readonly total: () => number;
  readonly removeAt: (kind: number, slot: number) => void;
  readonly settle: (rule: number) => void;
  readonly endOfRule: () => void;
  readonly fail: (site: number, value: number, kind: number, slot: number) => never;
  readonly failCount: (site: number, value: number, kind: number, slot: number) => never;
  readonly failCeiling: (site: number) => never;
}

export class GeneratedScript implements Script {
  readonly world: World;
  readonly populations: readonly Population[];
  fields: readonly FieldGrid[] = [];
  space: Space | undefined;
  readonly entries: readonly (() => void)[];
  readonly timeline: readonly ScriptTimelineLine[];
  readonly measures: readonly (() => number)[];
  readonly endAfter: () => number;
  readonly endWhen: readonly (() => number)[];
  readonly finals: readonly (() => number)[];
  private readonly bodies: P.ValueBody[];
  private readonly lists = new Lists();
  private readonly log = new WriteLog();
  private occupied = new Uint8Array(0);
  private turnList = new Int32Array(64);
  private state!: GeneratedState;
  private bound!: Bound;
  private boundVersion = -1;
  private fieldScratch: Float64Array[] = [];

  constructor(
    readonly plan: P.Plan,
    private readonly binder: Binder,
  ) {
    this.world = new World(plan.clock, plan.parameters.length, plan.counters, plan.measures.length, plan.variables.length);
    this.populations = plan.kinds.map((kind) => new Population({ attributes: kind.columns.length, machines: kind.machines.length, dues: kind.dueCount }));
    this.bodies = valueBodiesOf(plan);
    const ask = (body: P.ValueBody): (() => number) => {
      const index = this.bodies.indexOf(body);
      return () => this.code.values[index]!();
    };
    this.entries = plan.schedule.map((entry, i) => () => {
      if (entry.is === 'fields') this.growFields(entry.fields);
      else this.runEntry(i);
    });
    this.timeline = plan.timeline.map((line, i) => ({
      when: askWhen(line.when, ask),
      lay: line.lay.map(({ parameter, value }) => ({ parameter, value: ask(value) })),
      act: () => this.code.acts[i]!(),
    }));
    this.measures = plan.measures.map((measure) => ask(measure.body));
    this.endAfter = ask(plan.clock.endAfter);
    this.endWhen = plan.clock.endWhen.map(ask);
    this.finals = plan.finals.map(ask);
    this.makeState();
  }

  /** The value of one of the plan's value bodies as things stand. */
  valueOf(body: P.ValueBody): number {
    return this.code.values[this.bodies.indexOf(body)]!();
  }

  /** The code bound to the arrays as they are now. */
  private get code(): Bound {
    let version = 0;
    for (const population of this.populations) version += population.version;
    if (version !== this.boundVersion) this.bind(version);
    return this.bound;
  }

  private bind(version: number): void {
    this.bound = this.binder(this.world, this.state, ENGINE);
    this.boundVersion = version;
  }

  private makeState(): void {
    const { plan, world, populations } = this;
    const nameOf = (kind: number, slot: number): string | undefined => (kind < 0 ? undefined : `${plan.kinds[kind]!.name} ${populations[kind]!.number[slot]!}`);
    this.state = {
      populations,
      fields: this.fields,
      lists: this.lists,
      log: this.log,
      space: this.space,
      occupied: this.occupied,
      turnCount: 0,
      turns: (kinds, key, shuffled) => this.turns(kinds, key, shuffled),
      total: () => populations.reduce((sum, population) => sum + population.living + population.unborn, 0),
      removeAt: (kind, slot) => this.removeAt(kind, slot),
      settle: (rule) => this.settle(rule),
      endOfRule: () => this.endOfRule(),
      fail: (site, value, kind, slot) => failAt(plan.sites[site]!, world, nameOf(kind, slot), value),
      failCount: (site, value, kind, slot) => failCount(plan.sites[site]!, world, nameOf(kind, slot), value),
      failCeiling: (site) => failCeiling(plan.sites[site]!, world),
    };
    this.boundVersion = -1;
  }

  // Start

  start(): void {
    const { plan, world } = this;
    for (const population of this.populations) population.clear();
    const value = (body: P.ValueBody): number => this.valueOf(body);
    this.space = undefined;
    this.fields = [];
    this.makeState();
    plan.variables.forEach((variable, i) => {
      const first = value(variable.start);
      world.variables[i] = Number.isFinite(first) ? first : failAt(plan.sites[variable.site]!, world, undefined, first);
    });
    this.space = startSpace(plan, value);
    this.occupied = new Uint8Array(this.space?.oneAgentACell ? this.space.width * this.space.height : 0);
    this.fields = plan.fields.map((field) => {
      const cell = field.cell ? value(field.cell) : 1;
      const { columns, rows } = fieldShape(this.space!, cell);
      return { columns, rows, cell, values: new Float64Array(columns * rows) };
    });
    this.fieldScratch = this.fields.map((field) => new Float64Array(field.values.length));
    this.makeState();
    plan.fields.forEach((_, i) => {
      const key = mix(i + 0x6b43a9b5);
      this.code.fieldStarts[i]?.(this.fields[i]!.values, ruleKey0(world.seed, 0, key), ruleKey1(world.seed, 0, key));
    });
    plan.kinds.forEach((kind, k) => this.startKind(kind, k, value));
  }

  private startKind(kind: P.KindPlan, k: number, value: (body: P.ValueBody) => number): void {
    const { plan, world } = this;
    const population = this.populations[k]!;
    kind.starts.forEach((start, i) => {
      const count = value(start.count);
      if (!(count >= 0) || Math.floor(count) !== count) failCount(plan.sites[start.site]!, world, undefined, count);
      if (this.state.total() + count > world.ceiling) failCeiling(plan.sites[start.site]!, world);
      population.reserve(population.used + count);
      this.code.starts[k]![i]!(count, ruleKey0(world.seed, 0, start.key), ruleKey1(world.seed, 0, start.key));
    });
    kind.machines.forEach((machine, m) => {
      if (machine.exact.length === 0) return;
      const order = Int32Array.from({ length: population.used }, (_, slot) => slot);
      const luck = Stream.of(world.seed, 0, mix(k * 64 + m + 0x7f4a7c15));
      const key = mix(k * 64 + m + 0x3c6ef35f);
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
    for (const population of this.populations) {
      if (population.used - population.living > Math.max(64, population.used >> 3)) population.compact();
    }
  }

  /** Who has a turn, in which order; with several kinds, slots follow one another kind by kind. */
  private turns(kinds: readonly Population[], key: number, shuffled: boolean): Int32Array {
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
    if (shuffled) shuffleInPlace(list, n, Stream.of(this.world.seed, this.world.step, key));
    this.state.turnCount = n;
    return list;
  }

  private removeAt(kind: number, slot: number): void {
    const population = this.populations[kind]!;
    population.removeAt(slot);
    const { space, world } = this;
    if (space?.oneAgentACell) this.occupied[population.y[slot]! * space.width + population.x[slot]!] = 0;
    this.plan.kinds[kind]!.machines.forEach((machine, m) => world.left[machine.firstCounter + population.states[m]![slot]!]!++);
  }

  private settle(rule: number): void {
    const { world, plan } = this;
    for (const [column, targets] of this.log.attributes) {
      const kind = Math.floor(column / 4096);
      const population = this.populations[kind]!;
      const values = population.attributes[column - attributeColumnId(kind, 0)]!;
      for (const [slot, contributions] of targets) {
        values[slot] = contributions.settle(values[slot]!, () => settleStream(world.seed, world.step, rule, column, population.number[slot]!));
      }
    }
    for (const [field, cells] of this.log.fields) {
      const { values } = this.fields[field]!;
      const keep = plan.fields[field]!.keep;
      const low = keep ? this.valueOf(keep.min) : -Infinity;
      const high = keep ? this.valueOf(keep.max) : Infinity;
      for (const [cell, contributions] of cells) {
        values[cell] = math.clip(contributions.settle(values[cell]!, () => settleStream(world.seed, world.step, rule, fieldColumnId(field), cell)), low, high);
      }
    }
    for (const [variable, targets] of this.log.variables) {
      const settled = targets.get(0)!.settle(world.variables[variable]!, () => settleStream(world.seed, world.step, rule, variableColumnId(variable), 0));
      world.variables[variable] = settled;
    }
    this.log.variables.clear();
    this.log.attributes.clear();
    this.log.fields.clear();
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

  private growFields(indices: readonly number[]): void {
    const changing = indices.filter((index) => this.plan.fields[index]!.grow ?? this.plan.fields[index]!.spread ?? this.plan.fields[index]!.fade);
    for (const index of changing) this.changeField(index, this.fieldScratch[index]!);
    for (const index of changing) this.fields[index]!.values.set(this.fieldScratch[index]!);
  }

  /** The next values of a field: grown, spread, faded, kept within its bounds. */
  private changeField(index: number, out: Float64Array): void {
    const { grow, spread, fade, keep, site } = this.plan.fields[index]!;
    const grid = this.fields[index]!;
    if (grow) this.code.fieldGrows[index]!(out, 0, 0);
    else out.set(grid.values);
    if (!spread && !fade) return;
    if (spread) spreadInto(out, out.slice(), grid, this.space!, this.share(spread, site));
    const rest = fade ? 1 - this.share(fade, site) : 1;
    const low = keep ? this.valueOf(keep.min) : -Infinity;
    const high = keep ? this.valueOf(keep.max) : Infinity;
    for (let i = 0; i < out.length; i++) out[i] = math.clip(fade ? out[i]! * rest : out[i]!, low, high);
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
    const agents = this.populations.reduce((sum, population) => sum + population.capacity * (Population.bytesPerAgent(population.shape) + 12), 0);
    return agents + this.fields.reduce((sum, field) => sum + field.values.byteLength * 2, 0);
  }

  snapshot(): ArrayBuffer[] {
    return [...this.populations.map((population) => population.snapshot()), ...this.fields.map((field) => field.values.slice().buffer as ArrayBuffer)];
  }

  restore(parts: readonly ArrayBuffer[]): void {
    this.populations.forEach((population, k) => population.restore(parts[k]!));
    this.fields.forEach((field, i) => field.values.set(new Float64Array(parts[this.populations.length + i]!)));
    const { space } = this;
    if (!space?.oneAgentACell) return;
    this.occupied.fill(0);
    for (const { x, y, used, alive } of this.populations) {
      for (let slot = 0; slot < used; slot++) if (alive[slot] !== DEAD) this.occupied[y[slot]! * space.width + x[slot]!] = 1;
    }
  }

  view(): StateView {
    return {
      populations: this.populations.map((population) => {
        const slots = Array.from({ length: population.used }, (_, slot) => slot).filter((slot) => population.alive[slot] === ALIVE);
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
    };
  }
}
