import { takingFiles } from '../simulation/beside.ts';
import type { WorkerReply } from '../simulation/asked-worker.ts';
import type { TextRequest } from '../simulation/text-desk.ts';
import { textRead } from '../simulation/text-desk.ts';

/** Checks and lowers texts for the page, which goes on meanwhile. */

self.onmessage = takingFiles(({ data }: MessageEvent<TextRequest & { readonly id: number }>) => {
  const reply = (message: WorkerReply): void => self.postMessage(message);
  try {
    reply({ id: data.id, answer: textRead(data) });
  } catch (error) {
    reply({ id: data.id, problem: error instanceof Error ? error.message : String(error) });
  }
});
