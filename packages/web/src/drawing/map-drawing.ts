import type { drawCourses } from './courses.ts';
import type { drawBackdrop, drawLanes } from './lanes.ts';
import type { drawSigns } from './map-signs.ts';
import type { drawRiders } from './rider-signs.ts';

/** What draws maps and who rides: loaded with the first map or vehicle that is on show, as most models have none. */
export interface MapDrawing {
  readonly drawBackdrop: typeof drawBackdrop;
  readonly drawLanes: typeof drawLanes;
  readonly drawCourses: typeof drawCourses;
  readonly drawSigns: typeof drawSigns;
  readonly drawRiders: typeof drawRiders;
}

export async function loadMapDrawing(): Promise<MapDrawing> {
  const [{ drawCourses }, { drawBackdrop, drawLanes }, { drawSigns }, { drawRiders }] = await Promise.all([
    import('./courses.ts'),
    import('./lanes.ts'),
    import('./map-signs.ts'),
    import('./rider-signs.ts'),
  ]);
  return { drawBackdrop, drawLanes, drawCourses, drawSigns, drawRiders };
}
