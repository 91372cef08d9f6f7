import { cosDegrees, sinDegrees } from '../math.ts';
import { wayAlong } from './edges.ts';
import type { CellStep, Space, SpaceForm } from './form.ts';

/** Square cells, as grids have them and planes may. */

export const FOUR: readonly CellStep[] = [
  [-1, 0],
  [1, 0],
  [0, -1],
  [0, 1],
];
export const EIGHT: readonly CellStep[] = [...FOUR, [-1, -1], [1, -1], [-1, 1], [1, 1]];

function isNextSquare(ax: number, ay: number, bx: number, by: number, space: Space): boolean {
  const wraps = space.edge === 'wrapping';
  const dx = Math.abs(wayAlong(ax, bx, space.width, wraps));
  const dy = Math.abs(wayAlong(ay, by, space.height, wraps));
  return space.neighbours === 4 ? dx + dy === 1 : (dx > dy ? dx : dy) === 1;
}

/** What planes and grids share: the way between two places is the difference of their coordinates, and cells are squares. */
export const STRAIGHT = {
  isStraight: true,
  isOnLanes: false,
  rowHeight: 1,
  oddShift: 0,
  wayX: (ax, _ay, bx, _by, space) => wayAlong(ax, bx, space.width, space.edge === 'wrapping'),
  wayY: (ay, by, space) => wayAlong(ay, by, space.height, space.edge === 'wrapping'),
  along: (axis, x, y, distance, direction) =>
    axis === 'x' ? x + distance * sinDegrees(direction) : y + distance * cosDegrees(direction),
  isNextTo: isNextSquare,
  blockOf: (sides) => ({ aside: Math.floor(sides), up: Math.floor(sides) }),
  rowsApart: 1,
  stripe: (distance) => distance + 1,
} as const satisfies Partial<SpaceForm>;
