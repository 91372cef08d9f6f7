import { utf8ToBytes } from '@noble/hashes/utils.js';
import { bytesDigest, textDigest } from '../digest.ts';
import type { MapFile, ModelFile } from './map-file.ts';
import { MapProblem } from './map-file.ts';

/**
 * A name of what a file beside a model holds: two files have the same one only if they hold the same. A map has that of what is drawn and gone along in it, whatever form its file has.
 * @returns 32 hexadecimal digits, of SHA-256
 */
export function fileMark(file: ModelFile): string {
  if (typeof file === 'string') return textDigest(file);
  return file instanceof MapProblem ? textDigest(`no map: ${file.message}`) : bytesDigest(mapArrays(file));
}

/** Marks of files beside a model by name. */
export type FileMarks = Readonly<Record<string, string>>;

/** The marks of some files. */
export function fileMarks(files: ReadonlyMap<string, ModelFile>): FileMarks {
  return Object.fromEntries([...files].map(([name, file]) => [name, fileMark(file)]));
}

/** Names of the files that are others now, or gone, than those that something ran with. */
export function otherFiles({ files = {} }: { readonly files?: FileMarks | undefined }, now: FileMarks): string[] {
  return Object.keys(files).filter((name) => !Object.hasOwn(now, name) || now[name] !== files[name]);
}

/** “a.osm”, “b.csv” */
export function quotedNames(names: readonly string[]): string {
  return names.map((name) => `“${name}”`).join(', ');
}

/** All that a map holds, by where its points lie and not by their numbers. */
function mapArrays(map: MapFile): ArrayBufferView[] {
  const { wayKinds, wayKind, wayStart, oneWay, areas, places } = map;
  const head = {
    isInMetres: map.isInMetres,
    ways: Array.from(wayKind, (kind, way) => [wayKinds[kind], wayStart[way + 1]! - wayStart[way]!, oneWay[way]]),
    areas: areas.map(({ name = '', kind, outline }) => [name, kind, outline.length]),
    places: places.map(({ name, kind }) => [name, kind]),
  };
  const points = [map.wayPoints, ...areas.map(({ outline }) => outline), places.map(({ point }) => point)];
  const columns = [
    map.speed,
    ...points.flatMap((of) => [map.x, map.y].map((along) => Float64Array.from(of, (p) => along[p]!))),
  ];
  return [utf8ToBytes(JSON.stringify(head)), ...columns];
}
