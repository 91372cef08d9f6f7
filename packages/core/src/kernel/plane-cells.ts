import type * as P from '../plan/plan.ts';
import { spaceOfRaster } from '../plan/plan.ts';
import type { AskedCells, CellsNear, Place } from './asked-cells.ts';
import type { Column, F64, I32, Local } from './kernel.ts';
import {
  both,
  choose,
  compare,
  compareWhole,
  difference,
  minus,
  number,
  ofOne,
  plus,
  product,
  put,
  quotient,
  selectWhole,
  sum,
  times,
  whole,
} from './kernel.ts';
import type { CellsOf, Coordinates } from './places.ts';
import { cellAnywhere } from './places.ts';
import type { TurnValues } from './turn-values.ts';
import { keptPlace, waysFrom } from './ways.ts';

/** The cells of a plane, or of a field on it, in kernel form, as engine/cells.ts and forms/plane.ts have them. */

/** So many columns, or rows, before and behind that of the middle. */
interface Span {
  readonly before: Local<'i32'>;
  readonly behind: Local<'i32'>;
}

export class PlaneCells implements AskedCells {
  readonly columns: I32;
  readonly rows: I32;
  private readonly of: CellsOf;
  private readonly space: number;

  constructor(
    private readonly values: TurnValues,
    private readonly raster: number,
  ) {
    this.space = spaceOfRaster(values.sight.plan, raster);
    this.of = raster < 0 ? values.reads.cellsOfPlane(this.space) : values.reads.cellsOf(raster);
    this.columns = wholeOf(this.of.columns);
    this.rows = wholeOf(this.of.rows);
  }

  /** The side of a cell. */
  get side(): F64 {
    return this.of.cell;
  }

  get all(): I32 {
    return times(this.columns, this.rows);
  }

  cellOf({ x, y }: Place): I32 {
    return plus(times(y, this.columns), x);
  }

  placeOfCell(cell: I32): Place {
    const { sheet } = this.values;
    const [x, y] = [sheet.i32(), sheet.i32()];
    const kept = sheet.keptWhole(cell);
    const row = ofOne('floor', quotient({ is: 'of i32', value: kept }, this.of.columns));
    sheet.add(put(y, { is: 'truncated', value: row }), put(x, minus(kept, times(y, this.columns))));
    return { x, y };
  }

  coordinates(cell: F64): Coordinates {
    return this.middleOf(this.placeOfCell({ is: 'truncated', value: cell }));
  }

  /** That of what is left of a cell which the end of the space cuts. */
  middleOf({ x, y }: Place): Coordinates {
    const { sheet } = this.values;
    const { cell, width, height } = this.of;
    const middle = (at: I32, end: F64): F64 => {
      const index: F64 = { is: 'of i32', value: at };
      const isCut = compare(product(sum(index, number(1)), cell), '>', end);
      const left = quotient(sum(product(index, cell), end), number(2));
      return sheet.kept(choose(isCut, left, product(sum(index, number(0.5)), cell)));
    };
    return { x: middle(x, width), y: middle(y, height) };
  }

  nextList(): Column<'i32' | 'u8'> {
    const { reads } = this.values;
    return reads.wholesOf({ is: 'list', list: reads.nextList(), of: { is: 'cells', raster: this.raster } });
  }

  /** So many columns or rows to each side; where the space wraps, no cell is met twice. */
  private span(aside: F64, count: F64): Span {
    const { sheet } = this.values;
    const wraps = this.of.edge === 'wrapping';
    const [before, behind] = [sheet.i32(), sheet.i32()];
    const upTo = (most: F64): I32 => ({ is: 'truncated', value: { is: 'at most', value: aside, bound: most } });
    const half = (of: F64): F64 => ofOne('floor', quotient(of, number(2)));
    sheet.add(put(before, upTo(wraps ? half(difference(count, number(1))) : count)));
    sheet.add(put(behind, upTo(wraps ? half(count) : count)));
    return { before, behind };
  }

  /** How many columns and rows a reach goes to each side at most: circles around places that are no middles of cells one more. */
  private aside(is: P.SpaceReach['is'], distance: F64): F64 {
    if (is === 'next to') return number(1);
    if (is === 'here') return number(0);
    const sides = sum(quotient(distance, this.of.cell), number(1e-9));
    return this.values.sheet.kept(ofOne('floor', is === 'within' ? sum(sides, number(1)) : sides));
  }

  /** The cells in a reach, from the one in which its middle lies on to each side. */
  near(reach: P.SpaceReach): CellsNear {
    const { values } = this;
    const { sheet } = values;
    const at = keptPlace(values, reach);
    const distance = sheet.kept(values.value(reach.distance));
    const isAny = both(compare(at.x, '==', at.x), compare(distance, '>=', number(0)));
    const through = (take: (place: Place) => void): void =>
      sheet.when(isAny, () => {
        const own = this.placeOfCell(cellAnywhere(sheet, this.of, at.x, at.y));
        const aside = this.aside(reach.is, distance);
        const [across, up] = [this.span(aside, this.of.columns), this.span(aside, this.of.rows)];
        const [i, j, dx, dy] = [sheet.i32(), sheet.i32(), sheet.i32(), sheet.i32()];
        const place: Place = { x: sheet.i32(), y: sheet.i32() };
        const inRow = sheet.apart(() => {
          sheet.add(put(dx, minus(j, across.before)));
          sheet.add(put(place.x, this.onRing(plus(own.x, dx), this.columns)));
          const ask = (): void => this.inReach(reach.is, { dx, dy }, place, at, distance, () => take(place));
          sheet.when(compareWhole(place.x, '>=', whole(0)), ask);
        }).list;
        const rows = sheet.apart(() => {
          sheet.add(put(dy, minus(up.behind, i)));
          sheet.add(put(place.y, this.onRing(plus(own.y, dy), this.rows)));
          const to = plus(plus(across.before, across.behind), whole(1));
          sheet.when(compareWhole(place.y, '>=', whole(0)), () =>
            sheet.add({ is: 'loop', index: j, from: whole(0), to, body: inRow }),
          );
        }).list;
        const to = plus(plus(up.before, up.behind), whole(1));
        sheet.add({ is: 'loop', index: i, from: whole(0), to, body: rows });
      });
    return { through };
  }

  /** A column or row, which may lie beyond the edge; -1 where there is nothing beyond it. */
  private onRing(index: I32, count: I32): I32 {
    const kept = this.values.sheet.keptWhole(index);
    const [isBelow, isAbove] = [compareWhole(kept, '<', whole(0)), compareWhole(kept, '>=', count)];
    const wraps = this.of.edge === 'wrapping';
    const [below, above] = wraps ? [plus(kept, count), minus(kept, count)] : [whole(-1), whole(-1)];
    return selectWhole(isBelow, below, selectWhole(isAbove, above, kept));
  }

  /** What only happens with cells that are in reach. */
  private inReach(
    is: P.SpaceReach['is'],
    { dx, dy }: Readonly<Record<'dx' | 'dy', I32>>,
    place: Place,
    at: Coordinates,
    distance: F64,
    then: () => void,
  ): void {
    const { sheet } = this.values;
    const isOnAxis = { dx: compareWhole(dx, '==', whole(0)), dy: compareWhole(dy, '==', whole(0)) };
    if (is === 'square' || is === 'here') return then();
    if (is === 'cross') return sheet.when({ is: 'or', left: isOnAxis.dx, right: isOnAxis.dy }, then);
    if (is === 'next to')
      return sheet.when({ is: 'not', test: { is: 'and', left: isOnAxis.dx, right: isOnAxis.dy } }, then);
    const [x, y] = waysFrom(this.values, this.space, at, this.middleOf(place));
    sheet.when(compare(sum(product(x, x), product(y, y)), '<=', product(distance, distance)), then);
  }
}

function wholeOf(value: F64): I32 {
  return value.is === 'f64' ? whole(value.value) : { is: 'truncated', value };
}
