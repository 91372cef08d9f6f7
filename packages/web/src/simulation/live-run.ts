import type { CompiledPlan, Diagnostic, HandAct, LoadedModel, Plan } from '@vole/core';
import { ModelError, Run, unforeseen, withSoundRepairs } from '@vole/core';
import { ownValue } from '../store/own-value.ts';
import { filesBeside } from './beside.ts';
import { loadText } from './load-text.ts';
import { FrameMaker } from './frame-maker.ts';
import { layersOf } from './layers.ts';
import { loadForces } from './network-layout.ts';
import { compiledByNow, laterParts } from './on-demand.ts';
import { Pace } from './pace.ts';
import { questionOf } from './question.ts';
import type { ActNote, ChapterNote, ShownChapter, Story, WatchReply, WatchRequest } from './protocol.ts';
import { PULSE } from './protocol.ts';
import type { RunnableText } from './run-chapter.ts';
import { RunChapter } from './run-chapter.ts';

/** Longest stretch of computing before messages are looked at, in milliseconds. */
const STRETCH = 12;
/** So many agents or cells are worth kernels; fewer take no time whatever does them. */
const MANY = 5000;
/** How often the way of a long story is told, in milliseconds. */
const TELLING_PAUSE = 250;

/** A text that the run will take up again when it comes to the step at which it did. */
interface LaterText {
  readonly source: RunnableText;
  readonly from: number;
  readonly acts: readonly ActNote[];
}

type Post = (message: WatchReply, transfer?: Transferable[]) => void;

/** A text ready to run, with its findings; code that cannot be made of it is one of them. */
function loadWithCode(text: string): {
  readonly loaded: { readonly model: LoadedModel; readonly compiled: CompiledPlan } | undefined;
  readonly diagnostics: readonly Diagnostic[];
} {
  const { loaded, diagnostics } = loadText(text);
  try {
    return { loaded: loaded && { model: loaded, compiled: compiledByNow(loaded.plan) }, diagnostics };
  } catch (error) {
    return {
      loaded: undefined,
      diagnostics: [...diagnostics, unforeseen(error, { at: { start: 0, end: text.length } })],
    };
  }
}

/** The run that Build and Watch show: loaded from text, played, taken back to any step, acted upon by hand. */
export class LiveRun {
  private meaning = '';
  /** The stretches of the run so far, one for each text it has had. */
  private chapters: RunChapter[] = [];
  /** Which of them is on show. */
  private at = 0;
  /** What comes after the last of them, once more, because something before it has changed. */
  private later: LaterText[] = [];
  private seed = 1;
  private playing = false;
  /** Step the run is being brought to, out of turn. */
  private target: number | undefined;
  private readonly frames: FrameMaker;
  private readonly pace: Pace;
  private telling: { readonly story: Generator<number, Story>; saidAt: number } | undefined;
  /** The condition that the run is on its way to, and how it is asked. */
  private until: { readonly condition: string; readonly ask: () => number } | undefined;
  private pageIsReady = true;
  private mustSend = false;
  private failed = false;
  /** Where the run says where it is: see `Pulse`. */
  private pulse: Int32Array | undefined;

  constructor(
    private readonly post: Post,
    private readonly now: () => number,
  ) {
    this.frames = new FrameMaker(now);
    this.pace = new Pace(now);
  }

  private get chapter(): RunChapter | undefined {
    return this.chapters[this.at];
  }

  private get run(): Run | undefined {
    return this.chapter?.run;
  }

  /** Whether it is worth while to have kernels for the run on show. */
  get isLarge(): boolean {
    const { chapter } = this;
    if (!chapter) return false;
    const { executable, plan } = chapter;
    const hasManyAgents = plan.kinds.some((_, kind) => executable.living(kind) >= MANY);
    return hasManyAgents || executable.state.fields.some(({ values }) => values.length >= MANY);
  }

  /** Takes up parts that were loaded meanwhile. */
  takeUpParts(): void {
    const parts = laterParts();
    if (!parts) return;
    const sources = [...this.chapters.map(({ source }) => source), ...this.later.map(({ source }) => source)];
    for (const { compiled } of sources) compiled.takeUp(parts.makeKernels);
  }

  receive(request: WatchRequest): void {
    if (request.is !== 'frame drawn') this.telling = undefined;
    switch (request.is) {
      case 'pulse':
        this.pulse = request.pulse;
        return;
      case 'load':
        if (this.pulse) this.pulse[PULSE.version] = request.version;
        return this.load(request);
      case 'restart':
        return this.guarded(() => this.restart(request.seed, request.parameters, request.step));
      case 'run again':
        return this.guarded(() =>
          this.runAgain(request.seed ?? this.seed, request.step, request.chapters ?? this.notes()),
        );
      case 'note chapters':
        return this.post({ is: 'chapters', chapters: this.notes(), step: this.run?.step ?? 0 });
      case 'play':
        this.playing = request.playing && !this.run?.hasEnded;
        // Playing or pausing breaks off the way to a condition.
        if (this.until) this.target = this.until = undefined;
        this.pace.start();
        this.mustSend = true;
        return;
      case 'pace':
        return this.pace.set(request.stepsPerSecond);
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
        this.frames.followStates(request.of);
        this.mustSend = true;
        return;
      case 'open agent':
        this.frames.open({ kind: request.kind, number: request.number });
        this.mustSend = true;
        return;
      case 'close agent':
        this.frames.open(undefined);
        this.mustSend = true;
        return;
      case 'trail agents':
        this.frames.trail(request.agents);
        this.mustSend = true;
        return;
      case 'list agents':
        this.frames.list(request.kind);
        this.mustSend = true;
        return;
      case 'take':
        return this.post({
          is: 'taken',
          text: this.chapter && laterParts()?.takenText(this.chapter.executable, request),
        });
      case 'why':
        return this.guarded(() => this.beginStory());
      case 'draft network':
        return void this.draft(request.network, request.seed);
      case 'frame drawn':
        this.pageIsReady = true;
        // What the page has not seen yet it gets before the next stretch, which may be long.
        this.handOut();
    }
  }

  /** Computes for a stretch. Gives the pause before the next one in milliseconds, or nothing if there is nothing to do. */
  work(): number | undefined {
    const pause = this.guarded(() => this.compute());
    this.guarded(() => this.tell());
    this.handOut();
    if (this.target !== undefined || this.telling) return 0;
    return this.playing ? (pause ?? 0) : undefined;
  }

  private guarded<T>(action: () => T): T | undefined {
    try {
      return action();
    } catch (error) {
      this.playing = false;
      this.target = undefined;
      this.failed = true;
      const step = this.run?.step ?? 0;
      if (error instanceof ModelError) this.post({ is: 'failed', ...error.toPlain(), step });
      else
        this.post({ is: 'failed', diagnostic: unforeseen(error, { at: { start: 0, end: 0 } }), facts: { step }, step });
      return undefined;
    }
  }

  // Loading

  private load(request: Extract<WatchRequest, { is: 'load' }>): void {
    const { loaded, diagnostics } = loadWithCode(request.text);
    const meaning = loaded ? meaningOf(loaded.model.plan) : '';
    const isNew = loaded !== undefined && (meaning !== this.meaning || request.step !== undefined);
    if (loaded && !isNew) this.respellNewest({ ...this.newest!, text: request.text, loaded: loaded.model });
    if (loaded && isNew) {
      this.meaning = meaning;
      const source = { text: request.text, loaded: loaded.model, compiled: loaded.compiled };
      const goesOn = request.goesOn && !this.failed && this.guarded(() => this.goOn(source));
      if (!goesOn) this.guarded(() => this.begin(source, request.seed, request.parameters, request.step));
    }
    const shown = this.shownChapter();
    this.post({
      is: 'checked',
      version: request.version,
      diagnostics: withSoundRepairs(request.text, diagnostics, filesBeside()),
      hasPlan: loaded !== undefined,
      restarted: isNew,
      shown,
    });
    this.mustSend = true;
  }

  /** The text as it was last found right. */
  private get newest(): RunnableText | undefined {
    return this.later.at(-1)?.source ?? this.chapters.at(-1)?.source;
  }

  /** The newest text means the same in other words. */
  private respellNewest(source: RunnableText): void {
    const last = this.later.at(-1);
    if (last) this.later[this.later.length - 1] = { ...last, source };
    else this.chapters.at(-1)!.source = source;
  }

  /** Takes up the new text at the step on show, with all that still fits. Gives whether it could. */
  private goOn(source: RunnableText): boolean {
    let before = this.chapter;
    if (!before) return false;
    const { step } = before.run;
    // Of several texts taken up at one step, as while somebody types, only the last one counts.
    if (this.at > 0 && step === before.first && before.acts.length === 0) {
      this.at--;
      before = this.chapter!;
      before.backTo(step);
      while (before.run.step < step) before.oneStep(this.chapters.length);
    }
    const next = RunChapter.goOn(before, source, []);
    if (typeof next === 'string') {
      this.post({ is: 'refused', why: `${next}, so the run starts anew` });
      return false;
    }
    before.endAt(step);
    this.chapters = [...this.chapters.slice(0, this.at + 1), next];
    this.later = [];
    this.target = undefined;
    this.show(this.at + 1, false);
    return true;
  }

  /** Puts a chapter on show. */
  private show(at: number, says: boolean): void {
    this.at = at;
    for (const chapter of this.chapters) chapter.thin(this.chapters.length);
    this.until = undefined;
    this.frames.begin(this.chapter!);
    this.mustSend = true;
    if (says) this.post({ is: 'shown', shown: this.shownChapter()! });
  }

  private shownChapter(): ShownChapter | undefined {
    const { chapter } = this;
    if (!chapter) return undefined;
    const { plan, text, wentOn, run } = chapter;
    const until =
      this.chapters[this.at + 1]?.first ?? (this.at === this.chapters.length - 1 ? this.later[0]?.from : undefined);
    return {
      plan,
      text,
      wentOn,
      until,
      stepLimit: run.stepLimit,
      layerNames: layersOf(plan).map((layer) => layer.name),
      seed: this.seed,
    };
  }

  private begin(
    source: RunnableText,
    seed: number,
    parameters: Readonly<Record<string, number>>,
    step?: number,
    acts: readonly ActNote[] = [],
  ): void {
    this.seed = seed;
    this.failed = false;
    const values = source.loaded.plan.parameters.map(({ name, value }) => ownValue(parameters, name) ?? value);
    this.chapters = [RunChapter.begin(source, seed, values, acts, this.pulse)];
    this.later = [];
    this.target = step;
    if (step !== undefined) this.playing = false;
    this.show(0, false);
  }

  /** Runs the newest text from its start. */
  private restart(seed: number, parameters: Readonly<Record<string, number>>, step?: number): void {
    if (!this.newest) return;
    this.begin(this.newest, seed, parameters, step);
    this.post({ is: 'shown', shown: this.shownChapter()! });
  }

  // Running again

  private notes(): ChapterNote[] {
    return [
      ...this.chapters.map((chapter) => chapter.asNote),
      ...this.later.map(({ source, from, acts }) => ({ text: source.text, from, values: {}, acts })),
    ];
  }

  /** The run of some chapters from its start, with its acts by hand and changes of the text at their steps. */
  private runAgain(seed: number, step: number | undefined, notes: readonly ChapterNote[]): void {
    const sources = notes.map(({ text, from, acts }): LaterText => {
      const known = [...this.chapters.map((chapter) => chapter.source), ...this.later.map(({ source }) => source)].find(
        (source) => source.text === text,
      );
      const loaded = known?.loaded ?? loadText(text).loaded!;
      return { source: known ?? { text, loaded, compiled: compiledByNow(loaded.plan) }, from, acts };
    });
    const [first, ...later] = sources;
    if (!first) return;
    this.meaning = meaningOf(sources.at(-1)!.source.loaded.plan);
    this.begin(first.source, seed, notes[0]!.values, step, first.acts);
    this.later = later;
    this.post({ is: 'shown', shown: this.shownChapter()! });
  }

  /** At the step at which the text changed: goes on in the next chapter, made once more if what came before it has changed. */
  private enterNext(): void {
    for (;;) {
      const {
        chapter,
        later: [next],
      } = this;
      if (!chapter) return;
      const { step } = chapter.run;
      const made = this.chapters[this.at + 1];
      if (made) {
        if (step < made.first) return;
        if (made.run.step !== step || made.run.hasEnded) made.backTo(step);
      } else {
        if (!next || step < next.from) return;
        const again = RunChapter.goOn(chapter, next.source, next.acts);
        this.later = this.later.slice(1);
        if (typeof again === 'string') {
          this.later = [];
          this.post({ is: 'refused', why: `the changed text could not be taken up again: ${again}` });
          return;
        }
        this.chapters.push(again);
      }
      const { until } = this;
      this.show(this.at + 1, true);
      // The condition is asked of the new text from here on.
      if (until) this.runUntil(until.condition);
    }
  }

  /** What comes after the chapter on show is no longer as it was: it is made once more, without its acts. */
  private forgetLaterChapters(): void {
    const after = this.chapters
      .slice(this.at + 1)
      .map((chapter): LaterText => ({ source: chapter.source, from: chapter.first, acts: [] }));
    this.later = [...after, ...this.later.map((text) => ({ ...text, acts: [] }))];
    this.chapters.length = this.at + 1;
  }

  // Going on

  private compute(): number | undefined {
    if (!this.run || this.failed) return undefined;
    const start = this.now();
    if (this.target !== undefined) {
      while (this.isBefore(this.target) && this.now() - start < STRETCH) {
        this.oneStep();
        if (this.until && this.until.ask() !== 0) this.target = this.run.step;
      }
      if (!this.isBefore(this.target)) {
        if (this.until && this.until.ask() === 0)
          this.post({ is: 'refused', why: `“${this.until.condition}” did not become true before the end` });
        this.target = this.until = undefined;
      }
      this.mustSend = true;
      return 0;
    }
    if (!this.playing) return undefined;
    this.pace.due(start);
    while (this.isBefore(Infinity) && this.pace.owes && this.now() - start < STRETCH) {
      this.oneStep();
      this.mustSend = true;
    }
    if (!this.isBefore(Infinity)) this.playing = false;
    return this.pace.pause;
  }

  /** Whether there is a step to take before another one; enters the chapter in which it lies. */
  private isBefore(step: number): boolean {
    this.enterNext();
    return this.run!.step < step && !this.run!.hasEnded;
  }

  private oneStep(): void {
    const chapter = this.chapter!;
    this.frames.around(chapter, () => chapter.oneStep(this.chapters.length));
    this.pace.stepped();
    this.enterNext();
  }

  private goTo(wanted: number): void {
    if (!this.chapter) return;
    const step = Math.max(0, Math.round(wanted));
    this.failed = false;
    this.until = undefined;
    const at = this.chapters.findLastIndex((chapter) => chapter.first <= step);
    const isOther = at !== this.at;
    if (isOther) this.show(at, true);
    const { run } = this.chapter;
    if (step < run.step || run.hasEnded) {
      this.chapter.backTo(step);
      this.frames.takenBack(this.chapter);
    }
    this.target = step;
    this.mustSend = true;
  }

  private runUntil(condition: string): void {
    if (!this.chapter) return;
    const asked = questionOf(this.chapter, condition);
    if ('why' in asked) {
      this.post({ is: 'refused', why: asked.why });
      this.target = undefined;
      return;
    }
    this.until = { condition, ask: asked.ask };
    this.target = this.chapter.run.stepLimit;
    this.mustSend = true;
  }

  private act(act: HandAct): void {
    if (!this.chapter || this.failed) return;
    const why = this.chapter.act(act);
    if (why !== undefined) {
      this.post({ is: 'refused', why });
      return;
    }
    this.forgetLaterChapters();
    // The row of this step is sent again, with what the act has made of it.
    this.frames.forgotten(this.chapter);
    this.mustSend = true;
  }

  /** Runs again without an act of the chapter on show, up to where the run stands. */
  private forgetAct(index: number): void {
    const { chapter } = this;
    const note = chapter?.acts[index];
    if (!chapter || !note) return;
    const now = this.target ?? chapter.run.step;
    const notes = this.notes().map((other, i) =>
      i === this.at ? { ...other, acts: other.acts.filter((act) => act !== note) } : other,
    );
    this.runAgain(this.seed, now, notes);
  }

  // Stories

  private beginStory(): void {
    const { chapter } = this;
    const { opened } = this.frames;
    if (!chapter || !opened || chapter.run.step === 0) return;
    if (chapter.run.step === chapter.first)
      this.post({ is: 'refused', why: 'the step was taken by the text as it was before; go one step back' });
    else this.telling = { story: chapter.storyOf(opened), saidAt: this.now() };
  }

  /** Goes on with a story for a stretch; says how far it is, if it takes long. */
  private tell(): void {
    const { telling } = this;
    if (!telling) return;
    const start = this.now();
    do {
      const told = telling.story.next();
      if (told.done) {
        this.telling = undefined;
        this.post({ is: 'story', story: told.value });
        return;
      }
      if (this.now() - telling.saidAt < TELLING_PAUSE) continue;
      telling.saidAt = this.now();
      this.post({ is: 'telling', stepsLeft: told.value });
    } while (this.now() - start < STRETCH);
  }

  private async draft(network: number, seed: number): Promise<void> {
    const { chapter } = this;
    const parts = laterParts();
    if (!parts || !chapter?.plan.networks[network]) return;
    await loadForces();
    this.guarded(() => {
      const executable = chapter.source.compiled.executable();
      new Run(executable, chapter.startValues, seed);
      this.post({ is: 'draft', draft: parts.draftOf(executable, network, seed, () => performance.now()) });
    });
  }

  /** Sends a frame if there is something new and the page has drawn the last one. */
  private handOut(): void {
    const { chapter } = this;
    if (!this.pageIsReady || !this.mustSend || !chapter) return;
    const { frame, transfer } = this.frames.make(chapter, {
      playing: this.playing || this.target !== undefined,
      stepsPerSecond: this.pace.rate,
    });
    this.mustSend = this.frames.isSettling;
    this.pageIsReady = false;
    this.post({ is: 'frame', frame, marks: [...chapter.marks.values()], acts: chapter.acts }, transfer);
  }
}

/** What a text means for a run: its plan without places, titles and prose, so that a comment does not restart anything. */
function meaningOf(plan: Plan): string {
  const leftOut = new Set(['sites', 'title', 'about', 'site', 'charts', 'label', 'checks', 'summaries', 'finals']);
  return JSON.stringify(plan, (key: string, value: unknown) => (leftOut.has(key) ? undefined : value));
}
