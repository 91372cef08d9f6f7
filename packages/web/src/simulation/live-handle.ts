import type { HandAct } from '@vole/core';
import { withFiles } from './beside.ts';
import { useSyncExternalStore } from 'react';
import { interfaceActions } from '../store/interface-slice.ts';
import { modelActions } from '../store/model-slice.ts';
import { store } from '../store/store.ts';
import { watchActions } from '../store/watch-slice.ts';
import type { LiveState } from './live-state.ts';
import { EMPTY } from './live-state.ts';
import type { ChapterNote, ShownChapter, TakeWish, WatchReply, WatchRequest } from './protocol.ts';
import { PULSE } from './protocol.ts';

const SLOW = 150;
/** A worker that has been at one thing for so long is in a step without end in sight. */
const PATIENCE = 4000;
const LOOK_EVERY = 500;

/** The live run as the page sees it: sends wishes to the watch worker, keeps the last frame and the rows so far. */
export class LiveHandle {
  private worker: Worker | undefined;
  private state = EMPTY;
  private slowState = EMPTY;
  private slowTimer: ReturnType<typeof setTimeout> | undefined;
  private readonly frameListeners = new Set<() => void>();
  private readonly slowListeners = new Set<() => void>();
  private version = 0;
  private watchdog: ReturnType<typeof setInterval> | undefined;
  private pulse: Int32Array | undefined;
  private seen = { pulse: '', since: 0 };
  /** The text that the worker was given last. */
  private request: Extract<WatchRequest, { is: 'load' }> | undefined;
  private coming: ShownChapter | undefined;
  private noting: ((noted: Noted) => void) | undefined;
  private filming: (() => Promise<void>) | undefined;
  /** Who waits for texts of fields and networks, in the order in which they asked. */
  private readonly taking: ((text: string | undefined) => void)[] = [];
  private rowStore: Float64Array = new Float64Array(0);
  private layerStore: Float32Array = new Float32Array(0);

  /** @param isMain whether it is the run that text, forms and time controls act on, rather than one that is only shown beside it */
  constructor(private readonly isMain: boolean) {}

  private start(): Worker {
    const worker = withFiles(
      new Worker(new URL('../workers/watch.worker.ts', import.meta.url), {
        type: 'module',
        name: 'watch',
      }),
    );
    worker.onmessage = ({ data }: MessageEvent<WatchReply>) => this.receive(data);
    // Memory that both sides see is there on pages that are isolated, as this one is served.
    if (typeof SharedArrayBuffer !== 'undefined') {
      this.pulse = new Int32Array(new SharedArrayBuffer(4 * PULSE.length));
      worker.postMessage({ is: 'pulse', pulse: this.pulse } satisfies WatchRequest);
      this.seen = { pulse: '', since: Date.now() };
      clearInterval(this.watchdog);
      this.watchdog = setInterval(() => this.look(), LOOK_EVERY);
    }
    worker.onerror = (event) => {
      store.dispatch(
        modelActions.failed({
          message: `The live run stopped: ${event.message}`,
          hint: 'Your text is safe. Change it, or reload the page.',
          start: 0,
          end: 0,
          step: this.state.frame?.step ?? 0,
        }),
      );
    };
    return worker;
  }

  /** Starts the worker before there is a text for it. */
  warmUp(): void {
    this.worker ??= this.start();
  }

  private send(request: WatchRequest): void {
    this.worker ??= this.start();
    this.worker.postMessage(request);
  }

  private receive(message: WatchReply): void {
    switch (message.is) {
      case 'checked': {
        if (message.version !== this.version) return;
        const { diagnostics, hasPlan, restarted, shown } = message;
        // The frame on show is of the earlier model: plan and frame change together, with the first frame of the new one.
        if (restarted) this.coming = shown;
        else if (this.coming) this.coming = { ...this.coming, ...shown };
        else this.state = { ...this.state, ...shown };
        if (!this.isMain) return this.changed();
        store.dispatch(modelActions.checked({ diagnostics, runs: hasPlan, restarted, at: Date.now() }));
        if (shown) store.dispatch(modelActions.chapterShown(shown));
        if (restarted) {
          const { playing, stepsPerSecond } = store.getState().watch;
          this.pace(stepsPerSecond);
          this.send({ is: 'play', playing });
        }
        return this.changed();
      }
      case 'shown':
        this.coming = message.shown;
        if (this.isMain) store.dispatch(modelActions.chapterShown(message.shown));
        return;
      case 'chapters':
        this.noting?.({ chapters: message.chapters, step: message.step });
        return;
      case 'taken':
        this.taking.shift()?.(message.text);
        return;
      case 'frame':
        return this.takeFrame(message);
      case 'story':
        this.state = { ...this.state, story: message.story, tellingLeft: undefined };
        return this.changed();
      case 'telling':
        this.state = { ...this.state, tellingLeft: message.stepsLeft };
        return this.changed();
      case 'draft':
        this.state = { ...this.state, draft: message.draft };
        return this.changed();
      case 'refused':
        store.dispatch(
          interfaceActions.noticed({ text: `Not done: ${message.why.replace(/\.$/, '')}.`, tone: 'plain' }),
        );
        return;
      case 'failed': {
        const { diagnostic, step } = message;
        if (!this.isMain) return;
        store.dispatch(
          modelActions.failed({
            message: diagnostic.message,
            hint: diagnostic.hint,
            start: diagnostic.span.start,
            end: diagnostic.span.end,
            step,
          }),
        );
      }
    }
  }

  private takeFrame({ frame, marks, acts }: Extract<WatchReply, { is: 'frame' }>): void {
    if (this.coming) this.state = { ...this.state, ...this.coming };
    this.coming = undefined;
    const { plan, layerNames } = this.state;
    const width = plan?.measures.length ?? 0;
    this.rowStore = appended(this.rowStore, frame.fromRow * width, frame.rows);
    this.layerStore = appended(this.layerStore, frame.fromRow * layerNames.length, frame.layers);
    const count = frame.furthest + 1;
    const target = frame.step === this.state.target || (frame.ended && !frame.playing) ? undefined : this.state.target;
    this.state = {
      ...this.state,
      target,
      frame,
      marks,
      acts,
      notes:
        frame.notes.length === 0 && frame.fromNote === this.state.notes.length
          ? this.state.notes
          : [...this.state.notes.slice(0, frame.fromNote), ...frame.notes],
      zones: frame.zones ?? this.state.zones,
      courses: frame.courses ?? this.state.courses,
      rows: this.rowStore.subarray(0, count * width),
      layers: this.layerStore.subarray(0, count * layerNames.length),
    };
    const watch = store.getState().watch;
    if (this.isMain && frame.ended !== watch.ended) store.dispatch(watchActions.ended(frame.ended));
    if (this.isMain && frame.ended && watch.playing && !frame.playing) store.dispatch(watchActions.playing(false));
    this.changed();
    requestAnimationFrame(() => {
      const next = (): void => this.send({ is: 'frame drawn' });
      if (this.filming) void this.filming().finally(next);
      else next();
    });
  }

  private changed(): void {
    for (const listener of this.frameListeners) listener();
    this.slowTimer ??= setTimeout(() => {
      this.slowTimer = undefined;
      this.slowState = this.state;
      for (const listener of this.slowListeners) listener();
    }, SLOW);
  }

  get current(): LiveState {
    return this.state;
  }

  /** For drawing: called at every frame, outside React. */
  readonly onFrame = (listener: () => void): (() => void) => {
    this.frameListeners.add(listener);
    return () => this.frameListeners.delete(listener);
  };

  readonly onSlow = (listener: () => void): (() => void) => {
    this.slowListeners.add(listener);
    return () => this.slowListeners.delete(listener);
  };

  readonly slow = (): LiveState => this.slowState;

  /** The text that was loaded last, with the timeline lines of its scenario. */
  get text(): string | undefined {
    return this.request?.text;
  }

  // Wishes

  /** @param goesOn whether a text that means something else is taken up by those who are there, rather than from the start */
  load(text: string, seed: number, values: Readonly<Record<string, number>>, step?: number, goesOn = false): void {
    this.version++;
    this.request = { is: 'load', text, version: this.version, seed, parameters: values, step, goesOn };
    if (this.isStuck) this.end();
    this.send(this.request);
  }

  private get isStuck(): boolean {
    return this.pulse !== undefined && this.pulse[PULSE.busy] === 1 && Date.now() - this.seen.since > PATIENCE;
  }

  /** Sees whether the worker moves. One that is stuck in what came before a text that waits is replaced; one stuck in the text itself is spoken of. */
  private look(): void {
    const { pulse, request } = this;
    if (!pulse) return;
    const now = pulse.join(' ');
    if (now !== this.seen.pulse || pulse[PULSE.busy] === 0) this.seen = { pulse: now, since: Date.now() };
    if (request && this.isStuck && pulse[PULSE.version] !== request.version) {
      this.end();
      this.send(request);
      return;
    }
    if (!this.isMain) return;
    const stuck = this.isStuck
      ? {
          step: pulse[PULSE.step]!,
          entry: pulse[PULSE.entry]!,
          seconds: Math.round((Date.now() - this.seen.since) / 1000),
        }
      : undefined;
    if (stuck || store.getState().model.stuck) store.dispatch(modelActions.stuck(stuck));
  }

  private end(): void {
    clearInterval(this.watchdog);
    this.worker?.terminate();
    for (const answer of this.taking.splice(0)) answer(undefined);
    this.worker = undefined;
    this.pulse = undefined;
    if (this.isMain && store.getState().model.stuck) store.dispatch(modelActions.stuck(undefined));
  }

  /** Gives up a run that does not come to an end; the next text, or starting again, gets a new worker. */
  abandon(): void {
    const stuck = store.getState().model.stuck;
    this.end();
    this.version++;
    store.dispatch(
      modelActions.failed({
        message: 'You stopped it, as it did not come to an end.',
        hint: 'Change the text, and it runs again.',
        start: 0,
        end: 0,
        step: stuck?.step ?? 0,
      }),
    );
  }

  /** Forgets the run on show, for another project. */
  forget(): void {
    // A worker that has had nothing to do yet is as good as a new one.
    if (this.request) this.end();
    this.request = undefined;
    this.state = EMPTY;
    this.slowState = EMPTY;
    this.coming = undefined;
    this.changed();
  }

  /** What the page itself has changed is seen at once, without waiting for a frame. */
  private changeNow(change: Partial<Pick<LiveState, 'target' | 'trailed' | 'tellingLeft'>>): void {
    this.state = { ...this.state, ...change };
    this.slowState = { ...this.slowState, ...change };
    for (const listener of this.slowListeners) listener();
  }

  private aim(target: number | undefined): void {
    this.changeNow({ target });
  }

  restart(seed: number, values: Readonly<Record<string, number>>, step?: number): void {
    this.send({ is: 'restart', seed, parameters: values, step });
    this.begun(seed, step);
  }

  /** The run on show once more from its start, with its acts by hand and changes of the text at their steps; or another one that was noted. */
  runAgain(noted?: { readonly chapters: readonly ChapterNote[]; readonly seed: number; readonly step: number }): void {
    this.send({ is: 'run again', ...noted });
    this.begun(noted?.seed ?? this.state.seed, noted?.step);
  }

  private begun(seed: number, step: number | undefined): void {
    if (this.isMain) store.dispatch(modelActions.restarted());
    this.state = { ...this.state, seed };
    this.aim(step);
    if (this.isMain && step === undefined) this.send({ is: 'play', playing: store.getState().watch.playing });
  }

  /** All that is needed to run the run on show again, up to the step on show. */
  noteChapters(): Promise<Noted> {
    return new Promise((resolve) => {
      this.noting = resolve;
      this.send({ is: 'note chapters' });
    });
  }

  /** Does something with every frame once it is drawn; the next one waits for it. Nothing ends it. */
  film(take: (() => Promise<void>) | undefined): void {
    this.filming = take;
  }

  /** A field or a network of the step on show as the text of a file. @throws Error while there is no run */
  takeText(wish: TakeWish): Promise<string> {
    return new Promise((resolve, reject) => {
      this.taking.push((text) =>
        text === undefined ? reject(new Error('There is no run to take it from yet.')) : resolve(text),
      );
      this.send({ is: 'take', ...wish });
    });
  }

  play(playing: boolean): void {
    store.dispatch(watchActions.playing(playing));
    this.aim(undefined);
    this.send({ is: 'play', playing });
  }

  pace(stepsPerSecond: number | null): void {
    this.send({ is: 'pace', stepsPerSecond: stepsPerSecond ?? Infinity });
  }

  oneStep(): void {
    store.dispatch(watchActions.playing(false));
    this.aim(undefined);
    this.send({ is: 'step' });
  }

  goTo(step: number): void {
    if (this.isMain) store.dispatch(watchActions.playing(false));
    this.aim(step);
    this.send({ is: 'go to', step });
  }

  runUntil(condition: string): void {
    store.dispatch(watchActions.playing(false));
    this.send({ is: 'run until', condition });
  }

  setParameter(name: string, value: number): void {
    const parameter = this.state.plan?.parameters.findIndex((p) => p.name === name) ?? -1;
    if (parameter >= 0) this.act({ is: 'set parameter', parameter, value });
  }

  act(act: HandAct): void {
    this.send({ is: 'act', act });
  }

  forgetAct(index: number): void {
    this.send({ is: 'forget act', index });
  }

  /** With a machine, its counts, changes and stays come with every frame. */
  followStates(of: { readonly kind: number; readonly machine: number } | undefined): void {
    this.send({ is: 'follow states', of });
  }

  openAgent(kind: number, number: number): void {
    this.changeNow({ tellingLeft: undefined });
    this.send({ is: 'open agent', kind, number });
  }

  /** With a kind, the table of its agents comes with every frame. */
  listAgents(kind: number | undefined): void {
    this.send({ is: 'list agents', kind });
  }

  draftNetwork(network: number, seed: number): void {
    this.send({ is: 'draft network', network, seed });
  }

  askWhy(): void {
    this.changeNow({ tellingLeft: undefined });
    this.send({ is: 'why' });
  }

  /** Draws the trail of an agent from now on, or no more. */
  trail(kind: number, number: number, isOn: boolean): void {
    const others = this.state.trailed.filter((other) => other.kind !== kind || other.number !== number);
    const agents = isOn ? [...others, { kind, number }] : others;
    this.setTrails(agents);
  }

  /** Draws the trails of these agents from now on, and of no others. */
  setTrails(agents: LiveState['trailed']): void {
    this.changeNow({ trailed: agents });
    this.send({ is: 'trail agents', agents });
  }

  closeAgent(): void {
    this.send({ is: 'close agent' });
  }
}

interface Noted {
  readonly chapters: readonly ChapterNote[];
  readonly step: number;
}

function appended<T extends Float64Array | Float32Array>(held: T, at: number, piece: T): T {
  let target = held;
  if (at + piece.length > target.length) {
    const make = held.constructor as new (length: number) => T;
    target = new make(Math.max(256, (at + piece.length) * 2));
    target.set(held.subarray(0, at));
  }
  target.set(piece, at);
  return target;
}

export const live = new LiveHandle(true);

/** A run kept beside the one on show; it goes to the step that is on show. */
export const kept = new LiveHandle(false);

function followLive(): void {
  const { frame, target } = kept.current;
  const step = live.current.frame?.step;
  if (!frame || step === undefined || target !== undefined || frame.step === step || (frame.ended && frame.step < step))
    return;
  kept.goTo(step);
}
live.onFrame(followLive);
kept.onFrame(followLive);

/** Keeps the run as it is now, with its acts by hand and changes of the text, beside the one on show; with another seed if one is given. */
export async function keepBeside(seed = live.current.seed): Promise<void> {
  if (live.current.frame) kept.runAgain({ ...(await live.noteChapters()), seed });
}

/**
 * A part of the live run, as often as it can be read by a person; who asks is drawn anew only when that part has changed.
 * @param select gives a part that stays the same object while it does not change
 */
export function useLive<T>(select: (state: LiveState) => T, handle: LiveHandle = live): T {
  return useSyncExternalStore(handle.onSlow, () => select(handle.slow()));
}
