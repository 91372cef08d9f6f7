import type { FinishedRun, RunOutcome } from '@vole/core';
import { blockOf, encodeBlock, loadModel, pilot, simulate, StudiedPlans, textDigest } from '@vole/core';
import type { WorkerReply } from '../src/simulation/asked-worker.ts';
import type { BlockRow, StudyRow } from '../src/storage/schema.ts';
import type { AnswerRequest } from '../src/studies/answer-desk.ts';
import { AnswerDesk } from '../src/studies/answer-desk.ts';
import type { StudyReply, StudyRequest } from '../src/studies/worker-executor.ts';

/** The workers of studies and of answers, in the same thread. */

type AnyRequest = StudyRequest | (AnswerRequest & { readonly id: number });

/** Stands in for `Worker`: one that answers questions by the name it is given, else one that does runs, which answers when it is let. */
export class WorkerInPlay {
  static all: WorkerInPlay[] = [];
  /** Those that answer questions; they last from test to test, as the page does. */
  static desks: WorkerInPlay[] = [];
  static isHeld = false;
  /** Seeds on which a worker falls silent, so many times each. */
  static silentOn = new Map<number, number>();
  onmessage: ((event: { data: unknown }) => void) | undefined;
  onerror: ((event: { message: string }) => void) | undefined;
  ended = false;
  private plans: StudiedPlans | undefined;
  private readonly desk: AnswerDesk | undefined;
  private before: Promise<void> = Promise.resolve();

  constructor(_: URL, { name }: { readonly name: string }) {
    if (name === 'answers') {
      this.desk = new AnswerDesk();
      WorkerInPlay.desks.push(this);
    } else WorkerInPlay.all.push(this);
  }

  static reset(): void {
    WorkerInPlay.all = [];
    WorkerInPlay.isHeld = false;
    WorkerInPlay.silentOn.clear();
  }

  postMessage(message: AnyRequest): void {
    const request = structuredClone(message);
    if ('id' in request) this.before = this.before.then(() => this.answer(request));
    else queueMicrotask(() => this.work(request));
  }

  private async answer(request: AnswerRequest & { readonly id: number }): Promise<void> {
    const { id } = request;
    const reply = await this.desk!.answer(request).then(
      (answer): WorkerReply => ({ id, answer }),
      (error: Error): WorkerReply => ({ id, problem: error.message }),
    );
    if (!this.ended) this.onmessage?.({ data: structuredClone(reply) });
  }

  private work(request: StudyRequest): void {
    if (this.ended || (request.is !== 'model' && (WorkerInPlay.isHeld || !this.plans))) return;
    const silences = request.is === 'job' ? (WorkerInPlay.silentOn.get(request.job.seed) ?? 0) : 0;
    if (request.is === 'job' && silences > 0) WorkerInPlay.silentOn.set(request.job.seed, silences - 1);
    else this.onmessage?.({ data: structuredClone(this.replyTo(request)) });
  }

  private replyTo(request: StudyRequest): StudyReply {
    if (request.is === 'job')
      return { is: 'finished', outcome: simulate(this.plans!.of(request.job.timeline)!, request.job)! };
    if (request.is === 'pilot')
      return { is: 'piloted', run: pilot(this.plans!.of()!, request.job, () => true), seconds: 0.5 };
    const plans = new StudiedPlans(request.text, undefined, request.outcomes);
    if (!plans.of()) return { is: 'refused', diagnostics: loadModel(request.text).diagnostics };
    this.plans = plans;
    return { is: 'ready' };
  }

  terminate(): void {
    this.ended = true;
  }
}

/** Finished runs as they are stored, in one block. */
export function blockRow(
  study: Pick<StudyRow, 'id' | 'text'>,
  runs: readonly FinishedRun[],
  id = `${study.id}:0`,
): BlockRow {
  return { id, studyId: study.id, bytes: encodeBlock(blockOf(runs), textDigest(study.text)) };
}

/** A finished run with numbers that were not simulated. */
export function madeUpRun(seed: number, rows: readonly number[], point = ''): FinishedRun {
  const outcome: RunOutcome = {
    result: {
      seed,
      steps: rows.length - 1,
      rows: Float64Array.from(rows),
      every: 1,
      summaries: new Float64Array(0),
      refused: 0,
    },
  };
  return { point, seed, outcome };
}
