import type { MapFile } from './map-file.ts';
import type { Origin } from './projection.ts';
import { project } from './projection.ts';

/**
 * The lanes of a map: straight pieces between two nodes, which are the junctions and bends of its ways. Plain data in the unit of lengths of the model,
 * x to the right and y up from the lower left corner.
 */
export interface LaneNetwork {
  readonly width: number;
  readonly height: number;
  readonly x: Float64Array;
  readonly y: Float64Array;
  /** Nodes at both ends of a lane. */
  readonly from: Int32Array;
  readonly to: Int32Array;
  readonly length: Float64Array;
  /** Index in `kinds`. */
  readonly kind: Uint16Array;
  readonly kinds: readonly string[];
  /** 1 where it may be gone from its first to its second end only. */
  readonly oneWay: Uint8Array;
  /** Lengths a second; not a number where the map gives none. */
  readonly speed: Float64Array;
  readonly areas: readonly LaneArea[];
  readonly places: readonly LanePlace[];
  /** Where degrees were made metres; absent where the file is in metres. */
  readonly origin?: Origin;
  /** What is added to metres before they become lengths of the model, and what they are multiplied by. */
  readonly shift: readonly [number, number];
  readonly scale: number;
  readonly told: MapTold;
}

interface LaneArea {
  readonly name?: string;
  readonly kind: string;
  /** x and y of its corners in turn. */
  readonly outline: Float64Array;
}

interface LanePlace {
  readonly name: string;
  readonly kind: string;
  readonly x: number;
  readonly y: number;
}

/** What was found in a map file, and what was left out of it. */
export interface MapTold {
  readonly lanes: number;
  /** Metres of all lanes. */
  readonly metres: number;
  readonly oneWay: number;
  readonly withSpeed: number;
  /** Kinds of ways with how many lanes they gave, most first. */
  readonly kinds: readonly (readonly [string, number])[];
  /** Kinds of ways in the file that were not taken. */
  readonly otherKinds: readonly string[];
  /** Parts that hang together with nothing else and were left out, with their lanes and metres. */
  readonly leftOut: { readonly parts: number; readonly lanes: number; readonly metres: number };
  readonly missing: number;
}

/** How the text wants a map read. */
export interface LaneOptions {
  /** Kinds of ways to take; all of those people go on if absent. */
  readonly ways?: readonly string[];
  /** Whether parts are kept that hang together with nothing else. */
  readonly allParts: boolean;
  readonly inMetres: boolean;
  /** Lengths of the model in a metre. */
  readonly scale: number;
}

/** Why no lanes can be made of a map. */
export interface LaneProblem {
  readonly problem: string;
  readonly hint: string;
}

/** Kinds of rails and waters, which are taken only if the text names them: nobody walks on them. */
const NOT_GONE_ON: ReadonlySet<string> = new Set(
  (
    'rail subway tram light_rail narrow_gauge monorail funicular disused abandoned construction proposed platform razed ' +
    'river stream canal ditch drain waterway dam weir riverbank cable_car gondola chair_lift pylon railway'
  ).split(' '),
);

/** Most degrees a map in degrees may reach over; beyond it is no village, and most likely in metres. */
const MOST_DEGREES = 5;
const MOST_LATITUDE = 85;
/** Lanes count as a millimetre long at least, so that no way has steps too small to be told from none. */
const LEAST_LENGTH = 0.001;
/** Metres that a map may reach over. */
const MOST_METRES = 10_000_000;
/** Room around the lanes, as a share of the longer side. */
const ROOM = 0.03;
const MOST_LANES = 2_000_000;

const known = new WeakMap<MapFile, Map<string, LaneNetwork | LaneProblem>>();

/** Lanes of a map; of the same file and options always the same object. */
export function laneNetwork(file: MapFile, options: LaneOptions): LaneNetwork | LaneProblem {
  const key = JSON.stringify(options);
  const made = known.get(file) ?? new Map<string, LaneNetwork | LaneProblem>();
  known.set(file, made);
  const found = made.get(key) ?? buildLanes(file, options);
  made.set(key, found);
  return found;
}

function buildLanes(file: MapFile, options: LaneOptions): LaneNetwork | LaneProblem {
  const taken = takenKinds(file, options);
  if ('problem' in taken) return taken;
  const placed = metresOf(file, options, taken.isTaken);
  if ('problem' in placed) return placed;
  const all = piecesOf(file, placed, taken.isTaken);
  if (all.from.length === 0)
    return { problem: 'The map has no lanes that are longer than nothing.', hint: 'Take another part of it.' };
  if (all.from.length > MOST_LANES)
    return {
      problem: `The map would have ${all.from.length} lanes.`,
      hint: `At most ${MOST_LANES} fit; take a smaller part, or name the ways.`,
    };
  const [widest, tallest] = [placed.x, placed.y].map((values) => {
    const [least, most] = boundsOf(file, values, taken.isTaken);
    return most - least;
  });
  if (!(Math.max(widest!, tallest!) <= MOST_METRES))
    return {
      problem: `The map reaches over ${Math.max(widest!, tallest!).toPrecision(3)} metres.`,
      hint: `At most ${MOST_METRES / 1e6} million fit; something in it lies far off, or is not in metres.`,
    };
  const part = partsOf(file.x.length, all);
  const keeps = (lane: number): boolean => options.allParts || part.of[all.from[lane]!] === part.largest;
  return laid(file, placed, all, keeps, part, taken.otherKinds, options.scale);
}

function takenKinds(
  file: MapFile,
  { ways }: LaneOptions,
): LaneProblem | { isTaken: (way: number) => boolean; otherKinds: readonly string[] } {
  const named = ways && new Set(ways);
  const takes = file.wayKinds.map((kind) => (named ? named.has(kind) : !NOT_GONE_ON.has(kind)));
  const unknown = ways?.find((kind) => !file.wayKinds.includes(kind));
  const listed = file.wayKinds.slice(0, 12).join(', ') || 'none';
  if (unknown !== undefined)
    return { problem: `The map has no ways of the kind “${unknown}”.`, hint: `It has: ${listed}.` };
  if (!takes.includes(true))
    return {
      problem: 'The map has no ways that people go on.',
      hint: `Name those to take: “ways ${file.wayKinds[0] ?? 'path'}”. It has: ${listed}.`,
    };
  return {
    isTaken: (way) => takes[file.wayKind[way]!]!,
    otherKinds: file.wayKinds.filter((_, kind) => !takes[kind]),
  };
}

interface Placed {
  readonly x: Float64Array;
  readonly y: Float64Array;
  readonly origin?: Origin;
}

/** All points in metres. */
function metresOf(file: MapFile, { inMetres }: LaneOptions, isTaken: (way: number) => boolean): Placed | LaneProblem {
  if (inMetres || file.isInMetres) return file;
  const { y } = file;
  // Maps around the line where the date changes are brought to one side of it.
  const [west, east] = boundsOf(file, file.x, isTaken);
  const x = east - west > 180 ? file.x.map((v) => (v < 0 ? v + 360 : v)) : file.x;
  const [left, right] = boundsOf(file, x, isTaken);
  const [bottom, top] = boundsOf(file, y, isTaken);
  if (right - left > MOST_DEGREES || top - bottom > MOST_DEGREES)
    return {
      problem: `The map reaches over ${(right - left).toPrecision(3)} by ${(top - bottom).toPrecision(3)} degrees.`,
      hint: `At most ${MOST_DEGREES} by ${MOST_DEGREES} can be laid flat. If its numbers are metres, say “in metres”.`,
    };
  if (Math.max(Math.abs(bottom), Math.abs(top)) > MOST_LATITUDE)
    return {
      problem: 'The map lies too near to a pole.',
      hint: `Latitudes up to ${MOST_LATITUDE} degrees can be laid flat.`,
    };
  const origin = { longitude: (left + right) / 2, latitude: (bottom + top) / 2 };
  const metres = { x: new Float64Array(x.length), y: new Float64Array(x.length), origin };
  for (let i = 0; i < x.length; i++) [metres.x[i], metres.y[i]] = project(x[i]!, y[i]!, origin);
  return metres;
}

/** Least and greatest value at the points of the ways that are taken. */
function boundsOf(file: MapFile, values: Float64Array, isTaken: (way: number) => boolean): readonly [number, number] {
  let least = Infinity;
  let most = -Infinity;
  for (let way = 0; way < file.wayKind.length; way++) {
    if (!isTaken(way)) continue;
    for (let i = file.wayStart[way]!; i < file.wayStart[way + 1]!; i++) {
      const value = values[file.wayPoints[i]!]!;
      if (value < least) least = value;
      if (value > most) most = value;
    }
  }
  return [least, most];
}

interface Pieces {
  /** Points of the file at both ends. */
  readonly from: number[];
  readonly to: number[];
  readonly length: number[];
  readonly kind: number[];
  readonly oneWay: number[];
  readonly speed: number[];
}

/** The pieces of ways, each pair of points once: the first way that joins them counts, and two one-way ways against each other make one for both. */
function piecesOf(file: MapFile, { x, y }: Placed, isTaken: (way: number) => boolean): Pieces {
  const pieces: Pieces = { from: [], to: [], length: [], kind: [], oneWay: [], speed: [] };
  const seen = new Map<number, number>();
  for (let way = 0; way < file.wayKind.length; way++) {
    if (!isTaken(way)) continue;
    for (let i = file.wayStart[way]! + 1; i < file.wayStart[way + 1]!; i++) {
      const a = file.wayPoints[i - 1]!;
      const b = file.wayPoints[i]!;
      const dx = x[b]! - x[a]!;
      const dy = y[b]! - y[a]!;
      const length = Math.sqrt(dx * dx + dy * dy);
      if (!(length > 0)) continue;
      const key = Math.min(a, b) * x.length + Math.max(a, b);
      const known = seen.get(key);
      if (known !== undefined) {
        if (!file.oneWay[way] || pieces.from[known] !== a) pieces.oneWay[known] = 0;
        continue;
      }
      seen.set(key, pieces.from.length);
      pieces.from.push(a);
      pieces.to.push(b);
      pieces.length.push(length);
      pieces.kind.push(file.wayKind[way]!);
      pieces.oneWay.push(file.oneWay[way]!);
      pieces.speed.push(file.speed[way]!);
    }
  }
  return pieces;
}

interface Parts {
  /** The part in which a point lies. */
  readonly of: Int32Array;
  readonly largest: number;
  readonly count: number;
}

/** What hangs together, whichever way lanes may be gone; the largest part is that of the greatest length, of equals the one that comes first. */
function partsOf(points: number, { from, to, length }: Pieces): Parts {
  const of = Int32Array.from({ length: points }, (_, i) => i);
  const root = (i: number): number => {
    let at = i;
    while (of[at] !== at) at = of[at] = of[of[at]!]!;
    return at;
  };
  from.forEach((a, lane) => {
    const [p, q] = [root(a), root(to[lane]!)];
    of[Math.max(p, q)] = Math.min(p, q);
  });
  const lengths = new Map<number, number>();
  from.forEach((a, lane) => {
    const part = root(a);
    lengths.set(part, (lengths.get(part) ?? 0) + length[lane]!);
  });
  for (let i = 0; i < points; i++) of[i] = root(i);
  let largest = -1;
  for (const [part, sum] of lengths) if (largest < 0 || sum > lengths.get(largest)!) largest = part;
  return { of, largest, count: lengths.size };
}

function laid(
  file: MapFile,
  placed: Placed,
  all: Pieces,
  keeps: (lane: number) => boolean,
  parts: Parts,
  otherKinds: readonly string[],
  scale: number,
): LaneNetwork {
  const kept = all.from.flatMap((_, lane) => (keeps(lane) ? [lane] : []));
  const nodes = new Map<number, number>();
  const nodeOf = (point: number): number => {
    const node = nodes.get(point) ?? nodes.size;
    nodes.set(point, node);
    return node;
  };
  const from = Int32Array.from(kept, (lane) => nodeOf(all.from[lane]!));
  const to = Int32Array.from(kept, (lane) => nodeOf(all.to[lane]!));
  const points = [...nodes.keys()];
  const extent = (values: Float64Array): readonly [number, number] => {
    const [least, most] = points.reduce(
      ([low, high], point) => [Math.min(low, values[point]!), Math.max(high, values[point]!)],
      [Infinity, -Infinity],
    );
    return [least, most];
  };
  const [left, right] = extent(placed.x);
  const [bottom, top] = extent(placed.y);
  const room = Math.max(right - left, top - bottom) * ROOM;
  const shift = [room - left, room - bottom] as const;
  const atX = (point: number): number => (placed.x[point]! + shift[0]) * scale;
  const atY = (point: number): number => (placed.y[point]! + shift[1]) * scale;
  const x = Float64Array.from(points, atX);
  const y = Float64Array.from(points, atY);
  const metres = (lanes: readonly number[]): number => lanes.reduce((sum, lane) => sum + all.length[lane]!, 0);
  const dropped = all.from.flatMap((_, lane) => (keeps(lane) ? [] : [lane]));
  const kindCounts = new Map<string, number>();
  for (const lane of kept) {
    const kind = file.wayKinds[all.kind[lane]!]!;
    kindCounts.set(kind, (kindCounts.get(kind) ?? 0) + 1);
  }
  return {
    width: (right - left + 2 * room) * scale,
    height: (top - bottom + 2 * room) * scale,
    x,
    y,
    from,
    to,
    length: Float64Array.from(from, (a, lane) => {
      const dx = x[to[lane]!]! - x[a]!;
      const dy = y[to[lane]!]! - y[a]!;
      return Math.max(LEAST_LENGTH * scale, Math.sqrt(dx * dx + dy * dy));
    }),
    kind: Uint16Array.from(kept, (lane) => all.kind[lane]!),
    kinds: file.wayKinds,
    oneWay: Uint8Array.from(kept, (lane) => all.oneWay[lane]!),
    speed: Float64Array.from(kept, (lane) => all.speed[lane]! * scale),
    areas: file.areas.map(({ name, kind, outline }) => ({
      name,
      kind,
      outline: Float64Array.from({ length: outline.length * 2 }, (_, i) =>
        i % 2 === 0 ? atX(outline[i >> 1]!) : atY(outline[i >> 1]!),
      ),
    })),
    places: file.places.map(({ name, kind, point }) => ({ name, kind, x: atX(point), y: atY(point) })),
    origin: placed.origin,
    shift,
    scale,
    told: {
      lanes: kept.length,
      metres: metres(kept),
      oneWay: kept.filter((lane) => all.oneWay[lane]).length,
      withSpeed: kept.filter((lane) => all.speed[lane]! > 0).length,
      kinds: [...kindCounts].sort((a, b) => b[1] - a[1]),
      otherKinds,
      leftOut: { parts: dropped.length > 0 ? parts.count - 1 : 0, lanes: dropped.length, metres: metres(dropped) },
      missing: file.missing,
    },
  };
}

/** A place of a file's coordinates on the map. */
export function placeOfCoordinates(network: LaneNetwork, x: number, y: number): readonly [number, number] {
  const { origin, shift, scale } = network;
  const east = origin && x - origin.longitude > 180 ? x - 360 : origin && x - origin.longitude < -180 ? x + 360 : x;
  const [right, up] = origin ? project(east, y, origin) : [x, y];
  return [(right + shift[0]) * scale, (up + shift[1]) * scale];
}
