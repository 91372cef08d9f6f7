import { existsSync, realpathSync, statSync } from 'node:fs';
import { dirname, isAbsolute, join, sep } from 'node:path';
import type { Diagnostic, LoadedModel } from '@vole/core';
import { filesWanted, loadModel, treeOf, withSoundRepairs } from '@vole/core';
import { diagnosticText } from './diagnostic-text.ts';
import { readText } from './files.ts';
import { UsageError } from './usage-error.ts';

/** A model as it stands in its file, with the files beside it, checked once. */
export interface ModelFile {
  readonly path: string;
  readonly text: string;
  readonly files: ReadonlyMap<string, string>;
  /** Paths of the model and of all files that it reads. */
  readonly inputs: readonly string[];
  readonly diagnostics: readonly Diagnostic[];
  readonly loaded: LoadedModel | undefined;
}

export function readModel(path: string): ModelFile {
  const text = readText(path);
  const beside = filesBeside(path, text);
  const files = new Map([...beside].map(([name, place]) => [name, readText(place)]));
  const { loaded, diagnostics } = loadModel(text, files);
  return {
    path,
    text,
    files,
    inputs: [path, ...beside.values()],
    diagnostics: withSoundRepairs(text, diagnostics, files),
    loaded,
  };
}

/** Where the files lie that a model mentions; nothing outside its folder is read, also not through a link. */
function filesBeside(path: string, text: string): Map<string, string> {
  const found = new Map<string, string>();
  const folder = realpathSync(dirname(path));
  for (const name of filesWanted(treeOf(text))) {
    const place = join(folder, name);
    if (isAbsolute(name) || !existsSync(place)) continue;
    const real = realpathSync(place);
    if (!real.startsWith(folder.endsWith(sep) ? folder : folder + sep))
      throw new UsageError(
        `“${name}” lies outside the folder of the model, where nothing is read; put the file beside the model`,
      );
    if (!statSync(real).isFile()) throw new UsageError(`“${name}” beside the model is no regular file`);
    found.set(name, real);
  }
  return found;
}

/** Reads a model, or says what is wrong with it; sets exit code 1 and gives nothing if it has errors. */
export function modelOrExplain(path: string): (ModelFile & { readonly loaded: LoadedModel }) | undefined {
  const model = readModel(path);
  for (const diagnostic of model.diagnostics)
    if (diagnostic.severity === 'error') process.stderr.write(diagnosticText(path, model.text, diagnostic));
  if (model.loaded) return { ...model, loaded: model.loaded };
  process.exitCode = 1;
  return undefined;
}
