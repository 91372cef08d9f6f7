import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import type { MapFile, ModelFile } from './map-file.ts';
import { MapProblem } from './map-file.ts';

/** Hexadecimal digits that are kept: 128 bits. */
const DIGITS = 32;

/**
 * A name of what a file beside a model holds: two files have the same one only if they hold the same. A map has that of what is drawn and gone along in it, whatever form its file has.
 * @returns 32 hexadecimal digits, of SHA-256
 */
export function fileMark(file: ModelFile): string {
  const hash = sha256.create();
  if (typeof file === 'string') hash.update(utf8ToBytes(file));
  else if (file instanceof MapProblem) hash.update(utf8ToBytes(`no map: ${file.message}`));
  else for (const bytes of mapBytes(file)) hash.update(bytes);
  return bytesToHex(hash.digest()).slice(0, DIGITS);
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
function mapBytes(map: MapFile): Uint8Array[] {
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
  return [
    utf8ToBytes(JSON.stringify(head)),
    ...columns.map(({ buffer, byteOffset, byteLength }) => new Uint8Array(buffer, byteOffset, byteLength)),
  ];
}
