import { SaxesParser } from 'saxes';
import type { MapFile } from './map-file.ts';
import { MapDraft, MapProblem } from './map-file.ts';
import type { Tags } from './tags.ts';
import { areaKind, oneWayOf, speedOf, wayKind } from './tags.ts';

/** Ways of these keys are closed and yet no areas. */
const NEVER_AREA = new Set(['ferry', 'footway', 'path', 'track', 'service', 'residential', 'unclassified', 'tertiary']);
const HINT = 'An OSM file is XML with “node” and “way” elements inside “osm”. Save it again, or take GeoJSON.';
/** Read in pieces, so that the parser need not hold all of it at once. */
const PIECE = 1 << 20;

interface Element {
  readonly is: 'node' | 'way';
  readonly id: string;
  readonly x: number;
  readonly y: number;
  readonly refs: string[];
  readonly tags: Map<string, string>;
}

/**
 * A map from OSM XML: ways with a road, rail, water or ferry are ways, closed ones that are anything else areas, named nodes places. Relations are not read.
 * @throws {MapProblem} where the text is no such XML, is cut off, or names a node twice at two places
 */
export function readOsm(text: string): MapFile {
  const reader = new OsmReader();
  const parser = new SaxesParser();
  parser.on('error', (error) => {
    throw new MapProblem(`This XML cannot be read: ${error.message.replace(/^\d+:\d+: /, '')}`, HINT, parser.line);
  });
  parser.on('opentag', ({ name, attributes }) => reader.open(name, attributes, parser.line));
  parser.on('closetag', ({ name }) => reader.close(name));
  for (let at = 0; at < text.length; at += PIECE) parser.write(text.slice(at, at + PIECE));
  parser.close();
  return reader.finish();
}

class OsmReader {
  private readonly draft = new MapDraft();
  /** Points by the ids of their nodes, and by their coordinates: nodes at one place are one point. */
  private readonly points = new Map<string, number>();
  private readonly pointsAt = new Map<string, number>();
  private readonly places = new Map<string, readonly [number, number]>();
  private readonly ways: Element[] = [];
  private element: Element | undefined;
  private isOsm = false;

  open(name: string, attributes: Readonly<Record<string, string>>, line: number): void {
    if (!this.isOsm) {
      if (name !== 'osm') throw new MapProblem(`This is XML of “${name}”, not of “osm”.`, HINT, line);
      this.isOsm = true;
    }
    if (attributes['action'] === 'delete' || attributes['visible'] === 'false') return;
    if (name === 'node' || name === 'way') this.begin(name, attributes, line);
    else if (name === 'nd') this.element?.refs.push(attributes['ref'] ?? '');
    else if (name === 'tag' && this.element) this.element.tags.set(attributes['k'] ?? '', attributes['v'] ?? '');
    else if (name === 'relation') this.element = undefined;
  }

  private begin(is: 'node' | 'way', attributes: Readonly<Record<string, string>>, line: number): void {
    const { id = '' } = attributes;
    const x = Number(attributes['lon'] ?? NaN);
    const y = Number(attributes['lat'] ?? NaN);
    if (is === 'node' && !Number.isFinite(x + y))
      throw new MapProblem(`Node ${id} has no “lon” and “lat” that are numbers.`, HINT, line);
    this.element = { is, id, x, y, refs: [], tags: new Map() };
    if (is === 'way') return;
    const known = this.places.get(id);
    if (known && (known[0] !== x || known[1] !== y))
      throw new MapProblem(`Node ${id} stands twice in the file, at two places.`, 'Give one of them another id.', line);
    this.places.set(id, [x, y]);
  }

  close(name: string): void {
    const { element } = this;
    if (!element || name !== element.is) return;
    this.element = undefined;
    if (element.is === 'way') {
      this.ways.push(element);
      return;
    }
    const label = element.tags.get('name');
    if (label) this.draft.place(this.pointOf(element.id)!, areaKind(element.tags) ?? kindOfPlace(element.tags), label);
  }

  private pointOf(id: string): number | undefined {
    const known = this.points.get(id);
    if (known !== undefined) return known;
    const place = this.places.get(id);
    if (!place) return undefined;
    const key = `${place[0]} ${place[1]}`;
    const point = this.pointsAt.get(key) ?? this.draft.point(place[0], place[1]);
    this.pointsAt.set(key, point);
    this.points.set(id, point);
    return point;
  }

  /** Ways may stand before their nodes, so they are made at the end; at a node that is not there a way ends, and begins anew. */
  finish(): MapFile {
    for (const { refs, tags } of this.ways) {
      const kind = wayKind(tags);
      const isClosed = refs.length > 3 && refs[0] === refs[refs.length - 1];
      const area = isClosed && isArea(tags, kind) ? areaKind(tags) : undefined;
      if (kind === undefined && area === undefined) continue;
      const pieces = this.pieces(refs);
      if (area !== undefined) this.draft.area(pieces.flat(), area, tags.get('name'));
      else {
        const direction = oneWayOf(tags);
        for (const points of pieces)
          this.draft.way(
            direction < 0 ? points.reverse() : points,
            kind!,
            direction !== 0,
            speedOf(tags.get('maxspeed')),
          );
      }
    }
    return this.draft.finish();
  }

  private pieces(refs: readonly string[]): number[][] {
    const pieces: number[][] = [[]];
    for (const ref of refs) {
      const point = this.pointOf(ref);
      if (point !== undefined) pieces[pieces.length - 1]!.push(point);
      else {
        this.draft.missing++;
        pieces.push([]);
      }
    }
    return pieces;
  }
}

function isArea(tags: Tags, kind: string | undefined): boolean {
  return tags.get('area') === 'yes' || kind === undefined || (!NEVER_AREA.has(kind) && !tags.has('highway'));
}

function kindOfPlace(tags: Tags): string {
  return tags.get('highway') ?? tags.get('railway') ?? 'place';
}
