import { readFileSync } from 'node:fs';
import type { LoadResult } from '@vole/core';
import { loadModel } from '@vole/core';
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

/** Loads a model or says what is wrong with it; sets exit code 1 and gives nothing if it has errors. */
export function loadOrExplain(path: string): LoadResult['loaded'] {
  const text = readText(path);
  const { loaded, diagnostics } = loadModel(text);
  const errors = diagnostics.filter((d) => d.severity === 'error');
  for (const diagnostic of errors) process.stderr.write(diagnosticText(path, text, diagnostic));
  if (!loaded) process.exitCode = 1;
  return loaded;
}
