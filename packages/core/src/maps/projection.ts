import { cosDegrees, sinDegrees } from '../math.ts';

/** The ellipsoid WGS 84: half its longer axis in metres, and its flattening. */
const AXIS = 6_378_137;
const FLATTENING = 1 / 298.257223563;
const E2 = FLATTENING * (2 - FLATTENING);
const EP2 = E2 / (1 - E2);
const RADIANS = 0.017453292519943295;

/** Where degrees become metres: the middle of a map. */
export interface Origin {
  readonly longitude: number;
  readonly latitude: number;
}

/** Metres along the meridian from the equator. */
function meridian(latitude: number): number {
  const e4 = E2 * E2;
  const e6 = e4 * E2;
  return (
    AXIS *
    ((1 - E2 / 4 - (3 * e4) / 64 - (5 * e6) / 256) * latitude * RADIANS -
      ((3 * E2) / 8 + (3 * e4) / 32 + (45 * e6) / 1024) * sinDegrees(2 * latitude) +
      ((15 * e4) / 256 + (45 * e6) / 1024) * sinDegrees(4 * latitude) -
      ((35 * e6) / 3072) * sinDegrees(6 * latitude))
  );
}

/**
 * Degrees as metres to the right and up of an origin, by the transverse Mercator projection about its meridian, true to scale there; 25 km aside lengths are
 * 8 millionths too long. Source: J. P. Snyder, Map projections: a working manual (1987), equations 8-9 to 8-15 and 3-21, with a scale of 1.
 */
export function project(longitude: number, latitude: number, origin: Origin): readonly [number, number] {
  const sine = sinDegrees(latitude);
  const cosine = cosDegrees(latitude);
  const tangent = sine / cosine;
  const n = AXIS / Math.sqrt(1 - E2 * sine * sine);
  const t = tangent * tangent;
  const c = EP2 * cosine * cosine;
  const a = (longitude - origin.longitude) * RADIANS * cosine;
  const a2 = a * a;
  const x = n * a * (1 + a2 * ((1 - t + c) / 6 + (a2 * (5 - 18 * t + t * t + 72 * c - 58 * EP2)) / 120));
  const bend =
    n *
    tangent *
    a2 *
    (1 / 2 + a2 * ((5 - t + 9 * c + 4 * c * c) / 24 + (a2 * (61 - 58 * t + t * t + 600 * c - 330 * EP2)) / 720));
  return [x, meridian(latitude) - meridian(origin.latitude) + bend];
}
