import type { CheckOutcome, FileMarks } from '@vole/core';
import { withFiles } from '../simulation/beside.ts';
import { ENGINE_VERSION, otherFiles } from '@vole/core';
import { useMemo, useSyncExternalStore } from 'react';
import { keepChecks } from '../session/session.ts';
import { store, useAppSelector } from '../store/store.ts';
import { filesOfText } from '../simulation/files-of-text.ts';

export type ChecksReply =
  { readonly is: 'outcome'; readonly outcome: CheckOutcome } | { readonly is: 'done' } | { readonly is: 'refused' };

export interface ChecksState {
  readonly projectId: string;
  /** The text whose checks these are. */
  readonly text: string;
  /** The marks of the files that it names. */
  readonly files?: FileMarks | undefined;
  readonly isRunning: boolean;
  readonly outcomes: readonly CheckOutcome[];
  readonly problem?: string;
}

/** The checks of the model, run apart from the page; what came of them stays while other panels are looked at. */
export class ChecksRun {
  private worker: Worker | undefined;
  private state: ChecksState | undefined;
  private readonly listeners = new Set<() => void>();

  /** @param keep takes what came of all checks of a text */
  constructor(private readonly keep: (state: ChecksState) => void) {}

  get current(): ChecksState | undefined {
    return this.state;
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  start(projectId: string, text: string): void {
    this.worker?.terminate();
    const files = filesOfText(text, store.getState().project.files);
    this.show({ projectId, text, files, isRunning: true, outcomes: [] });
    const worker = withFiles(
      new Worker(new URL('../workers/checks.worker.ts', import.meta.url), {
        type: 'module',
        name: 'checks',
      }),
    );
    this.worker = worker;
    worker.onmessage = ({ data }: MessageEvent<ChecksReply>) => {
      const { state } = this;
      if (worker !== this.worker || !state) return;
      if (data.is === 'outcome') return this.show({ ...state, outcomes: [...state.outcomes, data.outcome] });
      this.end(data.is === 'refused' ? 'The text has errors; its checks run when they are mended.' : undefined);
    };
    worker.onerror = ({ message }) =>
      this.end(`The checks could not be run to their end${message ? ` (${message})` : ''}.`);
    worker.postMessage(text);
  }

  stop(): void {
    this.end('Stopped; the checks that are not named were not run.');
  }

  private end(problem: string | undefined): void {
    this.worker?.terminate();
    this.worker = undefined;
    if (!this.state) return;
    this.show({ ...this.state, isRunning: false, problem });
    if (problem === undefined) this.keep(this.state);
  }

  private show(state: ChecksState): void {
    this.state = state;
    for (const listener of this.listeners) listener();
  }
}

const checksRun = new ChecksRun(
  ({ projectId, text, files, outcomes }) =>
    void keepChecks(projectId, { text, files, outcomes, engine: ENGINE_VERSION }),
);

/** Whether outcomes are those of a text, read with the files of now. */
export function areChecksOf(state: ChecksState, text: string, now: FileMarks): boolean {
  return state.text === text && otherFiles(state, now).length === 0;
}

/** The checks of the open project: as they run, or as they were kept when all had been run. */
export function useChecksRun(): { readonly state: ChecksState | undefined; readonly run: ChecksRun } {
  const { id, checks } = useAppSelector((state) => state.project);
  const state = useSyncExternalStore(checksRun.subscribe, () => checksRun.current);
  const kept = useMemo(
    () => (id && checks?.engine === ENGINE_VERSION ? { projectId: id, isRunning: false, ...checks } : undefined),
    [id, checks],
  );
  return { state: state?.projectId === id ? state : kept, run: checksRun };
}
