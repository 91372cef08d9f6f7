import type { Outcome } from '@vole/core';
import { useEffect, useState } from 'react';
import { interfaceActions } from '../store/interface-slice.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { AskedWorker } from './asked-worker.ts';
import type { FilesBeside } from './beside.ts';
import { filesBeside, withFiles } from './beside.ts';
import type { ReadText, TextRequest } from './text-desk.ts';

/** Texts are read in a worker of their own, each once for all who look at it together. */

/** Texts that views look at together: that of the project, and those of the studies on show. */
const MOST_KEPT = 8;

interface Kept {
  readonly reading: Promise<ReadText>;
  /** Once it is read. */
  read?: ReadText;
}

const reader = new AskedWorker<TextRequest>(
  () => withFiles(new Worker(new URL('../workers/text.worker.ts', import.meta.url), { type: 'module', name: 'text' })),
  'The text could not be read',
);
const kept = new Map<string, Kept>();
/** The files with which those were read that are kept. */
let keptFor: FilesBeside | undefined;

const NONE: readonly Outcome[] = [];

function keyOf(text: string, outcomes: readonly Outcome[]): string {
  return outcomes.length === 0 ? text : JSON.stringify([text, outcomes]);
}

/** What is kept of a text; with other files beside it, nothing. */
function keptOf(key: string): Kept | undefined {
  if (keptFor !== filesBeside()) kept.clear();
  keptFor = filesBeside();
  return kept.get(key);
}

function keep(key: string, entry: Kept): void {
  kept.delete(key);
  kept.set(key, entry);
  if (kept.size > MOST_KEPT) kept.delete(kept.keys().next().value!);
}

/**
 * A text, checked and lowered with the files beside it as they are when it is read. The same text gives the same object while it is in use.
 * @param outcomes what a study asks of its runs beyond the text
 * @throws Error if the worker breaks
 */
export function readText(text: string, outcomes = NONE): Promise<ReadText> {
  const key = keyOf(text, outcomes);
  const known = keptOf(key);
  if (known) {
    keep(key, known);
    return known.reading;
  }
  const entry: Kept = { reading: readAnew({ text, outcomes }) };
  keep(key, entry);
  entry.reading.then(
    (read) => (entry.read = read),
    () => kept.get(key) === entry && kept.delete(key),
  );
  return entry.reading;
}

async function readAnew(request: TextRequest): Promise<ReadText> {
  const files = filesBeside();
  const read = await reader.ask(request).then(
    (answer) => answer as ReadText,
    (error: Error) => {
      throw new Error(`${error.message} It is safe; change it or reload the page to try again.`);
    },
  );
  return files === filesBeside() ? read : readText(request.text, request.outcomes);
}

/** A text that is looked at; nothing until it is read. */
export function useReadText(text: string | undefined, outcomes = NONE): ReadText | undefined {
  const files = useAppSelector((state) => state.project.files);
  const dispatch = useAppDispatch();
  const [found, setFound] = useState<{ readonly key: string; readonly files: object; readonly read: ReadText }>();
  const key = text === undefined ? undefined : keyOf(text, outcomes);
  const known =
    key === undefined
      ? undefined
      : (keptOf(key)?.read ?? (found?.key === key && found.files === files ? found.read : undefined));
  // What was seen once stays, whoever reads other texts meanwhile.
  if (known && key !== undefined && found?.read !== known) setFound({ key, files, read: known });
  const isKnown = known !== undefined;
  useEffect(() => {
    if (key === undefined || isKnown) return;
    let isHere = true;
    readText(text!, outcomes).then(
      (read) => isHere && setFound({ key, files, read }),
      (error: Error) => dispatch(interfaceActions.noticed({ text: error.message, tone: 'problem' })),
    );
    return () => {
      isHere = false;
    };
    // `key` stands for the text and its outcomes.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key, files, isKnown, dispatch]);
  return known;
}
