import { formOf } from '../forms/forms.ts';
import { slotsInUse } from './lives.ts';
import { needsNoList } from '../plan/analysis.ts';
import { isDrawnByTries, isSought } from '../plan/picks.ts';
import { classAsked } from '../plan/cell-classes.ts';
import { zoneOfAgents } from '../plan/zone-asked.ts';
import * as P from '../plan/plan.ts';
import type { Standing } from './buckets.ts';
import { writeNear, writeRows } from './buckets.ts';
import type { Column, F64, I32, Local, Test } from './kernel.ts';
import {
  both,
  compare,
  compareWhole,
  loadWhole,
  minus,
  number,
  plus,
  product,
  put,
  set,
  sum,
  whole,
} from './kernel.ts';
import { writeGather } from './gathering.ts';
import { anyInZone, eachInZone } from './in-zone.ts';
import { eachItem } from './items.ts';
import { shuffleList, sortList } from './lists.ts';
import { countInStates } from './states.ts';
import { writeMeetings } from './meetings.ts';
import { writeNearest } from './nearest.ts';
import { cellPlace } from './cells-told.ts';
import { NeedsMore } from './needs-more.ts';
import type { GridCells } from './grid-cells.ts';
import { asksCellByCell } from '../plan/cell-by-cell.ts';
import { extentOf, reaches } from './reaches.ts';
import { eachTied, rowLength, tiedAt } from './ties.ts';
import { writeTries } from './tries.ts';
import type { TurnValues } from './turn-values.ts';
import { keptPlace, waysFrom } from './ways.ts';
import { drawnByWeight } from './weighing.ts';

/** Whom agents ask for in their turns, in kernel form: all of a kind, or those of it in reach, as long as nobody of them moves while the rule acts. */

type Of<K extends P.Statement['op']> = Extract<P.Statement, { op: K }>;

/** What queries need of the statements around them. */
export interface Around {
  /** Writes statements, luck having begun. */
  block(statements: readonly P.Statement[]): void;
  /** A whole number from 0 below another, from the next word of luck. */
  below(many: I32): I32;
  /** A number from 0 to below 1, from the next two words. */
  unit(): F64;
}

/** A list of agents in memory of its own, and how many it holds. */
interface Listed {
  readonly list: number;
  readonly column: Column<'i32' | 'u8'>;
  readonly many: Local<'i32'>;
}

/** Agents in a circle of squares, up to which they are sooner asked one by one than counted by cell; who moves meanwhile takes longer to be found. */
const MOST_IN_CIRCLE = { inTurn: 6, atOnce: 16 };

export class TurnQueries {
  constructor(
    private readonly values: TurnValues,
    private readonly around: Around,
  ) {}

  /** Goes through those who fit, each in its local, in no particular order where they are looked for in a reach. */
  private candidates(query: P.Query, found: () => void, fits?: (test: Test) => void): void {
    const { values } = this;
    const { sheet, sight } = values;
    const { kind, over, reach, except, candidate, where } = query;
    if (over.is !== 'agents') return this.others(query, found);
    if (asksCellByCell(sight.plan, query)) return this.onCells(query, found);
    const local = values.slot(candidate);
    const fitting = (isInReach: Test | undefined): void => {
      const tests: Test[] = [];
      if (!values.steady.has(kind)) tests.push(values.isThere(kind, candidate));
      if (except !== undefined) tests.push(compareWhole(local, '!=', values.slot(except)));
      if (this.mayBeAbsent(query)) tests.push(this.isPresent(query));
      if (isInReach) tests.push(isInReach);
      if (fits && isInReach && !where) return fits(tests.reduce((left, right): Test => ({ is: 'and', left, right })));
      const ask = (): void => {
        if (!where) return found();
        this.around.block(where.statements);
        sheet.when(values.test(where.value), found);
      };
      if (tests.length === 0) ask();
      else sheet.when(tests.reduce(both), ask);
    };
    const zone = this.zoneOf(query);
    if (zone)
      return eachInZone(values, query, zone, () => (where!.value === zone ? found() : this.asked(where!, found)));
    if (reach.is === 'all') {
      const to = sheet.keptWhole(slotsInUse(values, kind));
      const { list } = sheet.apart(() => fitting(undefined));
      sheet.add({ is: 'loop', index: local, from: whole(0), to, body: list });
    } else if (reach.is === 'tied')
      eachTied(values, reach, 'tied other', values.slot(reach.agent.local), local, () => fitting(undefined));
    else this.near(kind, reach, local, fitting);
  }

  /** What says that somebody is in the zone in which alone they are asked for. */
  private zoneOf(query: P.Query): ReturnType<typeof zoneOfAgents> {
    const { plan } = this.values.sight;
    const zone = zoneOfAgents(query);
    return zone && plan.zones[zone.zone]!.space === plan.kinds[query.kind]!.space ? zone : undefined;
  }

  /** What only happens where a condition holds. */
  private asked(where: P.Code, found: () => void): void {
    this.around.block(where.statements);
    this.values.sheet.when(this.values.test(where.value), found);
  }

  /** Whether agents are left out that are nowhere. */
  private mayBeAbsent({ present, kind }: P.Query): boolean {
    const { plan } = this.values.sight;
    return present === true && plan.kinds[kind]!.mayBeNowhere && P.spaceOfKind(plan, kind) !== undefined;
  }

  private isPresent({ kind, candidate }: P.Query): Test {
    const x = this.values.placeOf(kind, 'x', this.values.slot(candidate));
    return compare(x, '==', x);
  }

  /** Goes through ties or items of lists that fit. */
  private others(query: P.Query, found: () => void): void {
    const { values } = this;
    const { kind, over, candidate, where } = query;
    const local = values.slot(candidate);
    const ask = (): void => (where ? this.asked(where, found) : found());
    if (over.is === 'list') return eachItem(values, over, kind, local, ask);
    // All ties of a network lie in another order, and what is made of tallies outside.
    if (over.is !== 'ties' || !over.agent) throw new NeedsMore();
    eachTied(values, over, 'tied tie', values.slot(over.agent.local), local, ask);
  }

  /** Those in a reach on cells that hold one agent each. */
  private onCells(query: P.Query, found: () => void): void {
    const { values } = this;
    const { sheet, sight } = values;
    const { kind, reach, except, candidate, where } = query;
    if (reach.is === 'all' || reach.is === 'tied') throw new NeedsMore();
    const cells = values.cells(sight.plan.kinds[kind]!.space);
    const asked = classAsked(sight.plan, query);
    const local = values.slot(candidate);
    cells.each(asked, values.fixedReach(reach), cellPlace(values, cells, reach.x, reach.y), (slot) => {
      sheet.add(put(local, slot));
      const ask = (): void => (where && !asked.asked ? this.asked(where, found) : found());
      if (except === undefined) ask();
      else sheet.when(compareWhole(local, '!=', values.slot(except)), ask);
    });
  }

  /** How many there are in a reach on cells that hold one agent each, added up without looking at anybody. */
  private countOnCells(cells: GridCells, { query }: Of<'count' | 'any'>): I32 {
    const { values } = this;
    const { sheet, sight } = values;
    const { reach, except } = query;
    if (reach.is === 'all' || reach.is === 'tied') throw new NeedsMore();
    const asked = classAsked(sight.plan, query);
    const place = cellPlace(values, cells, reach.x, reach.y);
    const many = cells.count(asked, values.fixedReach(reach), place);
    // Who asks stands in the middle.
    if (except !== undefined && reach.is !== 'next to') sheet.add(put(many, minus(many, cells.standsOn(asked, place))));
    return many;
  }

  private near(kind: number, reach: P.SpaceReach, local: Local<'i32'>, fitting: (isInReach: Test) => void): void {
    const { values } = this;
    const { sheet, sight } = values;
    const space = P.spaceOfKind(sight.plan, kind)!;
    const s = sight.plan.kinds[kind]!.space;
    values.demandNoLanes(s);
    const { isOfCells, isStraight } = formOf(space);
    if (reach.is === 'within' && isOfCells && isStraight) {
      const most = sight.atOnce ? MOST_IN_CIRCLE.atOnce : MOST_IN_CIRCLE.inTurn;
      values.reads.circles.push({ kind, distance: values.fixedReach(reach).distance, most });
    }
    const { x, y } = keptPlace(values, reach);
    const { distance, radius } = extentOf(values, reach);
    const around = { x, y, radius, wraps: space.edge === 'wrapping' };
    const ask = (slot: I32, at: Standing): void => {
      sheet.add(put(local, slot));
      fitting(reaches(values, s, reach.is, { x, y }, at, distance));
    };
    const kept = values.keptBuckets(kind);
    if (kept) writeRows(sheet, values.reads, kind, around, (row) => kept.each(row, ask));
    else writeNear(sheet, values.reads, kind, around, ask);
  }

  // What is made of those who fit

  count(s: Of<'count' | 'any'>): void {
    const { values } = this;
    const { sheet, sight } = values;
    if (s.op === 'count' && countInStates(values, s)) return;
    const isOnCells = asksCellByCell(sight.plan, s.query);
    const cells = isOnCells ? values.cells(sight.plan.kinds[s.query.kind]!.space) : undefined;
    if (cells?.onlyCounts(s, values.positions)) {
      const many = this.countOnCells(cells, s);
      const value: I32 = s.op === 'any' ? { is: 'holds', test: compareWhole(many, '>', whole(0)) } : many;
      return sheet.add(set(values.held(s.local), { is: 'of i32', value }));
    }
    const counter = sheet.i32();
    const name = `found${counter.name}`;
    const { list } = sheet.apart(() => {
      const test = s.op === 'count' && !isOnCells ? this.stateTest(s.query.where) : undefined;
      const add = (by: I32): void => sheet.add(put(counter, plus(counter, by)));
      // Without a jump: states are hard to foretell.
      const zone = this.zoneOf(s.query);
      if (zone && s.op === 'count' && s.query.where!.value === zone)
        anyInZone(values, s.query, zone, () => add(whole(1)));
      else if (test) this.candidates({ ...s.query, where: undefined }, () => add({ is: 'holds', test: test() }));
      else if (s.op === 'count')
        this.candidates(
          s.query,
          () => add(whole(1)),
          (fits) => add({ is: 'holds', test: fits }),
        );
      else
        this.candidates(s.query, () => {
          add(whole(1));
          sheet.add({ is: 'leave', block: name });
        });
    });
    sheet.add(put(counter, whole(0)));
    if (s.op === 'any') sheet.add({ is: 'block', name, body: list });
    else sheet.add(...list);
    sheet.add(set(values.held(s.local), { is: 'of i32', value: counter }));
  }

  /** Whether an agent is in one state, where nothing else is asked. */
  private stateTest(where: P.Code | undefined): (() => Test) | undefined {
    if (!where || where.statements.length > 0 || where.value.op !== 'binary' || where.value.fn !== 'is')
      return undefined;
    const { left, right } = where.value;
    return left.op === 'state' && right.op === 'number' ? () => this.values.test(where.value) : undefined;
  }

  /** Those who fit, in order of their slots. */
  private listed(query: P.Query, isInOrder = true): Listed {
    const { sheet, reads } = this.values;
    const list = reads.nextList();
    const [column, many] = [reads.wholesOf({ is: 'list', list, of: reads.roomFor(query) }), sheet.i32()];
    sheet.add(put(many, whole(0)));
    const append = (by: I32): void => {
      sheet.add({ is: 'store i32', column, at: many, value: this.values.slot(query.candidate) });
      sheet.add(put(many, plus(many, by)));
    };
    // Without a jump where nothing else is asked: nobody can foretell who of those near is in reach.
    this.candidates(
      query,
      () => append(whole(1)),
      (test) => append({ is: 'holds', test }),
    );
    if (isInOrder && query.reach.is !== 'all' && query.reach.is !== 'tied') sortList(sheet, column, many);
    return { list, column, many };
  }

  /** One of those who fit: at random, by weight, the first, or one of those who have the best score. */
  pick(s: Of<'pick'>): void {
    const { values } = this;
    const { sheet } = values;
    const { reach, where, kind, except, present } = s.query;
    const isAnyone = s.how === 'random' && !s.weight && !where && except === undefined && !present;
    if (reach.is === 'tied' && isAnyone && values.steady.has(kind)) return this.pickOfTied(s, reach);
    if (isDrawnByTries(s, values.steady)) return this.pickByTries(s);
    const asksBest = !s.weight && s.how !== 'random' && s.how !== 'first';
    const seeks = isSought(s) && !this.mayBeAbsent(s.query);
    const listed = seeks ? this.nearest(s) : this.listed(s.query, !asksBest);
    const { column, many } = listed;
    const take = (at: I32): void => {
      sheet.add(put(values.slot(s.local), loadWhole(column, at)));
      this.around.block(s.found);
    };
    const nobody = (): void => this.around.block(s.nobody);
    if (s.weight) {
      const at = this.weighed(s, s.weight, listed);
      return sheet.when(compareWhole(at, '>=', whole(0)), () => take(at), nobody);
    }
    if (asksBest && !seeks) this.keepBest(s, listed);
    sheet.when(
      compareWhole(many, '>', whole(0)),
      () => {
        if (s.how === 'first') return take(whole(0));
        const at = sheet.i32();
        const draw = (): void => sheet.add(put(at, this.around.below(many)));
        sheet.add(put(at, whole(0)));
        if (s.how === 'random') draw();
        else sheet.when(compareWhole(many, '>', whole(1)), draw);
        take(at);
      },
      nobody,
    );
  }

  /** Those who are the nearest of all, in order of their slots. */
  private nearest({ query, from }: Of<'pick'>): Listed {
    const { values } = this;
    const { sheet, reads } = values;
    const at = [from!.x, from!.y].map((e) => sheet.kept(values.value(e))) as [F64, F64];
    const list = reads.nextList();
    const column = reads.wholesOf({ is: 'list', list, of: values.reads.roomFor(query) });
    const many = writeNearest(values, query, at, column);
    sortList(sheet, column, many);
    return { list, column, many };
  }

  /** Those of a kind who are drawn come first, while that finds one who fits soon, else one of all who fit is drawn. */
  private pickByTries(s: Of<'pick'>): void {
    const { values } = this;
    const { sheet } = values;
    const { kind, candidate, except, where } = s.query;
    const [found, local] = [sheet.i32(), values.slot(candidate)];
    const draw = (end: () => void): void => {
      sheet.add(put(local, this.around.below({ is: 'truncated', value: values.countOf(kind) })));
      const ask = (): void => {
        sheet.add(put(found, local));
        this.around.block(where!.statements);
        sheet.when(values.test(where!.value), end);
        sheet.add(put(found, whole(-1)));
      };
      const tests: Test[] = [];
      if (except !== undefined) tests.push(compareWhole(local, '!=', values.slot(except)));
      if (this.mayBeAbsent(s.query)) tests.push(this.isPresent(s.query));
      if (tests.length === 0) ask();
      else sheet.when(tests.reduce(both), ask);
    };
    sheet.add(put(found, whole(-1)));
    sheet.when(compare(values.countOf(kind), '>', number(0)), () => writeTries(sheet, draw));
    sheet.when(compareWhole(found, '<', whole(0)), () => {
      const { column, many } = this.listed(s.query);
      sheet.when(compareWhole(many, '>', whole(0)), () =>
        sheet.add(put(found, loadWhole(column, this.around.below(many)))),
      );
    });
    sheet.when(
      compareWhole(found, '>=', whole(0)),
      () => {
        sheet.add(put(values.slot(s.local), found));
        this.around.block(s.found);
      },
      () => this.around.block(s.nobody),
    );
  }

  /** Leaves in the list only those that share the best score, and puts them in order. */
  private keepBest(s: Of<'pick'>, { column, many }: Listed): void {
    const { sheet } = this.values;
    const [at, equals, slot, best] = [sheet.i32(), sheet.i32(), sheet.i32(), sheet.f64()];
    const from = s.from && [this.values.value(s.from.x), this.values.value(s.from.y)].map((e) => sheet.kept(e));
    sheet.add(set(best, number(-Infinity)), put(equals, whole(0)));
    const { list } = sheet.apart(() => {
      sheet.add(put(slot, loadWhole(column, at)));
      const score = sheet.kept(from ? this.nearness(s.query.kind, from[0]!, from[1]!, slot) : this.score(s, slot));
      const keep = (place: I32, count: I32): void =>
        sheet.add({ is: 'store i32', column, at: place, value: slot }, put(equals, count));
      sheet.when(
        compare(score, '>', best),
        () => {
          sheet.add(set(best, score));
          keep(whole(0), whole(1));
        },
        () => sheet.when(compare(score, '==', best), () => keep(equals, plus(equals, whole(1)))),
      );
    });
    sheet.add({ is: 'loop', index: at, from: whole(0), to: many, body: list }, put(many, equals));
    const { reach } = s.query;
    if (reach.is !== 'all' && reach.is !== 'tied') sortList(sheet, column, many);
  }

  private score({ query, by, how }: Of<'pick'>, slot: I32): F64 {
    const { sheet } = this.values;
    sheet.add(put(this.values.slot(query.candidate), slot));
    this.around.block(by!.statements);
    const score = sheet.kept(this.values.value(by!.value));
    return how === 'most' ? score : { is: 'minus', value: score };
  }

  private nearness(kind: number, x: F64, y: F64, slot: Local<'i32'>): F64 {
    const { values } = this;
    const s = values.sight.plan.kinds[kind]!.space;
    values.demandNoLanes(s);
    const at = { x: values.placeOf(kind, 'x', slot), y: values.placeOf(kind, 'y', slot) };
    const [dx, dy] = waysFrom(values, s, { x, y }, at);
    return { is: 'minus', value: sum(product(dx, dx), product(dy, dy)) };
  }

  private weighed({ query, site }: Of<'pick'>, weight: P.Code, { list, column, many }: Listed): Local<'i32'> {
    const { values } = this;
    return drawnByWeight(values, this.around, weight, site, {
      many,
      weights: values.reads.of({ is: 'weights', list, of: values.reads.roomFor(query) }),
      take: (at) => values.sheet.add(put(values.slot(query.candidate), loadWhole(column, at))),
    });
  }

  /** One of all who are tied to an agent, without a list. */
  private pickOfTied(s: Of<'pick'>, reach: Extract<P.Reach, { is: 'tied' }>): void {
    const { values } = this;
    const { sheet } = values;
    const of = values.slot(reach.agent.local);
    const many = rowLength(values, reach, of);
    sheet.when(
      compareWhole(many, '>', whole(0)),
      () => {
        sheet.add(put(values.slot(s.local), tiedAt(values, reach, of, this.around.below(many))));
        this.around.block(s.found);
      },
      () => this.around.block(s.nobody),
    );
  }

  gather(s: Of<'gather'>): void {
    const { values } = this;
    const { sheet } = values;
    const { query, value } = s;
    writeGather(values, s, (take) => {
      const ask = (): void => {
        this.around.block(value.statements);
        take(values.value(value.value));
      };
      if (query.reach.is === 'all' || query.reach.is === 'tied') return this.candidates(query, ask);
      const { column, many } = this.listed(query);
      const at = sheet.i32();
      const { list } = sheet.apart(() => {
        sheet.add(put(values.slot(query.candidate), loadWhole(column, at)));
        ask();
      });
      sheet.add({ is: 'loop', index: at, from: whole(0), to: many, body: list });
    });
  }

  each(s: Of<'each'>): void {
    const { values } = this;
    const { sheet } = values;
    if (needsNoList(s)) return this.candidates(s.query, () => this.around.block(s.body));
    const { column, many } = this.listed(s.query);
    if (s.shuffled) shuffleList(sheet, column, many, (below) => this.around.below(below));
    writeMeetings(values, this.around, s, many, (at) =>
      sheet.add(put(values.slot(s.query.candidate), loadWhole(column, at))),
    );
  }
}
