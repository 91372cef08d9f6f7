import { readFileSync } from 'node:fs';
import type { ModelFile } from '../src/index.ts';
import { modelFiles } from '../src/index.ts';

const MAP = 'hollowmere.osm';

/** The maps beside the examples, read. */
export const EXAMPLE_MAPS: ReadonlyMap<string, ModelFile> = await modelFiles([
  [MAP, readFileSync(new URL(`../../../examples/${MAP}`, import.meta.url), 'utf8')],
]);
