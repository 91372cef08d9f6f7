import { readGeoJson } from '../maps/geojson.ts';
import type { LaneNetwork } from '../maps/lane-network.ts';
import { laneNetwork } from '../maps/lane-network.ts';
import type { MapFile } from '../maps/map-file.ts';
import { MapProblem } from '../maps/map-file.ts';
import type { SpaceSymbol } from './checked.ts';
import type { Environment } from './environment.ts';
import * as say from './meaning-messages.ts';
import type * as Ast from './syntax.ts';
import { unitOf } from './units.ts';

/** Maps that stand in texts, by these; few, as each edit of one makes another. */
const read = new Map<string, MapFile | MapProblem>();
const MOST_READ = 4;

const METRE = unitOf('m')!;

/** The lanes of a space from a map; undefined where its file is not there or cannot be read, which is reported. */
export function lanesOfPart({ env, map }: { env: Environment; map: Ast.MapSource }): LaneNetwork | undefined {
  const file = mapOf(env, map.file);
  if (!file) return undefined;
  const found = laneNetwork(file, {
    ways: map.ways?.map((way) => way.text),
    allParts: map.allParts,
    inMetres: map.inMetres,
    scale: METRE.size / (env.scales.length ?? METRE).size,
  });
  if (!('problem' in found)) return found;
  env.report(say.badMap(map.file.span, map.file.name, found.problem, found.hint));
  return undefined;
}

function mapOf(env: Environment, { name, span }: Ast.FileName): MapFile | undefined {
  const file = env.files.get(name);
  if (file === undefined) {
    env.report(say.missingMap(span, name, [...env.files.keys()]));
    return undefined;
  }
  const found = typeof file === 'string' ? readText(file) : file;
  if (!(found instanceof MapProblem)) return found;
  env.report(say.badMap(span, name, found.message, found.hint, found.line));
  return undefined;
}

function readText(text: string): MapFile | MapProblem {
  const known = read.get(text);
  if (known) return known;
  let found: MapFile | MapProblem;
  try {
    found = readGeoJson(text);
  } catch (error) {
    if (!(error instanceof MapProblem)) throw error;
    found = /^\s*</.test(text)
      ? new MapProblem('An OSM file cannot stand in the text.', 'Keep it as a file beside the model, or take GeoJSON.')
      : error;
  }
  if (read.size >= MOST_READ) read.clear();
  read.set(text, found);
  return found;
}

/** The place of a name on a map; undefined where there is none, which is reported. */
export function placeNamed(
  env: Environment,
  { name, span }: Ast.FileName,
  { lanes }: SpaceSymbol,
): { readonly x: number; readonly y: number } | undefined {
  if (!lanes) return undefined;
  const key = name.toLowerCase();
  const place = lanes.places.find((known) => known.name.toLowerCase() === key);
  if (place) return place;
  const names = [...new Set(lanes.places.map((known) => known.name))];
  env.report(say.unknownOfMap(span, 'place', name, names, env.near(name, names)));
  return undefined;
}

/** Reports kinds of ways to keep to that the map does not have. */
export function checkWays(env: Environment, { ways }: Ast.WayChoice, { lanes }: SpaceSymbol): void {
  if (!lanes) return;
  const kinds = lanes.told.kinds.map(([kind]) => kind);
  for (const { text, span } of ways ?? [])
    if (!kinds.includes(text)) env.report(say.unknownOfMap(span, 'kind of ways', text, kinds, env.near(text, kinds)));
}

/** Outlines of the areas that a shape names; none where there are none, which is reported. */
export function areasNamed(
  env: Environment,
  shape: Extract<Ast.Shape, { is: 'area named' | 'areas of' }>,
  { lanes }: SpaceSymbol,
): readonly Float64Array[] {
  if (!lanes) return [];
  const isNamed = shape.is === 'area named';
  const wanted = isNamed ? shape.name.name : shape.kind.text;
  const of = (area: LaneNetwork['areas'][number]): string => (isNamed ? (area.name ?? '') : area.kind);
  const found = lanes.areas.filter((area) => of(area).toLowerCase() === wanted.toLowerCase());
  if (found.length > 0) return found.map(({ outline }) => outline);
  const names = [...new Set(lanes.areas.map(of))].filter((known) => known !== '');
  const span = isNamed ? shape.name.span : shape.kind.span;
  env.report(
    say.unknownOfMap(
      span,
      isNamed ? 'area' : 'kind of areas',
      wanted,
      names,
      isNamed ? undefined : env.near(wanted, names),
    ),
  );
  return [];
}
