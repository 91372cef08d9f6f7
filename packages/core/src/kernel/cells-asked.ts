import { WIDE } from './kernel.ts';
import type { TurnColumn } from './turn-reads.ts';
import type { CellClass } from '../plan/cell-classes.ts';
import type * as P from '../plan/plan.ts';
import type { FormName } from '../forms/form.ts';
import { formOf } from '../forms/forms.ts';

/** What kernels that ask for cells and those who lay these out have to agree on. Apart from what makes them, so that it can come later. */

/** A reach, of which it is known before the first turn how far it goes. */
export type CellReach = Pick<P.SpaceReach, 'is' | 'distance'>;

/** What a kernel wants to know of the cells in a reach: which they are, as masks over rows of cells, or the steps that lead to each. */
export interface CellTable extends CellReach {
  readonly as: 'masks' | 'steps';
}

/** The cells of a grid that a kernel asks for. */
export interface CellsAsked {
  /** The name of the kernel. */
  readonly line: string;
  readonly space: number;
  /** Who is kept cell by cell. */
  readonly classes: readonly CellClass[];
  readonly tables: readonly CellTable[];
  /** For how many lists of as many cells as a reach has there has to be room. */
  readonly lists: number;
  /** What fills in who stands where, given how many slots each of these kinds has: it gives -1, or a cell that holds more than one. */
  readonly filling: {
    readonly name: string;
    readonly columns: readonly TurnColumn[];
    readonly kinds: readonly number[];
  };
}

/**
 * Where the numbers of the shape lie: columns and rows, how far rows are apart in columns with a margin, how wide that is, and from `tables` on three of each table:
 * of masks how far the reach goes, how many masks a row has and where they begin; of steps how many there are and where they begin.
 */
export const SHAPE = { columns: 0, rows: 1, stride: 2, margin: 3, tables: 4 } as const;
export const SHAPE_OF_TABLE = 3;

/** How many cells to each side, and rows up and down, a reach goes. @param distance its distance */
export function radiusOf(form: FormName, { is }: Pick<CellReach, 'is'>, distance: number): number {
  if (is === 'here') return 0;
  if (is === 'next to') return 1;
  const { aside, up } = is === 'within' ? formOf({ form }).blockOf(distance) : { aside: distance, up: distance };
  return Math.floor(Math.max(aside, up));
}

/** Masks of 16 cells side by side that a row of a reach takes. */
export function chunksOf(radius: number): number {
  return Math.ceil((2 * radius + 1) / WIDE);
}
