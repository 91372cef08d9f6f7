import type { Lanes } from '../maps/lanes.ts';

/** What is asked of a form of space. A new form is a module that answers all of it, and an entry in `forms.ts`. */

export type FormName = 'plane' | 'grid' | 'hexagons' | 'map';

/** What the text says of a space, its sizes apart. */
export interface SpaceRules {
  readonly form: FormName;
  readonly edge: 'wrapping' | 'walled' | 'reflecting';
  /** Cells around a cell; 8 on a plane, if it has cells. */
  readonly neighbours: 4 | 6 | 8;
  readonly oneAgentACell: boolean;
  /** Side of a cell of a grid that is measured in lengths, in the unit of the space. The engine counts in cells all the same. */
  readonly cellLength?: number;
}

/** x to the right, y up, (0, 0) the lower left corner or cell. Where a form is of cells, places are whole columns and rows. */
export interface Space extends SpaceRules {
  readonly width: number;
  readonly height: number;
  /** Of a map. */
  readonly lanes?: Lanes;
}
export type Edge = Space['edge'];

/** Cells that cover a space, row by row from below; on a plane the last column and row may be narrower. */
export interface Raster {
  readonly columns: number;
  readonly rows: number;
  /** Side of a cell. */
  readonly cell: number;
}

/** A step of columns and rows. */
export type CellStep = readonly [number, number];

/** Why a space cannot have a size, and what to do. */
export interface SizeProblem {
  readonly message: string;
  readonly hint: string;
}

export interface SpaceForm {
  /** As the text says it, with its article: “a plane”. */
  readonly words: string;
  /** Whether agents stand on cells. */
  readonly isOfCells: boolean;
  /** Whether agents stand on lanes, to which places are brought in. */
  readonly isOnLanes: boolean;
  /** Whether the way from one place to another is the difference of their coordinates, so that code can write it out. */
  readonly isStraight: boolean;
  /** How far the rows of cells lie apart, in sides of a cell. */
  readonly rowHeight: number;
  /** How far odd rows are shifted to the right, in sides of a cell. */
  readonly oddShift: number;
  /** How far a space reaches below 0 on an axis: half a cell, where 0 is the middle of one. */
  readonly margin: number;
  /** Whether ways by turns other than to neighbours are rounded: the angle between neighbours in degrees. */
  turnOfNeighbours(neighbours: Space['neighbours']): number | undefined;
  /** @param name of the space, for the words */
  sizeProblem(name: string, space: Space): SizeProblem | undefined;

  /** Brings a coordinate into a space by the rule of its edge. @param size of the space along the axis */
  bringIn(v: number, size: number, edge: Edge): number;
  /** The way to the right from one place to another, the shorter one where the space wraps; in the unit of distances. */
  wayX(ax: number, ay: number, bx: number, by: number, space: Space): number;
  /** The way up. */
  wayY(ay: number, by: number, space: Space): number;
  /** The coordinate of the place that lies a distance away in a direction, degrees clockwise from up; it may lie outside. */
  along(axis: 'x' | 'y', x: number, y: number, distance: number, direction: number): number;
  isNextTo(ax: number, ay: number, bx: number, by: number, space: Space): boolean;

  /** The cells that cover a space. @param cell their side, where the form lets the text choose it */
  rasterOf(space: Space, cell: number): Raster;
  /** Middle of a column or row. @param end of the space along the axis */
  centre(index: number, end: number, cell: number): number;
  /** A coordinate in a column or row, evenly spread over it. @param unit from 0 to below 1 @param end of the space along the axis */
  within(index: number, unit: () => number, end: number, cell: number): number;
  /** Steps to the neighbours of the cells of a row. */
  neighbourSteps(space: SpaceRules, row: number): readonly CellStep[];
  /** So many columns aside and rows up hold everything within so many cells' sides. */
  blockOf(sides: number): { readonly aside: number; readonly up: number };
  /** Every so many rows the same steps lead to the cells of a reach around a cell. */
  readonly rowsApart: 1 | 2;
  /** Width of the stripes of a raster of places, so that all within a distance lie in neighbouring ones. */
  stripe(distance: number): number;
}
