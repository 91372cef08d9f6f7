import type { LoadResult } from '@vole/core';
import { loadModel } from '@vole/core';
import { filesBeside } from './beside.ts';

/** A text, checked and lowered with the files beside it. */
export function loadText(text: string): LoadResult {
  return loadModel(text, filesBeside());
}
