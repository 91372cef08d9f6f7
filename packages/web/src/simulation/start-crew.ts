import type { Crew } from '@vole/core';
import { helpersFor, HelpingCrew } from '@vole/core/helping';

/** Workers that help this one with large runs, on all cores but the one that it has itself. */
export function startCrew(): Crew {
  return new HelpingCrew(() =>
    Array.from(
      { length: helpersFor(navigator.hardwareConcurrency, 1) },
      () => new Worker(new URL('../workers/helping.worker.ts', import.meta.url), { type: 'module', name: 'helping' }),
    ),
  );
}
