import { LiveRun } from '../simulation/live-run.ts';
import type { WatchReply, WatchRequest } from '../simulation/protocol.ts';

/** Owns the live run: steps as fast as asked and hands out a frame whenever the page has drawn the last one. */

const post = (message: WatchReply, transfer: Transferable[] = []): void => self.postMessage(message, { transfer });
const live = new LiveRun(post, () => performance.now());

// A message channel comes back sooner than a timer, which browsers hold back to several milliseconds.
const turns = new MessageChannel();
let isWaiting = false;

function goOn(): void {
  const pause = live.work();
  if (pause === undefined) return;
  isWaiting = true;
  if (pause > 4) setTimeout(() => turns.port2.postMessage(0), pause);
  else turns.port2.postMessage(0);
}

turns.port1.onmessage = () => {
  isWaiting = false;
  goOn();
};

self.onmessage = ({ data }: MessageEvent<WatchRequest>) => {
  live.receive(data);
  if (!isWaiting) goOn();
};
