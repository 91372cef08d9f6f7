import type { MapFile } from '@vole/core';
import { mapFromBytes, MapProblem, mapToBytes, readMap } from '@vole/core';

/** Maps as they are stored. Loaded when there is one: what unpacks them is no part of the first view. */

/** The map that is stored, or what is wrong with it. */
export function mapOf(bytes: Uint8Array): MapFile | MapProblem {
  try {
    return mapFromBytes(bytes);
  } catch (error) {
    if (error instanceof MapProblem) return error;
    throw error;
  }
}

/** A map file as it is stored. @throws MapProblem */
export async function bytesOfMap(text: string): Promise<Uint8Array<ArrayBuffer>> {
  return mapToBytes(await readMap(text));
}
