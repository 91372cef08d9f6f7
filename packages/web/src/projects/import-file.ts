import { BundleError, loadModel, MAX_TEXT_LENGTH, readBundle } from '@vole/core';
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
    throw new BundleError(`“${fileName}” has ${(bytes.length / 1e6).toFixed(1)} MB; a model has at most ${MAX_TEXT_LENGTH / 1e6} million characters. It was not opened and nothing was changed.`);
  }
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    throw new BundleError(`“${fileName}” is not a text in UTF-8, so it is no model. Nothing was changed.`);
  }
  if (text.length > MAX_TEXT_LENGTH) throw new BundleError(`“${fileName}” has ${text.length.toLocaleString('en-GB')} characters; at most ${MAX_TEXT_LENGTH.toLocaleString('en-GB')} are read. Nothing was changed.`);
  const title = loadModel(text).loaded?.plan.title;
  return repository.addProject(title ?? fileName.replace(/\.\w+$/, ''), text);
}

async function importBundle(bytes: Uint8Array): Promise<ProjectRow> {
  const bundle = readBundle(bytes);
  const project = await repository.addProject(bundle.project.name, bundle.model, bundle.project.notes);
  for (const { name, csv, mapping } of bundle.observed) await repository.setObserved({ projectId: project.id, name, csv, mapping });
  for (const { digest, text, ...study } of bundle.studies) {
    const row: StudyRow = { ...study, id: newId(), projectId: project.id, text: text ?? bundle.model, createdAt: Date.now(), status: 'stopped', expectedDigest: digest };
    await repository.addStudy(row);
  }
  return project;
}
