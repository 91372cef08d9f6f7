import type { Diagnostic, Executor, Outcome, PilotRun, RunJob, RunOutcome } from '@vole/core';
import { filesBeside, workerWith } from '../simulation/beside.ts';
import { WorkerLost } from '@vole/core';

export type StudyRequest =
  | { readonly is: 'model'; readonly text: string; readonly outcomes: readonly Outcome[] }
  | { readonly is: 'job'; readonly job: RunJob }
  /** Begins a run, for so long at most. */
  | { readonly is: 'pilot'; readonly job: RunJob; readonly milliseconds: number };

export type StudyReply =
  | { readonly is: 'ready' }
  /** Now and then during a run, so that silence can be told from work. */
  | { readonly is: 'alive' }
  | { readonly is: 'refused'; readonly diagnostics: readonly Diagnostic[] }
  | { readonly is: 'finished'; readonly outcome: RunOutcome }
  | { readonly is: 'piloted'; readonly run: PilotRun; readonly seconds: number };

const LOOK_EVERY = 1000;
/** A worker that says nothing for so long is taken for dead. */
export const PATIENCE = 90_000;
/** For a run that has lost a worker before. */
const MORE_PATIENCE = 4;

/** A worker and the run it has. */
interface Hand {
  readonly worker: Worker;
  readonly name: string;
  isReady: boolean;
  heardAt: number;
  task:
    | {
        readonly attempt: number;
        readonly resolve: (outcome: RunOutcome) => void;
        readonly reject: (error: Error) => void;
      }
    | undefined;
}

/** Does runs of one text in workers of this page; one that stops or falls silent is replaced. */
export class WorkerExecutor implements Executor {
  private hands: Hand[];
  private lostAtStart = 0;
  /** As they lie beside the model when the runs begin: all are made with the same. */
  private readonly files = filesBeside();
  private readonly watching: ReturnType<typeof setInterval>;

  constructor(
    private readonly text: string,
    private readonly outcomes: readonly Outcome[],
    readonly width: number,
    private readonly patience = PATIENCE,
  ) {
    this.hands = Array.from({ length: width }, (_, i) => this.hire(`study ${i + 1}`));
    this.watching = setInterval(() => this.look(), Math.min(LOOK_EVERY, patience));
  }

  run(job: RunJob, attempt: number): Promise<RunOutcome> {
    const hand = this.hands.find(({ task }) => !task);
    if (!hand) return Promise.reject(new RangeError(`${this.width} runs are under way already`));
    return new Promise((resolve, reject) => {
      hand.task = { attempt, resolve, reject };
      hand.heardAt = Date.now();
      this.send(hand, { is: 'job', job });
    });
  }

  close(): void {
    clearInterval(this.watching);
    for (const { worker } of this.hands) worker.terminate();
    this.hands = [];
  }

  private hire(name: string): Hand {
    const worker = workerWith(
      new Worker(new URL('../workers/study.worker.ts', import.meta.url), { type: 'module', name }),
      this.files,
    );
    const hand: Hand = { worker, name, isReady: false, heardAt: Date.now(), task: undefined };
    worker.onmessage = ({ data }: MessageEvent<StudyReply>) => this.hear(hand, data);
    worker.onerror = ({ message }) => this.lose(hand, `A worker stopped: ${message}`);
    this.send(hand, { is: 'model', text: this.text, outcomes: this.outcomes });
    return hand;
  }

  private send(hand: Hand, request: StudyRequest): void {
    hand.worker.postMessage(request);
  }

  private hear(hand: Hand, reply: StudyReply): void {
    if (!this.hands.includes(hand)) return;
    hand.heardAt = Date.now();
    const { task } = hand;
    if (reply.is === 'ready') hand.isReady = true;
    if (reply.is === 'refused') task?.reject(new Error(reply.diagnostics[0]?.message ?? 'The model has errors.'));
    if (reply.is !== 'finished') return;
    hand.task = undefined;
    task?.resolve(reply.outcome);
  }

  /** Looks after workers that have gone silent. */
  private look(): void {
    const now = Date.now();
    for (const hand of this.hands) {
      const silence = now - hand.heardAt;
      if (hand.task && silence > this.patience * (hand.task.attempt > 0 ? MORE_PATIENCE : 1))
        this.lose(
          hand,
          `A worker has not answered for ${Math.round(silence / 1000)} s: a step of this run does not come to an end, or the memory is used up.`,
        );
    }
  }

  /** Puts a new worker in the place of one that is gone; a second one that does not even get ready is the end of the study. */
  private lose(hand: Hand, why: string): void {
    const at = this.hands.indexOf(hand);
    if (at < 0) return;
    hand.worker.terminate();
    const { task } = hand;
    if (!hand.isReady) this.lostAtStart++;
    this.hands[at] = this.hire(hand.name);
    task?.reject(this.lostAtStart > this.width ? new Error(why) : new WorkerLost(why));
  }
}
