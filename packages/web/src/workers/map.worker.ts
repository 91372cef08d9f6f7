import { mapToBytes, readMap } from '@vole/core';
import type { MapAnswer, MapRequest } from '../session/maps.ts';
import type { WorkerReply } from '../simulation/asked-worker.ts';

/** Reads map files, which may be long. */

self.onmessage = ({ data }: MessageEvent<MapRequest & { readonly id: number }>) => {
  const reply = (message: WorkerReply): void => self.postMessage(message);
  readMap(data.text).then(
    (file) => reply({ id: data.id, answer: { file, bytes: mapToBytes(file) } satisfies MapAnswer }),
    (error: unknown) =>
      reply({
        id: data.id,
        problem:
          error instanceof Error ? `${error.message}${'hint' in error ? ` ${String(error.hint)}` : ''}` : String(error),
      }),
  );
};
