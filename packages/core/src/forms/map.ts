import type { SpaceForm } from './form.ts';
import { plane } from './plane.ts';

/** Lanes on a plane: agents stand on the lanes, distances are straight, and cells, if there are any, are those of the plane. */
export const map: SpaceForm = {
  ...plane,
  words: 'a map',
  isOnLanes: true,
};
