import type * as P from '../plan/plan.ts';
import { isAmongAll } from '../plan/picks.ts';
import { visitStatements } from '../plan/visit.ts';
import type { Column, I32, Local, Statement } from './kernel.ts';
import { compareWhole, ENDLESS, loadWhole, minus, plus, put, selectWhole, storeWhole, whole, words } from './kernel.ts';
import { LIVING_BITS } from './turn-ends.ts';
import type { TurnValues } from './turn-values.ts';

/** Which one is the n-th of the living of a kind, in kernel form: they are counted in blocks of slots, and in blocks of those. */

const LEVELS = [...LIVING_BITS.keys()].reverse();

function blocksOf({ reads }: TurnValues, kind: number, level: number): Column<'i32' | 'u8'> {
  return reads.wholesOf({ is: 'living', kind, level });
}

function block(slot: I32, level: number): I32 {
  return words('shr', slot, whole(LIVING_BITS[level]!));
}

/** The kinds that come and go of which bodies pick a random one among all. */
export function drawnAmongLiving(bodies: readonly P.Body[], steady: ReadonlySet<number>): ReadonlySet<number> {
  const found = new Set<number>();
  for (const { statements } of bodies)
    visitStatements(statements, {
      statement: (s) => {
        if (s.op === 'pick' && isAmongAll(s) && !steady.has(s.query.kind)) found.add(s.query.kind);
      },
    });
  return found;
}

/** Counts one more, or one less, where an agent has come or gone. */
export function countLiving(values: TurnValues, kind: number, slot: I32, by: 1 | -1): void {
  for (const level of LEVELS) {
    const [column, at] = [blocksOf(values, kind, level), values.sheet.keptWhole(block(slot, level))];
    values.sheet.add(storeWhole(column, at, plus(loadWhole(column, at), whole(by))));
  }
}

/** The slot of the n-th of the living, of whom there are more. @param except one of them who is passed over, or nobody of them */
export function livingAt(values: TurnValues, kind: number, n: I32, except: Local<'i32'> | undefined): Local<'i32'> {
  const { sheet, reads } = values;
  const [rest, from] = [sheet.i32(), sheet.i32()];
  sheet.add(put(rest, n), put(from, whole(0)));
  const alive = (slot: I32): I32 => words('mask', loadWhole(reads.wholesOf({ is: 'alive', kind }), slot), whole(1));
  /** Nobody stands at the blocks of -1. */
  const passed = except && sheet.i32();
  if (except && passed)
    sheet.add(put(passed, selectWhole(compareWhole(alive(except), '!=', whole(0)), except, whole(-1))));
  /** Looks on from a place until one is found in which the n-th is. */
  const search = (at: Local<'i32'>, first: I32, livingIn: (at: I32) => I32): void => {
    const name = `living${at.name}`;
    const there = sheet.i32();
    const { list } = sheet.apart(() => {
      sheet.add(put(there, livingIn(at)));
      sheet.when(compareWhole(rest, '<', there), () => sheet.add({ is: 'leave', block: name }));
      sheet.add(put(rest, minus(rest, there)));
    });
    const loop: Statement = { is: 'loop', index: at, from: first, to: ENDLESS, body: list };
    sheet.add({ is: 'block', name, body: [loop] });
  };
  const without = (there: I32, place: I32, passedAt: I32 | undefined): I32 =>
    passedAt ? minus(there, { is: 'holds', test: compareWhole(passedAt, '==', place) }) : there;
  LEVELS.forEach((level, i) => {
    const at = sheet.i32();
    const passedAt = passed && sheet.keptWhole(block(passed, level));
    search(at, from, (place) => without(loadWhole(blocksOf(values, kind, level), place), place, passedAt));
    const next = LEVELS[i + 1];
    const bits = next === undefined ? LIVING_BITS[level]! : LIVING_BITS[level]! - LIVING_BITS[next]!;
    sheet.add(put(from, words('shl', at, whole(bits))));
  });
  const slot = sheet.i32();
  search(slot, from, (place) => without(alive(place), place, passed));
  return slot;
}
