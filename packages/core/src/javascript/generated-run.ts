import { ModelError } from '../diagnostics.ts';
import { measuredCell } from '../forms/lengths.ts';
import type { RecordRows, Executable, ExecutableTimelineLine, StateView } from '../engine/executable.ts';
import { CellCounts } from '../engine/spaces/cell-counts.ts';
import { ruleKey0, ruleKey1 } from '../engine/random/stream.ts';
import type { RunContext } from '../engine/run-context.ts';
import { Trace } from '../engine/trace.ts';
import type { Crew } from '../kernel/crew.ts';
import type { CompiledKernels } from '../kernel/plan-kernels.ts';
import type { Called, KernelEngine } from '../kernel/kernels.ts';
import { networkMeasure } from '../measures/network-measures.ts';
import { logLines } from '../plan/analysis.ts';
import { failAt, failAboard, failCeiling, failCount, failNobody, failNoWay, failRounds } from '../plan/failures.ts';
import type * as P from '../plan/plan.ts';
import type { Zones } from '../plan/start-space.ts';
import { outsideOf } from './outside.ts';
import { askWhen, deliveryKey, noteText } from '../plan/values.ts';
import { RunState } from '../state/run-state.ts';
import { restoreInto, snapshotOf, viewOf } from '../state/snapshot.ts';
import { AllAtOnce } from './all-at-once.ts';
import { Beginning } from './beginning.ts';
import { ENGINE } from './engine-functions.ts';
import { FieldSteps } from './field-steps.ts';
import type { CompiledPlan, PlanCode } from './compiled-plan.ts';
import type { Bound, GeneratedState } from './generated-state.ts';
import { Lists } from './generated-state.ts';
import { RunKernels } from './run-kernels.ts';
import { TurnOrder } from './turn-order.ts';
import type { TurnsByKernel } from './turns-by-kernel.ts';

const NO_LINES: ReadonlySet<number> = new Set();

/** A run of compiled code: its state, the code bound to the arrays of it, and what happens around the rules. */
export class GeneratedRun implements Executable {
  readonly plan: P.Plan;
  readonly state: RunState;
  readonly context: RunContext;
  readonly entries: readonly (() => void)[];
  readonly timeline: readonly ExecutableTimelineLine[];
  readonly measures: readonly (() => number)[];
  readonly measureOrder: readonly number[];
  readonly endAfter: () => number;
  readonly endWhen: readonly (() => number)[];
  readonly inputs: P.Plan['inputs'];
  readonly finals: readonly (() => number)[];
  private readonly atOnce: AllAtOnce;
  private fieldSteps: FieldSteps;
  /** What kernels call. */
  private readonly called: Called;
  private runKernels: RunKernels;
  private turnsByKernel: TurnsByKernel | undefined;
  private readonly beginning: Beginning;
  private readonly later: (() => void)[] = [];
  private readonly kept: { width: number; data: number[] }[];
  recording = false;
  readonly trace = new Trace();
  /** Lines of the order that are switched off by hand. */
  readonly off = new Set<number>();
  /** Whether agents are to be counted by their states anew. */
  private areStatesOpen = true;
  private isStarting = false;
  private readonly countsByCell = new Map<string, CellCounts>();
  private readonly turnOrder: TurnOrder;
  private readonly seam: GeneratedState;
  private bound!: Bound;
  private boundVersion = -1;

  /** The code that the run has been made for; another takes its place where its plan has more kernels by now. */
  private made: PlanCode;

  /** @param crew threads that help where there is much to do */
  constructor(
    private readonly compiled: Pick<CompiledPlan, 'plan' | 'code' | 'hasKernelMemory'>,
    private readonly crew?: Crew,
  ) {
    const { plan, code } = compiled;
    this.made = code;
    this.plan = plan;
    this.state = new RunState(plan, compiled.hasKernelMemory, crew !== undefined);
    this.context = this.state.context;
    this.atOnce = new AllAtOnce(this.state, this);
    this.called = {
      ...ENGINE,
      note: (column: number, target: number, how: number, value: number) =>
        this.atOnce.log.add(column, target, how, value),
      endRun: () => {
        this.context.isEnding = true;
      },
      refused: () => {
        this.context.refused++;
      },
      ...outsideOf(this.context, () => this.seam),
      untied: (kind: number, slot: number) => this.state.untie(kind, slot),
      moreRoom: (kind: number) => this.turnsByKernel!.moreRoom(kind),
      moreTies: (network: number, a: number, b: number) => this.turnsByKernel!.moreTies(network, a, b),
    };
    this.runKernels = this.readyKernels();
    this.fieldSteps = this.readyFields();
    this.beginning = new Beginning(this.state, this);
    this.kept = plan.records.map((record) => ({
      width: 1 + (record.kind >= 0 ? 1 : 0) + record.columns.length,
      data: [],
    }));
    const ask =
      ({ id }: P.AskedBody): (() => number) =>
      () =>
        this.code.values[id]!();
    this.entries = plan.schedule.map((entry, i) => () => {
      if (this.off.has(i)) return;
      if (this.made !== this.compiled.code) this.takeUp();
      if (entry.is === 'fields') this.fieldSteps.change(entry.fields);
      else this.runEntry(i);
    });
    this.timeline = plan.timeline.map((line, i) => ({
      when: askWhen(line.when, ask),
      overrides: line.overrides.map(({ parameter, value }) => ({ parameter, value: ask(value) })),
      act: () => this.code.acts[i]!(),
    }));
    this.measures = plan.measures.map((measure) => ask(measure.body));
    this.measureOrder = plan.measureOrder;
    this.endAfter = ask(plan.clock.endAfter);
    this.endWhen = plan.clock.endWhen.map(ask);
    this.inputs = plan.inputs;
    this.finals = plan.finals.map(ask);
    this.turnOrder = new TurnOrder(this.state, (...of) => this.turnsByKernel?.shuffle(...of) ?? false);
    this.seam = this.makeSeam();
    this.turnsByKernel = this.readyTurns();
  }

  /** The value of one of the plan's value bodies as things stand. */
  valueOf({ id }: P.AskedBody): number {
    return this.code.values[id]!();
  }

  /** Asks a value body of another plan of the run as it stands; that plan may have more measures, else it must be the same. */
  askOf(other: { bindTo(context: RunContext, seam: GeneratedState): Bound }, { id }: P.AskedBody): () => number {
    return () => other.bindTo(this.context, this.seam).values[id]!();
  }

  /** The code bound to the arrays as they are now. */
  get code(): Bound {
    const { populations } = this.state;
    let version = 0;
    for (let k = 0; k < populations.length; k++) version += populations[k]!.version;
    if (version !== this.boundVersion) this.bind(version);
    return this.bound;
  }

  private readyKernels(compiled: CompiledKernels = this.made.kernels): RunKernels {
    return new RunKernels(compiled, this.state.memory, this.called, this.crew);
  }

  private readyFields(): FieldSteps {
    return new FieldSteps(this.state, this, this.made.kernels, this.runKernels, (more) => this.readyKernels(more));
  }

  private readyTurns(): TurnsByKernel | undefined {
    return this.made.kernels.turnsOf?.(this.state, this.runKernels, this.seam);
  }

  /** Goes on with code that has more kernels. */
  private takeUp(): void {
    this.made = this.compiled.code;
    this.runKernels = this.readyKernels();
    this.fieldSteps = this.readyFields();
    this.turnsByKernel = this.readyTurns();
    this.bindAnew();
  }

  private bind(version: number): void {
    this.bound = this.made.binder(this.context, this.seam, ENGINE);
    this.boundVersion = version;
  }

  /** For arrays that were replaced and are no columns of agents that have grown. */
  bindAnew(): void {
    this.boundVersion = -1;
  }

  /** What the code sees of the run. Arrays that are replaced are asked for anew whenever the code is bound. */
  private makeSeam(): GeneratedState {
    const { plan, context, state, atOnce, beginning, turnOrder } = this;
    const { populations, networks } = state;
    const nameOf = (kind: number, slot: number): string | undefined =>
      kind < 0 ? undefined : `${plan.kinds[kind]!.name} ${populations[kind]!.number[slot]!}`;
    const isRecording = (): boolean => this.recording;
    const areStatesOpen = (): boolean => this.areStatesOpen;
    const logs = logLines(plan);
    return {
      get recording() {
        return isRecording();
      },
      get areStatesOpen() {
        return areStatesOpen();
      },
      get fields() {
        return state.fields;
      },
      get grounds() {
        return state.grounds;
      },
      get zones() {
        return state.zones;
      },
      get occupied() {
        return state.occupied;
      },
      get inState() {
        return state.inState;
      },
      countStates: () => this.countStates(),
      trace: this.trace,
      populations,
      lists: new Lists(),
      log: atOnce.log,
      networks,
      tallies: state.tallies,
      tables: plan.tables,
      mail: state.mail,
      cellList: beginning.cellList,
      later: this.later,
      get turnCount() {
        return turnOrder.count;
      },
      turns: (kinds, key, shuffled) => turnOrder.of(kinds, key, shuffled),
      turnsBefore: (kind, began, key, order, at) => turnOrder.before(kind, began, key, order, at),
      turnsByKernel: (...of) => this.turnsByKernel!.run(...of),
      total: () => state.total(),
      cellCounts: (name, kind, machine, states) => this.cellCounts(name, kind, machine, states),
      removeAt: (kind, slot) => state.removeAt(kind, slot),
      settle: (rule) => atOnce.settle(rule),
      settleMoves: (kind, rule) => atOnce.settleMoves(kind, rule),
      settleChanges: (...of) => atOnce.settleChanges(...of),
      runLater: () => {
        for (const action of this.later) action();
        this.later.length = 0;
      },
      countCells: () => state.countCells(),
      holdField: (field) => this.fieldSteps.hold(field),
      keepInBounds: (field) => this.fieldSteps.keepInBounds(field),
      tie: (network, a, b, values) => state.tie(network, a, b, values),
      untie: (network, a, b) => networks[network]!.remove(networks[network]!.between(a, b)),
      isolate: (network, side, slot) => state.isolate(network, side, slot),
      networkMeasure: (which, network) => networkMeasure(which, this.state.tiedTo(network)),
      note: (site, numbers, kind, slot) =>
        context.note(site, nameOf(kind, slot) ?? '', noteText(logs.get(site)!.values, numbers)),
      recordRow: (record, values) => this.addRecordRow(record, values),
      failAboard: (site, kind, slot) => failAboard(plan.sites[site]!, context, nameOf(kind, slot)),
      failNoWay: (site, kind, slot) => failNoWay(plan.sites[site]!, context, nameOf(kind, slot)),
      failNobody: (site, kind, slot) => failNobody(plan.sites[site]!, context, nameOf(kind, slot)),
      endOfRule: () => state.endOfRule(),
      fail: (site, value, kind, slot) => failAt(plan.sites[site]!, context, nameOf(kind, slot), value),
      failCount: (site, value, kind, slot) => failCount(plan.sites[site]!, context, nameOf(kind, slot), value),
      failCeiling: (site) => failCeiling(plan.sites[site]!, context),
      failRounds: (site, kind, slot) => failRounds(plan.sites[site]!, context, nameOf(kind, slot)),
    };
  }

  private cellCounts(name: string, kind: number, machine: number, states: readonly number[]): CellCounts {
    let counts = this.countsByCell.get(name);
    if (!counts) this.countsByCell.set(name, (counts = new CellCounts(this.state.populations[kind]!, machine, states)));
    return counts;
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
    const { inState } = this.state;
    inState.fill(0);
    this.state.populations.forEach(({ used, alive, states }, k) =>
      this.plan.kinds[k]!.machines.forEach(({ firstCounter }, m) => {
        const column = states[m]!;
        for (let slot = 0; slot < used; slot++) if (alive[slot]! & 1) inState[firstCounter + column[slot]!]!++;
      }),
    );
    this.areStatesOpen = this.isStarting;
  }

  private startAll(): void {
    const { plan, context, state } = this;
    const value = (body: P.AskedBody): number => this.valueOf(body);
    state.clear();
    this.bindAnew();
    plan.variables.forEach((variable, i) => {
      const first = value(variable.start);
      context.variables[i] = Number.isFinite(first)
        ? first
        : failAt(plan.sites[variable.site]!, context, undefined, first);
    });
    this.forget();
    for (const record of this.kept) record.data.length = 0;
    state.layOut(value);
    this.bindAnew();
    this.fieldSteps.startAll();
    this.beginning.startAll();
  }

  /** One more agent by the first start line of a kind; its slot, or -1 if there was no room for it. */
  startOne(kind: number, key0: number, key1: number): number {
    const population = this.state.populations[kind]!;
    const before = population.used;
    this.code.starts[kind]![0]?.(1, key0, key1);
    return population.used > before ? before : -1;
  }

  changeByKernel(...of: Parameters<TurnsByKernel['change']>): boolean {
    return this.turnsByKernel?.change(...of) ?? false;
  }

  /** Brings an agent into a state, with what it does on leaving and entering. */
  changeState(kind: number, machine: number, slot: number, state: number, key0: number, key1: number): void {
    this.code.changes[kind]![machine]!(slot, state, key0, key1);
  }

  /** The first values of a column of all ties, by the tie's own luck. */
  firstOfTies(network: number, column: number): void {
    this.beginning.firstOfTies(network, column);
  }

  useZones(zones: Zones): void {
    this.state.useZones(zones);
    this.bindAnew();
  }

  // Rules

  private runEntry(i: number): void {
    const kernel = this.made.kernels.entries[i];
    if (kernel?.rules.some(({ every }) => !every || this.context.isMultipleNow(this.valueOf(every)))) {
      this.turnsByKernel!.reserve(i);
      if (this.state.gather()) this.bindAnew();
    }
    this.code.entries[i]!();
    this.state.closeHoles();
  }

  // Messages, records

  beginStep(): void {
    for (const tally of this.state.tallies) tally.beginStep();
  }

  deliver(round: number): void {
    const { context, plan, state } = this;
    const { mail } = state;
    if (mail.message.length === 0) return;
    mail.round(
      context.seed,
      context.step,
      round,
      context.end,
      context.stepLength * 1e-9,
      round === 0,
      (row, ordinal) => {
        const kind = mail.kind[row]!;
        const slot = this.state.populations[kind]!.slotOf(mail.receiver[row]!);
        const index = plan.reactions.findIndex((r) => r.kind === kind && r.message === mail.message[row]);
        if (slot < 0 || index < 0) return;
        const key = deliveryKey(plan.reactions[index]!.key, round, ordinal);
        this.code.reactions[index]!(
          slot,
          row,
          ruleKey0(context.seed, context.step, key),
          ruleKey1(context.seed, context.step, key),
        );
      },
    );
    this.state.closeHoles();
  }

  private isRecordedNow(record: number): boolean {
    const { every } = this.plan.records[record]!;
    return !every || this.context.isRowOf(this.valueOf(every));
  }

  private addRecordRow(record: number, values: readonly number[]): void {
    if (this.recording && this.isRecordedNow(record)) this.kept[record]!.data.push(this.context.step, ...values);
  }

  get records(): readonly RecordRows[] {
    return this.kept;
  }

  record(): void {
    this.plan.records.forEach((record, i) => {
      if (!this.isRecordedNow(i)) return;
      if (record.field !== undefined) this.recordField(this.kept[i]!.data, record.field);
      if (record.kind < 0) return;
      const { alive, used, number } = this.state.populations[record.kind]!;
      const values = this.code.records[i]!;
      const when = this.code.recordWhens[i];
      for (let slot = 0; slot < used; slot++)
        if (alive[slot]! & 1 && (!when || when(slot) !== 0))
          this.kept[i]!.data.push(this.context.step, number[slot]!, ...values.map((value) => value(slot)));
    });
  }

  /**
   * What agents have of what a chart shows the distribution of, in order of number, and of how many that were looked at; empty where it shows none.
   * @param most agents looked at: of more, every so manyth
   */
  distributionOf(chart: number, most: number): { readonly values: Float64Array; readonly of: number } {
    const value = this.code.distributions[chart];
    const kind = this.plan.charts[chart]?.distribution?.kind;
    if (!value || kind === undefined) return { values: new Float64Array(0), of: 0 };
    const { alive, used } = this.state.populations[kind]!;
    const found: number[] = [];
    let of = 0;
    for (let slot = 0, stride = Math.ceil(Math.max(1, used / most)); slot < used; slot += stride) {
      if (!(alive[slot]! & 1)) continue;
      of++;
      const one = numberOrNone(() => value(slot));
      if (one !== undefined) found.push(one);
    }
    return { values: Float64Array.from(found), of };
  }

  private recordField(data: number[], field: number): void {
    const raster = this.state.fields[field]!;
    const { space } = this.state.grounds[this.plan.fields[field]!.space]!;
    for (let cell = 0; cell < raster.values.length; cell++) {
      const { x, y } = measuredCell(cell, raster, space);
      data.push(this.context.step, x, y, raster.values[cell]!);
    }
  }

  // For others

  living(kind: number): number {
    return this.state.living(kind);
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

  /** What kernels run in, once one has. */
  get kernelEngine(): KernelEngine | undefined {
    return this.runKernels.engine;
  }

  /** The lines of the order whose turns a kernel did when they were last had. */
  get linesByKernel(): ReadonlySet<number> {
    return this.turnsByKernel?.done ?? NO_LINES;
  }

  /** Bytes held by agents, fields and what kernels need beside them. */
  get bytes(): number {
    return this.state.bytes;
  }

  snapshot(): ArrayBuffer[] {
    return snapshotOf(this.state);
  }

  /** What waited for the end of a rule that failed is not for any other. */
  private forget(): void {
    this.later.length = 0;
    this.atOnce.log.clear();
  }

  restore(parts: readonly ArrayBuffer[]): void {
    restoreInto(this.state, parts);
    this.openStates();
    this.forget();
  }

  view(): StateView {
    return viewOf(this.state);
  }
}

/** A value that is only looked at: what is no number, or beyond all of them, does not stop a run. */
function numberOrNone(value: () => number): number | undefined {
  try {
    const found = value();
    return Number.isFinite(found) ? found : undefined;
  } catch (error) {
    if (error instanceof ModelError) return undefined;
    throw error;
  }
}
