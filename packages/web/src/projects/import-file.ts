import type { BundleStudy } from '@vole/core';
import {
  BlockError,
  BundleError,
  decodeBlock,
  isMapName,
  MapProblem,
  loadModel,
  matchOfMapping,
  MAX_TEXT_LENGTH,
  readBundle,
  textDigest,
} from '@vole/core';
import { runsOfStudy, tooLarge } from '../studies/study-design.ts';
import { newId, repository } from '../storage/repository.ts';
import type { BlockRow, ProjectRow, StudyRow } from '../storage/schema.ts';
import { StudySchema } from '../storage/schema.ts';
import type { StoredFile } from '../storage/stored-files.ts';
import { storedMap, storedText } from '../storage/stored-files.ts';

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
  const files = await storedFiles(bundle.files);
  const project = await repository.addProject(bundle.project.name, bundle.model, bundle.project.notes);
  for (const file of files) await repository.keepFile(project.id, file);
  for (const { name, csv, mapping } of bundle.observed)
    await repository.keepObserved({ projectId: project.id, name, csv }, mapping && matchOfMapping(name, mapping));
  if (bundle.project.match) await repository.keepMatchDraft(project.id, bundle.project.match);
  const now = Date.now();
  const leftOut: string[] = [];
  const drawn: Record<string, string[]> = {};
  for (const [i, study] of bundle.studies.entries()) {
    const { row, blocks } = studyOf(study, project, now + i);
    await repository.keepStudy(row, blocks);
    if (study.isLeftOut) leftOut.push(row.id);
    if (study.drawn) drawn[row.id] = study.drawn;
  }
  if (bundle.studies.some((study) => study.isLeftOut ?? study.drawn))
    await repository.keepReport(project.id, { leftOut, drawn });
  return project;
}

/** The maps and tables of a bundle as they are stored. */
async function storedFiles(files: Readonly<Record<string, string>>): Promise<StoredFile[]> {
  const stored: StoredFile[] = [];
  for (const [name, text] of Object.entries(files)) {
    if (!isMapName(name)) {
      stored.push(storedText(name, text));
      continue;
    }
    try {
      stored.push(await storedMap(name, text));
    } catch (error) {
      if (!(error instanceof MapProblem)) throw error;
      throw new BundleError(`The map “${name}” of this bundle cannot be read. ${error.message} Nothing was changed.`);
    }
  }
  return stored;
}

/** A study of a bundle as it is stored, with its runs if they came along and are of the text that it names. */
function studyOf(
  { digest, text: own, block, isDone, ...study }: BundleStudy,
  { id: projectId, text: current }: ProjectRow,
  createdAt: number,
): { readonly row: StudyRow; readonly blocks: BlockRow[] } {
  const id = newId();
  const text = own ?? current;
  const isReceived = block !== undefined && isOfText(block, text);
  return {
    row: StudySchema.parse({
      ...study,
      id,
      projectId,
      text,
      createdAt,
      status: isReceived && isDone ? 'done' : 'stopped',
      expectedDigest: digest,
      ...(isReceived ? { isReceived } : {}),
    }),
    blocks: isReceived ? [{ id: newId(), studyId: id, bytes: block.buffer }] : [],
  };
}

/** Whether a block can be read and its runs are of a text. */
function isOfText(block: Uint8Array<ArrayBuffer>, text: string): boolean {
  try {
    return decodeBlock(block.buffer).model === textDigest(text);
  } catch (error) {
    if (error instanceof BlockError) return false;
    throw error;
  }
}
