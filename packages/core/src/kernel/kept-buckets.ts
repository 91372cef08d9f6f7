import type { RuleSight } from '../plan/seen-before.ts';
import type { Buckets, Row, Standing } from './buckets.ts';
import { bucketAt, onRing, sortedAgents } from './buckets.ts';
import { holdsOneACell } from '../plan/cell-by-cell.ts';
import type { Column, F64, I32, KernelFunction, Local, Statement } from './kernel.ts';
import {
  compareWhole,
  column,
  ENDLESS,
  i32,
  load,
  loadWhole,
  minus,
  number,
  plus,
  put,
  selectWhole,
  set,
  store,
  storeWhole,
  when,
  whole,
} from './kernel.ts';
import type { Sheet } from './sheet.ts';
import { keepingName } from './turn-ends.ts';
import type { TurnReads } from './turn-reads.ts';

/**
 * Who is near while agents move one after the other, in kernel form. They are sorted by bucket before the first turn; who leaves its bucket leaves a gap there, and is
 * listed with those who have come to its new one.
 */

/** Where an agent stands among the sorted, -1 if it is listed; of each bucket the first of those listed; of these who follows and who precedes them. -1 is nobody. */
interface Lists {
  readonly sortedAt: Column<'i32' | 'u8'>;
  readonly head: Column<'i32' | 'u8'>;
  readonly following: Column<'i32' | 'u8'>;
  readonly preceding: Column<'i32' | 'u8'>;
}

const NOBODY = whole(-1);

/** Begins with all agents sorted, and nobody listed. It is given how many buckets there are. */
export function keepingKernel(kind: number): KernelFunction {
  const [start, members] = [column('start', 'i32'), column('members', 'i32')];
  const [sortedAt, head] = [column('sortedAt', 'i32'), column('head', 'i32')];
  const [buckets, i] = [i32('buckets'), i32('i')];
  const loop = (to: I32, body: Statement): Statement => ({ is: 'loop', index: i, from: whole(0), to, body: [body] });
  return {
    name: keepingName(kind),
    columns: [start, members, sortedAt, head],
    given: [buckets],
    locals: [i],
    body: [
      loop(buckets, storeWhole(head, i, NOBODY)),
      loop(loadWhole(start, buckets), storeWhole(sortedAt, loadWhole(members, i), i)),
    ],
  };
}

/** Whether agents of a kind are asked for by place while some of them move, or come, one after the other. */
export function isKeptUp({ plan, atOnce, effects }: RuleSight, kind: number): boolean {
  const { queried, sought, movedKinds, createdKinds } = effects;
  const isAsked = sought.has(kind) || (queried.has(kind) && !holdsOneACell(plan, plan.kinds[kind]!.space));
  if (atOnce || !isAsked) return false;
  return movedKinds.has(kind) || createdKinds.has(kind);
}

/** The agents of a kind by bucket, in a kernel of turns in which they move. */
export class KeptBuckets {
  private readonly lists: Lists;
  private readonly buckets: Buckets;
  private readonly bucketOf: Column<'i32' | 'u8'>;
  /** What has to be done before the first turn. */
  readonly prologue: readonly Statement[];

  constructor(
    private readonly sheet: Sheet,
    private readonly reads: TurnReads,
    private readonly kind: number,
  ) {
    const of = (is: keyof Lists): Lists['head'] => reads.wholesOf({ is, kind });
    this.lists = { sortedAt: of('sortedAt'), head: of('head'), following: of('following'), preceding: of('preceding') };
    this.bucketOf = reads.wholesOf({ is: 'bucket', kind });
    const part = (which: keyof Buckets): F64 => reads.number({ op: 'index', kind, part: which });
    const [columns, rows] = [sheet.i32(`columns${kind}`), sheet.i32(`rows${kind}`)];
    this.buckets = { columns, rows, perX: part('perX'), perY: part('perY') };
    this.prologue = [
      put(columns, { is: 'truncated', value: part('columns') }),
      put(rows, { is: 'truncated', value: part('rows') }),
    ];
  }

  private bucketAt(x: F64, y: F64): Local<'i32'> {
    const found = this.sheet.i32();
    this.sheet.add(put(found, bucketAt(x, y, this.buckets)));
    return found;
  }

  /** Puts an agent at the beginning of the list of a bucket. */
  private list(slot: I32, bucket: I32): void {
    const { head, following, preceding } = this.lists;
    const first = this.sheet.keptWhole(loadWhole(head, bucket));
    this.sheet.add(
      storeWhole(following, slot, first),
      storeWhole(preceding, slot, NOBODY),
      when(compareWhole(first, '>=', whole(0)), [storeWhole(preceding, first, slot)]),
      storeWhole(head, bucket, slot),
      storeWhole(this.bucketOf, slot, bucket),
    );
  }

  private unlist(slot: I32, bucket: I32): void {
    const { head, following, preceding } = this.lists;
    const before = this.sheet.keptWhole(loadWhole(preceding, slot));
    const after = this.sheet.keptWhole(loadWhole(following, slot));
    this.sheet.add(
      when(
        compareWhole(before, '<', whole(0)),
        [storeWhole(head, bucket, after)],
        [storeWhole(following, before, after)],
      ),
      when(compareWhole(after, '>=', whole(0)), [storeWhole(preceding, after, before)]),
    );
  }

  /** An agent has come to be at a place. */
  add(slot: I32, x: F64, y: F64): void {
    this.sheet.add(storeWhole(this.lists.sortedAt, slot, NOBODY));
    this.list(slot, this.bucketAt(x, y));
  }

  /** An agent has come to be nowhere, as which it is in no bucket. */
  come(slot: I32): void {
    this.sheet.add(storeWhole(this.bucketOf, slot, NOBODY));
  }

  /** Takes an agent out of a bucket, in which it is. */
  private takeOut(slot: I32, from: I32): void {
    const { sheet, lists } = this;
    const at = sheet.keptWhole(loadWhole(lists.sortedAt, slot));
    sheet.when(
      compareWhole(at, '>=', whole(0)),
      // Nobody is in reach of no number.
      () =>
        sheet.add(
          store(sortedAgents(this.reads, this.kind).memberX, at, number(NaN)),
          storeWhole(lists.sortedAt, slot, NOBODY),
        ),
      () => this.unlist(slot, from),
    );
  }

  /** An agent that may be in a bucket leaves the space. */
  leave(slot: I32): void {
    const { sheet } = this;
    const from = sheet.keptWhole(loadWhole(this.bucketOf, slot));
    sheet.when(compareWhole(from, '>=', whole(0)), () => this.takeOut(slot, from));
    this.come(slot);
  }

  /** An agent has moved to a place. @param wasNowhere whether it may be in no bucket so far */
  move(slot: I32, x: F64, y: F64, wasNowhere: boolean): void {
    const { sheet, reads, kind, lists } = this;
    const to = this.bucketAt(x, y);
    const from = sheet.keptWhole(loadWhole(this.bucketOf, slot));
    const { memberX, memberY } = sortedAgents(reads, kind);
    const change = (): void => {
      this.takeOut(slot, from);
      this.list(slot, to);
    };
    sheet.when(
      compareWhole(from, '==', to),
      () => {
        const at = sheet.keptWhole(loadWhole(lists.sortedAt, slot));
        sheet.add(when(compareWhole(at, '>=', whole(0)), [store(memberX, at, x), store(memberY, at, y)]));
      },
      () => {
        if (wasNowhere) sheet.when(compareWhole(from, '<', whole(0)), () => this.add(slot, x, y), change);
        else change();
      },
    );
  }

  /** Goes through those in a row of buckets: the sorted ones, gaps among them, then those who are listed. */
  each(row: Row, each: (slot: I32, at: Standing) => void): void {
    const { sheet, reads, kind, lists } = this;
    const { members, memberX, memberY } = sortedAgents(reads, kind);
    const stretches = this.stretchesOf(row);
    const [slot, z, listed, round, search] = [sheet.i32(), sheet.i32(), sheet.i32(), sheet.i32(), sheet.i32()];
    const [x, y] = [sheet.f64(), sheet.f64()];
    const [all, one, find] = ['row', 'one', 'find'].map((name) => `${name}${slot.name}`) as [string, string, string];
    const leave = (block: string) => (): void => sheet.add({ is: 'leave', block });
    const take = (from: I32, at: Readonly<Record<'x' | 'y', F64>>): void =>
      sheet.add(put(slot, from), set(x, at.x), set(y, at.y));
    const searching = sheet.apart(() => {
      sheet.when(compareWhole(listed, '>=', whole(0)), leave(find));
      sheet.when(compareWhole(z, '>', row.to), leave(all));
      sheet.add(put(listed, loadWhole(lists.head, plus(row.row, onRing(z, row.columns, row.wraps)))));
      sheet.add(put(z, plus(z, whole(1))));
    });
    const { list } = sheet.apart(() => {
      const { at, end, later } = stretches;
      sheet.when(
        compareWhole(at, '<', end),
        () => {
          take(loadWhole(members, at), { x: load(memberX, at), y: load(memberY, at) });
          sheet.add(put(at, plus(at, whole(1))));
        },
        () => {
          if (later)
            sheet.when(compareWhole(later.at, '<', later.end), () => {
              sheet.add(put(at, later.at), put(end, later.end), put(later.at, later.end));
              leave(one)();
            });
          sheet.add({
            is: 'block',
            name: find,
            body: [{ is: 'loop', index: search, from: whole(0), to: ENDLESS, body: searching.list }],
          });
          const [ownX, ownY] = [reads.of({ is: 'x', kind }), reads.of({ is: 'y', kind })];
          take(listed, { x: load(ownX, listed), y: load(ownY, listed) });
          sheet.add(put(listed, loadWhole(lists.following, listed)));
        },
      );
      each(slot, { x, y });
    });
    sheet.add(put(z, row.from), put(listed, NOBODY), {
      is: 'block',
      name: all,
      body: [
        {
          is: 'loop',
          index: round,
          from: whole(0),
          to: ENDLESS,
          body: [{ is: 'block', name: one, body: list }],
        },
      ],
    });
  }

  /** Where the sorted of a row of buckets begin and end; those beyond where the row goes round the edge come later. */
  private stretchesOf({ row, from, to, columns, wraps }: Row): Stretch & { readonly later?: Stretch } {
    const { sheet } = this;
    const { start } = sortedAgents(this.reads, this.kind);
    const stretch = (bucket: I32, many: I32): Stretch => {
      const [at, end] = [sheet.i32(), sheet.i32()];
      sheet.add(put(at, loadWhole(start, plus(row, bucket))));
      sheet.add(put(end, loadWhole(start, plus(plus(row, bucket), many))));
      return { at, end };
    };
    const many = sheet.keptWhole(plus(minus(to, from), whole(1)));
    if (!wraps) return stretch(from, many);
    const first = sheet.keptWhole(onRing(from, columns, wraps));
    const fits = sheet.keptWhole(minus(columns, first));
    const here = sheet.keptWhole(selectWhole(compareWhole(many, '<', fits), many, fits));
    return { ...stretch(first, here), later: stretch(whole(0), minus(many, here)) };
  }
}

/** Places among the sorted, from one up to below another. */
interface Stretch {
  readonly at: Local<'i32'>;
  readonly end: Local<'i32'>;
}
