import { formOf } from '../forms/forms.ts';
import type * as P from '../plan/plan.ts';
import { spaceOfKind } from '../plan/plan.ts';
import { writeTurn, writeTurnBack } from './directions.ts';
import { hexAlong } from './hexagons.ts';
import type { F64, I32 } from './kernel.ts';
import { compare, load, number, product, store, sum } from './kernel.ts';
import { isMasked } from './masks.ts';
import { endBefore } from './obstacles.ts';
import type { Coordinates } from './places.ts';
import { broughtIn } from './places.ts';
import type { TurnValues } from './turn-values.ts';

/** How agents turn and move, in kernel form. */

type Of<K extends P.Statement['op']> = Extract<P.Statement, { op: K }>;

function directionsOf({ reads }: TurnValues, kind: number) {
  return {
    direction: reads.of({ is: 'direction', kind }),
    sine: reads.of({ is: 'sine', kind }),
    cosine: reads.of({ is: 'cosine', kind }),
    tables: reads.of({ is: 'tables' }),
  };
}

/** What only happens to somebody who is somewhere. */
export function somewhere({ sheet, reads, sight }: TurnValues, kind: number, slot: I32, then: () => void): void {
  if (!sight.plan.kinds[kind]!.mayBeNowhere) return then();
  const x = sheet.kept(load(reads.of({ is: 'x', kind }), slot));
  sheet.when(compare(x, '==', x), then);
}

export function writeTurnBy(values: TurnValues, s: Of<'turn'>): void {
  const slot = values.slot(s.agent.local);
  const direction = values.sheet.kept(values.value(s.direction));
  const turn = (): void => {
    values.checked(direction, s.site);
    writeTurn(values.sheet, directionsOf(values, s.kind), slot, direction);
  };
  if (s.agent.fresh) turn();
  else somewhere(values, s.kind, slot, turn);
}

export function writeMoveBy(values: TurnValues, s: Of<'move by'>): void {
  const { sheet, reads } = values;
  const { space } = values.sight.plan.kinds[s.kind]!;
  values.demandNoLanes(space);
  const slot = values.slot(s.agent.local);
  const distance = sheet.kept(values.checked(values.value(s.distance), s.site));
  const { kind } = s;
  const [sine, cosine] = [reads.of({ is: 'sine', kind }), reads.of({ is: 'cosine', kind })];
  somewhere(values, s.kind, slot, () => {
    const from = {
      x: load(reads.of({ is: 'x', kind: s.kind }), slot),
      y: load(reads.of({ is: 'y', kind: s.kind }), slot),
    };
    const turned = { sine: load(sine, slot), cosine: load(cosine, slot) };
    const along = (at: F64, by: F64): F64 => sheet.kept(sum(at, product(distance, by)));
    const isOfHexagons = values.sight.plan.spaces[space]!.form === 'hexagons';
    const to = isOfHexagons
      ? hexAlong(sheet, from, distance, turned)
      : { x: along(from.x, turned.sine), y: along(from.y, turned.cosine) };
    const mask = values.obstacles(s.kind);
    const end = mask ? endBefore(values, s.kind, mask, from, to) : to;
    settleAt(values, s.kind, slot, placeInside(values, s.kind, end), end);
  });
}

export function writeMoveTo(values: TurnValues, s: Of<'move to'>): void {
  const { space, mayBeNowhere } = values.sight.plan.kinds[s.kind]!;
  values.demandNoLanes(space);
  const [x, y] = [s.x, s.y].map((e) => values.sheet.kept(values.value(e))) as [F64, F64];
  const move = (): void => moveInside(values, s, { x, y });
  if (!mayBeNowhere) return move();
  values.sheet.when(compare(x, '!=', x), () => writeVanish(values, s), move);
}

function moveInside(values: TurnValues, s: Of<'move to'>, { x, y }: Coordinates): void {
  const { sheet } = values;
  const [toX, toY] = [values.checked(x, s.site), values.checked(y, s.site)];
  const place = placeInside(values, s.kind, { x: toX, y: toY });
  const settle = (): void => settleAt(values, s.kind, values.slot(s.agent.local), place);
  const mask = values.obstacles(s.kind);
  if (!mask) return settle();
  const isTaken = isMasked(values, mask, place.x, place.y);
  sheet.when(isTaken, () => sheet.add({ is: 'tell', fn: 'refused', given: [] }), settle);
}

/** An agent leaves the space: it is kept, but met by nobody. */
export function writeVanish(values: TurnValues, { kind, agent }: Pick<Of<'vanish'>, 'kind' | 'agent'>): void {
  const { sheet, reads } = values;
  const slot = values.slot(agent.local);
  const [ownX, ownY] = [reads.of({ is: 'x', kind }), reads.of({ is: 'y', kind })];
  const cells = values.trackedCells(kind);
  if (cells)
    somewhere(values, kind, slot, () => cells.go(kind, slot, cells.placeOf(load(ownX, slot), load(ownY, slot))));
  values.keptBuckets(kind)?.leave(slot);
  sheet.add(store(ownX, slot, number(NaN)), store(ownY, slot, number(NaN)));
}

/** A place brought into the space of a kind. */
function placeInside({ sheet, reads, sight }: TurnValues, kind: number, { x, y }: Coordinates): Coordinates {
  const s = sight.plan.kinds[kind]!.space;
  const { form, edge } = spaceOfKind(sight.plan, kind)!;
  return {
    x: broughtIn(sheet, x, reads.size(s, 'x'), form, edge),
    y: broughtIn(sheet, y, reads.size(s, 'y'), form, edge),
  };
}

/** Puts an agent at a place inside the space. @param end where its way would have ended without walls, at which it may be turned back */
function settleAt(
  values: TurnValues,
  kind: number,
  slot: I32,
  { x: inX, y: inY }: Coordinates,
  end?: Coordinates,
): void {
  const { sheet, reads, sight } = values;
  const s = sight.plan.kinds[kind]!.space;
  const { form, edge } = spaceOfKind(sight.plan, kind)!;
  const [ownX, ownY] = [reads.of({ is: 'x', kind }), reads.of({ is: 'y', kind })];
  const settle = (): void => {
    sheet.add(store(ownX, slot, inX), store(ownY, slot, inY));
    values.keptBuckets(kind)?.move(slot, inX, inY, sight.plan.kinds[kind]!.mayBeNowhere);
    if (!end || edge !== 'reflecting') return;
    const ends = [
      { at: end.x, size: reads.size(s, 'x') },
      { at: end.y, size: reads.size(s, 'y') },
    ];
    writeTurnBack(sheet, directionsOf(values, kind), slot, ends, formOf({ form }).margin);
  };
  const cells = values.trackedCells(kind);
  if (!cells) return settle();
  const to = cells.placeOf(inX, inY);
  const go = (): void => cells.move(kind, slot, cells.placeOf(load(ownX, slot), load(ownY, slot)), to, settle);
  if (!sight.plan.kinds[kind]!.mayBeNowhere) return go();
  const x = sheet.kept(load(ownX, slot));
  sheet.when(compare(x, '==', x), go, () => cells.enter(kind, slot, to, settle));
}
