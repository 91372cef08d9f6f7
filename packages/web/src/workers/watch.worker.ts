import { takingFiles } from '../simulation/beside.ts';
import { LiveRun } from '../simulation/live-run.ts';
import type { WatchReply, WatchRequest } from '../simulation/protocol.ts';
import { PULSE } from '../simulation/protocol.ts';
import { laterParts, loadLaterParts, waitsForParts } from '../simulation/on-demand.ts';

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

/** Whether parts have been asked for, be it that they cannot be loaded. */
let isAsked = false;

/** Asks for parts as soon as the run is one that they make quick. */
function askForParts(): void {
  if (isAsked || laterParts() || !live.isLarge) return;
  isAsked = true;
  loadLaterParts().then(
    () => live.takeUpParts(),
    () => undefined,
  );
}

function goOn(): void {
  askForParts();
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

function take(request: WatchRequest): void {
  if (request.is === 'pulse') pulse = request.pulse;
  busy(() => live.receive(request));
  if (!isWaiting) goOn();
}

/** Requests that wait for parts of the worker, in their order. */
let held: WatchRequest[] | undefined;

function hold(request: WatchRequest): void {
  held = [request];
  const takeHeld = (): void => {
    const requests = held ?? [];
    held = undefined;
    live.takeUpParts();
    for (const each of requests) take(each);
  };
  loadLaterParts().then(takeHeld, takeHeld);
}

self.onmessage = takingFiles(({ data }: MessageEvent<WatchRequest>) => {
  if (held) held.push(data);
  else if (waitsForParts(data)) hold(data);
  else take(data);
});
