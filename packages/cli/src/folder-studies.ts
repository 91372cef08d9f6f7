import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import type { Bundle, BundleStudy } from '@vole/core';
import { keptDefinition, loadModel, modelNamedIn, placeOf, readStudy } from '@vole/core';
import { readText } from './files.ts';
import { UsageError } from './usage-error.ts';

/**
 * The studies that lie as texts in a folder and are not in its bundle yet; nothing of them has run.
 * @throws UsageError at the first that cannot be read, so that none is left out unsaid
 */
export function studiesInFolder(folder: string, bundle: Bundle): BundleStudy[] {
  const texts = readdirSync(folder)
    .filter((name) => name.endsWith('.study'))
    .sort()
    .map((name) => ({ path: join(folder, name), text: readText(join(folder, name)) }));
  return texts.flatMap(({ path, text }) =>
    bundle.studies.some(({ wording }) => wording === text)
      ? []
      : [studyOf(path, text, modelOf(folder, path, text, bundle))],
  );
}

/** The text of the model, if it is the one that the study names. */
function modelOf(folder: string, path: string, study: string, { model }: Bundle): string {
  const named = modelNamedIn(study);
  if (named === undefined) return model;
  const place = join(folder, named);
  if (!/[\\/]/.test(named) && existsSync(place) && readText(place) === model) return model;
  throw new UsageError(`${path} is a study of “${named}”, which is not the model of this folder`);
}

function studyOf(path: string, wording: string, text: string): BundleStudy {
  const { loaded } = loadModel(text);
  if (!loaded) throw new UsageError(`${path} cannot be read, as the text of its model has errors; see vole check`);
  const { study, diagnostics } = readStudy(wording, { text, loaded });
  const first = diagnostics.find(({ severity }) => severity === 'error');
  if (!study)
    throw new UsageError(
      first
        ? `${path}, line ${placeOf(wording, first.span.start).line}: ${first.message} Mend it, or take the file out of the folder.`
        : `${path} is no study`,
    );
  return { ...keptDefinition(study, loaded.plan.parameters), wording, digest: '' };
}
