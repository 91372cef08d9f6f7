/** What the tags of open maps say of ways and areas. Source of the keys: the open map's own documentation of its tags. */

export type Tags = ReadonlyMap<string, string>;

/** Keys whose ways people go on, in the order in which they give a way its kind. */
const WAY_KEYS = ['highway', 'railway', 'waterway', 'aerialway'];
/** Keys that make a closed way an area, and those whose value is its kind. */
const AREA_KEYS = ['building', 'natural', 'water', 'landuse', 'leisure', 'amenity', 'place'];
const PLAIN_VALUES = new Set(['yes', 'true', '1']);

/** The kind of a way: that of its road, rail or water, `ferry` for the way of one; undefined if it is none. */
export function wayKind(tags: Tags): string | undefined {
  if (tags.get('route') === 'ferry') return 'ferry';
  for (const key of WAY_KEYS) {
    const value = tags.get(key);
    if (value !== undefined && value !== 'no') return PLAIN_VALUES.has(value) ? key : value;
  }
  return undefined;
}

/** The kind of an area: `building`, or what it is (`water`, `park`); undefined if it is none. */
export function areaKind(tags: Tags): string | undefined {
  for (const key of AREA_KEYS) {
    const value = tags.get(key);
    if (value === undefined || value === 'no') continue;
    return key === 'building' || PLAIN_VALUES.has(value) ? key : value;
  }
  return undefined;
}

/** Which way a way may be gone: 1 and -1 for one only, 0 for both. */
export function oneWayOf(tags: Tags): 1 | 0 | -1 {
  const value = tags.get('oneway');
  if (value === '-1' || value === 'reverse') return -1;
  if (value !== undefined) return PLAIN_VALUES.has(value) ? 1 : 0;
  return tags.get('junction') === 'roundabout' ? 1 : 0;
}

const METRES_A_SECOND = { 'km/h': 1 / 3.6, kmh: 1 / 3.6, mph: 0.44704, knots: 0.514444 } as const;

/** A speed as maps write it, `30`, `20 mph`, `walk`, in metres a second; undefined where it is none. */
export function speedOf(value: string | undefined): number | undefined {
  if (value === undefined) return undefined;
  if (value === 'walk') return 5 / 3.6;
  const found = /^(\d+(?:\.\d+)?)\s*(km\/h|kmh|mph|knots)?$/.exec(value.trim());
  if (!found || Number(found[1]) === 0) return undefined;
  return Number(found[1]) * METRES_A_SECOND[(found[2] ?? 'km/h') as keyof typeof METRES_A_SECOND];
}
