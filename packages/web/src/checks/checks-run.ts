import type { CheckOutcome } from '@vole/core';
import { useSyncExternalStore } from 'react';

export type ChecksReply =
  { readonly is: 'outcome'; readonly outcome: CheckOutcome } | { readonly is: 'done' } | { readonly is: 'refused' };

export interface ChecksState {
  readonly projectId: string;
  /** The text whose checks these are. */
  readonly text: string;
  readonly isRunning: boolean;
  readonly outcomes: readonly CheckOutcome[];
  readonly problem?: string;
}

/** The checks of the model, run apart from the page; what came of them stays while other panels are looked at. */
export class ChecksRun {
  private worker: Worker | undefined;
  private state: ChecksState | undefined;
  private readonly listeners = new Set<() => void>();

  get current(): ChecksState | undefined {
    return this.state;
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  start(projectId: string, text: string): void {
    this.worker?.terminate();
    this.show({ projectId, text, isRunning: true, outcomes: [] });
    const worker = new Worker(new URL('../workers/checks.worker.ts', import.meta.url), {
      type: 'module',
      name: 'checks',
    });
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
    if (this.state) this.show({ ...this.state, isRunning: false, problem });
  }

  private show(state: ChecksState): void {
    this.state = state;
    for (const listener of this.listeners) listener();
  }
}

const checksRun = new ChecksRun();

export function useChecksRun(): { readonly state: ChecksState | undefined; readonly run: ChecksRun } {
  return { state: useSyncExternalStore(checksRun.subscribe, () => checksRun.current), run: checksRun };
}
