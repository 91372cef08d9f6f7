import { takingFiles } from '../simulation/beside.ts';
import type { WorkerReply } from '../simulation/asked-worker.ts';
import type { AnswerRequest } from '../studies/answer-desk.ts';
import { AnswerDesk } from '../studies/answer-desk.ts';

/** Answers questions about the results of studies, one after another. */

const desk = new AnswerDesk();
let before: Promise<void> = Promise.resolve();

self.onmessage = takingFiles(({ data }: MessageEvent<AnswerRequest & { readonly id: number }>) => {
  const reply = (message: WorkerReply): void => self.postMessage(message);
  before = before
    .then(() => desk.answer(data))
    .then(
      (answer) => reply({ id: data.id, answer }),
      (error: unknown) => reply({ id: data.id, problem: error instanceof Error ? error.message : String(error) }),
    );
});
