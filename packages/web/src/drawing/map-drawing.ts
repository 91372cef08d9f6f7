import type { drawBackdrop, drawLanes } from './lanes.ts';
import type { drawSigns } from './map-signs.ts';

/** What draws maps: loaded with the first map that is on show, as most models have none. */
export interface MapDrawing {
  readonly drawBackdrop: typeof drawBackdrop;
  readonly drawLanes: typeof drawLanes;
  readonly drawSigns: typeof drawSigns;
}

export async function loadMapDrawing(): Promise<MapDrawing> {
  const [lanes, signs] = await Promise.all([import('./lanes.ts'), import('./map-signs.ts')]);
  return { drawBackdrop: lanes.drawBackdrop, drawLanes: lanes.drawLanes, drawSigns: signs.drawSigns };
}
