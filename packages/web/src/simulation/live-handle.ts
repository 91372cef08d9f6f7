import type { HandAct, Plan } from '@vole/core';
import { useSyncExternalStore } from 'react';
import { interfaceActions } from '../store/interface-slice.ts';
import { modelActions } from '../store/model-slice.ts';
import { store } from '../store/store.ts';
import { watchActions } from '../store/watch-slice.ts';
import type { ActNote, Frame, NetworkDraft, Story, WatchReply, WatchRequest, WentOn, ZoneFrame } from './protocol.ts';

export interface LiveState {
  readonly plan: Plan | undefined;
  readonly frame: Frame | undefined;
  /** Rows of measures, one after another, up to the furthest step. */
  readonly rows: Float64Array;
  readonly layers: Float32Array;
  readonly layerNames: readonly string[];
  readonly marks: readonly { readonly step: number; readonly label: string }[];
  readonly acts: readonly ActNote[];
  readonly zones: readonly ZoneFrame[];
  readonly story: Story | undefined;
  readonly draft: NetworkDraft | undefined;
  /** Agents whose trails are drawn. */
  readonly trailed: readonly { readonly kind: number; readonly number: number }[];
  readonly stepLimit: number;
  readonly seed: number;
  /** What was carried over when the run went on with a new text; absent if this text ran from the start. */
  readonly wentOn: WentOn | undefined;
  /** Step the run is on its way to, by a wish of the modeler. */
  readonly target: number | undefined;
}

const EMPTY: LiveState = { plan: undefined, frame: undefined, rows: new Float64Array(0), layers: new Float32Array(0), layerNames: [], marks: [], acts: [], zones: [], story: undefined, draft: undefined, trailed: [], stepLimit: 0, seed: 1, wentOn: undefined, target: undefined };
const SLOW = 150;
/** A worker that does not answer for so long is in a step without end in sight; a new text gets a new one. */
const PATIENCE = 4000;

/** The live run as the page sees it: sends wishes to the watch worker, keeps the last frame and the rows so far. */
export class LiveHandle {
  private worker: Worker | undefined;
  private state = EMPTY;
  private slowState = EMPTY;
  private slowTimer: ReturnType<typeof setTimeout> | undefined;
  private readonly frameListeners = new Set<() => void>();
  private readonly slowListeners = new Set<() => void>();
  private version = 0;
  private patience: ReturnType<typeof setTimeout> | undefined;
  private coming: Pick<LiveState, 'plan' | 'layerNames' | 'stepLimit' | 'seed' | 'wentOn'> | undefined;
  private rowStore: Float64Array = new Float64Array(0);
  private layerStore: Float32Array = new Float32Array(0);

  /** @param isMain whether it is the run that text, forms and time controls act on, rather than one that is only shown beside it */
  constructor(private readonly isMain: boolean) {}

  private start(): Worker {
    const worker = new Worker(new URL('../workers/watch.worker.ts', import.meta.url), { type: 'module', name: 'watch' });
    worker.onmessage = ({ data }: MessageEvent<WatchReply>) => this.receive(data);
    worker.onerror = (event) => {
      store.dispatch(modelActions.failed({ message: `The live run stopped: ${event.message}`, hint: 'Your text is safe. Change it, or reload the page.', start: 0, end: 0, step: this.state.frame?.step ?? 0 }));
    };
    return worker;
  }

  private send(request: WatchRequest): void {
    this.worker ??= this.start();
    this.worker.postMessage(request);
  }

  private receive(message: WatchReply): void {
    switch (message.is) {
      case 'checked': {
        if (message.version !== this.version) return;
        clearTimeout(this.patience);
        const runs = message.plan !== undefined;
        const meaning = { plan: message.plan ?? this.state.plan, layerNames: message.layerNames, stepLimit: message.stepLimit, seed: message.seed, wentOn: message.wentOn };
        // The frame on show is of the earlier model: plan and frame change together, with the first frame of the new one.
        if (message.restarted) this.coming = meaning;
        else this.state = { ...this.state, ...meaning };
        const { diagnostics, restarted, stepLimit, layerNames } = message;
        if (!this.isMain) return this.changed();
        store.dispatch(modelActions.checked({ diagnostics, runs, restarted, stepLimit, layerNames, at: Date.now() }));
        if (restarted) {
          const { playing, stepsPerSecond } = store.getState().watch;
          this.pace(stepsPerSecond);
          this.send({ is: 'play', playing });
        }
        return this.changed();
      }
      case 'frame':
        return this.takeFrame(message);
      case 'story':
        this.state = { ...this.state, story: message.story };
        return this.changed();
      case 'draft':
        this.state = { ...this.state, draft: message.draft };
        return this.changed();
      case 'refused':
        store.dispatch(interfaceActions.noticed({ text: `Not done: ${message.why}.`, tone: 'plain' }));
        return;
      case 'failed': {
        const { diagnostic, step } = message;
        if (!this.isMain) return;
        store.dispatch(modelActions.failed({ message: diagnostic.message, hint: diagnostic.hint, start: diagnostic.span.start, end: diagnostic.span.end, step }));
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
    this.state = { ...this.state, target, frame, marks, acts, zones: frame.zones ?? this.state.zones, rows: this.rowStore.subarray(0, count * width), layers: this.layerStore.subarray(0, count * layerNames.length) };
    const watch = store.getState().watch;
    if (this.isMain && frame.ended !== watch.ended) store.dispatch(watchActions.ended(frame.ended));
    if (this.isMain && frame.ended && watch.playing && !frame.playing) store.dispatch(watchActions.playing(false));
    this.changed();
    requestAnimationFrame(() => this.send({ is: 'frame drawn' }));
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

  // Wishes

  /** @param goesOn whether a text that means something else is taken up by those who are there, rather than from the start */
  load(text: string, seed: number, values: Readonly<Record<string, number>>, step?: number, goesOn = false): void {
    this.version++;
    const request: WatchRequest = { is: 'load', text, version: this.version, seed, parameters: values, step, goesOn };
    this.send(request);
    clearTimeout(this.patience);
    this.patience = setTimeout(() => {
      this.worker?.terminate();
      this.worker = undefined;
      this.send(request);
    }, PATIENCE);
  }

  /** Forgets the run on show, for another project. */
  forget(): void {
    clearTimeout(this.patience);
    this.worker?.terminate();
    this.worker = undefined;
    this.state = EMPTY;
    this.slowState = EMPTY;
    this.coming = undefined;
    this.changed();
  }

  private aim(target: number | undefined): void {
    this.state = { ...this.state, target };
    this.slowState = { ...this.slowState, target };
    for (const listener of this.slowListeners) listener();
  }

  restart(seed: number, values: Readonly<Record<string, number>>, step?: number, acts?: readonly ActNote[]): void {
    if (this.isMain) store.dispatch(modelActions.restarted());
    this.send({ is: 'restart', seed, parameters: values, step, acts });
    this.state = { ...this.state, seed, wentOn: undefined };
    this.aim(step);
    if (this.isMain && step === undefined) this.send({ is: 'play', playing: store.getState().watch.playing });
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
    this.send({ is: 'why' });
  }

  /** Draws the trail of an agent from now on, or no more. */
  trail(kind: number, number: number, isOn: boolean): void {
    const others = this.state.trailed.filter((other) => other.kind !== kind || other.number !== number);
    const agents = isOn ? [...others, { kind, number }] : others;
    this.state = { ...this.state, trailed: agents };
    this.send({ is: 'trail agents', agents });
    this.changed();
  }

  closeAgent(): void {
    this.send({ is: 'close agent' });
  }
}

function appended<T extends Float64Array | Float32Array>(held: T, at: number, piece: T): T {
  let target = held;
  if (at + piece.length > target.length) {
    const make = held.constructor as new (length: number) => T;
    target = new make(Math.max(256, (at + piece.length) * 2));
    target.set(held.subarray(0, at) as never);
  }
  target.set(piece as never, at);
  return target;
}

export const live = new LiveHandle(true);

/** A run kept beside the one on show; it goes to the step that is on show. */
export const kept = new LiveHandle(false);

function followLive(): void {
  const { frame, target } = kept.current;
  const step = live.current.frame?.step;
  if (!frame || step === undefined || target !== undefined || frame.step === step || (frame.ended && frame.step < step)) return;
  kept.goTo(step);
}
live.onFrame(followLive);
kept.onFrame(followLive);

/** The values with which the run on show began: those set by hand later are acts of it. */
function valuesAtStart(): Record<string, number> {
  const { acts, plan } = live.current;
  const values: Record<string, number> = { ...store.getState().watch.values };
  // Of several acts on one parameter the first says what it was.
  for (const { act, from } of [...acts].reverse()) if (act.is === 'set parameter' && from !== undefined) values[plan!.parameters[act.parameter]!.name] = from;
  return values;
}

/** The same run from its beginning, with its acts by hand done again at their steps. */
export function runAgainWithActs(): void {
  live.restart(live.current.seed, valuesAtStart(), undefined, live.current.acts);
}

/** Keeps the run as it is now, with its acts by hand, beside the one on show; with another seed if one is given. */
export function keepBeside(seed = live.current.seed): void {
  const { acts, frame, wentOn } = live.current;
  if (!frame) return;
  if (wentOn) {
    store.dispatch(interfaceActions.noticed({ text: `This run took up its text at step ${wentOn.step}; only a run that began with it can be kept beside. Start again first.`, tone: 'plain' }));
    return;
  }
  const values = valuesAtStart();
  kept.load(store.getState().project.text, seed, values, 0);
  kept.restart(seed, values, frame.step, acts);
}

/** The live run, a few times a second: enough for numbers and charts. */
export function useLive(handle: LiveHandle = live): LiveState {
  return useSyncExternalStore(handle.onSlow, handle.slow);
}
