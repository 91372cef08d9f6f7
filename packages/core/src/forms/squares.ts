import { wayAlong } from './edges.ts';
import type { CellStep, Space } from './form.ts';

/** Square cells, as grids have them and planes may. */

export const FOUR: readonly CellStep[] = [
  [-1, 0],
  [1, 0],
  [0, -1],
  [0, 1],
];
export const EIGHT: readonly CellStep[] = [...FOUR, [-1, -1], [1, -1], [-1, 1], [1, 1]];

export function isNextSquare(ax: number, ay: number, bx: number, by: number, space: Space): boolean {
  const wraps = space.edge === 'wrapping';
  const dx = Math.abs(wayAlong(ax, bx, space.width, wraps));
  const dy = Math.abs(wayAlong(ay, by, space.height, wraps));
  return space.neighbours === 4 ? dx + dy === 1 : (dx > dy ? dx : dy) === 1;
}
