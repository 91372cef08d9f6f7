import type { CompiledPlan, GeneratedScript, HandAct, LoadedModel, Plan, RunSnapshot, Zones } from '@vole/core';
import { actByHand, compilePlan, forgetHand, loadModel, ModelError, Run } from '@vole/core';
import { NetworkLayout } from './network-layout.ts';
import type { ActNote, AgentTable, FieldFrame, Frame, KindFrame, OpenedAgent, Story, WatchReply, WatchRequest, ZoneFrame } from './protocol.ts';
import { StateFollower } from './state-follower.ts';

/** Longest stretch of computing before messages are looked at, in milliseconds. */
const STRETCH = 12;
const FIRST_SNAPSHOT_DISTANCE = 8;
/** Steps of an opened agent's story, and above how many agents it is told of one step only. */
const STORY_STEPS = 50;
const MANY_AGENTS = 20_000;
const MOST_SNAPSHOTS = 48;
const MOST_SNAPSHOT_BYTES = 300_000_000;

type Post = (message: WatchReply, transfer?: Transferable[]) => void;

/** The run that Build and Watch show: loaded from text, played, taken back to any step, acted upon by hand. */
export class LiveRun {
  private loaded: LoadedModel | undefined;
  private meaning = '';
  private text = '';
  private compiled: CompiledPlan | undefined;
  private script: GeneratedScript | undefined;
  private run: Run | undefined;
  private seed = 1;
  private startValues: number[] = [];
  private playing = false;
  private stepsPerSecond = 30;
  /** Step the run is being brought to, out of turn. */
  private target: number | undefined;
  private snapshots: { step: number; data: RunSnapshot; bytes: number }[] = [];
  private snapshotDistance = FIRST_SNAPSHOT_DISTANCE;
  private acts: ActNote[] = [];
  private startZones: Zones = { masks: [] };
  private sentZones: Zones | undefined;
  private layout: NetworkLayout | undefined;
  private follower: StateFollower | undefined;
  private listed: number | undefined;
  private traced: CompiledPlan | undefined;
  /** Asks the condition that the run is on its way to. */
  private until: (() => number) | undefined;
  private furthest = 0;
  private layers: number[] = [];
  private rowData: number[] = [];
  private sentRows = 0;
  private marks = new Map<string, { step: number; label: string }>();
  private opened: { kind: number; number: number } | undefined;
  private pageIsReady = true;
  private mustSend = false;
  private lastStepAt = 0;
  private owedSteps = 0;
  private measured = { since: 0, steps: 0, rate: 0 };
  private failed = false;

  constructor(
    private readonly post: Post,
    private readonly now: () => number,
  ) {}

  receive(request: WatchRequest): void {
    switch (request.is) {
      case 'load':
        return this.load(request);
      case 'restart':
        return this.guarded(() => this.restart(request.seed, request.parameters, request.step, request.acts));
      case 'play':
        this.playing = request.playing && !this.run?.hasEnded;
        this.lastStepAt = this.now();
        this.owedSteps = 0;
        this.mustSend = true;
        return;
      case 'pace':
        this.stepsPerSecond = request.stepsPerSecond;
        this.owedSteps = 0;
        return;
      case 'step':
        this.playing = false;
        if (this.run) this.target = this.run.step + 1;
        return;
      case 'go to':
        this.playing = false;
        return this.guarded(() => this.goTo(request.step));
      case 'run until':
        this.playing = false;
        return this.guarded(() => this.runUntil(request.condition));
      case 'act':
        return this.guarded(() => this.act(request.act));
      case 'forget act':
        return this.guarded(() => this.forgetAct(request.index));
      case 'follow states':
        this.follower = new StateFollower(request.kind, request.machine);
        this.mustSend = true;
        return;
      case 'open agent':
        this.opened = { kind: request.kind, number: request.number };
        this.mustSend = true;
        return;
      case 'close agent':
        this.opened = undefined;
        this.mustSend = true;
        return;
      case 'list agents':
        this.listed = request.kind;
        this.mustSend = true;
        return;
      case 'why':
        return this.guarded(() => this.tellStory());
      case 'frame drawn':
        this.pageIsReady = true;
    }
  }

  /** Computes for a stretch. Gives the pause before the next one in milliseconds, or nothing if there is nothing to do. */
  work(): number | undefined {
    const pause = this.guarded(() => this.compute());
    if (this.pageIsReady && this.mustSend && this.run) this.sendFrame();
    if (this.target !== undefined) return 0;
    return this.playing ? (pause ?? 0) : undefined;
  }

  private guarded<T>(action: () => T): T | undefined {
    try {
      return action();
    } catch (error) {
      this.playing = false;
      this.target = undefined;
      if (!(error instanceof ModelError)) throw error;
      this.failed = true;
      this.post({ is: 'failed', ...error.toPlain(), step: this.run?.step ?? 0 });
      return undefined;
    }
  }

  // Loading

  private load(request: Extract<WatchRequest, { is: 'load' }>): void {
    const { loaded, diagnostics } = loadModel(request.text);
    const meaning = loaded ? meaningOf(loaded.plan) : '';
    const isNew = loaded !== undefined && (meaning !== this.meaning || request.step !== undefined);
    if (loaded) {
      this.text = request.text;
      this.loaded = loaded;
      this.meaning = meaning;
    }
    if (loaded && isNew) {
      this.compiled = compilePlan(loaded.plan);
      this.traced = undefined;
      this.guarded(() => this.restart(request.seed, request.parameters, request.step));
    }
    this.post({
      is: 'checked', version: request.version, diagnostics, plan: loaded?.plan, restarted: isNew, stepLimit: this.run?.stepLimit ?? 0,
      layerNames: this.loaded ? layersOf(this.loaded.plan).map((layer) => layer.name) : [], seed: this.seed,
    });
    this.mustSend = true;
  }

  private restart(seed: number, parameters: Readonly<Record<string, number>>, step?: number, acts: readonly ActNote[] = []): void {
    const { loaded, compiled } = this;
    if (!loaded || !compiled) return;
    this.seed = seed;
    this.failed = false;
    this.startValues = loaded.plan.parameters.map((parameter) => parameters[parameter.name] ?? parameter.value);
    this.script = compiled.script();
    this.run = new Run(this.script, this.startValues, seed);
    this.snapshots = [];
    this.snapshotDistance = FIRST_SNAPSHOT_DISTANCE;
    this.acts = [...acts];
    this.until = undefined;
    this.startZones = this.script.zones;
    this.layout = loaded.plan.space || loaded.plan.networks.length === 0 ? undefined : new NetworkLayout();
    this.follower?.begin(this.script);
    this.marks.clear();
    this.furthest = 0;
    this.layers = [];
    this.rowData = [];
    this.sentRows = 0;
    this.target = step;
    if (step !== undefined) this.playing = false;
    this.sentZones = undefined;
    this.note();
    this.doActs(0);
    this.keepSnapshot();
    this.mustSend = true;
  }

  // Going on

  private compute(): number | undefined {
    const { run } = this;
    if (!run || this.failed) return undefined;
    const start = this.now();
    if (this.target !== undefined) {
      while (run.step < this.target && !run.hasEnded && this.now() - start < STRETCH) {
        this.oneStep();
        if (this.until && this.until() !== 0) this.target = run.step;
      }
      if (run.step >= this.target || run.hasEnded) this.target = undefined;
      this.mustSend = true;
      return 0;
    }
    if (!this.playing) return undefined;
    const isUnlimited = !Number.isFinite(this.stepsPerSecond);
    if (!isUnlimited) {
      this.owedSteps = Math.min(this.owedSteps + ((start - this.lastStepAt) * this.stepsPerSecond) / 1000, this.stepsPerSecond / 4 + 1);
      this.lastStepAt = start;
    }
    while (!run.hasEnded && (isUnlimited || this.owedSteps >= 1) && this.now() - start < STRETCH) {
      this.oneStep();
      this.owedSteps--;
      this.mustSend = true;
    }
    this.measure(start);
    if (run.hasEnded) this.playing = false;
    return isUnlimited ? 0 : Math.max(1, ((1 - this.owedSteps) * 1000) / this.stepsPerSecond);
  }

  private measure(at: number): void {
    const elapsed = at - this.measured.since;
    if (elapsed < 500) return;
    this.measured = { since: at, steps: 0, rate: (this.measured.steps * 1000) / elapsed };
  }

  private oneStep(): void {
    const run = this.run!;
    this.follower?.before(this.script!);
    run.next();
    this.follower?.after(this.script!, run.step);
    this.measured.steps++;
    this.note();
    this.doActs(run.step);
    if (run.step % this.snapshotDistance === 0) this.keepSnapshot();
  }

  /** Keeps what the ribbon and the charts show of the step just taken. */
  private note(): void {
    const run = this.run!;
    const width = run.measureCount;
    if (run.step < this.furthest || (run.step === this.furthest && this.rowData.length > run.step * width && run.step > 0)) return;
    this.furthest = run.step;
    for (let m = 0; m < width; m++) this.rowData[run.step * width + m] = run.valueAt(run.step, m);
    const layers = layersOf(this.loaded!.plan);
    const counts = countLayers(this.script!, layers);
    counts.forEach((count, i) => (this.layers[run.step * layers.length + i] = count));
    const { timeline } = this.loaded!.plan;
    for (const mark of run.marks) {
      if (mark.step !== run.step) continue;
      const { label } = timeline[mark.line]!;
      const said = mark.change === 'ends' ? `${label} ends` : label;
      this.marks.set(`${mark.step} ${mark.line} ${mark.change}`, { step: mark.step - 1, label: said });
    }
  }

  private keepSnapshot(): void {
    const run = this.run!;
    if (this.snapshots.some((snapshot) => snapshot.step === run.step)) return;
    const data = run.snapshot();
    const bytes = data.parts.reduce((sum, part) => sum + part.byteLength, 0);
    this.snapshots.push({ step: run.step, data, bytes });
    this.snapshots.sort((a, b) => a.step - b.step);
    const total = this.snapshots.reduce((sum, snapshot) => sum + snapshot.bytes, 0);
    if (this.snapshots.length <= MOST_SNAPSHOTS && total <= MOST_SNAPSHOT_BYTES) return;
    this.snapshotDistance *= 2;
    this.snapshots = this.snapshots.filter((snapshot) => snapshot.step % this.snapshotDistance === 0);
  }

  private goTo(wanted: number): void {
    const run = this.run;
    if (!run) return;
    const step = Math.max(0, Math.round(wanted));
    this.failed = false;
    this.until = undefined;
    if (step < run.step || run.hasEnded) {
      const before = this.snapshots.filter((snapshot) => snapshot.step <= step);
      this.restore(before[before.length - 1]!);
    }
    this.target = step;
    this.mustSend = true;
  }

  /** The condition is compiled with the model and asked of the run as it stands. */
  private runUntil(condition: string): void {
    const { text, script, run } = this;
    if (!script || !run) return;
    const { loaded, diagnostics } = loadModel(`${text.trimEnd()}\nmeasure condition_to_run_to = if ${condition} then 1 else 0\n`);
    if (!loaded) {
      this.post({ is: 'refused', why: diagnostics.find((d) => d.severity === 'error')?.message ?? 'the condition is not right' });
      return;
    }
    const ask = script.askOf(compilePlan(loaded.plan), loaded.plan.measures[loaded.plan.measures.length - 1]!.body);
    this.until = ask;
    this.target = run.stepLimit;
    this.mustSend = true;
  }

  private restore(snapshot: { step: number; data: RunSnapshot }): void {
    const script = this.script!;
    this.run!.restore(snapshot.data);
    forgetHand(script, this.startZones);
    for (const { step, act } of this.acts) if (step <= snapshot.step && (act.is === 'paint' || act.is === 'switch')) actByHand(script, act, 0);
    this.follower?.begin(script);
  }

  // By hand. The run as it stands at a step, and a snapshot of it, have the acts of that step done.

  /** Does an act to the run as it stands; what came after this step came about without it and is forgotten. */
  private act(act: HandAct): void {
    const { run, script } = this;
    if (!run || !script || this.failed) return;
    const { step } = run;
    const earlier = this.acts.filter((note) => note.step < step || (note.step === step && !isSameAim(note.act, act)));
    const sameStep = this.acts.find((note) => note.step === step && isSameAim(note.act, act));
    const from = sameStep?.from ?? this.valueBefore(act);
    if (act.is === 'set parameter') run.setParameter(act.parameter, act.value);
    const why = actByHand(script, act, earlier.filter((note) => note.step === step).length);
    if (why !== undefined) {
      this.post({ is: 'refused', why });
      return;
    }
    this.acts = [...earlier, { step, act, from }];
    this.forgetAfter(step);
  }

  private valueBefore(act: HandAct): number | undefined {
    if (act.is === 'set parameter') return this.run!.world.bottom[act.parameter];
    if (act.is !== 'set attribute') return undefined;
    const population = this.script!.populations[act.kind]!;
    return population.attributes[act.column]![population.slotOf(act.number)];
  }

  /** Acts of a step, in their order. */
  private doActs(step: number): void {
    this.acts.filter((note) => note.step === step).forEach(({ act }, i) => {
      if (act.is === 'set parameter') this.run!.setParameter(act.parameter, act.value);
      actByHand(this.script!, act, i);
    });
  }

  /** Runs the last steps once more with code that tells, apart from the run on show. */
  private tellStory(): void {
    const { run, loaded, opened } = this;
    if (!run || !loaded || !opened || run.step === 0) return;
    const { step } = run;
    this.traced ??= compilePlan(loaded.plan, true);
    const script = this.traced.script();
    const again = new Run(script, this.startValues, this.seed);
    const agents = script.populations.reduce((sum, population) => sum + population.living, 0);
    const wanted = Math.max(0, step - (agents > MANY_AGENTS ? 1 : STORY_STEPS));
    const before = this.snapshots.filter((snapshot) => snapshot.step <= wanted);
    const { data, step: begun } = before[before.length - 1]!;
    again.restore(data, Float64Array.from(this.rowData.slice(0, data.rowCount * run.measureCount)));
    const act = (at: number, isAgain: boolean): void => {
      this.acts.filter((note) => note.step === at).forEach((note, i) => {
        if (isAgain && note.act.is !== 'paint' && note.act.is !== 'switch') return;
        if (note.act.is === 'set parameter') again.setParameter(note.act.parameter, note.act.value);
        actByHand(script, note.act, i);
      });
    };
    for (let at = 0; at <= begun; at++) act(at, true);
    const history: Story['history'][number][] = [];
    while (again.step < step) {
      if (again.step === step - 1) script.trace.listenTo(opened.kind, opened.number);
      again.next();
      const agent = openedAgent(script, loaded.plan, opened);
      if (!agent.gone && again.step > wanted) history.push({ step: again.step, attributes: agent.attributes, states: agent.states.map(({ state }) => state) });
      act(again.step, false);
    }
    this.post({ is: 'story', story: { ...opened, step, events: script.trace.events, history } });
  }

  private forgetAfter(step: number): void {
    const run = this.run!;
    this.snapshots = this.snapshots.filter((snapshot) => snapshot.step < step);
    this.keepSnapshot();
    for (const [key, mark] of this.marks) if (mark.step >= step) this.marks.delete(key);
    this.furthest = step;
    this.rowData.length = (step + 1) * run.measureCount;
    this.layers.length = (step + 1) * layersOf(this.loaded!.plan).length;
    this.sentRows = Math.min(this.sentRows, step + 1);
    this.mustSend = true;
  }

  /** Runs again without an act, up to where the run stands. */
  private forgetAct(index: number): void {
    const note = this.acts[index];
    const { run, loaded } = this;
    if (!note || !run || !loaded) return;
    const now = this.target ?? run.step;
    const values = Object.fromEntries(loaded.plan.parameters.map((parameter, i) => [parameter.name, this.startValues[i]!]));
    this.restart(this.seed, values, now, this.acts.filter((other) => other !== note));
  }

  // Frames

  private sendFrame(): void {
    const run = this.run!;
    const script = this.script!;
    const { plan } = this.loaded!;
    const layerCount = layersOf(plan).length;
    const rows = Float64Array.from(this.rowData.slice(this.sentRows * run.measureCount));
    const layers = Float32Array.from(this.layers.slice(this.sentRows * layerCount));
    this.layout?.settle(script, () => this.now());
    const hasMoved = this.sentZones !== script.zones;
    this.sentZones = script.zones;
    const frame: Frame = {
      step: run.step,
      furthest: this.furthest,
      ended: run.hasEnded,
      playing: this.playing || this.target !== undefined,
      width: script.space?.width ?? this.layout?.side ?? 0,
      height: script.space?.height ?? this.layout?.side ?? 0,
      kinds: plan.kinds.map((_, k) => kindFrame(script, k, this.layout)),
      fields: script.fields.map((field, i) => fieldFrame(field, this.keepOf(i))),
      parameters: run.world.parameters.slice(),
      ties: script.networks.map((_, n) => tiesFrame(script, n, this.layout)),
      zones: hasMoved ? script.zones.masks.map(zoneFrame) : undefined,
      states: this.follower?.frame(script),
      table: this.listed === undefined ? undefined : tableFrame(script, this.listed),
      off: [...script.off],
      agent: this.opened && openedAgent(script, plan, this.opened),
      refused: run.world.refused,
      stepsPerSecond: this.measured.rate,
      fromRow: this.sentRows,
      rows,
      layers,
    };
    this.sentRows = this.furthest + 1;
    this.mustSend = false;
    this.pageIsReady = false;
    const transfer = [
      ...frame.kinds.flatMap((kind) => [kind.numbers, kind.x, kind.y, kind.direction, kind.sizes, kind.colours]),
      ...frame.fields.map((field) => field.levels), ...frame.ties, rows, layers,
    ].map((view) => view.buffer as ArrayBuffer);
    this.post({ is: 'frame', frame, marks: [...this.marks.values()], acts: this.acts }, transfer);
  }

  private keepOf(field: number): { low: number; high: number } | undefined {
    const keep = this.loaded!.plan.fields[field]!.keep;
    const low = keep?.min.value;
    const high = keep?.max.value;
    return low?.op === 'number' && high?.op === 'number' ? { low: low.value, high: high.value } : undefined;
  }
}

/** What a text means for a run: its plan without places, titles and prose, so that a comment does not restart anything. */
function meaningOf(plan: Plan): string {
  const leftOut = new Set(['sites', 'title', 'about', 'site', 'charts', 'label', 'checks', 'summaries', 'finals']);
  return JSON.stringify(plan, (key: string, value: unknown) => (leftOut.has(key) ? undefined : value));
}

interface Layer {
  readonly name: string;
  readonly kind: number;
  readonly machine: number | undefined;
  readonly state: number;
}

/** Layers of the ribbon: the states of the first machine that a show colours by, else the kinds. */
export function layersOf(plan: Plan): Layer[] {
  for (const [kind, { show, machines }] of plan.kinds.entries()) {
    const by = show?.colourBy?.value;
    if (by?.op === 'state' && by.kind === kind) {
      return machines[by.machine]!.states.map((name, state) => ({ name, kind, machine: by.machine, state }));
    }
  }
  return plan.kinds.map((kind, index) => ({ name: kind.name, kind: index, machine: undefined, state: 0 }));
}

function countLayers(script: GeneratedScript, layers: readonly Layer[]): number[] {
  const counts = new Array<number>(layers.length).fill(0);
  const machineLayers = layers.filter((layer) => layer.machine !== undefined);
  layers.forEach((layer, i) => {
    if (layer.machine === undefined) counts[i] = script.living(layer.kind);
  });
  const first = machineLayers[0];
  if (!first) return counts;
  const { alive, used, states } = script.populations[first.kind]!;
  const column = states[first.machine!]!;
  for (let slot = 0; slot < used; slot++) if (alive[slot]! & 1) counts[column[slot]!]!++;
  return counts;
}

function kindFrame(script: GeneratedScript, kind: number, layout: NetworkLayout | undefined): KindFrame {
  const { alive, used, living, number, x, y, direction } = script.populations[kind]!;
  const frame = { count: living, numbers: new Int32Array(living), x: new Float32Array(living), y: new Float32Array(living), direction: new Float32Array(living) };
  let n = 0;
  for (let slot = 0; slot < used; slot++) {
    if (!(alive[slot]! & 1)) continue;
    frame.numbers[n] = number[slot]!;
    const laid = layout?.placeOf(kind, number[slot]!);
    frame.x[n] = laid ? laid.x : x[slot]!;
    frame.y[n] = laid ? laid.y : y[slot]!;
    frame.direction[n] = direction[slot]!;
    n++;
  }
  const values = new Float64Array(living);
  const sizes = script.sizesInto(kind, values) ? Float32Array.from(values) : new Float32Array(0);
  const colours = script.coloursInto(kind, values) ? Float32Array.from(values) : new Float32Array(0);
  return { ...frame, sizes, colours };
}

const MOST_LISTED = 50_000;

function tableFrame(script: GeneratedScript, kind: number): AgentTable | undefined {
  const population = script.populations[kind];
  if (!population) return undefined;
  const slots: number[] = [];
  for (let slot = 0; slot < population.used && slots.length < MOST_LISTED; slot++) if (population.alive[slot]! & 1) slots.push(slot);
  const pick = (column: ArrayLike<number>): Float64Array => Float64Array.from(slots, (slot) => column[slot]!);
  const places = script.space ? [pick(population.x), pick(population.y)] : [];
  return { kind, numbers: Int32Array.from(slots, (slot) => population.number[slot]!), columns: [...population.attributes.map(pick), ...population.states.map(pick), ...places] };
}

/** More ties than this are not told apart in a picture; of so many the first are drawn. */
const MOST_TIES = 20_000;

function tiesFrame(script: GeneratedScript, n: number, layout: NetworkLayout | undefined): Float32Array {
  const network = script.networks[n]!;
  const [from, to] = [script.populations[network.from]!, script.populations[network.to]!];
  const ends = new Float32Array(4 * Math.min(network.living, MOST_TIES));
  let at = 0;
  for (let tie = 0; tie < network.count && at < ends.length; tie++) {
    if (!network.there[tie]) continue;
    const [a, b] = [network.a[tie]!, network.b[tie]!];
    const [pa, pb] = [layout?.placeOf(network.from, from.number[a]!), layout?.placeOf(network.to, to.number[b]!)];
    ends[at++] = pa ? pa.x : from.x[a]!;
    ends[at++] = pa ? pa.y : from.y[a]!;
    ends[at++] = pb ? pb.x : to.x[b]!;
    ends[at++] = pb ? pb.y : to.y[b]!;
  }
  return ends;
}

function zoneFrame({ raster, inside }: Zones['masks'][number]): ZoneFrame {
  return { columns: raster.columns, rows: raster.rows, cell: raster.cell, inside };
}

/** Whether a later act of the same step takes the place of an earlier one. */
function isSameAim(a: HandAct, b: HandAct): boolean {
  if (a.is === 'set parameter' && b.is === 'set parameter') return a.parameter === b.parameter;
  if (a.is === 'set attribute' && b.is === 'set attribute') return a.kind === b.kind && a.number === b.number && a.column === b.column;
  return a.is === 'switch' && b.is === 'switch' && a.rule === b.rule;
}

function fieldFrame(field: GeneratedScript['fields'][number], keep: { low: number; high: number } | undefined): FieldFrame {
  const { values, columns, rows } = field;
  let sum = 0;
  let least = Infinity;
  let most = -Infinity;
  for (const value of values) {
    sum += value;
    if (value < least) least = value;
    if (value > most) most = value;
  }
  const low = keep?.low ?? least;
  const high = keep?.high ?? most;
  const scale = high > low ? 255 / (high - low) : 0;
  const levels = new Uint8Array(values.length);
  for (let i = 0; i < values.length; i++) levels[i] = Math.max(0, Math.min(255, Math.round((values[i]! - low) * scale)));
  return { columns, rows, levels, low, high, mean: sum / values.length };
}

function openedAgent(script: GeneratedScript, plan: Plan, wanted: { kind: number; number: number }): OpenedAgent {
  const population = script.populations[wanted.kind]!;
  const slot = population.slotOf(wanted.number);
  if (slot < 0) return { ...wanted, gone: true, x: 0, y: 0, direction: 0, attributes: [], states: [] };
  return {
    ...wanted,
    gone: false,
    x: population.x[slot]!,
    y: population.y[slot]!,
    direction: population.direction[slot]!,
    attributes: population.attributes.map((column) => column[slot]!),
    states: plan.kinds[wanted.kind]!.machines.map((machine, m) => {
      const state = population.states[m]![slot]!;
      const left = machine.dues[state]!.map((column) => population.due[column]![slot]! - script.world.end).filter((time) => time > 0);
      return { state, due: left.length > 0 ? Math.min(...left) : undefined };
    }),
  };
}
