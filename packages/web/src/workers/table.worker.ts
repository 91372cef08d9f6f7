import type { TableRequest } from '../observed/match-desk.ts';
import { MatchDesk } from '../observed/match-desk.ts';
import { takingFiles } from '../simulation/beside.ts';
import type { WorkerReply } from '../simulation/asked-worker.ts';

/** Reads tables of observed data and the texts of matches. */

const desk = new MatchDesk();

self.onmessage = takingFiles(({ data }: MessageEvent<TableRequest & { readonly id: number }>) => {
  const reply = (message: WorkerReply): void => self.postMessage(message);
  try {
    reply({ id: data.id, answer: desk.answer(data) });
  } catch (error) {
    reply({ id: data.id, problem: error instanceof Error ? error.message : String(error) });
  }
});
