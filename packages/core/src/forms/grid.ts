import { gridCell } from './edges.ts';
import type { Space, SizeProblem, SpaceForm } from './form.ts';
import { EIGHT, FOUR, STRAIGHT } from './squares.ts';

export const MAX_FIELD_CELLS = 16_000_000;

/** What all forms share whose places are columns and rows. */
export const OF_CELLS = {
  isOfCells: true,
  margin: 0.5,
  bringIn: gridCell,
  rasterOf: ({ width, height }: Space) => ({ columns: width, rows: height, cell: 1 }),
  centre: (index: number) => index,
  within: (index: number) => index,
} as const satisfies Partial<SpaceForm>;

export function gridSizeProblem(name: string, { width, height }: Space): SizeProblem | undefined {
  if (!Number.isInteger(width) || !Number.isInteger(height))
    return {
      message: `The space “${name}” would be ${width} by ${height}.`,
      hint: 'Both sides must be above zero, and whole on a grid.',
    };
  if (width * height > MAX_FIELD_CELLS)
    return { message: `The grid “${name}” would have ${width} by ${height} cells.`, hint: 'Make it smaller.' };
  return undefined;
}

/** Square cells with 4 or 8 neighbours. */
export const grid: SpaceForm = {
  ...STRAIGHT,
  ...OF_CELLS,
  words: 'a grid',
  turnOfNeighbours: (neighbours) => (neighbours === 4 ? 90 : 45),
  sizeProblem: gridSizeProblem,
  neighbourSteps: ({ neighbours }) => (neighbours === 4 ? FOUR : EIGHT),
};
