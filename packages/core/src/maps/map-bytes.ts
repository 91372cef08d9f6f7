import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import type { MapFile } from './map-file.ts';
import { MapProblem } from './map-file.ts';

/** Of what is kept; another one is not read. */
const VERSION = 1;

interface Head {
  readonly version: number;
  readonly isInMetres: boolean;
  readonly wayKinds: readonly string[];
  readonly areas: readonly { readonly name?: string; readonly kind: string; readonly corners: number }[];
  readonly places: MapFile['places'];
  readonly missing: number;
}

const ARRAYS = {
  x: Float64Array,
  y: Float64Array,
  wayStart: Int32Array,
  wayPoints: Int32Array,
  wayKind: Uint16Array,
  oneWay: Uint8Array,
  speed: Float64Array,
} as const;

/** A map as compressed bytes, for storage. They hold numbers as this machine does, so they go nowhere else: for that there is `mapAsGeoJson`. */
export function mapToBytes(file: MapFile): Uint8Array<ArrayBuffer> {
  const { isInMetres, wayKinds, areas, places, missing } = file;
  const head: Head = {
    version: VERSION,
    isInMetres,
    wayKinds,
    areas: areas.map(({ name, kind, outline }) => ({ name, kind, corners: outline.length })),
    places,
    missing,
  };
  const bytesOf = ({ buffer, byteOffset, byteLength }: ArrayBufferView): Uint8Array =>
    new Uint8Array(buffer, byteOffset, byteLength);
  const outlines = new Int32Array(areas.reduce((sum, { outline }) => sum + outline.length, 0));
  let at = 0;
  for (const { outline } of areas) {
    outlines.set(outline, at);
    at += outline.length;
  }
  const arrays = Object.keys(ARRAYS).map((name) => [name, bytesOf(file[name as keyof typeof ARRAYS])] as const);
  return new Uint8Array(
    zipSync(
      { ...Object.fromEntries(arrays), outlines: bytesOf(outlines), 'head.json': strToU8(JSON.stringify(head)) },
      { level: 3 },
    ),
  );
}

/** Name of what is kept of a file that is no map. */
const TEXT = 'text';

/** A text as compressed bytes, for storage beside maps. */
export function textToBytes(text: string): Uint8Array<ArrayBuffer> {
  return new Uint8Array(zipSync({ [TEXT]: strToU8(text) }, { level: 3 }));
}

/**
 * The map or text of the bytes that `mapToBytes` or `textToBytes` gave.
 * @throws {MapProblem} where they are damaged or of another version
 */
export function fileFromBytes(bytes: Uint8Array): MapFile | string {
  try {
    const files = unzipSync(bytes);
    const text = files[TEXT];
    if (text) return strFromU8(text);
    const head = JSON.parse(strFromU8(files['head.json']!)) as Head;
    if (head.version !== VERSION) throw new Error('another version');
    const array = <T>(name: string, kind: { new (buffer: ArrayBuffer): T }): T =>
      new kind(new Uint8Array(files[name]!).buffer);
    const outlines = array('outlines', Int32Array);
    let at = 0;
    const { areas, ...rest } = head;
    return {
      isInMetres: rest.isInMetres,
      wayKinds: rest.wayKinds,
      places: rest.places,
      missing: rest.missing,
      areas: areas.map(({ name, kind, corners }) => ({ name, kind, outline: outlines.slice(at, (at += corners)) })),
      x: array('x', Float64Array),
      y: array('y', Float64Array),
      wayStart: array('wayStart', Int32Array),
      wayPoints: array('wayPoints', Int32Array),
      wayKind: array('wayKind', Uint16Array),
      oneWay: array('oneWay', Uint8Array),
      speed: array('speed', Float64Array),
    };
  } catch {
    throw new MapProblem('What is kept of this file is damaged.', 'Bring the file in again.');
  }
}
