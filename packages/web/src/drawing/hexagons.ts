import { HEX_ROW } from '@vole/core';
import type { KindFrame } from '../simulation/protocol.ts';
import type { Ground, Size } from './camera.ts';

/**
 * How a grid of hexagons is drawn: odd rows half a cell to the right, rows closer than columns, so that all neighbouring middles are 1 apart.
 * Places of a run are columns and rows; drawn places are x and y.
 */

/** From the middle of a hexagon to its corners above and below. */
const CORNER = 1 / Math.sqrt(3);
/** The lowest corner lies as low as the left edge of the first column does. */
const LIFT = CORNER - 0.5;

interface Spot {
  readonly x: number;
  readonly y: number;
}

export function hexSpot(column: number, row: number): Spot {
  return { x: column + (row % 2 === 0 ? 0 : 0.5), y: row * HEX_ROW + LIFT };
}

/** The two rows of hexagons between whose middles a height lies: their shifts to the right, and the squares of their distances. */
interface HexLine {
  /** The lower of the two. */
  readonly row: number;
  readonly lowShift: number;
  readonly lowSquare: number;
  readonly highShift: number;
  readonly highSquare: number;
}

export function hexLine(y: number): HexLine {
  const row = Math.floor((y - LIFT) / HEX_ROW);
  const [low, high] = [hexSpot(0, row), hexSpot(0, row + 1)];
  return { row, lowShift: low.x, lowSquare: (low.y - y) ** 2, highShift: high.x, highSquare: (high.y - y) ** 2 };
}

/** The column nearest to a place along a row that is shifted to the right. */
export function hexColumn(x: number, shift: number): number {
  return Math.floor(x + 0.5 - shift);
}

/** Whether a place lies in a hexagon of the lower of the two rows of its line. */
export function isInLow(x: number, line: HexLine): boolean {
  const low = hexColumn(x, line.lowShift) + line.lowShift - x;
  const high = hexColumn(x, line.highShift) + line.highShift - x;
  return low * low + line.lowSquare <= high * high + line.highSquare;
}

/** The column and row of the hexagon in which a drawn place lies, on the grid or beyond it. */
export function hexAt(x: number, y: number): Spot {
  const line = hexLine(y);
  return isInLow(x, line)
    ? { x: hexColumn(x, line.lowShift), y: line.row }
    : { x: hexColumn(x, line.highShift), y: line.row + 1 };
}

/** The ground that all hexagons of a grid cover. */
export function hexGround({ width, height }: Size): Ground {
  return { width: width + (height > 1 ? 0.5 : 0), height: (height - 1) * HEX_ROW + 2 * CORNER, low: -0.5 };
}

/** How far it is round a wrapping grid, in drawn lengths. */
export function hexRound({ width, height }: Size): Size {
  return { width, height: height * HEX_ROW };
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
