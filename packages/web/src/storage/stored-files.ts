import type { ModelFile } from '@vole/core';
import { fileFromBytes, MapProblem, mapToBytes, readMap } from '@vole/core';

/** Files beside a model as they are stored. Loaded when there is one: what unpacks them is no part of the first view. */

/** The map or text that is stored, or what is wrong with it. */
export function fileOf(bytes: Uint8Array): ModelFile {
  try {
    return fileFromBytes(bytes);
  } catch (error) {
    if (error instanceof MapProblem) return error;
    throw error;
  }
}

/** A map file as it is stored. @throws MapProblem */
export async function bytesOfMap(text: string): Promise<Uint8Array<ArrayBuffer>> {
  return mapToBytes(await readMap(text));
}
