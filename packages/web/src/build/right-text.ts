import type { CheckedModel } from '@vole/core';
import { loadedModel } from '../simulation/model-cache.ts';

/** A text without errors, and what it means. */
export interface RightText {
  readonly text: string;
  readonly model: CheckedModel;
}

/** Checked anew at most once a text. */
let lastChecked: { readonly text: string; readonly right: RightText | undefined } = { text: '', right: undefined };

/** A text and what it means or, if it has errors, the last one that had none. */
export function lastRight(text: string): RightText | undefined {
  if (lastChecked.text !== text) {
    const { model } = loadedModel(text).check;
    lastChecked = { text, right: model ? { text, model } : lastChecked.right };
  }
  return lastChecked.right;
}
