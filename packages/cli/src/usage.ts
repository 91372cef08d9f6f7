import { existsSync, readFileSync } from 'node:fs';
import { dirname, isAbsolute, join, normalize } from 'node:path';
import type { LoadResult } from '@vole/core';
import { filesWanted, loadModel } from '@vole/core';
import { diagnosticText } from './diagnostic-text.ts';

/** A wrong call: said in one line, exit code 2. */
export class UsageError extends Error {}

export function readText(path: string): string {
  try {
    return readFileSync(path, 'utf8');
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code;
    throw new UsageError(code === 'ENOENT' ? `there is no file ${path}` : code === 'EISDIR' ? `${path} is a folder; name a .vole file` : `${path} cannot be read (${code})`);
  }
}

/** The files that a model mentions and that lie beside it; nothing outside its folder is read. */
export function filesBeside(path: string, text: string): Map<string, string> {
  const found = new Map<string, string>();
  for (const name of filesWanted(loadModel(text).check.tree)) {
    const isInside = !isAbsolute(name) && !normalize(name).startsWith('..');
    const place = join(dirname(path), name);
    if (isInside && existsSync(place)) found.set(name, readText(place));
  }
  return found;
}

/** Loads a model or says what is wrong with it; sets exit code 1 and gives nothing if it has errors. */
export function loadOrExplain(path: string): LoadResult['loaded'] {
  const text = readText(path);
  const { loaded, diagnostics } = loadModel(text, filesBeside(path, text));
  const errors = diagnostics.filter((d) => d.severity === 'error');
  for (const diagnostic of errors) process.stderr.write(diagnosticText(path, text, diagnostic));
  if (!loaded) process.exitCode = 1;
  return loaded;
}
