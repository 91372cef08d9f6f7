import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { ENGINE_VERSION, modelNamedIn, textDigest } from '@vole/core';
import { makeFolder } from './files.ts';
import type { ReadModel } from './model-file.ts';
import { StudyFolder } from './study-folder.ts';
import { UsageError } from './usage-error.ts';

/** What the commands for studies and matches have in common: where the model lies, the folder they write to, their threads. */

/** The model that a study is of: the one that it names, or the one of the same name. @throws UsageError if it is not there */
export function modelPathOf(path: string, text: string): string {
  const named = modelNamedIn(text);
  const found = named ? join(dirname(path), named) : path.replace(/(\.[^./\\]*)?$/, '.vole');
  if (existsSync(found) && !(named && /[\\/]/.test(named))) return found;
  throw new UsageError(
    named
      ? `${path} is a study of “${named}”, which is not beside it`
      : `${path} does not say which model it is of, and there is no ${found}; write model "name.vole" into it`,
  );
}

/**
 * The folder of a study, or of a match, which keeps its runs; made if it is not there.
 * @param parts of what makes its runs beside the model
 * @throws UsageError
 */
export function openFolder(
  model: ReadModel,
  parts: readonly string[],
  { out, resume }: { readonly out: string; readonly resume?: boolean },
  last: 'study.json' | 'match.json',
): StudyFolder {
  makeFolder(out);
  const digest = textDigest(
    `${ENGINE_VERSION}\n${model.text}\n${[...model.sources].flat().join('\n')}\n${parts.join('\n')}`,
  );
  return StudyFolder.open(out, digest, { resumes: resume === true, last, keepsRuns: last === 'match.json' });
}

/** Threads as they are asked for. @throws UsageError */
export function workersOf(text: string | undefined): number | undefined {
  if (text === undefined) return undefined;
  if (!/^[1-9]\d{0,2}$/.test(text)) throw new UsageError(`--workers takes a whole number from 1 to 999, not “${text}”`);
  return Number(text);
}
