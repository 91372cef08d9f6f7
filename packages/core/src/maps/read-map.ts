import { readGeoJson } from './geojson.ts';
import type { MapFile, ModelFile } from './map-file.ts';
import { MapProblem } from './map-file.ts';
import { isMapName } from './map-name.ts';

/** Files beside a model as it takes them: maps among them are read, or say why they cannot be. @param texts of the files by name */
export async function modelFiles(texts: Iterable<readonly [string, string]>): Promise<Map<string, ModelFile>> {
  const files = new Map<string, ModelFile>();
  for (const [name, text] of texts)
    files.set(
      name,
      isMapName(name)
        ? await readMap(text).catch((error: unknown) => {
            if (error instanceof MapProblem) return error;
            throw error;
          })
        : text,
    );
  return files;
}

/**
 * Reads an open map file, OSM XML or GeoJSON, by what stands in it.
 * @throws {MapProblem} where it is neither, is cut off, or holds no ways
 */
export async function readMap(text: string): Promise<MapFile> {
  const first = /\S/.exec(text)?.[0];
  if (first !== '<' && first !== '{' && first !== '\uFEFF')
    throw new MapProblem(
      first === undefined ? 'The file is empty.' : 'The file is neither XML nor JSON.',
      'A map is OSM XML (.osm) or GeoJSON (.geojson).',
      1,
    );
  const body = text.replace(/^\uFEFF/, '');
  const isXml = /\S/.exec(body)?.[0] === '<';
  const file = isXml ? (await import('./osm.ts')).readOsm(body) : readGeoJson(body);
  if (file.wayKind.length === 0)
    throw new MapProblem(
      'The map has no ways.',
      isXml
        ? 'Lanes come of ways with a tag “highway”, “railway”, “waterway”, or “route” = “ferry”.'
        : 'Lanes come of LineStrings.',
    );
  return file;
}
