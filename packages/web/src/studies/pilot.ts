import type { PilotRun, RunJob } from '@vole/core';
import { withFiles } from '../simulation/beside.ts';
import { filesOfText } from '../simulation/files-of-text.ts';
import { useAppSelector } from '../store/store.ts';
import { useEffect, useState } from 'react';
import { shownSeconds } from '../words/numbers.ts';
import type { StudyReply, StudyRequest } from './worker-executor.ts';

/** What one run takes, measured on the beginning of one. */
export interface Pilot {
  readonly seconds: number;
  /** Bytes of records, if they are kept. */
  readonly recordBytes: number;
  /** Whether the whole run was measured, not only its beginning. */
  readonly isWhole: boolean;
}

/** A pilot run is stopped after so long. */
const MOST_MILLISECONDS = 1500;
/** A pilot run of which nothing is heard for so long is given up. */
const PATIENCE = 20_000;
/** The wish must stand for so long before a pilot run begins. */
const SETTLED = 600;
const known = new Map<string, Promise<Pilot | undefined>>();

/**
 * What a run of a text takes, told once it was measured: `undefined` as long as it is not, `null` if it cannot be.
 * @param steps that a run has at most
 */
export function usePilot(
  text: string,
  parameters: readonly number[],
  steps: number,
  isWanted: boolean,
): Pilot | null | undefined {
  const [got, setGot] = useState<{ readonly key: string; readonly pilot: Pilot | undefined }>();
  const files = useAppSelector((state) => state.project.files);
  const key = JSON.stringify([text, parameters, steps, filesOfText(text, files)]);
  useEffect(() => {
    if (!isWanted) return;
    let isCurrent = true;
    const timer = setTimeout(() => {
      let asked = known.get(key);
      const [text, parameters, steps] = JSON.parse(key) as [string, number[], number];
      if (!asked) known.set(key, (asked = measured(text, { parameters, seed: 1, every: 1, steps })));
      void asked.then((pilot) => isCurrent && setGot({ key, pilot }));
    }, SETTLED);
    return () => {
      isCurrent = false;
      clearTimeout(timer);
    };
  }, [key, isWanted]);
  return got?.key === key ? (got.pilot ?? null) : undefined;
}

/** Begins one run in a worker of its own. Nothing is told of a text that cannot run, or whose worker stops. */
function measured(text: string, job: RunJob): Promise<Pilot | undefined> {
  const worker = withFiles(
    new Worker(new URL('../workers/study.worker.ts', import.meta.url), { type: 'module', name: 'pilot' }),
  );
  const send = (request: StudyRequest): void => worker.postMessage(request);
  return new Promise<Pilot | undefined>((resolve) => {
    // A step that does not come to an end tells nothing.
    setTimeout(() => resolve(undefined), PATIENCE);
    worker.onerror = () => resolve(undefined);
    worker.onmessage = ({ data }: MessageEvent<StudyReply>) => {
      if (data.is === 'refused') resolve(undefined);
      if (data.is === 'piloted') resolve(wholeOf(data.run, data.seconds, job.steps ?? data.run.steps));
    };
    send({ is: 'model', text, outcomes: [] });
    send({ is: 'pilot', job, milliseconds: MOST_MILLISECONDS });
  }).finally(() => worker.terminate());
}

/** A whole run, by its beginning. */
function wholeOf({ steps, hasEnded, recorded }: PilotRun, seconds: number, limit: number): Pilot {
  const times = hasEnded ? 1 : limit / Math.max(1, steps);
  return { seconds: seconds * times, recordBytes: 8 * recorded * times, isWhole: hasEnded };
}

/** How long so many runs take here, in words. */
export function pilotWords({ seconds, isWhole }: Pilot, runs: number): string {
  const cores = navigator.hardwareConcurrency || 2;
  const workers = Math.max(1, Math.min(runs, cores > 2 ? cores - 1 : cores));
  const took = (seconds * runs) / workers;
  return `${took < 1 ? '' : 'about '}${shownSeconds(took)} here, measured on ${isWhole ? 'one run' : 'the beginning of one run'}`;
}
