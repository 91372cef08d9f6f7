import type { MapFile } from './map-file.ts';
import { MapDraft, MapProblem } from './map-file.ts';
import type { Tags } from './tags.ts';
import { areaKind, oneWayOf, speedOf, wayKind } from './tags.ts';

type Json = null | boolean | number | string | readonly Json[] | { readonly [key: string]: Json };

/** Properties that name the kind of a line, if those of open maps do not. */
const KIND_KEYS = ['kind', 'type', 'class'];
/** The property of a speed to the last digit. */
export const METRES_PER_SECOND = 'metres per second';
const MOST_DEPTH = 50;

const HINT = 'A GeoJSON file is a FeatureCollection whose features have a geometry of LineStrings, Polygons or Points.';

/**
 * A map from GeoJSON (RFC 7946): lines are ways, polygons areas, named points places. Lines meet where they share a point.
 * @throws {MapProblem} where the text is no GeoJSON
 */
export function readGeoJson(text: string): MapFile {
  const reader = new GeoJsonReader();
  reader.read(parsed(text), new Map(), 0);
  return reader.draft.finish();
}

function parsed(text: string): Json {
  try {
    return JSON.parse(text) as Json;
  } catch (error) {
    const at = Number(/position (\d+)/.exec(String(error))?.[1] ?? text.length);
    const line = text.slice(0, at).split('\n').length;
    throw new MapProblem(`This is no JSON, or it is cut off: it cannot be read from line ${line} on.`, HINT, line);
  }
}

class GeoJsonReader {
  readonly draft = new MapDraft();
  private readonly points = new Map<string, number>();

  read(value: Json | undefined, tags: Tags, depth: number): void {
    if (value === null || value === undefined) return;
    if (depth > MOST_DEPTH || typeof value !== 'object' || Array.isArray(value) || !isRecord(value))
      throw new MapProblem('This is JSON, but no GeoJSON.', HINT);
    switch (value['type']) {
      case 'FeatureCollection':
        return list(value['features'], 'features').forEach((feature) => this.read(feature, tags, depth + 1));
      case 'Feature':
        return this.read(value['geometry'], tagsOf(value['properties']), depth + 1);
      case 'GeometryCollection':
        return list(value['geometries'], 'geometries').forEach((part) => this.read(part, tags, depth + 1));
      case 'LineString':
        return this.line(value['coordinates'], tags);
      case 'MultiLineString':
        return list(value['coordinates'], 'coordinates').forEach((line) => this.line(line, tags));
      case 'Polygon':
        return this.polygon(value['coordinates'], tags);
      case 'MultiPolygon':
        return list(value['coordinates'], 'coordinates').forEach((polygon) => this.polygon(polygon, tags));
      case 'Point':
        return this.place(value['coordinates'], tags);
      case 'MultiPoint':
        return list(value['coordinates'], 'coordinates').forEach((point) => this.place(point, tags));
      default:
        throw new MapProblem(
          `This is JSON, but no GeoJSON: its type is ${JSON.stringify(value['type'] ?? null)}.`,
          HINT,
        );
    }
  }

  private line(coordinates: Json | undefined, tags: Tags): void {
    const points = list(coordinates, 'coordinates').map((place) => this.point(place));
    const kind = wayKind(tags) ?? KIND_KEYS.map((key) => tags.get(key)).find((value) => value) ?? 'lane';
    const direction = oneWayOf(tags);
    this.draft.way(direction < 0 ? points.reverse() : points, kind, direction !== 0, this.speed(tags));
  }

  /** As open maps write it, or to the last digit as `mapAsGeoJson` does. */
  private speed(tags: Tags): number | undefined {
    const exact = Number(tags.get(METRES_PER_SECOND) ?? NaN);
    return exact > 0 ? exact : speedOf(tags.get('maxspeed') ?? tags.get('speed'));
  }

  /** Only the outer ring: holes stay part of the area. */
  private polygon(coordinates: Json | undefined, tags: Tags): void {
    const [outer] = list(coordinates, 'coordinates');
    const kind = areaKind(tags) ?? KIND_KEYS.map((key) => tags.get(key)).find((value) => value) ?? 'area';
    const points = list(outer, 'coordinates').map((place) => this.point(place));
    this.draft.area(points, kind, tags.get('name'));
  }

  private place(coordinates: Json | undefined, tags: Tags): void {
    const name = tags.get('name');
    if (name) this.draft.place(this.point(coordinates), areaKind(tags) ?? tags.get('kind') ?? 'place', name);
  }

  private point(value: Json | undefined): number {
    const [x, y] = list(value, 'coordinates');
    if (typeof x !== 'number' || typeof y !== 'number' || !Number.isFinite(x + y))
      throw new MapProblem(
        `A place has the coordinates ${JSON.stringify(value)}.`,
        'A place is two numbers: [8.5, 47.2].',
      );
    const key = `${x} ${y}`;
    const known = this.points.get(key) ?? this.draft.point(x, y);
    this.points.set(key, known);
    return known;
  }
}

function isRecord(value: object): value is { readonly [key: string]: Json } {
  return !Array.isArray(value);
}

function list(value: Json | undefined, what: string): readonly Json[] {
  if (Array.isArray(value)) return value as readonly Json[];
  throw new MapProblem(`The ${what} of a part are ${JSON.stringify(value ?? null)?.slice(0, 40)}, not a list.`, HINT);
}

function tagsOf(properties: Json | undefined): Tags {
  const tags = new Map<string, string>();
  if (properties !== null && typeof properties === 'object' && isRecord(properties))
    for (const [key, value] of Object.entries(properties))
      if (typeof value === 'string') tags.set(key, value);
      else if (typeof value === 'number') tags.set(key, String(value));
      else if (value === true) tags.set(key, 'yes');
  return tags;
}
