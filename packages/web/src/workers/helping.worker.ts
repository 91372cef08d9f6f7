import type { CrewMessage } from '@vole/core';
import { helpingThread } from '@vole/core/helping';

/** Helps the worker that started it with a large run. */

const take = helpingThread();
self.onmessage = ({ data }: MessageEvent<CrewMessage>) => take(data);
