import { reflect, stopAtWall, wrap } from './edges.ts';
import type { SpaceForm } from './form.ts';
import { EIGHT, STRAIGHT } from './squares.ts';

/** Sides between which the arithmetic of places keeps its precision. */
const LEAST_SIDE = 1e-6;
const MOST_SIDE = 1e9;

/** Places anywhere. If it is given cells, they are squares; the last column and row may be narrower. */
export const plane: SpaceForm = {
  ...STRAIGHT,
  words: 'a plane',
  isOfCells: false,
  margin: 0,
  turnOfNeighbours: () => undefined,
  sizeProblem: (name, { width, height }) =>
    Math.min(width, height) >= LEAST_SIDE && Math.max(width, height) <= MOST_SIDE
      ? undefined
      : {
          message: `The space “${name}” would be ${width} by ${height}.`,
          hint: `A side of a plane is ${LEAST_SIDE} to ${MOST_SIDE}; measure it in another unit.`,
        },

  bringIn: (v, size, edge) =>
    edge === 'wrapping' ? wrap(v, size) : edge === 'walled' ? stopAtWall(v, size) : reflect(v, size),

  rasterOf: ({ width, height }, cell) => ({
    columns: Math.max(1, Math.ceil(width / cell - 1e-9)),
    rows: Math.max(1, Math.ceil(height / cell - 1e-9)),
    cell,
  }),
  // A cell that the end of the space cuts has its centre in the middle of what is left of it.
  centre: (index, end, cell) => ((index + 1) * cell > end ? (index * cell + end) / 2 : (index + 0.5) * cell),
  within: (index, unit, end, cell) => Math.min((index + unit()) * cell, end),
  neighbourSteps: () => EIGHT,
};
