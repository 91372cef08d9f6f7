import type { CellStep, SpaceRules } from '../forms/form.ts';
import { formOf } from '../forms/forms.ts';
import type { F64, I32, KernelFunction, Local, Numbers, Statement, StreamStatement, Test } from './kernel.ts';
import { compareWhole, i32, load, minus, plus, put, selectWhole, times, whole, when, words } from './kernel.ts';

/** Kernels that go through the cells of squares or hexagons row by row and look at those around each: in streams where no edge is near. */

/** What is looked at from one cell. */
export interface CellAround {
  /** The cell itself. */
  readonly place: I32;
  own(from: Numbers): F64;
  /** The steps to its neighbours, in the order in which the interpreter takes them: the sum of doubles depends on it. */
  readonly steps: readonly CellStep[];
  /**
   * A value made of what lies one step away.
   * @param outside the value where that would be beyond a wall
   */
  at(step: CellStep, outside: F64, value: (read: (from: Numbers) => F64) => F64): F64;
}

interface RowsOfCells {
  readonly name: string;
  readonly columns: readonly Numbers[];
  /** Numbers that are given after those of columns and rows, the first row to go through and the one after the last. */
  readonly given: readonly Local[];
  readonly locals: readonly Local[];
  readonly space: SpaceRules;
  /** Of each cell: inside, where they make a stream, nothing but what a stream may hold. */
  readonly isStream: boolean;
  cell(around: CellAround): readonly Statement[];
}

const [COLUMNS, ROWS, FIRST, END] = [i32('columns'), i32('rows'), i32('first'), i32('end')];
const [ROW, I] = [i32('row'), i32('i')];
/** Where the row begins, and the one above and below it; below 0 for none. */
const [HERE, UP, DOWN] = [i32('here'), i32('up'), i32('down')];
/** The columns beside; below 0 for none. */
const [WEST, EAST] = [i32('west'), i32('east')];
const NONE = whole(-1);

export function rowsOfCells(of: RowsOfCells): KernelFunction {
  const { name, columns, given, locals, space } = of;
  const form = formOf(space);
  const wraps = space.edge === 'wrapping';
  const [even, odd] = Array.from({ length: form.rowsApart }, (_, row) => rowOf(of, form.neighbourSteps(space, row)));
  return {
    name,
    columns,
    given: [COLUMNS, ROWS, FIRST, END, ...given],
    locals: [ROW, I, HERE, UP, DOWN, WEST, EAST, ...locals],
    body: [
      {
        is: 'loop',
        index: ROW,
        from: FIRST,
        to: END,
        body: [
          put(HERE, times(ROW, COLUMNS)),
          put(UP, where(plus(ROW, whole(1)), ROWS, wraps ? whole(0) : NONE, plus(HERE, COLUMNS))),
          put(DOWN, where(ROW, whole(0), wraps ? times(plus(ROWS, NONE), COLUMNS) : NONE, minus(HERE, COLUMNS))),
          odd ? when(compareWhole(words('mask', ROW, whole(1)), '==', whole(0)), [even!], [odd]) : even!,
        ],
      },
    ],
  };
}

/** Goes through the cells of a row. */
function rowOf({ space, isStream, cell }: RowsOfCells, steps: readonly CellStep[]): Statement {
  const wraps = space.edge === 'wrapping';
  const place = plus(HERE, I);
  const own = (from: Numbers): F64 => load(from, place);
  // Where no edge is near, neighbours lie as far from here as the cell does.
  const inside = cell({
    place,
    own,
    steps,
    at: ([dx, dy], _, value) => value((from) => load(from, plus(plus(lineOf(dy), I), whole(dx)))),
  });
  const atEdge = cell({
    place,
    own,
    steps,
    at: ([dx, dy], outside, value) => {
      const [line, at] = [lineOf(dy), dx < 0 ? WEST : dx > 0 ? EAST : I];
      const there = value((from) => load(from, plus(line, at)));
      const walls = [...(dy === 0 ? [] : [line]), ...(dx === 0 ? [] : [at])].map((one) => isBelow(one, whole(0)));
      return wraps || walls.length === 0
        ? there
        : { is: 'choose', test: walls.reduce(either), then: outside, else: there };
    },
  });
  const edges = (from: I32, to: I32): Statement => ({
    is: 'loop',
    index: I,
    from,
    to,
    body: [
      put(WEST, where(I, whole(0), wraps ? plus(COLUMNS, NONE) : NONE, plus(I, NONE))),
      put(EAST, where(plus(I, whole(1)), COLUMNS, wraps ? whole(0) : NONE, plus(I, whole(1)))),
      ...atEdge,
    ],
  });
  const last = plus(COLUMNS, NONE);
  return when(
    either(either(isBelow(UP, whole(0)), isBelow(DOWN, whole(0))), isBelow(COLUMNS, whole(2))),
    [edges(whole(0), COLUMNS)],
    [
      edges(whole(0), whole(1)),
      isStream
        ? { is: 'stream', index: I, from: whole(1), to: last, body: inside as readonly StreamStatement[] }
        : { is: 'loop', index: I, from: whole(1), to: last, body: inside },
      edges(last, COLUMNS),
    ],
  );
}

function lineOf(dy: number): Local<'i32'> {
  return dy < 0 ? DOWN : dy > 0 ? UP : HERE;
}

function isBelow(left: I32, right: I32): Test {
  return compareWhole(left, '<', right);
}

function either(left: Test, right: Test): Test {
  return { is: 'or', left, right };
}

/** One whole number where two are equal, else another. */
function where(left: I32, right: I32, then: I32, otherwise: I32): I32 {
  return selectWhole(compareWhole(left, '==', right), then, otherwise);
}
