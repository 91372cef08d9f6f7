import { cosDegrees, sinDegrees } from '../math.ts';
import { wayAlong } from './edges.ts';
import type { CellStep, Space, SpaceForm } from './form.ts';
import { gridSizeProblem, OF_CELLS } from './grid.ts';

/** Rows of hexagons lie closer than columns: the height of a triangle of side 1. */
export const HEX_ROW = 0.8660254037844386;

/** Odd rows are shifted half a cell to the right, and all neighbouring centres are 1 apart. */
function hexX(column: number, row: number): number {
  return column + (row - 2 * Math.floor(row / 2)) * 0.5;
}

/** The column, or with `axis` y the row, that lies a distance away in a direction. */
export function hexAlong(axis: 'x' | 'y', x: number, y: number, distance: number, direction: number): number {
  const row = y + (distance * cosDegrees(direction)) / HEX_ROW;
  if (axis === 'y') return row;
  const nearest = Math.floor(row + 0.5);
  return hexX(x, y) + distance * sinDegrees(direction) - (nearest - 2 * Math.floor(nearest / 2)) * 0.5;
}

/** Of even and of odd rows. */
const SIX: readonly (readonly CellStep[])[] = [
  [
    [-1, 0],
    [1, 0],
    [-1, 1],
    [0, 1],
    [-1, -1],
    [0, -1],
  ],
  [
    [-1, 0],
    [1, 0],
    [0, 1],
    [1, 1],
    [0, -1],
    [1, -1],
  ],
];

function wayX(ax: number, ay: number, bx: number, by: number, space: Space): number {
  return wayAlong(hexX(ax, ay), hexX(bx, by), space.width, space.edge === 'wrapping');
}

function wayY(ay: number, by: number, space: Space): number {
  return wayAlong(ay, by, space.height, space.edge === 'wrapping') * HEX_ROW;
}

/** Whether the rows of a grid that wraps fit together: every other one is shifted. */
export function areRowsOdd({ edge, height }: Pick<Space, 'edge' | 'height'>): boolean {
  return edge === 'wrapping' && height % 2 !== 0;
}

/** Six-sided cells with 6 neighbours. */
export const hexagons: SpaceForm = {
  ...OF_CELLS,
  words: 'a grid',
  isStraight: false,
  isOnLanes: false,
  rowHeight: HEX_ROW,
  oddShift: 0.5,
  turnOfNeighbours: () => 60,
  sizeProblem: (name, space) =>
    gridSizeProblem(name, space) ??
    (areRowsOdd(space)
      ? {
          message: `The grid “${name}” has ${space.height} rows.`,
          hint: 'A wrapping grid of 6 neighbours needs an even number of rows, as every other one is shifted by half a cell.',
        }
      : undefined),
  wayX,
  wayY,
  along: hexAlong,
  isNextTo(ax, ay, bx, by, space) {
    const dx = wayX(ax, ay, bx, by, space);
    const dy = wayY(ay, by, space);
    const square = dx * dx + dy * dy;
    return square > 0.5 && square < 1.5;
  },
  neighbourSteps: (_, row) => SIX[row % 2]!,
  blockOf: (sides) => ({ aside: Math.floor(sides + 0.5), up: Math.floor(sides * 1.1548) }),
  rowsApart: 2,
  stripe: (distance) => distance * 1.2 + 1,
};
