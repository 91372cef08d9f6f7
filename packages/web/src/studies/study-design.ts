import { designOf, runCount } from '@vole/core';
import type { StudyRow } from '../storage/schema.ts';

/** What a page can hold and a reader can look through; more is refused before it starts. */
const MOST_RUNS = 1_000_000;
const MOST_BYTES = 1.5e9;
/** Bookkeeping of a stored run beside its numbers. */
const BYTES_A_RUN = 40;

/** How many runs a study has in all; one that looks for what agrees has so many at most. */
export function runsOfStudy(study: Pick<StudyRow, 'seeds' | 'factors' | 'listed' | 'mostRuns'>): number {
  return study.mostRuns ?? runCount(designOf(study));
}

/** Bytes that the results of so many runs take up. */
export function studyBytes(runs: number, rowsARun: number, numbersARow: number): number {
  return runs * (rowsARun * numbersARow * 8 + BYTES_A_RUN);
}

/** Why a study is too large to start, if it is. */
export function tooLarge(runs: number, bytes: number): string | undefined {
  if (runs > MOST_RUNS)
    return `That are ${runs.toLocaleString('en-GB')} runs; at most ${MOST_RUNS.toLocaleString('en-GB')} go in one study. Take fewer values or seeds.`;
  if (bytes > MOST_BYTES)
    return `Its results would take ${(bytes / 1e9).toFixed(1)} GB; at most ${MOST_BYTES / 1e9} GB go in one study. Keep fewer steps, or take fewer values or seeds.`;
  return undefined;
}
