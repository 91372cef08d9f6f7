import { existsSync, realpathSync, statSync } from 'node:fs';
import { dirname, isAbsolute, join, sep } from 'node:path';
import type { Diagnostic, LoadedModel, ModelFile } from '@vole/core';
import { filesWanted, findingsInStudies, loadModel, modelFiles, treeOf, withSoundRepairs } from '@vole/core';
import { diagnosticText } from './diagnostic-text.ts';
import { readText } from './files.ts';
import { UsageError } from './usage-error.ts';

/** A model as it stands in its file, with the files beside it, checked once. */
export interface ReadModel {
  readonly path: string;
  readonly text: string;
  /** The files beside it, maps among them read. */
  readonly files: ReadonlyMap<string, ModelFile>;
  /** The same as they stand in their files. */
  readonly sources: ReadonlyMap<string, string>;
  /** Paths of the model and of all files that it reads. */
  readonly inputs: readonly string[];
  readonly diagnostics: readonly Diagnostic[];
  readonly loaded: LoadedModel | undefined;
}

export async function readModel(path: string): Promise<ReadModel> {
  const text = readText(path);
  const beside = filesBeside(path, text);
  const sources = new Map([...beside].map(([name, place]) => [name, readText(place)]));
  const files = await modelFiles(sources);
  const { loaded, diagnostics } = loadModel(text, files);
  return {
    path,
    text,
    files,
    sources,
    inputs: [path, ...beside.values()],
    diagnostics: withSoundRepairs(text, diagnostics, files),
    loaded,
  };
}

/** What is wrong with the scenarios and studies that stand in the text of a model that is right. */
export function studyFindings({ text, files, loaded }: ReadModel): Diagnostic[] {
  return loaded ? findingsInStudies({ text, files, loaded }, loaded.checked.tree) : [];
}

/** Where the files lie that a model mentions; nothing outside its folder is read, also not through a link. */
export function filesBeside(path: string, text: string): Map<string, string> {
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
export async function modelOrExplain(
  path: string,
): Promise<(ReadModel & { readonly loaded: LoadedModel }) | undefined> {
  const model = await readModel(path);
  for (const diagnostic of model.diagnostics)
    if (diagnostic.severity === 'error') process.stderr.write(diagnosticText(path, model.text, diagnostic));
  if (model.loaded) return { ...model, loaded: model.loaded };
  process.exitCode = 1;
  return undefined;
}
