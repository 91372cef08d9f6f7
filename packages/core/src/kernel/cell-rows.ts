import type { CellStep, SpaceRules } from '../forms/form.ts';
import { formOf } from '../forms/forms.ts';
import type { F64, I32, KernelFunction, Local, Numbers, Statement, StreamStatement, Test } from './kernel.ts';
import { both, compareWhole, i32, load, minus, plus, put, selectWhole, times, whole, when, words } from './kernel.ts';

/** Kernels that go through the cells of squares or hexagons row by row and look at those around each: in streams where no edge is near. */

/** How a column is read at a cell. */
export type CellRead = (from: Numbers) => F64;

/** Cells around one that lie in reach of it, and how something is read at each. */
export interface CellsAround<Read = CellRead> {
  /** How each is read, in scan order; absent where they are found one by one. */
  readonly reads?: readonly Read[];
  /** Something done for each, in scan order. */
  each(statements: (read: Read) => readonly Statement[]): readonly Statement[];
}

/** What is looked at from one cell. */
export interface CellAround {
  /** The cell itself. */
  readonly place: I32;
  /** The row of the space around whose cells the same steps lead to a reach. */
  readonly row: number;
  readonly own: CellRead;
  /**
   * A value made of what lies one step away.
   * @param outside the value where that would be beyond a wall
   */
  at(step: CellStep, outside: F64, value: (read: CellRead) => F64): F64;
  /** @param steps to them, in scan order, in each row without gaps but for the cell itself */
  around(steps: readonly CellStep[]): CellsAround;
}

/** How far cells see to each side. */
export interface CellMargin {
  readonly aside: number;
  readonly up: number;
}

interface RowsOfCells {
  readonly name: string;
  readonly columns: readonly Numbers[];
  /** Numbers that are given after those of columns and rows, the first row to go through and the one after the last. */
  readonly given: readonly Local[];
  readonly locals: readonly Local[];
  readonly space: SpaceRules;
  /** Where they look at what is `around`, there must be more than twice as many columns and rows. */
  readonly margin: CellMargin;
  /** Of each cell: inside, where they make a stream, nothing but what a stream may hold. */
  readonly isStream: boolean;
  cell(around: CellAround, isInside: boolean): readonly Statement[];
}

/** Cells around one up to which each is written out by itself. */
const MOST_WRITTEN = 60;

const [COLUMNS, ROWS, FIRST, END] = [i32('columns'), i32('rows'), i32('first'), i32('end')];
const [ROW, I] = [i32('row'), i32('i')];
/** Where the row begins, and the one above and below it; below 0 for none. */
const [HERE, UP, DOWN] = [i32('here'), i32('up'), i32('down')];
/** The columns beside; below 0 for none. */
const [WEST, EAST] = [i32('west'), i32('east')];
const NONE = whole(-1);

/** Where cells are found one by one: with which of the rows and columns scan order begins, the round, how far away that is, where it is, and which columns of it are in reach. */
const SCAN = {
  firstRow: i32('firstRow'),
  firstColumn: i32('firstColumn'),
  y: i32('y'),
  dy: i32('dy'),
  line: i32('line'),
  low: i32('lowest'),
  high: i32('highest'),
  x: i32('x'),
  dx: i32('dx'),
  at: i32('at'),
};

export function rowsOfCells(of: RowsOfCells): KernelFunction {
  const { name, columns, given, locals, space, margin } = of;
  const wraps = space.edge === 'wrapping';
  const scanning = new Set<Local>();
  const [even, odd] = Array.from({ length: formOf(space).rowsApart }, (_, row) => rowOf(of, row, scanning));
  return {
    name,
    columns,
    given: [COLUMNS, ROWS, FIRST, END, ...given],
    locals: [ROW, I, HERE, UP, DOWN, WEST, EAST, ...scanning, ...furtherRows(margin).map(lineOf), ...locals],
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

/** Cells around one, each written out by itself unless they are many. */
export function cellsAround(
  steps: readonly CellStep[],
  readAt: (step: CellStep) => CellRead,
  scanned: CellsAround,
): CellsAround {
  if (steps.length > MOST_WRITTEN) return scanned;
  const reads = steps.map(readAt);
  return { reads, each: (statements) => reads.flatMap((read) => statements(read)) };
}

/** Goes through the cells of a row. @param scanning takes the locals with which cells are found one by one */
function rowOf({ space, margin, isStream, cell }: RowsOfCells, row: number, scanning: Set<Local>): Statement {
  const wraps = space.edge === 'wrapping';
  const place = plus(HERE, I);
  const own: CellRead = (from) => load(from, place);
  const scanned = (steps: readonly CellStep[]): CellsAround => ({
    each: (statements) => {
      for (const local of Object.values(SCAN)) scanning.add(local);
      return scan(steps, margin, wraps, statements);
    },
  });
  // Where no edge is near, those around lie as far from here as the cell does.
  const inside = cell(
    {
      place,
      row,
      own,
      at: ([dx, dy], _, value) => value((from) => load(from, plus(plus(lineOf(dy), I), whole(dx)))),
      around: (steps) =>
        cellsAround(
          steps,
          ([dx, dy]) =>
            (from) =>
              load(from, plus(plus(lineOf(dy), I), whole(dx))),
          scanned(steps),
        ),
    },
    true,
  );
  const atEdge = cell(
    {
      place,
      row,
      own,
      at: ([dx, dy], outside, value) => {
        const [line, at] = [lineOf(dy), dx < 0 ? WEST : dx > 0 ? EAST : I];
        const there = value((from) => load(from, plus(line, at)));
        const walls = [...(dy === 0 ? [] : [line]), ...(dx === 0 ? [] : [at])].map((one) => isBelow(one, whole(0)));
        return wraps || walls.length === 0
          ? there
          : { is: 'choose', test: walls.reduce(either), then: outside, else: there };
      },
      around: scanned,
    },
    false,
  );
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
  const [aside, last] = [whole(margin.aside), plus(COLUMNS, whole(-margin.aside))];
  const isNearEdge = [
    isBelow(ROW, whole(margin.up)),
    compareWhole(plus(ROW, whole(margin.up)), '>=', ROWS),
    isBelow(COLUMNS, whole(2 * margin.aside)),
  ].reduce(either);
  return when(
    isNearEdge,
    [edges(whole(0), COLUMNS)],
    [
      ...furtherRows(margin).map((dy) => put(lineOf(dy), plus(HERE, times(COLUMNS, whole(dy))))),
      edges(whole(0), aside),
      isStream
        ? { is: 'stream', index: I, from: aside, to: last, body: inside as readonly StreamStatement[] }
        : { is: 'loop', index: I, from: aside, to: last, body: inside },
      edges(last, COLUMNS),
    ],
  );
}

/** How far the rows lie that are more than one away. */
function furtherRows({ up }: CellMargin): number[] {
  return Array.from({ length: Math.max(0, up - 1) }, (_, i) => [i + 2, -i - 2]).flat();
}

/** Does something for each of the cells that steps lead to, in scan order, also round an edge, where that is another order than that of the steps. */
function scan(
  steps: readonly CellStep[],
  { aside, up }: CellMargin,
  wraps: boolean,
  statements: (read: CellRead) => readonly Statement[],
): Statement[] {
  const { firstRow, firstColumn, y, dy, line, low, high, x, dx, at } = SCAN;
  const [tall, wide] = [2 * up + 1, 2 * aside + 1];
  const rows = [...new Set(steps.map(([, away]) => away))].map((away) => {
    const across = steps.filter((step) => step[1] === away).map(([aside]) => aside);
    return { away, low: Math.min(...across), high: Math.max(...across) };
  });
  const hasOwn = steps.some((step) => step[0] === 0 && step[1] === 0);
  /** Of rows that no step leads to, a bound that nothing is within. */
  const bound = (of: 'low' | 'high', none: number): I32 =>
    rows.reduce<I32>((rest, row) => where(dy, whole(row.away), whole(row[of]), rest), whole(none));
  const isInside = (one: I32, size: I32): Test[] =>
    wraps ? [] : [compareWhole(one, '>=', whole(0)), isBelow(one, size)];
  const isThere = [
    ...isInside(at, COLUMNS),
    compareWhole(dx, '>=', low),
    compareWhole(dx, '<=', high),
    ...(hasOwn ? [] : [either(compareWhole(dx, '!=', whole(0)), compareWhole(dy, '!=', whole(0)))]),
  ].reduce(both);
  const rowTest = isInside(line, ROWS);
  const ofRow: Statement[] = [
    put(low, bound('low', 1)),
    put(high, bound('high', 0)),
    put(line, times(line, COLUMNS)),
    {
      is: 'loop',
      index: x,
      from: whole(0),
      to: whole(wide),
      body: [
        put(dx, minus(later(x, firstColumn, wide), whole(aside))),
        put(at, wraps ? roundEdge(plus(I, dx), COLUMNS) : plus(I, dx)),
        when(
          isThere,
          statements((from) => load(from, plus(line, at))),
          [],
        ),
      ],
    },
  ];
  return [
    // Round the edge rows from above are the lowest, columns from the left the last.
    put(firstRow, wraps ? first(minus(plus(ROW, whole(up + 1)), ROWS), minus(whole(up), ROW), tall) : whole(0)),
    put(firstColumn, wraps ? first(minus(whole(aside), I), minus(plus(I, whole(aside + 1)), COLUMNS), wide) : whole(0)),
    {
      is: 'loop',
      index: y,
      from: whole(0),
      to: whole(tall),
      body: [
        put(dy, minus(whole(up), later(y, firstRow, tall))),
        put(line, wraps ? roundEdge(plus(ROW, dy), ROWS) : plus(ROW, dy)),
        ...(rowTest.length === 0 ? ofRow : [when(rowTest.reduce(both), ofRow, [])]),
      ],
    },
  ];
}

/** With which of so many rows or columns scan order begins, of which some at the beginning or at the end lie round an edge. */
function first(atBeginning: I32, atEnd: I32, many: number): I32 {
  const rest = selectWhole(isBelow(whole(0), atEnd), minus(whole(many), atEnd), whole(0));
  return selectWhole(isBelow(whole(0), atBeginning), atBeginning, rest);
}

/** So many later, going round. */
function later(one: I32, by: I32, many: number): I32 {
  const there = plus(one, by);
  return selectWhole(isBelow(there, whole(many)), there, minus(there, whole(many)));
}

function roundEdge(one: I32, size: I32): I32 {
  return selectWhole(isBelow(one, whole(0)), plus(one, size), selectWhole(isBelow(one, size), one, minus(one, size)));
}

function lineOf(dy: number): Local<'i32'> {
  if (dy === 0) return HERE;
  const away = dy < 0 ? -dy : dy;
  if (away > 1) return i32(`${dy < 0 ? 'down' : 'up'}${away}`);
  return dy < 0 ? DOWN : UP;
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
