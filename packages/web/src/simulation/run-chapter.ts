import type { CompiledPlan, GeneratedRun, HandAct, HandState, LoadedModel, Plan, RunSnapshot } from '@vole/core';
import { actByHand, compileLightly, handState, MOST_NOTES, noteLines, restoreHand, Run } from '@vole/core';
import { countLayers, openedAgent } from './frames.ts';
import { layersOf } from './layers.ts';
import type { ActNote, ChapterNote, NoteRow, Story, WentOn } from './protocol.ts';
import { laterParts } from './on-demand.ts';

const FIRST_SNAPSHOT_DISTANCE = 8;
const MOST_SNAPSHOTS = 48;
/** Of all chapters together. */
const MOST_SNAPSHOT_BYTES = 300_000_000;
/** Steps of an opened agent's story. */
const STORY_STEPS = 50;

/** A text that can be run. */
export interface RunnableText {
  readonly text: string;
  readonly loaded: LoadedModel;
  readonly compiled: CompiledPlan;
}

/** All that a run needs to stand at a step again. */
interface KeptStep {
  readonly step: number;
  readonly data: RunSnapshot;
  readonly hand: HandState;
  readonly bytes: number;
}

/**
 * A stretch of the live run under one text: from the start, or from the step at which the text was taken up. Can be taken back to any of its
 * steps. The run as it stands at a step, and a snapshot of it, have the acts by hand of that step done.
 */
export class RunChapter {
  /** Another text that means the same may take its place. */
  source: RunnableText;
  readonly run: Run;
  readonly executable: GeneratedRun;
  readonly startValues: readonly number[];
  /** What became of those who were there when this text was taken up; absent if it runs from the start. */
  readonly wentOn: WentOn | undefined;
  acts: readonly ActNote[];
  furthest: number;
  readonly layers: number[] = [];
  readonly rowData: number[] = [];
  /** What `log` lines wrote, up to the furthest step. */
  notes: readonly NoteRow[] = [];
  readonly marks = new Map<string, { step: number; label: string }>();
  private snapshots: KeptStep[] = [];
  private snapshotDistance = FIRST_SNAPSHOT_DISTANCE;
  private traced: CompiledPlan | undefined;
  /** The lines that write notes, of the text as it is spelled now. */
  private lined: { readonly of: RunnableText; readonly lines: ReadonlyMap<number, number> } | undefined;

  private constructor(
    source: RunnableText,
    executable: GeneratedRun,
    run: Run,
    startValues: readonly number[],
    acts: readonly ActNote[],
    wentOn: WentOn | undefined,
  ) {
    this.source = source;
    this.executable = executable;
    this.run = run;
    this.startValues = startValues;
    this.acts = acts;
    this.wentOn = wentOn;
    this.furthest = run.step;
  }

  /** @param pulse where the run says where it is, for whoever watches it */
  static begin(
    source: RunnableText,
    seed: number,
    startValues: readonly number[],
    acts: readonly ActNote[],
    pulse?: Int32Array,
  ): RunChapter {
    const executable = source.compiled.executable();
    executable.context.pulse = pulse;
    const chapter = new RunChapter(
      source,
      executable,
      new Run(executable, startValues, seed),
      startValues,
      acts,
      undefined,
    );
    chapter.note();
    chapter.doActs();
    chapter.keepSnapshot();
    return chapter;
  }

  /** Takes up another text where a chapter stands, with all that still fits; gives why, if nothing does. */
  static goOn(before: RunChapter, source: RunnableText, acts: readonly ActNote[]): RunChapter | string {
    const { pulse } = before.executable.context;
    const carryOver = laterParts()?.carryOver;
    if (!carryOver) return 'What takes up a text could not be loaded';
    const result = carryOver(
      { plan: before.plan, executable: before.executable, run: before.run },
      source.loaded,
      source.compiled,
    );
    if (typeof result === 'string') return result;
    const { executable, run, carried, anew } = result;
    executable.context.pulse = pulse;
    const { step } = run;
    const chapter = new RunChapter(source, executable, run, [...run.context.beneath], acts, { step, carried, anew });
    const [oldNames, names] = [before.plan, chapter.plan].map((plan) => layersOf(plan).map((layer) => layer.name)) as [
      string[],
      string[],
    ];
    for (let row = 0; row < step; row++)
      for (const name of names) chapter.layers.push(before.layers[row * oldNames.length + oldNames.indexOf(name)] ?? 0);
    chapter.layers.push(...countLayers(executable, layersOf(chapter.plan)));
    for (const value of run.rowData) chapter.rowData.push(value);
    chapter.notes = before.notes.filter((note) => note.step <= step);
    for (const [key, mark] of before.marks) if (mark.step < step) chapter.marks.set(key, mark);
    chapter.marks.set(`text ${step}`, { step, label: 'the text changed' });
    chapter.doActs();
    chapter.keepSnapshot();
    return chapter;
  }

  get plan(): Plan {
    return this.source.loaded.plan;
  }

  get text(): string {
    return this.source.text;
  }

  /** The first step that can be shown. */
  get first(): number {
    return this.wentOn?.step ?? 0;
  }

  /** What is needed to run it again. */
  get asNote(): ChapterNote {
    return {
      text: this.text,
      from: this.first,
      values: Object.fromEntries(this.plan.parameters.map((parameter, i) => [parameter.name, this.startValues[i]!])),
      acts: this.acts,
    };
  }

  oneStep(chapters: number): void {
    this.run.next();
    this.note();
    this.doActs();
    if (this.run.step % this.snapshotDistance === 0) {
      this.keepSnapshot();
      this.thin(chapters);
    }
  }

  /** Brings the run back to the last kept step that is not after a step. */
  backTo(step: number): void {
    const { data, hand } = this.keptUpTo(step);
    this.run.restore(data);
    restoreHand(this.executable, hand);
  }

  /** Keeps what the ribbon and the charts show of the step just taken. */
  private note(): void {
    const { run, plan } = this;
    const width = run.measureCount;
    if (
      run.step < this.furthest ||
      (run.step === this.furthest && this.rowData.length > run.step * width && run.step > 0)
    )
      return;
    this.furthest = run.step;
    for (let m = 0; m < width; m++) this.rowData[run.step * width + m] = run.valueAt(run.step, m);
    const layers = layersOf(plan);
    const counts = countLayers(this.executable, layers);
    counts.forEach((count, i) => (this.layers[run.step * layers.length + i] = count));
    this.takeNotes();
    for (const mark of run.marks) {
      if (mark.step !== run.step) continue;
      const { label } = plan.timeline[mark.line]!;
      const said = mark.change === 'ends' ? `${label} ends` : label;
      this.marks.set(`${mark.step} ${mark.line} ${mark.change}`, { step: mark.step - 1, label: said });
    }
  }

  /** Keeps what was written in the step just taken. */
  private takeNotes(): void {
    const { step, context } = this.run;
    const first = context.notes.findLastIndex((note) => note.step < step) + 1;
    if (first === context.notes.length) return;
    if (this.lined?.of !== this.source) this.lined = { of: this.source, lines: noteLines(this.plan, this.text) };
    const { lines } = this.lined;
    const written = context.notes
      .slice(first)
      .map(({ site, agent, text }): NoteRow => ({ step, agent, line: lines.get(site)!, text }));
    this.notes = [...this.notes, ...written].slice(0, MOST_NOTES);
  }

  private keepSnapshot(): void {
    const { run } = this;
    if (this.snapshots.some((snapshot) => snapshot.step === run.step)) return;
    const data = run.snapshot();
    const bytes = data.parts.reduce((sum, part) => sum + part.byteLength, 0);
    this.snapshots.push({ step: run.step, data, hand: handState(this.executable), bytes });
    this.snapshots.sort((a, b) => a.step - b.step);
  }

  /** Keeps fewer steps, further apart, where they take too much room; always the first. */
  thin(chapters: number): void {
    const isTooMuch = (): boolean =>
      this.snapshots.length > MOST_SNAPSHOTS ||
      this.snapshots.reduce((sum, snapshot) => sum + snapshot.bytes, 0) > MOST_SNAPSHOT_BYTES / chapters;
    while (this.snapshots.length > 1 && isTooMuch()) {
      this.snapshotDistance *= 2;
      this.snapshots = this.snapshots.filter(
        (snapshot) => snapshot.step === this.first || snapshot.step % this.snapshotDistance === 0,
      );
    }
  }

  private keptUpTo(step: number): KeptStep {
    return this.snapshots.filter((snapshot) => snapshot.step <= step).at(-1)!;
  }

  /** Forgets what came after a step, where another text is taken up. */
  endAt(step: number): void {
    this.acts = this.acts.filter((note) => note.step <= step);
    this.snapshots = this.snapshots.filter((snapshot) => snapshot.step <= step);
    for (const [key, mark] of this.marks) if (mark.step >= step && !key.startsWith('text')) this.marks.delete(key);
    this.notes = this.notes.filter((note) => note.step <= step);
    this.furthest = Math.min(this.furthest, step);
    this.rowData.length = (this.furthest + 1) * this.run.measureCount;
    this.layers.length = (this.furthest + 1) * layersOf(this.plan).length;
  }

  // By hand

  /** Does an act to the run as it stands; what came after this step came about without it and is forgotten. Gives why not, if it cannot be done. */
  act(act: HandAct): string | undefined {
    const { run, executable } = this;
    const { step } = run;
    const earlier = this.acts.filter((note) => note.step < step || (note.step === step && !isSameAim(note.act, act)));
    const sameStep = this.acts.find((note) => note.step === step && isSameAim(note.act, act));
    const from = sameStep?.from ?? this.valueBefore(act);
    const why = actByHand(run, executable, act, earlier.filter((note) => note.step === step).length);
    if (why !== undefined) return why;
    this.acts = joined(earlier, { step, act, from });
    // Acts of this step are done again whenever it is come to from an earlier one; only the first has none before it.
    this.snapshots = this.snapshots.filter((snapshot) => snapshot.step < step);
    if (step === this.first) this.keepSnapshot();
    this.endAt(step);
    return undefined;
  }

  private valueBefore(act: HandAct): number | undefined {
    if (act.is === 'set parameter') return this.run.context.beneath[act.parameter];
    if (act.is !== 'set attribute') return undefined;
    return this.executable.state.agents(act.kind).one(act.number)?.attribute(act.column);
  }

  /** Does the acts of the step at which a run stands, in their order. */
  private doActs(run: Run = this.run, executable: GeneratedRun = this.executable): void {
    this.acts.filter((note) => note.step === run.step).forEach(({ act }, i) => actByHand(run, executable, act, i));
  }

  // Stories

  /** Runs the last steps once more with code that tells, apart from the run on show; after each it says how many steps are left. */
  *storyOf(opened: { readonly kind: number; readonly number: number }): Generator<number, Story> {
    const { run, plan } = this;
    const { step } = run;
    this.traced ??= compileLightly(plan, true);
    const executable = this.traced.executable();
    const again = new Run(executable, this.startValues, run.context.seed);
    const wanted = Math.max(this.first, step - STORY_STEPS);
    const { data, hand } = this.keptUpTo(wanted);
    again.restore(data, Float64Array.from(this.rowData.slice(0, data.rowCount * run.measureCount)));
    restoreHand(executable, hand);
    const history: Story['history'][number][] = [];
    while (again.step < step) {
      if (again.step === step - 1) executable.trace.listenTo(opened.kind, opened.number);
      again.next();
      const agent = openedAgent(executable, opened, undefined);
      if (!agent.gone && again.step > wanted)
        history.push({
          step: again.step,
          attributes: agent.attributes,
          states: agent.states.map(({ state }) => state),
        });
      this.doActs(again, executable);
      yield step - again.step;
    }
    return { ...opened, step, events: executable.trace.events, history };
  }
}

/** Whether a later act of the same step takes the place of an earlier one. */
function isSameAim(a: HandAct, b: HandAct): boolean {
  if (a.is === 'set parameter' && b.is === 'set parameter') return a.parameter === b.parameter;
  if (a.is === 'set attribute' && b.is === 'set attribute')
    return a.kind === b.kind && a.number === b.number && a.column === b.column;
  return a.is === 'switch' && b.is === 'switch' && a.line === b.line;
}

/** Acts with one more; strokes of one brush that follow one another are one act. */
function joined(acts: readonly ActNote[], note: ActNote): ActNote[] {
  const last = acts.at(-1);
  const { act } = note;
  if (!last || last.step !== note.step || last.act.is !== 'paint' || act.is !== 'paint') return [...acts, note];
  if (last.act.zone !== act.zone || last.act.radius !== act.radius || last.act.inside !== act.inside)
    return [...acts, note];
  return [...acts.slice(0, -1), { ...note, act: { ...act, places: [...last.act.places, ...act.places] } }];
}
