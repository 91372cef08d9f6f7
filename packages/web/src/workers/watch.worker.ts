import { takingFiles } from '../simulation/beside.ts';
import { LiveRun } from '../simulation/live-run.ts';
import type { WatchReply, WatchRequest } from '../simulation/protocol.ts';
import { PULSE } from '../simulation/protocol.ts';

/** Owns the live run: steps as fast as asked and hands out a frame whenever the page has drawn the last one. */

const post = (message: WatchReply, transfer: Transferable[] = []): void => self.postMessage(message, { transfer });
const live = new LiveRun(post, () => performance.now());

// A message channel comes back sooner than a timer, which browsers hold back to several milliseconds.
const turns = new MessageChannel();
let isWaiting = false;
let pulse: Int32Array | undefined;

/** While `work` goes on the page can see that it does. */
function busy<T>(work: () => T): T {
  if (pulse) {
    pulse[PULSE.busy] = 1;
    pulse[PULSE.turns]!++;
  }
  try {
    return work();
  } finally {
    if (pulse) pulse[PULSE.busy] = 0;
  }
}

function goOn(): void {
  const pause = busy(() => live.work());
  if (pause === undefined) return;
  isWaiting = true;
  if (pause > 4) setTimeout(() => turns.port2.postMessage(0), pause);
  else turns.port2.postMessage(0);
}

turns.port1.onmessage = () => {
  isWaiting = false;
  goOn();
};

self.onmessage = takingFiles(({ data }: MessageEvent<WatchRequest>) => {
  if (data.is === 'pulse') pulse = data.pulse;
  busy(() => live.receive(data));
  if (!isWaiting) goOn();
});
