import * as P from '../plan/plan.ts';
import { TRIES } from '../plan/values.ts';
import { zoneAsked } from '../plan/zone-asked.ts';
import { writeGather } from './gathering.ts';
import type { AskedCells, CellsNear, Place } from './asked-cells.ts';
import { cellScanned, scanPlace } from './asked-cells.ts';
import { PlaneCells } from './plane-cells.ts';
import type { Column, F64, I32, Local, Statement, Test } from './kernel.ts';
import {
  compare,
  compareWhole,
  loadWhole,
  minus,
  number,
  plus,
  product,
  put,
  quotient,
  set,
  storeWhole,
  sum,
  times,
  whole,
} from './kernel.ts';
import { shuffleList, sortList } from './lists.ts';
import { isSet, maskOf, zoneExtent } from './masks.ts';
import { writeMeetings } from './meetings.ts';
import { cellPlace } from './cells-told.ts';
import { NeedsMore } from './needs-more.ts';
import { writeTries } from './tries.ts';
import type { Around } from './turn-queries.ts';
import type { TurnValues } from './turn-values.ts';
import type { Coordinates } from './places.ts';
import { keptPlace, waysFrom } from './ways.ts';
import { drawnByWeight } from './weighing.ts';

/** Cells that agents ask for in their turns, in kernel form, on grids and planes. */

type Of<K extends P.Statement['op']> = Extract<P.Statement, { op: K }>;

/** The cells of a query: all of a space, or those near a place. */
interface Asked {
  readonly cells: AskedCells;
  readonly space: number;
  /** Whether nobody stands on a cell, where it is to be empty. */
  readonly isFree: ((cell: I32) => Test) | undefined;
  readonly query: P.Query;
  readonly near: CellsNear | undefined;
}

/** Cells that may lie in a zone: from which column and row up to below which. */
interface ZoneAsked {
  readonly columns: readonly [I32, I32];
  readonly rows: readonly [I32, I32];
  /** Which of them do, where zones are kept by the cells that are asked for. */
  readonly inside: Column<'u8'> | undefined;
}

/** Cells in memory of their own, in the order in which cells are listed: by their numbers, or by their places in it. */
interface Listed {
  readonly column: Column<'i32' | 'u8'>;
  readonly by: 'number' | 'place';
  readonly many: Local<'i32'>;
}

/** Draws a cell of a grid, an empty one where a cell holds one agent, and none of an obstacle. */
export function writeCellDraw(values: TurnValues, around: Around, s: Of<'draw cell'>): void {
  const { sheet, sight } = values;
  const space = sight.plan.spaces[s.space]!;
  const cells = values.cells(s.space);
  const cell = sheet.i32();
  const draw = (): void => sheet.add(put(cell, around.below(cells.all)));
  const tests: Test[] = [];
  if (space.oneAgentACell) tests.push({ is: 'not', test: cells.isFree(cell) });
  if (P.hasObstacles(sight.plan, s.space))
    tests.push(isSet(maskOf(values, { is: 'obstacles', space: s.space }).inside, cell));
  const isFull = tests.length > 0 && tests.reduce((left, right): Test => ({ is: 'or else', left, right }));
  if (isFull) {
    const [tries, next] = [sheet.i32(), sheet.i32()];
    const name = `draws${tries.name}`;
    const leave = (): void => sheet.add({ is: 'leave', block: name });
    const draws = sheet.apart(() => {
      draw();
      sheet.when({ is: 'not', test: isFull }, leave);
    });
    const after = sheet.apart(() => {
      sheet.when({ is: 'not', test: isFull }, leave);
      sheet.add(put(cell, plus(cell, whole(1))));
      sheet.when(compareWhole(cell, '==', cells.all), () => sheet.add(put(cell, whole(0))));
    });
    const loops: Statement[] = [
      { is: 'loop', index: tries, from: whole(0), to: whole(TRIES), body: draws.list },
      { is: 'loop', index: next, from: whole(0), to: cells.all, body: after.list },
    ];
    sheet.add({ is: 'block', name, body: loops });
  } else draw();
  const { x, y } = cells.coordinates({ is: 'of i32', value: cell });
  sheet.add(set(values.held(s.y), y), set(values.held(s.x), x));
}

/** Counts cells, picks one, goes through them, or makes one number of what they have. */
export class CellQueries {
  constructor(
    private readonly values: TurnValues,
    private readonly around: Around,
  ) {}

  private asked(query: P.Query, { raster, empty }: Extract<P.Query['over'], { is: 'cells' }>): Asked {
    const { values } = this;
    const space = P.spaceOfRaster(values.sight.plan, raster);
    const cells = values.cellsOf(raster);
    const { reach } = query;
    const near = reach.is === 'all' || reach.is === 'tied' ? undefined : this.near(cells, space, reach);
    const isFree = empty ? (cell: I32): Test => values.cells(space).isFree(cell) : undefined;
    return { cells, space, isFree, query, near };
  }

  private near(cells: AskedCells, space: number, reach: P.SpaceReach): CellsNear {
    const { values } = this;
    if (cells instanceof PlaneCells) return cells.near(reach);
    // It has no steps.
    if (reach.is === 'here') throw new NeedsMore();
    const grid = values.cells(space);
    const place = cellPlace(values, grid, reach.x, reach.y);
    const { many, to } = grid.stepsAround(values.fixedReach(reach));
    return {
      through: (take) => {
        const step = values.sheet.i32();
        const { list } = values.sheet.apart(() => to(step, place, take));
        values.sheet.add({ is: 'loop', index: step, from: whole(0), to: many, body: list });
      },
      drawn: (below, take) => to(below(many), place, take),
    };
  }

  /** What happens with a cell if it fits, which its local holds then. */
  private fitting(
    { cells, isFree, query: { where, candidate } }: Asked,
    place: Place,
    found: (cell: I32) => void,
  ): void {
    const { values } = this;
    const { sheet } = values;
    const cell = sheet.keptWhole(cells.cellOf(place));
    const ask = (): void => {
      sheet.add(set(values.held(candidate), { is: 'of i32', value: cell }));
      values.withCoordinates(candidate, cells.middleOf(place), () => {
        if (!where) return found(cell);
        this.around.block(where.statements);
        sheet.when(values.test(where.value), () => found(cell));
      });
    };
    if (isFree) sheet.when(isFree(cell), ask);
    else ask();
  }

  /** Goes through those that fit: all in the order in which cells are listed, those around a place so as long as their steps do not lead over an edge. */
  private through(asked: Asked, found: (cell: I32, place: Place) => void): void {
    const { sheet } = this.values;
    const { cells, near } = asked;
    const take = (place: Place): void => this.fitting(asked, place, (cell) => found(cell, place));
    if (near) return near.through(take);
    const [row, x, y] = [sheet.i32(), sheet.i32(), sheet.i32()];
    const inRow = sheet.apart(() => take({ x, y })).list;
    const zone = this.zoneOf(asked);
    const {
      columns: [left, right],
      rows: [bottom, top],
    } = zone ?? { columns: [whole(0), cells.columns], rows: [whole(0), cells.rows] };
    sheet.add({
      is: 'loop',
      index: row,
      from: minus(cells.rows, top),
      to: minus(cells.rows, bottom),
      body: [
        put(y, minus(minus(cells.rows, whole(1)), row)),
        ...(zone?.inside
          ? this.throughZone(zone.inside, zone, cells, { x, y }, inRow)
          : [{ is: 'loop', index: x, from: left, to: right, body: inRow } as const]),
      ],
    });
  }

  /** Where the zone lies of which cells alone are asked for. */
  private zoneOf({ query, space, cells }: Asked): ZoneAsked | undefined {
    const { values } = this;
    const { sheet, sight } = values;
    const zone = zoneAsked(query);
    if (zone === undefined || sight.plan.zones[zone]!.space !== space) return undefined;
    const { left, right, bottom, top } = zoneExtent(values, zone);
    const index = (at: F64, many: I32): I32 => {
      const least: F64 = { is: 'at least', value: at, bound: number(0) };
      return sheet.keptWhole({ is: 'truncated', value: { is: 'at most', value: least, bound: asNumber(many) } });
    };
    const between = (low: F64, high: F64, many: I32): readonly [I32, I32] => {
      const [from, to] = [low, high].map((at) => (cells instanceof PlaneCells ? quotient(at, cells.side) : at)) as [
        F64,
        F64,
      ];
      return [index(from, many), index(sum(to, number(1)), many)];
    };
    return {
      columns: between(left, right, cells.columns),
      rows: between(bottom, top, cells.rows),
      inside: cells instanceof PlaneCells ? undefined : (maskOf(values, { is: 'zone', zone }).inside as Column<'u8'>),
    };
  }

  /** Goes through those cells of a row that lie in a zone, of which sixteen are looked at together. */
  private throughZone(
    inside: Column<'u8'>,
    { columns: [left, right] }: ZoneAsked,
    { columns }: AskedCells,
    { x, y }: Place,
    body: readonly Statement[],
  ): Statement[] {
    const [first, cell] = [this.values.sheet.i32(), this.values.sheet.i32()];
    return [
      put(first, times(y, columns)),
      {
        is: 'loop over',
        index: cell,
        from: plus(first, left),
        to: plus(first, right),
        column: inside,
        values: [1],
        isLive: false,
        body: [put(x, minus(cell, first)), ...body],
      },
    ];
  }

  /** Those that fit, in order. */
  private listed(asked: Asked): Listed {
    const { sheet } = this.values;
    const { cells, near } = asked;
    if (!near) return this.listedOfAll(asked);
    const [column, many, last, isMixed] = [cells.nextList(), sheet.i32(), sheet.i32(), sheet.i32()];
    sheet.add(put(many, whole(0)), put(last, whole(-1)), put(isMixed, whole(0)));
    this.through(asked, (_, place) => {
      const at = sheet.keptWhole(scanPlace(cells, place));
      sheet.when(compareWhole(at, '<', last), () => sheet.add(put(isMixed, whole(1))));
      sheet.add(put(last, at), storeWhole(column, many, at), put(many, plus(many, whole(1))));
    });
    sheet.when(compareWhole(isMixed, '!=', whole(0)), () => sortList(sheet, column, many));
    return { column, by: 'place', many };
  }

  private listedOfAll(asked: Asked): Listed {
    const { sheet, reads } = this.values;
    const many = sheet.i32();
    const column = reads.wholesOf({ is: 'list', list: reads.nextList(), of: reads.roomFor(asked.query) });
    sheet.add(put(many, whole(0)));
    this.through(asked, (cell) => sheet.add(storeWhole(column, many, cell), put(many, plus(many, whole(1)))));
    return { column, by: 'number', many };
  }

  /** Puts the cell at a place of a list into the local of the candidate. */
  private take({ cells, query }: Asked, { column, by }: Omit<Listed, 'many'>, at: I32): I32 {
    const { sheet } = this.values;
    const listed = loadWhole(column, at);
    const cell = sheet.keptWhole(by === 'number' ? listed : cellScanned(cells, listed));
    sheet.add(set(this.values.held(query.candidate), { is: 'of i32', value: cell }));
    return cell;
  }

  // What is made of those that fit

  count({ op, query, local }: Of<'count' | 'any'>, over: Extract<P.Query['over'], { is: 'cells' }>): void {
    const { values } = this;
    const { sheet } = values;
    const asked = this.asked(query, over);
    const counter = sheet.i32();
    const name = `found${counter.name}`;
    const { list } = sheet.apart(() =>
      this.through(asked, () => {
        sheet.add(put(counter, plus(counter, whole(1))));
        if (op === 'any') sheet.add({ is: 'leave', block: name });
      }),
    );
    sheet.add(put(counter, whole(0)), { is: 'block', name, body: list });
    sheet.add(set(values.held(local), asNumber(counter)));
  }

  gather(s: Of<'gather'>, over: Extract<P.Query['over'], { is: 'cells' }>): void {
    const { values } = this;
    const { sheet } = values;
    const { query, value } = s;
    const asked = this.asked(query, over);
    writeGather(values, s, (take) => {
      const ask = (): void => {
        this.around.block(value.statements);
        take(values.value(value.value));
      };
      if (!asked.near || values.sight.plan.spaces[asked.space]!.edge !== 'wrapping') return this.through(asked, ask);
      const listed = this.listed(asked);
      const at = sheet.i32();
      const { list } = sheet.apart(() => {
        this.take(asked, listed, at);
        ask();
      });
      sheet.add({ is: 'loop', index: at, from: whole(0), to: listed.many, body: list });
    });
  }

  each(s: Of<'each'>, over: Extract<P.Query['over'], { is: 'cells' }>): void {
    const { values } = this;
    const asked = this.asked(s.query, over);
    const listed = this.listed(asked);
    const { column, many } = listed;
    if (s.shuffled) shuffleList(values.sheet, column, many, (below) => this.around.below(below));
    writeMeetings(values, this.around, s, many, (at) => void this.take(asked, listed, at));
  }

  pick(s: Of<'pick'>, over: Extract<P.Query['over'], { is: 'cells' }>): void {
    const { values } = this;
    const { sheet } = values;
    const asked = this.asked(s.query, over);
    const found = sheet.i32();
    sheet.add(put(found, whole(-1)));
    if (s.weight) this.weighed(s, s.weight, asked, found);
    else if (s.how === 'random') this.drawOne(asked, found);
    else if (s.how === 'first') this.oneOf(asked, found, false);
    else this.bestOf(s, asked, found);
    sheet.when(
      compareWhole(found, '>=', whole(0)),
      () => values.withCell(s.local, asked.cells, found, () => this.around.block(s.found)),
      () => this.around.block(s.nobody),
    );
  }

  private weighed(s: Of<'pick'>, weight: P.Code, asked: Asked, found: Local<'i32'>): void {
    const { values } = this;
    const { sheet, reads } = values;
    const listed = this.listed(asked);
    const at = drawnByWeight(values, this.around, weight, s.site, {
      many: listed.many,
      weights: reads.of({ is: 'weights', list: reads.nextList(), of: reads.roomFor(s.query) }),
      take: (place) => void this.take(asked, listed, place),
    });
    sheet.when(compareWhole(at, '>=', whole(0)), () => sheet.add(put(found, this.take(asked, listed, at))));
  }

  /** Those that are drawn come first, while that finds one soon, else one of all that fit is drawn. */
  private drawOne(asked: Asked, found: Local<'i32'>): void {
    const { sheet } = this.values;
    const { cells, near } = asked;
    const list = (): void => this.oneOf(asked, found, true);
    if (near && !near.drawn) return list();
    writeTries(sheet, (end) => {
      const keep = (place: Place): void =>
        this.fitting(asked, place, (cell) => {
          sheet.add(put(found, cell));
          end();
        });
      if (near?.drawn) return near.drawn((many) => this.around.below(many), keep);
      keep(cells.placeOfCell(this.around.below(cells.all)));
    });
    sheet.when(compareWhole(found, '<', whole(0)), list);
  }

  /** One of all that fit: drawn, or the first. */
  private oneOf(asked: Asked, found: Local<'i32'>, isDrawn: boolean): void {
    const { sheet } = this.values;
    if (asked.near) {
      const listed = this.listed(asked);
      const { many } = listed;
      return sheet.when(compareWhole(many, '>', whole(0)), () =>
        sheet.add(put(found, this.take(asked, listed, isDrawn ? this.around.below(many) : whole(0)))),
      );
    }
    const many = sheet.i32();
    sheet.add(put(many, whole(0)));
    if (isDrawn) this.through(asked, () => sheet.add(put(many, plus(many, whole(1)))));
    else sheet.add(put(many, whole(1)));
    sheet.when(compareWhole(many, '>', whole(0)), () => {
      const left = sheet.i32();
      sheet.add(put(left, isDrawn ? this.around.below(many) : whole(0)));
      this.nthOf(left, (pass) => this.through(asked, (cell) => pass(() => sheet.add(put(found, cell)))));
    });
  }

  /** Goes through some until so many were passed over, and takes the next. */
  private nthOf(left: Local<'i32'>, through: (pass: (take: () => void) => void) => void): void {
    const { sheet } = this.values;
    const name = `passing${left.name}`;
    const { list } = sheet.apart(() =>
      through((take) => {
        sheet.when(compareWhole(left, '==', whole(0)), () => {
          take();
          sheet.add({ is: 'leave', block: name });
        });
        sheet.add(put(left, minus(left, whole(1))));
      }),
    );
    sheet.add({ is: 'block', name, body: list });
  }

  /** One of those that share the best score. */
  private bestOf(s: Of<'pick'>, asked: Asked, found: Local<'i32'>): void {
    const { sheet } = this.values;
    const [best, equals, score] = [sheet.f64(), sheet.i32(), sheet.f64()];
    const from = s.from && keptPlace(this.values, s.from);
    const setScore = (place: Place): void =>
      sheet.add(set(score, from ? this.nearness(asked, from, place) : this.scoreOf(s)));
    const column = asked.near && asked.cells.nextList();
    const keep = (place: Place, at: I32, count: I32): void => {
      if (column) sheet.add(storeWhole(column, at, scanPlace(asked.cells, place)));
      sheet.add(put(equals, count));
    };
    sheet.add(set(best, number(-Infinity)), put(equals, whole(0)));
    this.through(asked, (_, place) => {
      setScore(place);
      sheet.when(
        compare(score, '>', best),
        () => {
          sheet.add(set(best, score));
          keep(place, whole(0), whole(1));
        },
        () => sheet.when(compare(score, '==', best), () => keep(place, equals, plus(equals, whole(1)))),
      );
    });
    const drawn = sheet.i32();
    sheet.add(put(drawn, whole(0)));
    sheet.when(compareWhole(equals, '>', whole(1)), () => {
      if (column) sortList(sheet, column, equals);
      sheet.add(put(drawn, this.around.below(equals)));
    });
    sheet.when(compareWhole(equals, '>', whole(0)), () => {
      if (column) return sheet.add(put(found, this.take(asked, { column, by: 'place' }, drawn)));
      this.nthOf(drawn, (pass) =>
        this.through(asked, (cell, place) => {
          setScore(place);
          sheet.when(compare(score, '==', best), () => pass(() => sheet.add(put(found, cell))));
        }),
      );
    });
  }

  private scoreOf({ by, how }: Of<'pick'>): F64 {
    this.around.block(by!.statements);
    const score = this.values.value(by!.value);
    return how === 'most' ? score : { is: 'minus', value: score };
  }

  private nearness({ cells, space }: Asked, from: Coordinates, place: Place): F64 {
    const [dx, dy] = waysFrom(this.values, space, from, cells.middleOf(place));
    return { is: 'minus', value: sum(product(dx, dx), product(dy, dy)) };
  }
}

function asNumber(value: I32): F64 {
  return { is: 'of i32', value };
}
