import type * as P from '../plan/plan.ts';
import type { Block, Standing } from './buckets.ts';
import { blockOf, writeBlock, writeRowsOf } from './buckets.ts';
import type { I32, Test } from './kernel.ts';
import { both, compare, compareWhole, loadWhole, minus, plus, put, storeWhole, times, whole } from './kernel.ts';
import { sortList } from './lists.ts';
import { slotsInUse } from './lives.ts';
import { isInZone, zoneExtent } from './masks.ts';
import type { TurnValues } from './turn-values.ts';

/** Agents in a zone, of all of a kind, in kernel form. */

/** A zone that takes more than one of so many buckets is not looked for among them. */
const LEAST_SHARE = 8;

type InZone = Extract<P.Expr, { op: 'in zone' }>;

/** Goes through those of a kind that are in a zone, each in the local of the candidate, in order of their slots. */
export function eachInZone(values: TurnValues, query: P.Query, zone: InZone, each: () => void): void {
  const { sheet, reads } = values;
  const local = values.slot(query.candidate);
  const column = reads.wholesOf({ is: 'list', list: reads.nextList(), of: { is: 'agents', kind: query.kind } });
  const [at, many] = [sheet.i32(), sheet.i32()];
  const keep = (): void => sheet.add(storeWhole(column, many, local), put(many, plus(many, whole(1))));
  sheet.add(put(many, whole(0)));
  anyInZone(values, query, zone, keep, () => sortList(sheet, column, many));
  const { list } = sheet.apart(() => {
    sheet.add(put(local, loadWhole(column, at)));
    each();
  });
  sheet.add({ is: 'loop', index: at, from: whole(0), to: many, body: list });
}

/** Goes through them in any order: where the zone lies, or all of the kind where it takes much of the space. @param mixed what is done where they did not come in order of their slots */
export function anyInZone(
  values: TurnValues,
  { kind, except, candidate }: P.Query,
  zone: InZone,
  each: () => void,
  mixed: () => void = () => {},
): void {
  const { sheet, reads } = values;
  const local = values.slot(candidate);
  const ask = (isHere?: Test): void => {
    const tests = isHere ? [isHere] : [];
    if (!values.steady.has(kind)) tests.push(values.isThere(kind, candidate));
    if (except !== undefined) tests.push(compareWhole(local, '!=', values.slot(except)));
    const inZone = (): void => sheet.when(isInZone(values, zone), each);
    if (tests.length === 0) inZone();
    else sheet.when(tests.reduce(both), inZone);
  };
  const ofBucket = (slot: I32, { x }: Standing): void => {
    sheet.add(put(local, slot));
    // Nobody stands in a gap.
    ask(compare(x, '==', x));
  };
  const kept = values.keptBuckets(kind);
  const block = blockOf(sheet, reads, kind, zoneExtent(values, zone.zone), false);
  sheet.when(
    compareWhole(times(bucketsIn(block), whole(LEAST_SHARE)), '<=', times(block.all.columns, block.all.rows)),
    () => {
      if (kept) writeRowsOf(sheet, block, (row) => kept.each(row, ofBucket));
      else writeBlock(sheet, reads, kind, block, ofBucket);
      mixed();
    },
    () => {
      const to = sheet.keptWhole(slotsInUse(values, kind));
      const { list } = sheet.apart(() => ask());
      sheet.add({ is: 'loop', index: local, from: whole(0), to, body: list });
    },
  );
}

function bucketsIn({ columns, rows }: Block): I32 {
  const across = ([from, to]: Block['columns']): I32 => plus(minus(to, from), whole(1));
  return times(across(columns), across(rows));
}
