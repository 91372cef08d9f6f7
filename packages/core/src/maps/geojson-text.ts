import { METRES_PER_SECOND } from './geojson.ts';
import type { MapFile } from './map-file.ts';

/** Most features in one piece of text, so that long maps are no single string while they are put together. */
const A_PIECE = 5000;

/**
 * A map as GeoJSON that is read as the same map: lines with their kind, direction and speed, polygons and points with name and kind. What is in metres is no GeoJSON to the
 * letter, whose coordinates are degrees, but is read again all the same.
 */
export function mapAsGeoJson(file: MapFile): string {
  const place = (point: number): readonly [number, number] => [file.x[point]!, file.y[point]!];
  const features = function* (): Generator<object> {
    for (let way = 0; way < file.wayKind.length; way++) {
      const points = file.wayPoints.subarray(file.wayStart[way], file.wayStart[way + 1]);
      const speed = file.speed[way]!;
      yield feature('LineString', Array.from(points, place), {
        kind: file.wayKinds[file.wayKind[way]!],
        ...(file.oneWay[way] ? { oneway: 'yes' } : {}),
        ...(speed > 0 ? { [METRES_PER_SECOND]: speed } : {}),
      });
    }
    for (const { name, kind, outline } of file.areas) {
      const ring = Array.from(outline, place);
      yield feature('Polygon', [[...ring, ring[0]!]], { kind, name });
    }
    for (const { name, kind, point } of file.places) yield feature('Point', place(point), { kind, name });
  };
  const pieces: string[] = [];
  let piece: string[] = [];
  for (const each of features()) {
    piece.push(JSON.stringify(each));
    if (piece.length < A_PIECE) continue;
    pieces.push(piece.join(',\n'));
    piece = [];
  }
  if (piece.length > 0) pieces.push(piece.join(',\n'));
  return `{"type":"FeatureCollection","features":[\n${pieces.join(',\n')}\n]}\n`;
}

function feature(type: string, coordinates: unknown, properties: object): object {
  return { type: 'Feature', properties, geometry: { type, coordinates } };
}
