import { parentPort } from 'node:worker_threads';
import { helpingThread } from '@vole/core/helping';

/** A thread that helps another with a large run. */
parentPort!.on('message', helpingThread());
