import type { CompiledPlan, GeneratedScript, HandAct, HandState, LoadedModel, Plan, RunSnapshot, StandingRun, Zones } from '@vole/core';
import { actByHand, carryOver, compilePlan, handState, loadModel, ModelError, restoreHand, Run } from '@vole/core';
import { countLayers, fieldFrame, kindFrame, layersOf, openedAgent, placeOf, tableFrame, tiesFrame, zoneFrame } from './frames.ts';
import { draftOf } from './network-draft.ts';
import { NetworkLayout } from './network-layout.ts';
import type { ActNote, Frame, Story, WatchReply, WatchRequest, WentOn } from './protocol.ts';
import { StateFollower } from './state-follower.ts';

/** Longest stretch of computing before messages are looked at, in milliseconds. */
const STRETCH = 12;
const FIRST_SNAPSHOT_DISTANCE = 8;
/** Steps of an opened agent's story, and above how many agents it is told of one step only. */
const STORY_STEPS = 50;
const MANY_AGENTS = 20_000;
const MOST_SNAPSHOTS = 48;
const MOST_SNAPSHOT_BYTES = 300_000_000;

/** All that the run on show needs to stand at a step again. */
interface KeptStep {
  readonly step: number;
  readonly data: RunSnapshot;
  readonly hand: HandState;
  readonly bytes: number;
}

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
  private snapshots: KeptStep[] = [];
  private snapshotDistance = FIRST_SNAPSHOT_DISTANCE;
  private acts: ActNote[] = [];
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
  private trailed: readonly { kind: number; number: number }[] = [];
  private pageIsReady = true;
  private mustSend = false;
  private lastStepAt = 0;
  private owedSteps = 0;
  private measured = { since: 0, steps: 0, rate: 0 };
  private failed = false;
  /** Where the run took up this text, if it went on from another one: it cannot be taken back beyond. */
  private wentOn: WentOn | undefined;

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
        // Playing or pausing breaks off the way to a condition.
        if (this.until) this.target = this.until = undefined;
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
        this.until = undefined;
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
        this.follower = request.of && new StateFollower(request.of.kind, request.of.machine);
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
      case 'trail agents':
        this.trailed = request.agents;
        this.mustSend = true;
        return;
      case 'list agents':
        this.listed = request.kind;
        this.mustSend = true;
        return;
      case 'why':
        return this.guarded(() => this.tellStory());
      case 'draft network':
        return this.guarded(() => this.draft(request.network, request.seed));
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
    const before = this.loaded && this.script && this.run && { plan: this.loaded.plan, script: this.script, run: this.run };
    if (loaded) {
      this.text = request.text;
      this.loaded = loaded;
      this.meaning = meaning;
    }
    if (loaded && isNew) {
      this.compiled = compilePlan(loaded.plan);
      this.traced = undefined;
      const goesOn = request.goesOn && before && !this.failed && this.guarded(() => this.goOn(before));
      if (!goesOn) this.guarded(() => this.restart(request.seed, request.parameters, request.step));
    }
    this.post({
      is: 'checked', version: request.version, diagnostics, plan: loaded?.plan, restarted: isNew, stepLimit: this.run?.stepLimit ?? 0,
      layerNames: this.loaded ? layersOf(this.loaded.plan).map((layer) => layer.name) : [], seed: this.seed, wentOn: this.wentOn,
    });
    this.mustSend = true;
  }

  /** Takes up the new text at the step on show, with all that still fits. Gives whether it could. */
  private goOn(before: StandingRun): boolean {
    const { loaded, compiled } = this;
    if (!loaded || !compiled) return false;
    const result = carryOver(before, loaded, compiled);
    if (typeof result === 'string') {
      this.post({ is: 'refused', why: `${result}, so the run starts anew` });
      return false;
    }
    const { script, run, carried, anew } = result;
    const { step } = run;
    const [oldNames, names] = [before.plan, loaded.plan].map((plan) => layersOf(plan).map((layer) => layer.name)) as [string[], string[]];
    const layers = Array.from({ length: step + 1 }, (_, row) => names.map((name) => this.layers[row * oldNames.length + oldNames.indexOf(name)] ?? 0));
    this.script = script;
    this.run = run;
    this.startValues = [...run.world.bottom];
    this.beginKeeping();
    this.acts = [];
    this.rowData = [...run.rowData];
    this.layers = [...layers.slice(0, -1).flat(), ...countLayers(script, layersOf(loaded.plan))];
    this.furthest = step;
    this.target = undefined;
    this.wentOn = { step, carried, anew };
    for (const [key, mark] of this.marks) if (mark.step >= step) this.marks.delete(key);
    this.marks.set(`text ${step}`, { step, label: 'the text changed' });
    this.keepSnapshot();
    return true;
  }

  /** Forgets what was kept of the run before. */
  private beginKeeping(): void {
    this.snapshots = [];
    this.snapshotDistance = FIRST_SNAPSHOT_DISTANCE;
    this.until = undefined;
    const { plan } = this.loaded!;
    this.layout = plan.spaces.length > 0 || plan.networks.length === 0 ? undefined : new NetworkLayout();
    this.follower?.begin(this.script!);
    this.sentRows = 0;
    this.sentZones = undefined;
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
    this.beginKeeping();
    this.acts = [...acts];
    this.marks.clear();
    this.furthest = 0;
    this.layers = [];
    this.rowData = [];
    this.wentOn = undefined;
    this.target = step;
    if (step !== undefined) this.playing = false;
    this.note();
    this.doActs(this.run, this.script);
    this.keepSnapshot();
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
    this.doActs(run, this.script!);
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
    this.snapshots.push({ step: run.step, data, hand: handState(this.script!), bytes });
    this.snapshots.sort((a, b) => a.step - b.step);
    const total = this.snapshots.reduce((sum, snapshot) => sum + snapshot.bytes, 0);
    if (this.snapshots.length <= MOST_SNAPSHOTS && total <= MOST_SNAPSHOT_BYTES) return;
    this.snapshotDistance *= 2;
    this.snapshots = this.snapshots.filter((snapshot) => snapshot.step % this.snapshotDistance === 0);
  }

  private goTo(wanted: number): void {
    const run = this.run;
    if (!run) return;
    const step = Math.max(this.wentOn?.step ?? 0, Math.round(wanted));
    this.failed = false;
    this.until = undefined;
    if (step < run.step || run.hasEnded) {
      const { data, hand } = this.keptUpTo(step);
      run.restore(data);
      restoreHand(this.script!, hand);
      this.follower?.begin(this.script!);
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

  /** The last step kept that is not after another. */
  private keptUpTo(step: number): KeptStep {
    return this.snapshots.filter((snapshot) => snapshot.step <= step).at(-1)!;
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
    const why = actByHand(run, script, act, earlier.filter((note) => note.step === step).length);
    if (why !== undefined) {
      this.post({ is: 'refused', why });
      return;
    }
    this.acts = joined(earlier, { step, act, from });
    this.forgetAfter(step);
  }

  private valueBefore(act: HandAct): number | undefined {
    if (act.is === 'set parameter') return this.run!.world.bottom[act.parameter];
    if (act.is !== 'set attribute') return undefined;
    const population = this.script!.populations[act.kind]!;
    return population.attributes[act.column]![population.slotOf(act.number)];
  }

  /** Does the acts of the step at which a run stands, in their order. */
  private doActs(run: Run, script: GeneratedScript): void {
    this.acts.filter((note) => note.step === run.step).forEach(({ act }, i) => actByHand(run, script, act, i));
  }

  /** Runs the last steps once more with code that tells, apart from the run on show. */
  private tellStory(): void {
    const { run, loaded, opened } = this;
    const first = this.wentOn?.step ?? 0;
    if (!run || !loaded || !opened || run.step === 0) return;
    const { step } = run;
    if (step === first) {
      this.post({ is: 'refused', why: 'the step was taken by the text as it was before' });
      return;
    }
    this.traced ??= compilePlan(loaded.plan, true);
    const script = this.traced.script();
    const again = new Run(script, this.startValues, this.seed);
    const agents = script.populations.reduce((sum, population) => sum + population.living, 0);
    const wanted = Math.max(first, step - (agents > MANY_AGENTS ? 1 : STORY_STEPS));
    const { data, hand } = this.keptUpTo(wanted);
    again.restore(data, Float64Array.from(this.rowData.slice(0, data.rowCount * run.measureCount)));
    restoreHand(script, hand);
    const history: Story['history'][number][] = [];
    while (again.step < step) {
      if (again.step === step - 1) script.trace.listenTo(opened.kind, opened.number);
      again.next();
      const agent = openedAgent(script, loaded.plan, opened, undefined);
      if (!agent.gone && again.step > wanted) history.push({ step: again.step, attributes: agent.attributes, states: agent.states.map(({ state }) => state) });
      this.doActs(again, script);
    }
    this.post({ is: 'story', story: { ...opened, step, events: script.trace.events, history } });
  }

  private draft(network: number, seed: number): void {
    if (!this.compiled || !this.loaded?.plan.networks[network]) return;
    const script = this.compiled.script();
    new Run(script, this.startValues, seed);
    this.post({ is: 'draft', draft: draftOf(script, network, seed, () => performance.now()) });
  }

  private forgetAfter(step: number): void {
    const run = this.run!;
    // Acts of this step are done again whenever it is come to from an earlier one; only the beginning has none before it.
    this.snapshots = this.snapshots.filter((snapshot) => snapshot.step < step);
    if (step === (this.wentOn?.step ?? 0)) this.keepSnapshot();
    for (const [key, mark] of this.marks) if (mark.step >= step && !key.startsWith('text')) this.marks.delete(key);
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
      spaces: this.layout ? [{ width: this.layout.side, height: this.layout.side }] : script.grounds.map(({ space: { width, height } }) => ({ width, height })),
      kinds: plan.kinds.map((_, k) => kindFrame(script, k, this.layout)),
      fields: script.fields.map((field, i) => fieldFrame(field, this.keepOf(i))),
      parameters: run.world.parameters.slice(),
      ties: script.networks.map((_, n) => tiesFrame(script, n, this.layout)),
      zones: hasMoved ? script.zones.masks.map(zoneFrame) : undefined,
      states: this.follower?.frame(script),
      table: this.listed === undefined ? undefined : tableFrame(script, this.listed),
      off: [...script.off],
      agent: this.opened && openedAgent(script, plan, this.opened, this.layout),
      trailed: this.trailed.flatMap(({ kind, number }) => placeOf(script, kind, number, this.layout)),
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

/** Whether a later act of the same step takes the place of an earlier one. */
function isSameAim(a: HandAct, b: HandAct): boolean {
  if (a.is === 'set parameter' && b.is === 'set parameter') return a.parameter === b.parameter;
  if (a.is === 'set attribute' && b.is === 'set attribute') return a.kind === b.kind && a.number === b.number && a.column === b.column;
  return a.is === 'switch' && b.is === 'switch' && a.line === b.line;
}

/** Acts with one more; strokes of one brush that follow one another are one act. */
function joined(acts: readonly ActNote[], note: ActNote): ActNote[] {
  const last = acts.at(-1);
  const { act } = note;
  if (!last || last.step !== note.step || last.act.is !== 'paint' || act.is !== 'paint') return [...acts, note];
  if (last.act.zone !== act.zone || last.act.radius !== act.radius || last.act.inside !== act.inside) return [...acts, note];
  return [...acts.slice(0, -1), { ...note, act: { ...act, places: [...last.act.places, ...act.places] } }];
}
