import type { FormName } from '../forms/form.ts';
import { HEX_ROW } from '../forms/hexagons.ts';
import * as P from '../plan/plan.ts';
import type { Standing } from './buckets.ts';
import { writeNear, writeRows } from './buckets.ts';
import type { Column, F64, I32, Local, Test } from './kernel.ts';
import {
  both,
  compare,
  compareWhole,
  difference,
  number,
  plus,
  product,
  put,
  quotient,
  set,
  storeWhole,
  sum,
  whole,
} from './kernel.ts';
import type { TurnValues } from './turn-values.ts';
import { waysFrom } from './ways.ts';

/** So often a circle is made twice as wide, which is more than any space needs. */
const MOST_ROUNDS = 64;

/**
 * The nearest of all of a kind who fit, looked for in ever wider circles of buckets: whom a circle finds within its radius nobody beyond it comes before.
 * @param list takes those who share the best score, in no particular order
 * @returns how many they are
 */
export function writeNearest(
  values: TurnValues,
  query: P.Query,
  [x, y]: readonly [F64, F64],
  list: Column<'i32' | 'u8'>,
): Local<'i32'> {
  const { sheet, sight, reads } = values;
  const { kind } = query;
  const s = sight.plan.kinds[kind]!.space;
  values.demandNoLanes(s);
  const [equals, round, best, radius] = [sheet.i32(), sheet.i32(), sheet.f64(), sheet.f64()];
  const keep = (at: I32, slot: I32, many: I32): void => sheet.add(storeWhole(list, at, slot), put(equals, many));
  const ask = (slot: I32, at: Standing): void => {
    const local = values.slot(query.candidate);
    sheet.add(put(local, slot));
    const [dx, dy] = waysFrom(values, s, { x, y }, at);
    const score = sheet.kept({ is: 'minus', value: sum(product(dx, dx), product(dy, dy)) });
    sheet.when(fits(values, query, compare(score, '>=', best)), () =>
      sheet.when(
        compare(score, '>', best),
        () => {
          sheet.add(set(best, score));
          keep(whole(0), local, whole(1));
        },
        () => keep(equals, local, plus(equals, whole(1))),
      ),
    );
  };
  const around = { x, y, radius, wraps: P.spaceOfKind(sight.plan, kind)!.edge === 'wrapping' };
  const kept = values.keptBuckets(kind);
  const name = `circles${round.name}`;
  const { list: circle } = sheet.apart(() => {
    sheet.add(set(best, number(-Infinity)), put(equals, whole(0)));
    if (kept) writeRows(sheet, reads, kind, around, (row) => kept.each(row, ask));
    else writeNear(sheet, reads, kind, around, ask);
    const covered = sheet.kept(coveredBy(radius, sight.plan.spaces[s]!.form));
    const isInside = compare(best, '>=', { is: 'minus', value: product(covered, covered) });
    const leave = (): void => sheet.add({ is: 'leave', block: name });
    sheet.when(both(compareWhole(equals, '>', whole(0)), isInside), leave);
    sheet.when(compare(radius, '>', sum(reads.size(s, 'x'), reads.size(s, 'y'))), leave);
    sheet.add(set(radius, sum(radius, radius)));
  });
  sheet.add(set(radius, quotient(number(1), reads.number({ op: 'index', kind, part: 'perX' }))), {
    is: 'block',
    name,
    body: [{ is: 'loop', index: round, from: whole(0), to: whole(MOST_ROUNDS), body: circle }],
  });
  return equals;
}

/** How far away nobody can be who is not among those within so many columns and rows. */
function coveredBy(radius: F64, form: FormName): F64 {
  if (form !== 'hexagons') return radius;
  // An odd row is shifted by half a column, and rows lie closer than columns.
  const covered = product(difference(radius, number(0.5)), number(HEX_ROW));
  return { is: 'at least', value: covered, bound: number(0) };
}

/** Whether an agent that is near enough is one of those of whom it is asked, there, and fits. */
function fits(values: TurnValues, { kind, candidate, except, where }: P.Query, isNear: Test): Test {
  const tests = [isNear];
  if (!values.steady.has(kind)) tests.push(values.isThere(kind, candidate));
  if (except !== undefined) tests.push(compareWhole(values.slot(candidate), '!=', values.slot(except)));
  if (where) tests.push(values.test(where.value));
  return tests.reduce(both);
}
