import { ALIVE, DEAD, LEAVING, UNBORN } from '../engine/population.ts';
import { atMost } from '../plan/at-most.ts';
import * as P from '../plan/plan.ts';
import type { Column, F64, I32, Statement, Test } from './kernel.ts';
import {
  compare,
  compareWhole,
  loadWhole,
  minus,
  number,
  plus,
  put,
  store,
  sum,
  load,
  whole,
  storeWhole,
} from './kernel.ts';
import { countLiving } from './living.ts';
import type { Place } from './asked-cells.ts';
import { somewhere } from './movement.ts';
import { isMasked } from './masks.ts';
import type { Coordinates } from './places.ts';
import { broughtIn } from './places.ts';
import { LIFE } from './turn-ends.ts';
import { isOneOf } from './states.ts';
import type { TurnValues } from './turn-values.ts';

/** Agents that come and go, in kernel form, as `add` and `removeAt` of engine/population.ts and state/run-state.ts do it. */

/** Room for so many is made before a turn in which nobody can tell how many are born. */
const USUALLY_BORN = 64;

type Of<K extends P.Statement['op']> = Extract<P.Statement, { op: K }>;

function lifeOf(values: TurnValues, kind: number): Column<'i32' | 'u8'> {
  return values.reads.wholesOf({ is: 'life', kind });
}

function count(values: TurnValues, kind: number, which: keyof typeof LIFE): I32 {
  return loadWhole(lifeOf(values, kind), whole(LIFE[which]));
}

/** The slots of a kind in use, also of those who have come meanwhile. */
export function slotsInUse(values: TurnValues, kind: number): I32 {
  if (values.sight.effects.createdKinds.has(kind)) return count(values, kind, 'used');
  return { is: 'truncated', value: values.reads.number({ op: 'slots', kind }) };
}

/** The slots of a kind that there is room for. */
export function capacityOf(values: TurnValues, kind: number): I32 {
  if (values.sight.effects.createdKinds.has(kind)) return count(values, kind, 'room');
  return { is: 'truncated', value: values.reads.number({ op: 'capacity', kind }) };
}

/** The kinds that a rule lets come or go, of which the kernel itself keeps count. */
function changingKinds(values: TurnValues): number[] {
  const { effects, plan } = values.sight;
  return [...plan.kinds.keys()].filter((kind) => effects.createdKinds.has(kind) || !values.steady.has(kind));
}

/** Makes an agent; there is room for it, as was asked before the turn, or else is made now. Where it is not let in, nothing comes of it. */
export function writeBirth(values: TurnValues, s: Of<'create'>, found: () => void): void {
  const { sheet, sight } = values;
  const { kind } = s;
  const space = P.spaceOfKind(sight.plan, kind);
  const { mayBeNowhere, space: on } = sight.plan.kinds[kind]!;
  const [x, y] = placesOf(values, s, space) as [F64, F64];
  // Also all at once a cell is taken by who is born on it.
  const cells = s.x && space?.tracksCells ? values.cells(on) : undefined;
  const mask = s.x && !s.always ? values.obstacles(kind) : undefined;
  const come = (place?: Place): void =>
    makeAgent(values, s, { x, y }, () => {
      if (place) cells!.come(kind, values.slot(s.local), place);
      found();
    });
  const comeTo = (): void => {
    const place = cells?.placeOf(x, y);
    const refusals: Test[] = [];
    if (place && space!.oneAgentACell && !s.always) refusals.push(cells!.isTaken(place));
    if (mask) refusals.push(isMasked(values, mask, x, y));
    if (refusals.length === 0) return come(place);
    sheet.when(
      refusals.reduce((left, right): Test => ({ is: 'or else', left, right })),
      () => sheet.add({ is: 'tell', fn: 'refused', given: [] }),
      () => come(place),
    );
  };
  if (mayBeNowhere && (cells || mask)) sheet.when(compare(x, '==', x), comeTo, come);
  else comeTo();
}

function makeAgent(
  values: TurnValues,
  s: Of<'create'>,
  at: { readonly x: F64; readonly y: F64 },
  found: () => void,
): void {
  const { sheet, reads, sight } = values;
  const { plan, atOnce } = sight;
  const { kind } = s;
  const kinds = changingKinds(values);
  const together = kinds
    .map((one) =>
      atOnce ? plus(count(values, one, 'living'), count(values, one, 'unborn')) : count(values, one, 'living'),
    )
    .reduce(plus);
  sheet.when(compare({ is: 'of i32', value: together }, '>=', reads.number({ op: 'most living', kinds })), () =>
    values.fail('ceiling', s.site, number(0)),
  );
  const slot = values.slot(s.local);
  const life = lifeOf(values, kind);
  if (values.mayRunOut.has(kind))
    sheet.when(compareWhole(count(values, kind, 'used'), '>=', count(values, kind, 'room')), () =>
      sheet.add({
        is: 'tell',
        fn: 'moreRoom',
        given: [number(kind)],
        anew: reads.wholesOf({ is: 'addresses' }) as Column<'i32'>,
      }),
    );
  const addOne = (which: 'used' | 'living' | 'next' | 'unborn'): Statement =>
    storeWhole(life, whole(LIFE[which]), plus(count(values, kind, which), whole(1)));
  sheet.add(put(slot, count(values, kind, 'used')), addOne('used'), addOne(atOnce ? 'unborn' : 'living'));
  sheet.add(storeWhole(reads.wholesOf({ is: 'number', kind }), slot, count(values, kind, 'next')), addOne('next'));
  sheet.add(storeWhole(reads.wholesOf({ is: 'alive', kind }), slot, whole(atOnce ? UNBORN : ALIVE)));
  const first = { ...at, direction: number(0), sine: number(0), cosine: number(1) };
  for (const is of ['x', 'y', 'direction', 'sine', 'cosine'] as const)
    sheet.add(store(reads.of({ is, kind }), slot, first[is]));
  enterBuckets(values, kind, slot, at);
  if (!atOnce && values.countsLiving(kind)) countLiving(values, kind, slot, 1);
  const { columns, dueCount, machines } = plan.kinds[kind]!;
  columns.forEach((_, column) => sheet.add(store(reads.of({ is: 'attribute', kind, column }), slot, number(0))));
  for (let column = 0; column < dueCount; column++)
    sheet.add(store(reads.of({ is: 'due', kind, column }), slot, number(0)));
  machines.forEach((_, column) => sheet.add(storeWhole(reads.wholesOf({ is: 'state', kind, column }), slot, whole(0))));
  found();
}

/** Puts an agent that comes into the buckets, where these are kept up. */
function enterBuckets(values: TurnValues, kind: number, slot: I32, { x, y }: Coordinates): void {
  const kept = values.keptBuckets(kind);
  if (!kept) return;
  const add = (): void => kept.add(slot, x, y);
  if (values.sight.plan.kinds[kind]!.mayBeNowhere) values.sheet.when(compare(x, '==', x), add, () => kept.come(slot));
  else add();
}

/** Where an agent comes to be; no numbers where that is nowhere. */
function placesOf(values: TurnValues, { x, y, site, kind }: Of<'create'>, space: P.SpacePlan | undefined): F64[] {
  if (!x || !y || !space) return [number(0), number(0)];
  const { sheet, sight } = values;
  const { space: s, mayBeNowhere } = sight.plan.kinds[kind]!;
  values.demandNoLanes(s);
  const inside = (place: F64, axis: 'x' | 'y'): F64 => {
    const size = values.reads.size(s, axis);
    return sheet.kept(broughtIn(sheet, values.checked(place, site), size, space.form, space.edge));
  };
  const places = [x, y].map((e) => sheet.kept(values.value(e)));
  return places.map((place, i) => {
    const axis = i === 0 ? 'x' : 'y';
    if (!mayBeNowhere) return inside(place, axis);
    return sheet.kept(
      sheet.choose(
        compare(place, '!=', place),
        () => number(NaN),
        () => inside(place, axis),
      ),
    );
  });
}

export function writeRemoval(values: TurnValues, { kind, agent }: Of<'remove'>): void {
  const { sheet, reads, sight } = values;
  const slot = values.slot(agent.local);
  const alive = reads.wholesOf({ is: 'alive', kind });
  // All at once it goes when the rule is over.
  if (sight.atOnce)
    return sheet.when(compareWhole(loadWhole(alive, slot), '==', whole(ALIVE)), () =>
      sheet.add(storeWhole(alive, slot, whole(LEAVING))),
    );
  const { plan } = sight;
  sheet.when(values.isThere(kind, agent.local), () => {
    const cells = values.trackedCells(kind);
    if (cells)
      somewhere(values, kind, slot, () =>
        cells.go(
          kind,
          slot,
          cells.placeOf(load(reads.of({ is: 'x', kind }), slot), load(reads.of({ is: 'y', kind }), slot)),
        ),
      );
    sheet.add(
      storeWhole(alive, slot, whole(DEAD)),
      storeWhole(lifeOf(values, kind), whole(LIFE.living), minus(count(values, kind, 'living'), whole(1))),
    );
    if (values.countsLiving(kind)) countLiving(values, kind, slot, -1);
    plan.kinds[kind]!.machines.forEach(({ firstCounter, groups }, machine) => {
      const state = sheet.keptWhole(loadWhole(reads.wholesOf({ is: 'state', kind, column: machine }), slot));
      const left = reads.of({ is: 'left' });
      const addOne = (at: I32): void => sheet.add(store(left, at, sum(load(left, at), number(1))));
      addOne(sheet.keptWhole(plus(state, whole(firstCounter))));
      for (const { members, counter } of groups) sheet.when(isOneOf(state, members), () => addOne(whole(counter)));
    });
    if (plan.networks.some(({ from, to }) => from === kind || to === kind))
      sheet.add({ is: 'tell', fn: 'untied', given: [number(kind), { is: 'of i32', value: slot }] });
  });
}

/** How many of a kind are born in one go at most; nothing where nobody can tell. */
function mostBorn(statements: readonly P.Statement[], kind: number): number | undefined {
  const born = atMost(statements, (s) => (s.op === 'create' && s.kind === kind ? 1 : 0));
  return born && born.perAgent.size === 0 ? born.fixed : undefined;
}

/** The kinds of whom more may be born in one turn than there was room for before it. */
export function kindsWithoutEnd(bodies: readonly P.Body[], createdKinds: ReadonlySet<number>): ReadonlySet<number> {
  return new Set(
    [...createdKinds].filter((kind) => bodies.some(({ statements }) => mostBorn(statements, kind) === undefined)),
  );
}

/** Ends the kernel before a turn for whose births there may be no room. @param turn the place of the turn among all */
export function writeRoomFor(values: TurnValues, statements: readonly P.Statement[], turn: I32): void {
  for (const kind of values.sight.effects.createdKinds) {
    const most = mostBorn(statements, kind) ?? USUALLY_BORN;
    if (most === 0) continue;
    const needed = plus(count(values, kind, 'used'), whole(most));
    values.sheet.when(
      compare({ is: 'of i32', value: needed }, '>', { is: 'of i32', value: count(values, kind, 'room') }),
      () => values.fail('room', kind, number(most), turn),
    );
  }
}
