import type { ModelFile } from '@vole/core';
import { fileFromBytes, fileMark, MapProblem, mapToBytes, readMap, textToBytes } from '@vole/core';
import type { FileRow } from './schema.ts';

/** Files beside a model as they are stored. Loaded when there is one: what unpacks them is no part of the first view. */

/** The map or text that is stored, or what is wrong with it; and its mark. */
export function readStored({ bytes, mark }: StoredFile): { readonly file: ModelFile; readonly mark: string } {
  const file = fileOf(bytes);
  return { file, mark: mark ?? fileMark(file) };
}

function fileOf(bytes: Uint8Array): ModelFile {
  try {
    return fileFromBytes(bytes);
  } catch (error) {
    if (error instanceof MapProblem) return error;
    throw error;
  }
}

/** A file as it is stored, without where. */
export type StoredFile = Omit<FileRow, 'id' | 'projectId'>;

/** A map file as it is stored. @throws MapProblem */
export async function storedMap(name: string, text: string): Promise<StoredFile> {
  const file = await readMap(text);
  return { name, bytes: mapToBytes(file), mark: fileMark(file) };
}

/** A file that is no map as it is stored. */
export function storedText(name: string, text: string): StoredFile {
  return { name, bytes: textToBytes(text), mark: fileMark(text) };
}
