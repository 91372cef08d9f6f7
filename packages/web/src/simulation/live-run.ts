import type { CompiledPlan, GeneratedScript, LoadedModel, Plan, RunSnapshot } from '@vole/core';
import { compilePlan, loadModel, ModelError, Run } from '@vole/core';
import type { ActNote, FieldFrame, Frame, KindFrame, OpenedAgent, WatchReply, WatchRequest } from './protocol.ts';

/** Longest stretch of computing before messages are looked at, in milliseconds. */
const STRETCH = 12;
const FIRST_SNAPSHOT_DISTANCE = 8;
const MOST_SNAPSHOTS = 48;
const MOST_SNAPSHOT_BYTES = 300_000_000;

type Post = (message: WatchReply, transfer?: Transferable[]) => void;

interface Act extends ActNote {
  readonly index: number;
}

/** The run that Build and Watch show: loaded from text, played, taken back to any step, its parameters changed by hand. */
export class LiveRun {
  private loaded: LoadedModel | undefined;
  private meaning = '';
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
  private acts: Act[] = [];
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
        return this.guarded(() => this.restart(request.seed, request.parameters, request.step));
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
      case 'set parameter':
        return this.guarded(() => this.setParameter(request.name, request.value));
      case 'open agent':
        this.opened = { kind: request.kind, number: request.number };
        this.mustSend = true;
        return;
      case 'close agent':
        this.opened = undefined;
        this.mustSend = true;
        return;
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
      this.loaded = loaded;
      this.meaning = meaning;
    }
    if (loaded && isNew) {
      this.compiled = compilePlan(loaded.plan);
      this.guarded(() => this.restart(request.seed, request.parameters, request.step));
    }
    this.post({
      is: 'checked', version: request.version, diagnostics, plan: loaded?.plan, restarted: isNew, stepLimit: this.run?.stepLimit ?? 0,
      layerNames: this.loaded ? layersOf(this.loaded.plan).map((layer) => layer.name) : [], seed: this.seed,
    });
    this.mustSend = true;
  }

  private restart(seed: number, parameters: Readonly<Record<string, number>>, step?: number): void {
    const { loaded, compiled } = this;
    if (!loaded || !compiled) return;
    this.seed = seed;
    this.failed = false;
    this.startValues = loaded.plan.parameters.map((parameter) => parameters[parameter.name] ?? parameter.value);
    this.script = compiled.script();
    this.run = new Run(this.script, this.startValues, seed);
    this.snapshots = [];
    this.snapshotDistance = FIRST_SNAPSHOT_DISTANCE;
    this.acts = [];
    this.marks.clear();
    this.furthest = 0;
    this.layers = [];
    this.rowData = [];
    this.sentRows = 0;
    this.target = step;
    if (step !== undefined) this.playing = false;
    this.note();
    this.keepSnapshot();
    this.mustSend = true;
  }

  // Going on

  private compute(): number | undefined {
    const { run } = this;
    if (!run || this.failed) return undefined;
    const start = this.now();
    if (this.target !== undefined) {
      while (run.step < this.target && !run.hasEnded && this.now() - start < STRETCH) this.oneStep();
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
    for (const act of this.acts) if (act.step === run.step) run.setParameter(act.index, act.to);
    run.next();
    this.measured.steps++;
    this.note();
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
    if (step < run.step || run.hasEnded) {
      const before = this.snapshots.filter((snapshot) => snapshot.step <= step);
      run.restore(before[before.length - 1]!.data);
    }
    this.target = step;
    this.mustSend = true;
  }

  private setParameter(name: string, value: number): void {
    const { run, loaded } = this;
    const index = loaded?.plan.parameters.findIndex((parameter) => parameter.name === name) ?? -1;
    if (!run || index < 0) return;
    const from = run.world.bottom[index]!;
    const { step } = run;
    run.setParameter(index, value);
    // What came after this step came about with other values: it is forgotten.
    const earlier = this.acts.filter((act) => act.step < step || (act.step === step && act.index !== index));
    const sameStep = this.acts.find((act) => act.step === step && act.index === index);
    this.acts = [...earlier, { step, index, name, from: sameStep?.from ?? from, to: value }];
    this.snapshots = this.snapshots.filter((snapshot) => snapshot.step <= step);
    for (const [key, mark] of this.marks) if (mark.step >= step) this.marks.delete(key);
    this.furthest = step;
    this.rowData.length = (step + 1) * run.measureCount;
    this.layers.length = (step + 1) * layersOf(loaded!.plan).length;
    this.sentRows = Math.min(this.sentRows, step + 1);
    this.mustSend = true;
  }

  // Frames

  private sendFrame(): void {
    const run = this.run!;
    const script = this.script!;
    const { plan } = this.loaded!;
    const layerCount = layersOf(plan).length;
    const rows = Float64Array.from(this.rowData.slice(this.sentRows * run.measureCount));
    const layers = Float32Array.from(this.layers.slice(this.sentRows * layerCount));
    const frame: Frame = {
      step: run.step,
      furthest: this.furthest,
      ended: run.hasEnded,
      playing: this.playing || this.target !== undefined,
      width: script.space?.width ?? 0,
      height: script.space?.height ?? 0,
      kinds: plan.kinds.map((_, k) => kindFrame(script, k)),
      fields: script.fields.map((field, i) => fieldFrame(field, this.keepOf(i))),
      parameters: run.world.parameters.slice(),
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
      ...frame.fields.map((field) => field.levels), rows, layers,
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

function kindFrame(script: GeneratedScript, kind: number): KindFrame {
  const { alive, used, living, number, x, y, direction } = script.populations[kind]!;
  const frame = { count: living, numbers: new Int32Array(living), x: new Float32Array(living), y: new Float32Array(living), direction: new Float32Array(living) };
  let n = 0;
  for (let slot = 0; slot < used; slot++) {
    if (!(alive[slot]! & 1)) continue;
    frame.numbers[n] = number[slot]!;
    frame.x[n] = x[slot]!;
    frame.y[n] = y[slot]!;
    frame.direction[n] = direction[slot]!;
    n++;
  }
  const values = new Float64Array(living);
  const sizes = script.sizesInto(kind, values) ? Float32Array.from(values) : new Float32Array(0);
  const colours = script.coloursInto(kind, values) ? Float32Array.from(values) : new Float32Array(0);
  return { ...frame, sizes, colours };
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
