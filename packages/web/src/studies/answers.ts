import type { AnswerTo, FinishedKeys, Question, RecordAnswerTo, RecordQuestion } from '@vole/core';
import { withFiles } from '../simulation/beside.ts';
import { designOf } from '@vole/core';
import { AskedWorker } from '../simulation/asked-worker.ts';
import type { StudyRow } from '../storage/schema.ts';
import type { AnswerRequest, MatchText } from './answer-desk.ts';

/** Results of studies are held and looked at in a worker of their own; the page asks it. */

interface OpenedStudy {
  readonly study: StudyRow;
  /** Finished runs that are not stored: a new worker has to be told of them. */
  readonly unstored: () => ArrayBuffer | undefined;
}

const opened = new Map<string, OpenedStudy>();
let held: MatchText = { text: '', tables: {} };
const worker: AskedWorker<AnswerRequest> = new AskedWorker<AnswerRequest>(
  () =>
    withFiles(
      new Worker(new URL('../workers/answers.worker.ts', import.meta.url), { type: 'module', name: 'answers' }),
    ),
  'The results could not be looked at',
  () => {
    void worker.ask({ is: 'hold', match: held }).catch(() => undefined);
    [...opened.values()].forEach(reopen);
  },
);

/** A worker that was put in the place of another one is told everything again; its answers come in turn, so what is asked next waits for it. */
function reopen({ study, unstored }: OpenedStudy): void {
  const bytes = unstored();
  void worker.ask(openRequest(study, true)).catch(() => undefined);
  if (bytes) addRuns(study.id, bytes);
}

function openRequest(study: StudyRow, stored: boolean): AnswerRequest {
  return {
    is: 'open',
    study: study.id,
    text: study.text,
    design: designOf(study),
    outcomes: study.outcomes ?? [],
    parameters: study.parameters,
    ...(study.kind === 'match' ? { match: { text: study.wording ?? '', tables: study.observed ?? {} } } : {}),
    stored,
  };
}

/** Makes a study known, or a known one with other seeds. @param stored whether it has results in storage that are to be read */
export async function openAnswers(
  study: StudyRow,
  stored: boolean,
  unstored: OpenedStudy['unstored'] = () => undefined,
): Promise<void> {
  const request = worker.ask(openRequest(study, stored));
  opened.set(study.id, { study, unstored });
  await request;
}

export function closeAnswers(study: string): void {
  if (opened.delete(study)) void worker.ask({ is: 'close', study }).catch(() => undefined);
}

/** Studies that are opened only to be looked at, and how many look at each. */
const lookedAt = new Map<string, { readonly entry: OpenedStudy; count: number }>();

/** Looks at the stored results of a study, which is opened for as long as somebody looks, unless it is open or is opened meanwhile. */
export async function lookInto<T>(study: StudyRow, look: () => Promise<T>): Promise<T> {
  const { id } = study;
  let looked = lookedAt.get(id);
  if (!looked && opened.has(id)) return look();
  if (!looked) {
    const opening = openAnswers(study, true);
    looked = { entry: opened.get(id)!, count: 0 };
    lookedAt.set(id, looked);
    looked.count++;
    await opening.catch((error: unknown) => {
      leave(id);
      throw error;
    });
  } else looked.count++;
  try {
    return await look();
  } finally {
    leave(id);
  }
}

function leave(id: string): void {
  const looked = lookedAt.get(id)!;
  if (--looked.count > 0) return;
  lookedAt.delete(id);
  if (opened.get(id) === looked.entry) closeAnswers(id);
}

/** What studies are held against from now on, but for those that look for what agrees, which have their own. */
export function holdAgainst(match: MatchText): void {
  held = match;
  void worker.ask({ is: 'hold', match }).catch(() => undefined);
}

/** New runs of a study. If they cannot be taken up, a question will say so. */
export function addRuns(study: string, bytes: ArrayBuffer): void {
  void worker.ask({ is: 'add', study, bytes }, [bytes]).catch(() => undefined);
}

/** @param summary whose values are told too */
export async function finishedRuns(study: string, summary?: number): Promise<FinishedKeys> {
  return (await worker.ask({ is: 'finished', study, ...(summary === undefined ? {} : { summary }) })) as FinishedKeys;
}

/** One record of the model in one run of a study. */
export interface RecordOfRun {
  readonly study: string;
  readonly record: number;
  readonly point: string;
  readonly seed: number;
}

/** @throws Error that says why there is no answer */
export async function askRecord<Q extends RecordQuestion>(of: RecordOfRun, question: Q): Promise<RecordAnswerTo<Q>> {
  return (await worker.ask({ is: 'ask of a record', ...of, question })) as RecordAnswerTo<Q>;
}

/** @throws Error that says why there is no answer */
export async function askStudy<Q extends Question>(study: string, question: Q): Promise<AnswerTo<Q>> {
  return (await worker.ask({ is: 'ask', study, question })) as AnswerTo<Q>;
}
