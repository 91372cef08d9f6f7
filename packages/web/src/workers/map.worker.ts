import { fileMark, mapToBytes, readMap } from '@vole/core';
import { feedOfZip, tripsOfFeed } from '@vole/core/feed';
import type { FeedAnswer, MapAnswer, ReadRequest } from '../session/taken-files.ts';
import type { WorkerReply } from '../simulation/asked-worker.ts';

/** Reads map files and transit feeds, which may be long. */

async function read(request: ReadRequest): Promise<MapAnswer | FeedAnswer> {
  if ('feed' in request) return { trips: tripsOfFeed(feedOfZip(request.feed), { week: request.week }) };
  const file = await readMap(request.text);
  return { file, bytes: mapToBytes(file), mark: fileMark(file) };
}

self.onmessage = ({ data }: MessageEvent<ReadRequest & { readonly id: number }>) => {
  const reply = (message: WorkerReply): void => self.postMessage(message);
  read(data).then(
    (answer) => reply({ id: data.id, answer }),
    (error: unknown) =>
      reply({
        id: data.id,
        problem:
          error instanceof Error ? `${error.message}${'hint' in error ? ` ${String(error.hint)}` : ''}` : String(error),
      }),
  );
};
