import type { Column, F64, I32, Local } from './kernel.ts';
import { minus, plus, times, whole } from './kernel.ts';
import type { Coordinates } from './places.ts';

/** A cell by its column and row. */
export interface Place {
  readonly x: Local<'i32'>;
  readonly y: Local<'i32'>;
}

/** Cells around a place, as long as they are in a reach of it. */
export interface CellsNear {
  /** Goes through them: in the order in which cells are listed, as long as none lies beyond an edge. */
  through(take: (place: Place) => void): void;
  /** One of them, by a number that is drawn below how many there are at most; nothing happens where it leads over an edge. Absent where they are not known before. */
  readonly drawn?: (below: (many: I32) => I32, take: (place: Place) => void) => void;
}

/** Cells that agents ask for in their turns, of a grid or a plane. */
export interface AskedCells {
  readonly columns: I32;
  readonly rows: I32;
  /** How many there are. */
  readonly all: I32;
  cellOf(place: Place): I32;
  placeOfCell(cell: I32): Place;
  /** The middle of a cell. */
  coordinates(cell: F64): Coordinates;
  middleOf(place: Place): Coordinates;
  /** One more list that has room for as many cells as are asked for at a time. */
  nextList(): Column<'i32' | 'u8'>;
}

/** The place of a cell in the order in which cells are listed: row by row from the top. */
export function scanPlace({ columns, rows }: AskedCells, { x, y }: Place): I32 {
  return plus(times(minus(minus(rows, whole(1)), y), columns), x);
}

/** The cell at such a place. */
export function cellScanned(cells: AskedCells, place: I32): I32 {
  return scanPlace(cells, cells.placeOfCell(place));
}
