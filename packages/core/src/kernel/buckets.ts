import type { F64, I32, KernelFunction, Local, Test } from './kernel.ts';
import {
  both,
  choose,
  column,
  compare,
  compareWhole,
  difference,
  f64,
  i32,
  load,
  loadWhole,
  minus,
  number,
  ofOne,
  plus,
  product,
  put,
  selectWhole,
  set,
  store,
  sum,
  times,
  when,
  whole,
  words,
} from './kernel.ts';
import type { Sheet } from './sheet.ts';
import { indexName } from './turn-ends.ts';
import type { TurnReads } from './turn-reads.ts';

/** Who is near, in kernel form: agents sorted by buckets of their space, as `sort` of engine/spaces/bucket-index.ts does it, and the buckets that a reach touches, as `range` there finds them. */

/** How many buckets there are along each axis, and how many a unit of length is. */
export interface Buckets {
  readonly columns: I32;
  readonly rows: I32;
  readonly perX: F64;
  readonly perY: F64;
}

/** The bucket of a place inside the space. */
export function bucketAt(x: F64, y: F64, { columns, rows, perX, perY }: Buckets): I32 {
  const within = (v: F64, per: F64, many: I32): I32 => {
    const index: I32 = { is: 'truncated', value: product(v, per) };
    return selectWhole(compareWhole(index, '<', many), index, minus(many, whole(1)));
  };
  return plus(times(within(y, perY, rows), columns), within(x, perX, columns));
}

/** Sorts agents by bucket. It is given the slots in use, columns and rows of buckets, and how many buckets a unit of length is on each axis. */
export function indexKernel(kind: number): KernelFunction {
  const [alive, x, y] = [column('alive', 'u8'), column('x'), column('y')];
  const [start, members, bucket] = [column('start', 'i32'), column('members', 'i32'), column('bucket', 'i32')];
  const [memberX, memberY] = [column('memberX'), column('memberY')];
  const [used, columns, rows, perX, perY] = [i32('used'), i32('columns'), i32('rows'), f64('perX'), f64('perY')];
  const [i, slot, b, at, before] = [i32('i'), i32('slot'), i32('b'), i32('at'), i32('before')];
  const [px, py] = [f64('px'), f64('py')];
  const buckets = times(columns, rows);
  const isThere = compareWhole(words('mask', loadWhole(alive, slot), whole(1)), '!=', whole(0));
  const storeAt = (to: typeof start, place: I32, value: I32) =>
    ({ is: 'store i32', column: to, at: place, value }) as const;
  return {
    name: indexName(kind),
    columns: [alive, x, y, start, members, bucket, memberX, memberY],
    given: [used, columns, rows, perX, perY],
    locals: [i, slot, b, at, before, px, py],
    body: [
      { is: 'loop', index: b, from: whole(0), to: plus(buckets, whole(1)), body: [storeAt(start, b, whole(0))] },
      {
        is: 'loop',
        index: slot,
        from: whole(0),
        to: used,
        body: [
          set(px, load(x, slot)),
          set(py, load(y, slot)),
          // Who is nowhere is in no bucket.
          when(
            both(isThere, compare(px, '==', px)),
            [
              put(b, bucketAt(px, py, { columns, rows, perX, perY })),
              storeAt(bucket, slot, b),
              storeAt(start, b, plus(loadWhole(start, b), whole(1))),
            ],
            [storeAt(bucket, slot, whole(-1))],
          ),
        ],
      },
      {
        is: 'loop',
        index: b,
        from: whole(0),
        to: plus(buckets, whole(1)),
        body: [put(before, plus(before, loadWhole(start, b))), storeAt(start, b, before)],
      },
      {
        is: 'loop',
        index: i,
        from: whole(0),
        to: used,
        body: [
          put(slot, minus(minus(used, whole(1)), i)),
          put(b, loadWhole(bucket, slot)),
          when(compareWhole(b, '>=', whole(0)), [
            put(at, minus(loadWhole(start, b), whole(1))),
            storeAt(start, b, at),
            storeAt(members, at, slot),
            store(memberX, at, load(x, slot)),
            store(memberY, at, load(y, slot)),
          ]),
        ],
      },
    ],
  };
}

/** Where an agent stands. */
export interface Standing {
  readonly x: F64;
  readonly y: F64;
}

/** Agents that are sorted by bucket. */
export function sortedAgents(reads: TurnReads, kind: number) {
  return {
    start: reads.wholesOf({ is: 'start', kind }),
    members: reads.wholesOf({ is: 'members', kind }),
    memberX: reads.of({ is: 'memberX', kind }),
    memberY: reads.of({ is: 'memberY', kind }),
  };
}

/** Around what somebody is looked for. */
interface Around {
  readonly x: F64;
  readonly y: F64;
  readonly radius: F64;
  readonly wraps: boolean;
}

/** Goes through all who stand in buckets that a circle touches, each once, in no particular order: agents that were sorted before the first turn. */
export function writeNear(
  sheet: Sheet,
  reads: TurnReads,
  kind: number,
  around: Around,
  each: (slot: I32, at: Standing) => void,
): void {
  writeRows(sheet, reads, kind, around, (row) => writeRow(sheet, reads, kind, row, each));
}

/** Goes through all who stand in a block of buckets, as `writeNear` does. */
export function writeBlock(
  sheet: Sheet,
  reads: TurnReads,
  kind: number,
  block: Block,
  each: (slot: I32, at: Standing) => void,
): void {
  writeRowsOf(sheet, block, (row) => writeRow(sheet, reads, kind, row, each));
}

/** Goes through the rows of buckets that a circle touches. */
export function writeRows(
  sheet: Sheet,
  reads: TurnReads,
  kind: number,
  { x, y, radius, wraps }: Around,
  each: (row: Row) => void,
): void {
  sheet.when(both(compare(radius, '>=', number(0)), compare(x, '==', x)), () => {
    const r = sheet.kept(sum(product(radius, number(1.000000001)), number(1e-12)));
    const box = { left: difference(x, r), right: sum(x, r), bottom: difference(y, r), top: sum(y, r) };
    writeRowsOf(sheet, blockOf(sheet, reads, kind, box, wraps), each);
  });
}

/** What lies between two coordinates on each axis. */
export type Box = Readonly<Record<'left' | 'right' | 'bottom' | 'top', F64>>;

/** Buckets side by side, first and last of their columns and rows; on a ring they count on beyond its end. */
export interface Block {
  readonly columns: readonly [Local<'i32'>, Local<'i32'>];
  readonly rows: readonly [Local<'i32'>, Local<'i32'>];
  /** How many columns and rows there are in all. */
  readonly all: Readonly<Record<'columns' | 'rows', I32>>;
  readonly wraps: boolean;
}

/** The buckets that a box touches. */
export function blockOf(
  sheet: Sheet,
  reads: TurnReads,
  kind: number,
  { left, right, bottom, top }: Box,
  wraps: boolean,
): Block {
  const part = (which: 'columns' | 'rows' | 'perX' | 'perY'): F64 => reads.number({ op: 'index', kind, part: which });
  const columns = touched(sheet, left, right, part('perX'), part('columns'), wraps);
  const rows = touched(sheet, bottom, top, part('perY'), part('rows'), wraps);
  const many = (which: 'columns' | 'rows'): I32 => sheet.keptWhole({ is: 'truncated', value: part(which) });
  return { columns, rows, all: { columns: many('columns'), rows: many('rows') }, wraps };
}

/** Goes through the rows of a block. */
export function writeRowsOf(sheet: Sheet, { columns, rows, all, wraps }: Block, each: (row: Row) => void): void {
  const u = sheet.i32();
  const { list } = sheet.apart(() => {
    const row = sheet.keptWhole(times(onRing(u, all.rows, wraps), all.columns));
    each({ row, from: columns[0], to: columns[1], columns: all.columns, wraps });
  });
  sheet.add({ is: 'loop', index: u, from: rows[0], to: plus(rows[1], whole(1)), body: list });
}

/** The first and last of the columns, or rows, that lie between two coordinates; on a ring they count on beyond its end. */
function touched(
  sheet: Sheet,
  low: F64,
  high: F64,
  per: F64,
  many: F64,
  wraps: boolean,
): readonly [Local<'i32'>, Local<'i32'>] {
  const from = sheet.f64();
  const to = sheet.f64();
  sheet.add(set(from, ofOne('floor', product(low, per))), set(to, ofOne('floor', product(high, per))));
  const last = difference(many, number(1));
  if (wraps)
    sheet.when(compare(sum(difference(to, from), number(1)), '>=', many), () =>
      sheet.add(set(from, number(0)), set(to, last)),
    );
  else
    sheet.add(
      set(from, choose(compare(from, '<', number(0)), number(0), { is: 'at most', value: from, bound: last })),
      set(to, choose(compare(to, '>=', many), last, { is: 'at least', value: to, bound: number(0) })),
    );
  const [first, end] = [sheet.i32(), sheet.i32()];
  sheet.add(put(first, { is: 'truncated', value: from }), put(end, { is: 'truncated', value: to }));
  return [first, end];
}

export function onRing(index: I32, many: I32, wraps: boolean): I32 {
  if (!wraps) return index;
  const below: Test = compareWhole(index, '<', whole(0));
  const above: Test = compareWhole(index, '>=', many);
  return selectWhole(below, plus(index, many), selectWhole(above, minus(index, many), index));
}

/** A row of buckets, of which some columns are touched; on a ring these count on beyond its end. */
export interface Row {
  readonly row: I32;
  readonly from: I32;
  readonly to: I32;
  readonly columns: I32;
  readonly wraps: boolean;
}

/** Those in a row of buckets, in one go, or two where the row goes round the edge. */
function writeRow(
  sheet: Sheet,
  reads: TurnReads,
  kind: number,
  { row, from, to, columns, wraps }: Row,
  each: (slot: I32, at: Standing) => void,
): void {
  const { start, members, memberX, memberY } = sortedAgents(reads, kind);
  const j = sheet.i32();
  const { list } = sheet.apart(() => each(loadWhole(members, j), { x: load(memberX, j), y: load(memberY, j) }));
  const stretch = (first: I32, many: I32): void => {
    const begins = sheet.keptWhole(plus(row, first));
    const ends = sheet.keptWhole(loadWhole(start, plus(begins, many)));
    sheet.add({ is: 'loop', index: j, from: loadWhole(start, begins), to: ends, body: list });
  };
  if (!wraps) return stretch(from, plus(minus(to, from), whole(1)));
  const [pass, z, b, many] = [sheet.i32(), sheet.i32(), sheet.i32(), sheet.i32()];
  const name = `row${pass.name}`;
  const body = sheet.apart(() => {
    sheet.when(compareWhole(z, '>', to), () => sheet.add({ is: 'leave', block: name }));
    sheet.add(put(b, onRing(z, columns, true)));
    const left = plus(minus(to, z), whole(1));
    const fits = minus(columns, b);
    sheet.add(put(many, selectWhole(compareWhole(left, '<', fits), left, fits)));
    stretch(b, many);
    sheet.add(put(z, plus(z, many)));
  });
  sheet.add(put(z, from), {
    is: 'block',
    name,
    body: [{ is: 'loop', index: pass, from: whole(0), to: whole(3), body: body.list }],
  });
}
