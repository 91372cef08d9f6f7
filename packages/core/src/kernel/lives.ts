import { atMost } from '../plan/at-most.ts';
import * as P from '../plan/plan.ts';
import type { Column, F64, I32, Statement } from './kernel.ts';
import { compare, loadWhole, minus, number, plus, put, store, sum, load, whole } from './kernel.ts';
import { broughtIn } from './places.ts';
import { LIFE } from './turn-ends.ts';
import { NeedsMore } from './needs-more.ts';
import type { TurnValues } from './turn-values.ts';

/** Agents that come and go, in kernel form, as `add` and `removeAt` of engine/population.ts and state/run-state.ts do it. */

type Of<K extends P.Statement['op']> = Extract<P.Statement, { op: K }>;

function lifeOf(values: TurnValues, kind: number): Column<'i32' | 'u8'> {
  return values.reads.wholesOf({ is: 'life', kind });
}

function storeWhole(column: Column<'i32' | 'u8'>, at: I32, value: I32): Statement {
  return { is: 'store i32', column, at, value };
}

function count(values: TurnValues, kind: number, which: keyof typeof LIFE): I32 {
  return loadWhole(lifeOf(values, kind), whole(LIFE[which]));
}

/** The kinds that a rule lets come or go, of which the kernel itself keeps count. */
function changingKinds(values: TurnValues): number[] {
  const { effects, plan } = values.sight;
  return [...plan.kinds.keys()].filter((kind) => effects.createdKinds.has(kind) || !values.steady.has(kind));
}

/** Makes an agent; there is room for it, as was asked before the turn. */
export function writeBirth(values: TurnValues, s: Of<'create'>, found: () => void): void {
  const { sheet, reads, sight } = values;
  const { plan, atOnce } = sight;
  const { kind } = s;
  const space = P.spaceOfKind(plan, kind);
  if (atOnce || plan.kinds[kind]!.mayBeNowhere || space?.tracksCells) throw new NeedsMore();
  const places = placesOf(values, s, space);
  const kinds = changingKinds(values);
  const together = kinds.map((one) => count(values, one, 'living')).reduce(plus);
  sheet.when(compare({ is: 'of i32', value: together }, '>=', reads.number({ op: 'most living', kinds })), () =>
    values.fail('ceiling', s.site, number(0)),
  );
  const slot = values.slot(s.local);
  const life = lifeOf(values, kind);
  const addOne = (which: 'used' | 'living' | 'next'): Statement =>
    storeWhole(life, whole(LIFE[which]), plus(count(values, kind, which), whole(1)));
  sheet.add(put(slot, count(values, kind, 'used')), addOne('used'), addOne('living'));
  sheet.add(storeWhole(reads.wholesOf({ is: 'number', kind }), slot, count(values, kind, 'next')), addOne('next'));
  sheet.add(storeWhole(reads.wholesOf({ is: 'alive', kind }), slot, whole(1)));
  const first = { x: places[0]!, y: places[1]!, direction: number(0), sine: number(0), cosine: number(1) };
  for (const is of ['x', 'y', 'direction', 'sine', 'cosine'] as const)
    sheet.add(store(reads.of({ is, kind }), slot, first[is]));
  values.keptBuckets(kind)?.add(slot, places[0]!, places[1]!);
  const { columns, dueCount, machines } = plan.kinds[kind]!;
  columns.forEach((_, column) => sheet.add(store(reads.of({ is: 'attribute', kind, column }), slot, number(0))));
  for (let column = 0; column < dueCount; column++)
    sheet.add(store(reads.of({ is: 'due', kind, column }), slot, number(0)));
  machines.forEach((_, column) => sheet.add(storeWhole(reads.wholesOf({ is: 'state', kind, column }), slot, whole(0))));
  found();
}

/** Where an agent comes to be. */
function placesOf(values: TurnValues, { x, y, site, kind }: Of<'create'>, space: P.SpacePlan | undefined): F64[] {
  if (!x || !y || !space) return [number(0), number(0)];
  const s = values.sight.plan.kinds[kind]!.space;
  values.demandSquares(s);
  if (P.hasObstacles(values.sight.plan, s)) throw new NeedsMore();
  const places = [x, y].map((e) => values.checked(values.value(e), site));
  return places.map((place, i) => {
    const size = values.reads.size(s, i === 0 ? 'x' : 'y');
    return values.sheet.kept(broughtIn(values.sheet, place, size, space.form, space.edge));
  });
}

export function writeRemoval(values: TurnValues, { kind, agent }: Of<'remove'>): void {
  const { sheet, reads, sight } = values;
  const { plan, atOnce } = sight;
  const hasTies = plan.networks.some(({ from, to }) => from === kind || to === kind);
  if (atOnce || hasTies || P.spaceOfKind(plan, kind)?.tracksCells) throw new NeedsMore();
  const slot = values.slot(agent.local);
  sheet.when(values.isThere(kind, agent.local), () => {
    sheet.add(
      storeWhole(reads.wholesOf({ is: 'alive', kind }), slot, whole(0)),
      storeWhole(lifeOf(values, kind), whole(LIFE.living), minus(count(values, kind, 'living'), whole(1))),
    );
    plan.kinds[kind]!.machines.forEach(({ firstCounter, groups }, machine) => {
      if (groups.length > 0) throw new NeedsMore();
      const state = loadWhole(reads.wholesOf({ is: 'state', kind, column: machine }), slot);
      const [left, at] = [reads.of({ is: 'left' }), sheet.keptWhole(plus(state, whole(firstCounter)))];
      sheet.add(store(left, at, sum(load(left, at), number(1))));
    });
  });
}

/** Ends the kernel before a turn for whose births there may be no room. @param turn the place of the turn among all */
export function writeRoomFor(values: TurnValues, statements: readonly P.Statement[], turn: I32): void {
  for (const kind of values.sight.effects.createdKinds) {
    const born = atMost(statements, (s) => (s.op === 'create' && s.kind === kind ? 1 : 0));
    if (!born || born.perAgent.size > 0) throw new NeedsMore();
    const most = born.fixed;
    if (most === 0) continue;
    const needed = plus(count(values, kind, 'used'), whole(most));
    values.sheet.when(
      compare({ is: 'of i32', value: needed }, '>', { is: 'of i32', value: count(values, kind, 'room') }),
      () => values.fail('room', kind, number(most), turn),
    );
  }
}
