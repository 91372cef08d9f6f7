import type { Crew } from '@vole/core';
import { HelpingCrew } from '@vole/core/helping';

/** What more threads would gain is lost in memory that all of them wait for. */
const MOST_HELPERS = 3;

/** Workers that help this one with large runs, on all cores but the one that it has itself. */
export function startCrew(): Crew {
  return new HelpingCrew(() =>
    Array.from(
      { length: Math.min(MOST_HELPERS, navigator.hardwareConcurrency - 1) },
      () => new Worker(new URL('../workers/helping.worker.ts', import.meta.url), { type: 'module', name: 'helping' }),
    ),
  );
}
