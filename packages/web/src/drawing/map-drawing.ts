/** What draws maps: loaded with the first map that is on show, as most models have none. */

export { drawBackdrop, drawLanes } from './lanes.ts';
export { drawSigns } from './map-signs.ts';

export type MapDrawing = typeof import('./map-drawing.ts');
