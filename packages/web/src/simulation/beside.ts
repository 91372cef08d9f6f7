import type { ModelFile } from '@vole/core';

/** The files beside the model of the open project: what every text is read with, on the page and in its workers. */

export type FilesBeside = ReadonlyMap<string, ModelFile>;

/** What a worker is told before anything else. */
interface BesideMessage {
  readonly beside: FilesBeside;
}

const NONE: FilesBeside = new Map();
let files = NONE;
const hired = new Set<WeakRef<Worker>>();

export function filesBeside(): FilesBeside {
  return files;
}

/** Takes other files; workers that were hired take them too. */
export function putBeside(next: FilesBeside): void {
  files = next;
  for (const held of hired) {
    const worker = held.deref();
    if (worker) worker.postMessage({ beside: next } satisfies BesideMessage);
    else hired.delete(held);
  }
}

/** A worker that reads texts with the files of now from its first message on, and with others once they come. */
export function withFiles(worker: Worker): Worker {
  hired.add(new WeakRef(worker));
  return workerWith(worker, files);
}

/** A worker that reads texts with some files from its first message on, and never with others. */
export function workerWith(worker: Worker, files: FilesBeside): Worker {
  if (files.size > 0) worker.postMessage({ beside: files } satisfies BesideMessage);
  return worker;
}

/** In a worker: takes files that are sent, and hands on every other message. */
export function takingFiles<T>(handle: (event: MessageEvent<T>) => void): (event: MessageEvent<T>) => void {
  return (event) => {
    const { data } = event as MessageEvent<unknown>;
    if (typeof data === 'object' && data !== null && 'beside' in data) files = (data as BesideMessage).beside;
    else handle(event);
  };
}
