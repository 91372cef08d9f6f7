import type { WorkerReply } from '../src/simulation/asked-worker.ts';
import type { TextRequest } from '../src/simulation/text-desk.ts';
import { textRead } from '../src/simulation/text-desk.ts';

type Request = TextRequest & { readonly id: number };

/** Stands in for the worker that reads texts, in the same thread. It breaks at texts that hold `BREAK`. */
export class TextWorkerInPlay {
  static readonly BREAK = 'what breaks a worker';
  /** Texts that were read, in order. */
  static readonly texts: string[] = [];
  onmessage: ((event: { data: unknown }) => void) | undefined;
  onerror: ((event: { message: string }) => void) | undefined;

  postMessage(message: Request | { readonly beside: unknown }): void {
    const request = structuredClone(message);
    // Files are those of the page, which is in the same thread.
    if ('text' in request) setTimeout(() => this.read(request));
  }

  terminate(): void {
    this.onmessage = undefined;
  }

  private read(request: Request): void {
    TextWorkerInPlay.texts.push(request.text);
    const reply = (message: WorkerReply): void => this.onmessage?.({ data: structuredClone(message) });
    if (request.text.includes(TextWorkerInPlay.BREAK)) this.onerror?.({ message: 'out of memory' });
    else reply({ id: request.id, answer: textRead(request) });
  }
}
