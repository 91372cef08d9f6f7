import { BundleError, loadModel, matchOfMapping, MAX_TEXT_LENGTH, readBundle } from '@vole/core';
import { runsOfStudy, tooLarge } from '../studies/study-design.ts';
import { newId, repository } from '../storage/repository.ts';
import type { ProjectRow, StudyRow } from '../storage/schema.ts';

/**
 * Adds the project of a bundle, or of a model text. Nothing that is there already is touched.
 * @throws Error that says what is wrong with the file
 */
export async function importFile(file: File): Promise<ProjectRow> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  const isZip = bytes[0] === 0x50 && bytes[1] === 0x4b;
  if (isZip || /\.(zip|voleparade)$/i.test(file.name)) return importBundle(bytes);
  return importText(file.name, bytes);
}

async function importText(fileName: string, bytes: Uint8Array): Promise<ProjectRow> {
  if (bytes.length > 4 * MAX_TEXT_LENGTH) {
    throw new BundleError(
      `“${fileName}” has ${(bytes.length / 1e6).toFixed(1)} MB; a model has at most ${MAX_TEXT_LENGTH / 1e6} million characters. It was not opened and nothing was changed.`,
    );
  }
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    throw new BundleError(
      `“${fileName}” is not a text in UTF-8, so it is no model. If it is one, save it in UTF-8 (most editors offer this under “encoding”). Nothing was changed.`,
    );
  }
  if (text.length > MAX_TEXT_LENGTH)
    throw new BundleError(
      `“${fileName}” has ${text.length.toLocaleString('en-GB')} characters; at most ${MAX_TEXT_LENGTH.toLocaleString('en-GB')} are read. Nothing was changed.`,
    );
  const title = loadModel(text).loaded?.plan.title;
  return repository.addProject(title ?? fileName.replace(/\.\w+$/, ''), text);
}

async function importBundle(bytes: Uint8Array): Promise<ProjectRow> {
  const bundle = readBundle(bytes);
  if (bundle.model.length > MAX_TEXT_LENGTH)
    throw new BundleError(
      `The model in this bundle has ${bundle.model.length.toLocaleString('en-GB')} characters; at most ${MAX_TEXT_LENGTH.toLocaleString('en-GB')} are read. Nothing was changed.`,
    );
  for (const study of bundle.studies) {
    const problem = tooLarge(runsOfStudy(study), 0);
    if (problem)
      throw new BundleError(`The study “${study.name}” of this bundle is too large. ${problem} Nothing was changed.`);
  }
  const project = await repository.addProject(bundle.project.name, bundle.model, bundle.project.notes);
  for (const { name, csv, mapping } of bundle.observed)
    await repository.keepObserved({ projectId: project.id, name, csv }, mapping && matchOfMapping(name, mapping));
  if (bundle.project.match) await repository.keepMatchDraft(project.id, bundle.project.match);
  const now = Date.now();
  for (const [i, { digest, text, ...study }] of bundle.studies.entries()) {
    const row: StudyRow = {
      ...study,
      id: newId(),
      projectId: project.id,
      text: text ?? bundle.model,
      createdAt: now + i,
      status: 'stopped',
      expectedDigest: digest,
    };
    await repository.keepStudy(row);
  }
  return project;
}
