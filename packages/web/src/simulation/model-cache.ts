import type { LoadResult } from '@vole/core';
import type { FilesBeside } from './beside.ts';
import { filesBeside } from './beside.ts';
import { loadText } from './load-text.ts';

/** Texts that views look at together: that of the project, and those of the studies on show. */
const MOST_KEPT = 6;
const kept = new Map<string, LoadResult>();
/** The files with which those were read that are kept. */
let keptFor: FilesBeside | undefined;

/** A text, checked and lowered. The same text gives the same object while it is in use, so that nothing is compiled twice. */
export function loadedModel(text: string): LoadResult {
  if (keptFor !== filesBeside()) kept.clear();
  keptFor = filesBeside();
  const known = kept.get(text);
  if (known) kept.delete(text);
  const result = known ?? loadText(text);
  kept.set(text, result);
  if (kept.size > MOST_KEPT) kept.delete(kept.keys().next().value!);
  return result;
}
