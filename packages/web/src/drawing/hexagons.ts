import type { KindFrame } from '../simulation/protocol.ts';
import type { Ground, Size } from './camera.ts';

/**
 * How a grid of hexagons is drawn: odd rows half a cell to the right, rows closer than columns, so that all neighbouring middles are 1 apart.
 * Places of a run are columns and rows; drawn places are x and y.
 */

const ROW = Math.sqrt(3) / 2;
/** From the middle of a hexagon to its corners above and below. */
const CORNER = 1 / Math.sqrt(3);
/** The lowest corner lies as low as the left edge of the first column does. */
const LIFT = CORNER - 0.5;

interface Spot {
  readonly x: number;
  readonly y: number;
}

export function hexSpot(column: number, row: number): Spot {
  return { x: column + (row % 2 === 0 ? 0 : 0.5), y: row * ROW + LIFT };
}

/** The column and row of the hexagon in which a drawn place lies, on the grid or beyond it. */
export function hexAt(x: number, y: number): Spot {
  const near = Math.floor((y - LIFT) / ROW);
  let best = { x: 0, y: 0 };
  let shortest = Infinity;
  for (let row = near; row <= near + 1; row++) {
    const column = Math.floor(x + (row % 2 === 0 ? 0.5 : 0));
    const spot = hexSpot(column, row);
    const square = (spot.x - x) ** 2 + (spot.y - y) ** 2;
    if (square >= shortest) continue;
    shortest = square;
    best = { x: column, y: row };
  }
  return best;
}

/** The ground that all hexagons of a grid cover. */
export function hexGround({ width, height }: Size): Ground {
  return { width: width + (height > 1 ? 0.5 : 0), height: (height - 1) * ROW + 2 * CORNER, low: -0.5 };
}

/** How far it is round a wrapping grid, in drawn lengths. */
export function hexRound({ width, height }: Size): Size {
  return { width, height: height * ROW };
}

/** Agents at their drawn places. */
export function hexKind(kind: KindFrame): KindFrame {
  const x = new Float32Array(kind.count);
  const y = new Float32Array(kind.count);
  for (let i = 0; i < kind.count; i++) {
    const spot = hexSpot(kind.x[i]!, kind.y[i]!);
    x[i] = spot.x;
    y[i] = spot.y;
  }
  return { ...kind, x, y };
}

/** Ends of ties at their drawn places. */
export function hexEnds(ends: Float32Array): Float32Array {
  const drawn = new Float32Array(ends.length);
  for (let i = 0; i < ends.length; i += 2) {
    const spot = hexSpot(ends[i]!, ends[i + 1]!);
    drawn[i] = spot.x;
    drawn[i + 1] = spot.y;
  }
  return drawn;
}
