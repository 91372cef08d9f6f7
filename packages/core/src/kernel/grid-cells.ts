import { formOf } from '../forms/forms.ts';
import type { CellClass } from '../plan/cell-classes.ts';
import { effectsOf } from '../plan/analysis.ts';
import { asksCellByCell } from '../plan/cell-by-cell.ts';
import { classAsked, className } from '../plan/cell-classes.ts';
import { knownSize } from '../plan/known-sizes.ts';
import type * as P from '../plan/plan.ts';
import type { Positions } from '../plan/positions.ts';
import { positionsIn } from '../plan/positions.ts';
import { visitStatements } from '../plan/visit.ts';
import type { AskedCells, Place } from './asked-cells.ts';
import type { Column, F64, I32, Local, Statement, Test } from './kernel.ts';
import {
  both,
  compareWhole,
  difference,
  i32,
  loadWhole,
  minus,
  ofOne,
  plus,
  product,
  put,
  quotient,
  times,
  whole,
  WIDE,
  words,
} from './kernel.ts';
import { NeedsMore } from './needs-more.ts';
import type { Sheet } from './sheet.ts';
import type { CellReach, CellTable } from './cells-asked.ts';
import { chunksOf, radiusOf, SHAPE, SHAPE_OF_TABLE } from './cells-asked.ts';
import type { TurnReads } from './turn-reads.ts';

/** The cells of a grid in kernel form: who stands where, cell by cell, and the cells around a cell. */

/** A reach, whose cells around the middle are told by masks of 16 bytes: row by row, of so many masks side by side. */
interface Reach {
  readonly radius: I32;
  readonly chunks: I32;
}

export class GridCells implements AskedCells {
  private readonly tables: CellTable[] = [];
  private readonly prologueList: Statement[] = [];
  /** Who is kept cell by cell: those whom queries ask for. */
  readonly classes: readonly CellClass[];
  /** Whether it is asked who stands on a cell, beside how many. */
  private readonly asksWho: boolean;
  /** Whether those who have turns stand for others where they stand for themselves. */
  private readonly staysPut: boolean;

  constructor(
    readonly line: string,
    readonly space: number,
    readonly bodies: readonly P.Body[],
    private readonly sheet: Sheet,
    private readonly reads: TurnReads,
    /** Whether others see at once what is done in a turn. */
    readonly isKeptUp: boolean,
    private readonly isFilling = false,
  ) {
    this.staysPut = isKeptUp || bodies.every((body) => effectsOf({ body }).movedKinds.size === 0);
    const { classes, asksWho } = this.askedIn(bodies);
    this.classes = classes;
    this.asksWho = asksWho;
  }

  /** Whom bodies ask for cell by cell, and whether it is looked at who stands there. */
  private askedIn(bodies: readonly P.Body[]): {
    readonly classes: readonly CellClass[];
    readonly asksWho: boolean;
  } {
    const { plan } = this.reads;
    const classes = new Map<string, CellClass>();
    let asksWho = false;
    const isAsked = (query: P.Query): boolean =>
      asksCellByCell(plan, query) && plan.kinds[query.kind]!.space === this.space;
    for (const body of bodies) {
      const positions = positionsIn(body);
      visitStatements(body.statements, {
        statement: (s) => {
          if (!('query' in s) || !isAsked(s.query)) return;
          if ((s.op !== 'count' && s.op !== 'any') || !this.onlyCounts(s, positions)) asksWho = true;
        },
        query: (query) => {
          if (!isAsked(query)) return;
          const one = classAsked(plan, query);
          classes.set(className(one), one);
        },
      });
    }
    return { classes: [...classes.values()], asksWho };
  }

  /** Whether a statement only counts, so that nobody has to be looked at: cells are added up, and who asks, who stands in the middle, is taken off. */
  onlyCounts({ query }: Extract<P.Statement, { op: 'count' | 'any' }>, { middles }: Positions): boolean {
    const { where, except } = query;
    if (where && !classAsked(this.reads.plan, query).asked) return false;
    return except === undefined || (this.staysPut && middles.get(query)?.local === except);
  }

  private get plan(): P.SpacePlan {
    return this.reads.plan.spaces[this.space]!;
  }

  /** The reaches that have to be laid out before the kernel runs. */
  get reaches(): readonly CellTable[] {
    return this.tables;
  }

  /** What happens before the first turn. */
  get prologue(): readonly Statement[] {
    return this.prologueList;
  }

  // Places

  get columns(): I32 {
    return this.size('x', 'columns', SHAPE.columns);
  }

  get rows(): I32 {
    return this.size('y', 'rows', SHAPE.rows);
  }

  /** The kernel that fills them in is given no sizes. */
  private size(axis: 'x' | 'y', name: string, at: number): I32 {
    const isKnown = knownSize(this.reads.plan, this.space, axis) !== undefined;
    return isKnown || !this.isFilling ? truncated(this.reads.size(this.space, axis)) : this.shape(name, at);
  }

  /** The cell of somebody who stands on one. */
  placeOf(x: F64, y: F64): Place {
    const [column, row] = [this.sheet.i32(), this.sheet.i32()];
    this.sheet.add(put(column, truncated(x)), put(row, truncated(y)));
    return { x: column, y: row };
  }

  /** How many there are. */
  get all(): I32 {
    return times(this.columns, this.rows);
  }

  cellOf({ x, y }: Place): I32 {
    return plus(times(y, this.columns), x);
  }

  /** Column and row of a cell. */
  coordinates(cell: F64): Readonly<Record<'x' | 'y', F64>> {
    const width = this.reads.size(this.space, 'x');
    const kept = this.sheet.kept(cell);
    const y = this.sheet.kept(ofOne('floor', quotient(kept, width)));
    return { x: difference(kept, product(y, width)), y };
  }

  placeOfCell(cell: I32): Place {
    const { x, y } = this.coordinates({ is: 'of i32', value: cell });
    return this.placeOf(x, y);
  }

  middleOf({ x, y }: Place): Readonly<Record<'x' | 'y', F64>> {
    return { x: { is: 'of i32', value: x }, y: { is: 'of i32', value: y } };
  }

  // What is laid out

  private part(part: 'shape' | 'standing' | 'masks' | 'steps' | `list ${number}`): Column<'i32' | 'u8'> {
    return this.reads.wholesOf({ is: 'cells', line: this.line, space: this.space, part });
  }

  private bytesOf(one: CellClass): Column<'u8'> {
    const part = this.classes.findIndex((other) => className(other) === className(one));
    if (part < 0) throw new NeedsMore();
    return this.reads.wholesOf({ is: 'cells', line: this.line, space: this.space, part }) as Column<'u8'>;
  }

  /** A number of the shape, held in a local from before the first turn. */
  private shape(name: string, at: number): Local<'i32'> {
    const local = i32(`${name}${this.space}`);
    if (!this.sheet.locals.has(local.name)) {
      this.sheet.use(local);
      this.prologueList.push(put(local, loadWhole(this.part('shape'), whole(at))));
    }
    return local;
  }

  private get stride(): I32 {
    return this.shape('stride', SHAPE.stride);
  }

  private get margin(): I32 {
    return this.shape('margin', SHAPE.margin);
  }

  /** Where in the shape the numbers of a table lie. */
  private tableAt({ is, distance }: CellReach, as: CellTable['as']): { readonly at: number; readonly name: string } {
    const table: CellTable = { is, distance, as };
    const known = this.tables.findIndex((one) => JSON.stringify(one) === JSON.stringify(table));
    const i = known >= 0 ? known : this.tables.push(table) - 1;
    return { at: SHAPE.tables + SHAPE_OF_TABLE * i, name: `${as}${i}of` };
  }

  private reachOf(of: CellReach): Reach {
    const { at, name } = this.tableAt(of, 'masks');
    if (of.distance.op !== 'number')
      return { radius: this.shape(`${name}radius`, at), chunks: this.shape(`${name}chunks`, at + 1) };
    const radius = radiusOf(this.plan.form, of, of.distance.value);
    return { radius: whole(radius), chunks: whole(chunksOf(radius)) };
  }

  /** Where the masks begin of a reach around a cell. */
  private masksOf(of: CellReach, { chunks, radius }: Reach, place: Place): I32 {
    const { at, name } = this.tableAt(of, 'masks');
    const ofRow = times(times(chunks, rowsOf(radius)), whole(WIDE));
    return this.inTable(this.shape(`${name}at`, at + 2), ofRow, place);
  }

  /** Where a table begins that has so many numbers for the cells of a row: of even ones first where they differ from odd ones. */
  private inTable(first: I32, ofRow: I32, { y }: Place): I32 {
    if (formOf(this.plan).rowsApart === 1) return first;
    return this.sheet.keptWhole(plus(first, times(words('mask', y, whole(1)), ofRow)));
  }

  /** Where a cell lies in the columns with a margin, and there its images beyond the edges; 0 where it has none. */
  private spread({ x, y }: Place): { readonly at: Local<'i32'>; readonly aside: I32; readonly above: I32 } {
    const { sheet, stride, margin } = this;
    const at = sheet.i32();
    sheet.add(put(at, plus(plus(times(plus(y, margin), stride), x), margin)));
    if (this.plan.edge !== 'wrapping') return { at, aside: whole(0), above: whole(0) };
    return {
      at,
      aside: this.image(x, this.columns, this.columns),
      above: this.image(y, this.rows, times(this.rows, stride)),
    };
  }

  private image(v: I32, count: I32, way: I32): I32 {
    const { sheet, margin } = this;
    const to = sheet.i32();
    sheet.add(put(to, whole(0)));
    sheet.when(compareWhole(v, '<', margin), () => sheet.add(put(to, way)));
    sheet.when(compareWhole(v, '>=', minus(count, margin)), () => sheet.add(put(to, minus(whole(0), way))));
    return to;
  }

  private storeAt(
    column: Column<'i32' | 'u8'>,
    { at, aside, above }: ReturnType<GridCells['spread']>,
    value: I32,
  ): void {
    const { sheet } = this;
    const one = (place: I32): void => sheet.add({ is: 'store i32', column, at: place, value });
    one(at);
    if (aside.is === 'i32') return;
    const beside = (from: I32): void => {
      sheet.when(compareWhole(aside, '!=', whole(0)), () => one(plus(from, aside)));
    };
    beside(at);
    sheet.when(compareWhole(above, '!=', whole(0)), () => {
      const from = sheet.keptWhole(plus(at, above));
      one(from);
      beside(from);
    });
  }

  // Asking

  private corner({ x, y }: Place, { radius }: Reach): I32 {
    const { stride, margin } = this;
    return plus(minus(plus(times(minus(plus(y, margin), radius), stride), x), radius), margin);
  }

  /** How many of a class stand in a reach around a cell. */
  count(of: CellClass, reach: CellReach, place: Place): Local<'i32'> {
    const { sheet } = this;
    const column = this.bytesOf(of);
    const found = this.reachOf(reach);
    const rows = rowsOf(found.radius);
    const masksAt = this.masksOf(reach, found, place);
    const [total, at] = [sheet.i32(), sheet.keptWhole(this.corner(place, found))];
    sheet.add(put(total, whole(0)));
    this.eachChunk(found, (chunk) =>
      sheet.add({
        is: 'sum rows',
        into: total,
        column,
        at: plus(at, times(chunk, whole(WIDE))),
        stride: this.stride,
        rows,
        masks: this.part('masks') as Column<'u8'>,
        maskAt: plus(masksAt, times(times(chunk, rows), whole(WIDE))),
      }),
    );
    return total;
  }

  /** Whether somebody of a class stands on a cell, as 1 or 0. */
  standsOn(of: CellClass, { x, y }: Place): I32 {
    const { stride, margin } = this;
    return loadWhole(this.bytesOf(of), plus(plus(times(plus(y, margin), stride), x), margin));
  }

  private eachChunk({ chunks }: Reach, each: (chunk: I32) => void): void {
    if (chunks.is === 'i32' && chunks.value === 1) return each(whole(0));
    const chunk = this.sheet.i32();
    const { list } = this.sheet.apart(() => each(chunk));
    this.sheet.add({ is: 'loop', index: chunk, from: whole(0), to: chunks, body: list });
  }

  /** Goes through those of a class in a reach around a cell, in no particular order. */
  each(of: CellClass, reach: CellReach, place: Place, then: (slot: I32) => void): void {
    const { sheet } = this;
    const column = this.bytesOf(of);
    const found = this.reachOf(reach);
    const rows = rowsOf(found.radius);
    const masksAt = this.masksOf(reach, found, place);
    const [corner, row, at] = [sheet.keptWhole(this.corner(place, found)), sheet.i32(), sheet.i32()];
    const standing = this.part('standing');
    const body = sheet.apart(() => then(loadWhole(standing, at))).list;
    this.eachChunk(found, (chunk) =>
      sheet.add({
        is: 'loop',
        index: row,
        from: whole(0),
        to: rows,
        body: [
          {
            is: 'loop through',
            index: at,
            from: plus(plus(corner, times(row, this.stride)), times(chunk, whole(WIDE))),
            column,
            masks: this.part('masks') as Column<'u8'>,
            maskAt: plus(masksAt, times(plus(times(chunk, rows), row), whole(WIDE))),
            body,
          },
        ],
      }),
    );
  }

  // Changes

  /** Whether somebody is of a class; nothing where all of the kind are. */
  private membership({ kind, asked }: CellClass, slot: I32): Test | undefined {
    if (!asked) return undefined;
    const state = loadWhole(this.reads.wholesOf({ is: 'state', kind, column: asked.machine }), slot);
    return asked.states
      .map((one): Test => compareWhole(state, '==', whole(one)))
      .reduce((left, right): Test => ({ is: 'or', left, right }));
  }

  /** The kinds of whom it is kept where they stand. */
  get kinds(): readonly number[] {
    return [...new Set(this.classes.map(({ kind }) => kind))];
  }

  /** Keeps that somebody stands on a cell, or does not any more. */
  mark(kind: number, slot: I32, place: Place, isThere: boolean): void {
    if (!this.isKeptUp && !this.isFilling) return;
    const own = this.classes.filter((one) => one.kind === kind);
    if (own.length === 0) return;
    const { sheet } = this;
    const spread = this.spread(place);
    for (const one of own) {
      const store = (): void => this.storeAt(this.bytesOf(one), spread, whole(isThere ? 1 : 0));
      const test = this.membership(one, slot);
      if (test) sheet.when(test, store);
      else store();
    }
    if (isThere && this.asksWho) this.storeAt(this.part('standing'), spread, slot);
  }

  /** Somebody who stands on a cell is in another state now. */
  changed(kind: number, machine: number, state: number, place: () => Place): void {
    const own = this.classes.filter((one) => one.kind === kind && one.asked?.machine === machine);
    if (!this.isKeptUp || own.length === 0) return;
    const spread = this.spread(place());
    for (const one of own) this.storeAt(this.bytesOf(one), spread, whole(one.asked!.states.includes(state) ? 1 : 0));
  }

  /** Somebody goes from cell to cell, unless that holds somebody already where there is room for one only. */
  move(kind: number, slot: I32, from: Place, to: Place, settle: () => void): void {
    const { sheet } = this;
    const [left, taken] = [sheet.keptWhole(this.cellOf(from)), sheet.keptWhole(this.cellOf(to))];
    const take = (): void => {
      this.occupy(left, -1);
      this.occupy(taken, 1);
      this.mark(kind, slot, from, false);
      settle();
      this.mark(kind, slot, to, true);
    };
    if (!this.plan.oneAgentACell) return take();
    const isRefused: Test = {
      is: 'and then',
      left: compareWhole(left, '!=', taken),
      right: { is: 'not', test: this.isFree(taken) },
    };
    sheet.when(isRefused, () => sheet.add({ is: 'tell', fn: 'refused', given: [] }), take);
  }

  /** Somebody comes to a cell who was nowhere, unless it holds somebody already where there is room for one only. */
  enter(kind: number, slot: I32, to: Place, settle: () => void): void {
    const take = (): void => {
      this.come(kind, slot, to);
      settle();
    };
    if (!this.plan.oneAgentACell) return take();
    this.sheet.when(this.isTaken(to), () => this.sheet.add({ is: 'tell', fn: 'refused', given: [] }), take);
  }

  /** Counts how many stand on a cell. */
  private occupy(cell: I32, more: 1 | -1): void {
    const column = this.reads.wholesOf({ is: 'occupied', space: this.space });
    this.sheet.add({ is: 'store i32', column, at: cell, value: plus(loadWhole(column, cell), whole(more)) });
  }

  /** Whether somebody stands on a cell, or an obstacle. */
  isTaken(place: Place): Test {
    return { is: 'not', test: this.isFree(this.sheet.keptWhole(this.cellOf(place))) };
  }

  /** Somebody has come to be on a cell. */
  come(kind: number, slot: I32, place: Place): void {
    this.occupy(this.sheet.keptWhole(this.cellOf(place)), 1);
    this.mark(kind, slot, place, true);
  }

  /** Somebody goes who stands on a cell. */
  go(kind: number, slot: I32, place: Place): void {
    this.occupy(this.sheet.keptWhole(this.cellOf(place)), -1);
    this.mark(kind, slot, place, false);
  }

  // Cells around a cell

  /** Steps to the cells of a reach: how many there are, and the cell that one of them leads to; nothing happens where that is none. */
  stepsAround(of: CellReach): {
    readonly many: I32;
    readonly to: (step: I32, place: Place, then: (cell: Place) => void) => void;
  } {
    const { sheet } = this;
    const { at, name } = this.tableAt(of, 'steps');
    const [many, first] = [this.shape(`${name}many`, at), this.shape(`${name}at`, at + 2)];
    const steps = this.part('steps');
    const to = (step: I32, { x, y }: Place, then: (cell: Place) => void): void => {
      const begins = this.inTable(first, times(many, whole(2)), { x, y });
      const place = sheet.keptWhole(plus(begins, times(step, whole(2))));
      const [column, row] = [sheet.i32(), sheet.i32()];
      sheet.add(
        put(column, plus(x, loadWhole(steps, place))),
        put(row, plus(y, loadWhole(steps, plus(place, whole(1))))),
      );
      if (this.plan.edge !== 'wrapping') {
        const isInside = both(isBelow(column, this.columns), isBelow(row, this.rows));
        return sheet.when(isInside, () => then({ x: column, y: row }));
      }
      for (const [v, count] of [
        [column, this.columns],
        [row, this.rows],
      ] as const) {
        sheet.when(
          compareWhole(v, '<', whole(0)),
          () => sheet.add(put(v, plus(v, count))),
          () => sheet.when(compareWhole(v, '>=', count), () => sheet.add(put(v, minus(v, count)))),
        );
      }
      then({ x: column, y: row });
    };
    return { many, to };
  }

  /** How many lists of cells there are. */
  lists = 0;

  /** One more list that has room for as many cells as a reach has. */
  nextList(): Column<'i32' | 'u8'> {
    return this.part(`list ${this.lists++}`);
  }

  isFree(cell: I32): Test {
    return compareWhole(loadWhole(this.reads.wholesOf({ is: 'occupied', space: this.space }), cell), '==', whole(0));
  }
}

function truncated(value: F64): I32 {
  return value.is === 'f64' ? whole(value.value) : { is: 'truncated', value };
}

function rowsOf(radius: I32): I32 {
  return radius.is === 'i32' ? whole(2 * radius.value + 1) : plus(times(radius, whole(2)), whole(1));
}

function isBelow(v: I32, count: I32): Test {
  return both(compareWhole(v, '>=', whole(0)), compareWhole(v, '<', count));
}
