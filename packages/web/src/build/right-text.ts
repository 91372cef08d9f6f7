import type { CheckedModel } from '@vole/core';
import { readText } from '../simulation/read-texts.ts';

/** A text without errors, and what it means. */
export interface RightText {
  readonly text: string;
  readonly model: CheckedModel;
}

let last: RightText | undefined;
/** Over when the text that was noted last has been read. */
let reading: Promise<void> = Promise.resolve();
let noted = 0;

/** Takes note of a text in which nothing is wrong. */
export function noteRight(text: string): void {
  const place = ++noted;
  reading = readText(text).then(
    ({ check: { model } }) => {
      if (model && place === noted) last = { text, model };
    },
    // Completion goes on by the text of before; that texts are not read is told by who shows what they mean.
    () => undefined,
  );
}

/** The last text that was noted, and what it means, once it is read. */
export async function lastRight(): Promise<RightText | undefined> {
  await reading;
  return last;
}
