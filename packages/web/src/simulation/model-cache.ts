import type { LoadResult } from '@vole/core';
import { loadModel } from '@vole/core';

/** Texts that views look at together: that of the project, and those of the studies on show. */
const MOST_KEPT = 6;
const kept = new Map<string, LoadResult>();

/** A text, checked and lowered. The same text gives the same object while it is in use, so that nothing is compiled twice. */
export function loadedModel(text: string): LoadResult {
  const known = kept.get(text);
  if (known) kept.delete(text);
  const result = known ?? loadModel(text);
  kept.set(text, result);
  if (kept.size > MOST_KEPT) kept.delete(kept.keys().next().value!);
  return result;
}
