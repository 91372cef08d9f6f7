/** Endings of files that are maps. */
export const MAP_ENDINGS: readonly string[] = ['.osm', '.geojson'];

/** Whether a file is a map by the end of its name. */
export function isMapName(name: string): boolean {
  return MAP_ENDINGS.some((ending) => name.toLowerCase().endsWith(ending));
}
