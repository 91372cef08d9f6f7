import type { KindSymbol, RidingSymbol } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import type { AgentRef, Expr, Query } from '../plan/plan.ts';
import { binary, local, num } from './code.ts';
import type { Draft } from './draft.ts';
import { journeyValue, writeJourney } from './journey-columns.ts';
import type { Mover } from './movement.ts';
import { withMover } from './movement.ts';
import { lowerAgent, placeOfAgent, vehicleSlot, whoAsks } from './place.ts';
import { counted } from './query.ts';
import { ridersOf, ridingsInto, seatsOf, sumOf, tiedTo } from './seats.ts';

/** Who rides in what is a network between two kinds; who rides is moved with its vehicle, and not otherwise. */

function ridingsFrom(draft: Draft, rider: KindSymbol): RidingSymbol[] {
  return draft.shared.model.ridings.filter((riding) => riding.from === rider);
}

/** Boards where there is a seat; who is aboard already stays, who rides in another vehicle changes over. */
export function lowerBoard(draft: Draft, statement: Ast.StatementOf<'board'>): void {
  const riding = draft.shared.model.networkOf.get(statement) as RidingSymbol;
  const asker = (): AgentRef => whoAsks(draft);
  const rider = statement.rider ? draft.agentIn(lowerAgent(draft, statement.rider)) : asker();
  const vehicle = statement.vehicle ? draft.agentIn(lowerAgent(draft, statement.vehicle)) : asker();
  const isAboard = draft.newLocal();
  const site = draft.site(statement.span, 'the number of seats');
  draft.emit({ op: 'set', local: isAboard, value: num(0) });
  const both = binary('and', { op: 'somebody', local: rider.local }, { op: 'somebody', local: vehicle.local });
  const boards = draft.collect(() => {
    draft.emit({ op: 'set', local: isAboard, value: counted(draft, 'count', together(draft, riding, rider, vehicle)) });
    const tries = draft.collect(() => {
      const seats = draft.finite(seatsOf(draft, riding.to, vehicle.local), statement.span, 'the number of seats');
      const hasSeat = binary('<', ridersOf(draft, riding.to, vehicle), seats);
      const sits = draft.collect(() => {
        takeSeat(draft, riding, rider, vehicle, site);
        draft.emit({ op: 'set', local: isAboard, value: num(1) });
      });
      draft.emit({ op: 'if', condition: hasSeat, then: sits, else: [] });
    });
    draft.emit({ op: 'if', condition: binary('is', local(isAboard), num(0)), then: tries, else: [] });
  });
  draft.emit({ op: 'if', condition: both, then: boards, else: [] });
  const otherwise = statement.else;
  if (!otherwise) return;
  const stays = draft.collect(() => draft.block(otherwise));
  draft.emit({ op: 'if', condition: binary('is', local(isAboard), num(0)), then: stays, else: [] });
}

/** Seats a rider in a vehicle, and brings it there. */
export function takeSeat(draft: Draft, riding: RidingSymbol, rider: AgentRef, vehicle: AgentRef, site: number): void {
  cutRidings(draft, riding.from, rider);
  draft.emit({ op: 'tie', network: riding.index, a: rider, b: vehicle, flip: false, values: [], site });
  if (draft.shared.model.takers.has(riding.from)) writeJourney(draft, riding.from, 'waits', rider, num(0), site);
  bringTo(draft, riding, rider, vehicle, site);
}

/** The vehicle that an agent rides in, if it is a certain one. */
function together(draft: Draft, riding: RidingSymbol, rider: AgentRef, vehicle: AgentRef): Query {
  const query = tiedTo(draft, riding, 0, rider);
  const isIt: Expr = { op: 'same agent', a: { local: query.candidate, own: false }, b: vehicle };
  return { ...query, where: { statements: [], value: isIt } };
}

/** A rider alights: what is left of the step after its vehicle came there is its own. */
export function leaveVehicle(draft: Draft, kind: KindSymbol, rider: AgentRef, site: number): void {
  for (const riding of ridingsFrom(draft, kind)) {
    if (kind.space?.form !== 'map') continue;
    const slot = vehicleSlot(draft, riding, rider);
    const then = draft.collect(() => {
      const until = journeyValue(draft, riding.to, 'travelled', draft.agentIn(slot));
      writeJourney(draft, kind, 'travelled', rider, until, site);
    });
    draft.emit({ op: 'if', condition: { op: 'somebody', local: slot }, then, else: [] });
  }
  cutRidings(draft, kind, rider);
}

function cutRidings(draft: Draft, kind: KindSymbol, rider: AgentRef): void {
  for (const riding of ridingsFrom(draft, kind))
    draft.emit({ op: 'untie', network: riding.index, a: rider, b: undefined, flip: false });
}

export function lowerAlight(draft: Draft, statement: Ast.StatementOf<'alight'>): void {
  const { model } = draft.shared;
  const rider = statement.rider ? draft.agentIn(lowerAgent(draft, statement.rider)) : whoAsks(draft);
  const type = statement.rider ? model.types.get(statement.rider) : draft.asker?.type;
  const kind = model.kinds.find(({ name }) => type?.is === 'agent' && name === type.kind)!;
  const site = draft.site(statement.span, 'a journey');
  const alights = draft.collect(() => leaveVehicle(draft, kind, rider, site));
  draft.emit({ op: 'if', condition: { op: 'somebody', local: rider.local }, then: alights, else: [] });
}

/** Brings a rider, and who rides in it, to where a vehicle stands. */
function bringTo(draft: Draft, riding: RidingSymbol, rider: AgentRef, vehicle: AgentRef, site: number): void {
  if (!riding.to.space) return;
  const { x, y } = placeOfAgent(riding.to, vehicle);
  draft.emit({ op: 'move to', kind: riding.from.index, agent: rider, x, y, site });
  carryRiders(draft, riding.from, rider, site);
}

/** All who ride in a vehicle alight. */
export function setAllDown(draft: Draft, vehicle: KindSymbol, agent: AgentRef, site: number): void {
  for (const riding of ridingsInto(draft, vehicle)) {
    const query = tiedTo(draft, riding, 1, agent);
    const rider: AgentRef = { local: query.candidate, own: false };
    const body = draft.collect(() => leaveVehicle(draft, riding.from, rider, site));
    draft.emit({ op: 'each', query, shuffled: false, recheck: false, body });
  }
}

/** After a vehicle has moved: its riders are where it is. */
export function carryRiders(draft: Draft, vehicle: KindSymbol, agent: AgentRef, site: number): void {
  for (const riding of ridingsInto(draft, vehicle)) {
    const query = tiedTo(draft, riding, 1, agent);
    const body = draft.collect(() => bringTo(draft, riding, { local: query.candidate, own: false }, agent, site));
    draft.emit({ op: 'each', query, shuffled: false, recheck: false, body });
  }
}

/** Who rides does not move by itself. */
export function demandAshore(draft: Draft, rider: KindSymbol, agent: AgentRef, site: number): void {
  const ridings = ridingsFrom(draft, rider);
  if (ridings.length === 0) return;
  const riders = sumOf(ridings.map((riding) => counted(draft, 'count', tiedTo(draft, riding, 0, agent))));
  draft.emit({ op: 'demand ashore', riders, site });
}

/** A move of somebody who must not ride, with all who ride in it. */
export function moving(
  draft: Draft,
  statement: Ast.StatementOf<'move' | 'move toward'>,
  move: (mover: Mover, site: number) => void,
): void {
  withMover(draft, statement.who, (mover) => {
    const site = draft.site(statement.span, 'a move');
    demandAshore(draft, mover.kind, mover.agent, site);
    move(mover, site);
    carryRiders(draft, mover.kind, mover.agent, site);
  });
}
