import type { RuleSight } from '../plan/seen-before.ts';
import type { Column, F64, I32, KernelFunction, Local, Statement } from './kernel.ts';
import {
  both,
  column,
  compare,
  compareWhole,
  f64,
  i32,
  load,
  loadWhole,
  minus,
  put,
  set,
  when,
  whole,
  words,
} from './kernel.ts';
import type { Buckets } from './buckets.ts';
import { bucketAt } from './buckets.ts';
import { holdsOneACell } from './grid-cells.ts';
import type { Sheet } from './sheet.ts';
import { linkName } from './turn-ends.ts';
import type { TurnReads } from './turn-reads.ts';

/** Who is near while agents move one after the other, in kernel form: lists of agents by bucket that are kept up, as engine/spaces/bucket-index.ts keeps them. */

/** Of each bucket its first agent; of each agent who follows and who precedes it there, and its bucket. -1 is nobody, and nowhere. */
interface Links {
  readonly head: Column<'i32' | 'u8'>;
  readonly following: Column<'i32' | 'u8'>;
  readonly preceding: Column<'i32' | 'u8'>;
  readonly listedIn: Column<'i32' | 'u8'>;
}

const NOBODY = whole(-1);

function storeWhole(to: Column<'i32' | 'u8'>, at: I32, value: I32): Statement {
  return { is: 'store i32', column: to, at, value };
}

/** Puts an agent at the beginning of a bucket. @param first a local for who was first there */
function link(
  { head, following, preceding, listedIn }: Links,
  slot: I32,
  bucket: I32,
  first: Local<'i32'>,
): Statement[] {
  return [
    put(first, loadWhole(head, bucket)),
    storeWhole(following, slot, first),
    storeWhole(preceding, slot, NOBODY),
    when(compareWhole(first, '>=', whole(0)), [storeWhole(preceding, first, slot)]),
    storeWhole(head, bucket, slot),
    storeWhole(listedIn, slot, bucket),
  ];
}

/** Lists all who are somewhere. It is given the slots in use, columns and rows of buckets, and how many buckets a unit of length is on each axis. */
export function linkKernel(kind: number): KernelFunction {
  const [alive, x, y] = [column('alive', 'u8'), column('x'), column('y')];
  const links: Links = {
    head: column('head', 'i32'),
    following: column('following', 'i32'),
    preceding: column('preceding', 'i32'),
    listedIn: column('listedIn', 'i32'),
  };
  const [used, columns, rows, perX, perY] = [i32('used'), i32('columns'), i32('rows'), f64('perX'), f64('perY')];
  const [i, slot, b, first] = [i32('i'), i32('slot'), i32('b'), i32('first')];
  const [px, py] = [f64('px'), f64('py')];
  const isThere = compareWhole(words('mask', loadWhole(alive, slot), whole(1)), '!=', whole(0));
  return {
    name: linkName(kind),
    columns: [alive, x, y, ...Object.values(links)],
    given: [used, columns, rows, perX, perY],
    locals: [i, slot, b, first, px, py],
    body: [
      {
        is: 'loop',
        index: b,
        from: whole(0),
        to: { is: 'i32 binary', fn: '*', left: columns, right: rows },
        body: [storeWhole(links.head, b, NOBODY)],
      },
      {
        is: 'loop',
        index: i,
        from: whole(0),
        to: used,
        body: [
          put(slot, minus(minus(used, whole(1)), i)),
          set(px, load(x, slot)),
          set(py, load(y, slot)),
          when(
            both(isThere, compare(px, '==', px)),
            [put(b, bucketAt(px, py, { columns, rows, perX, perY })), ...link(links, slot, b, first)],
            [storeWhole(links.listedIn, slot, NOBODY)],
          ),
        ],
      },
    ],
  };
}

/** Whether agents of a kind are asked for by place while some of them move, or come, one after the other. */
export function isLinked({ plan, atOnce, effects }: RuleSight, kind: number): boolean {
  const { queried, movedKinds, createdKinds } = effects;
  if (atOnce || !queried.has(kind) || holdsOneACell(plan, plan.kinds[kind]!.space)) return false;
  return movedKinds.has(kind) || createdKinds.has(kind);
}

/** The lists of the agents of a kind, in a kernel of turns. */
export class LinkedBuckets {
  private readonly links: Links;
  private readonly buckets: Buckets;
  /** What has to be done before the first turn. */
  readonly prologue: readonly Statement[];

  constructor(
    private readonly sheet: Sheet,
    reads: TurnReads,
    kind: number,
  ) {
    const of = (is: keyof Links): Links['head'] => reads.wholesOf({ is, kind });
    this.links = { head: of('head'), following: of('following'), preceding: of('preceding'), listedIn: of('listedIn') };
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

  /** An agent has come to be at a place. */
  add(slot: I32, x: F64, y: F64): void {
    const bucket = this.bucketAt(x, y);
    this.sheet.add(...link(this.links, slot, bucket, this.sheet.i32()));
  }

  /** An agent has moved to a place. */
  move(slot: I32, x: F64, y: F64): void {
    const { sheet, links } = this;
    const to = this.bucketAt(x, y);
    const from = sheet.keptWhole(loadWhole(links.listedIn, slot));
    sheet.when(compareWhole(from, '!=', to), () => {
      const before = sheet.keptWhole(loadWhole(links.preceding, slot));
      const after = sheet.keptWhole(loadWhole(links.following, slot));
      sheet.add(
        when(
          compareWhole(before, '<', whole(0)),
          [storeWhole(links.head, from, after)],
          [storeWhole(links.following, before, after)],
        ),
        when(compareWhole(after, '>=', whole(0)), [storeWhole(links.preceding, after, before)]),
        ...link(links, slot, to, sheet.i32()),
      );
    });
  }

  /** Goes through those in a bucket. */
  each(bucket: I32, each: (slot: I32) => void): void {
    const { sheet, links } = this;
    const [j, round] = [sheet.i32(), sheet.i32()];
    const name = `bucket${j.name}`;
    const { list } = sheet.apart(() => {
      sheet.when(compareWhole(j, '<', whole(0)), () => sheet.add({ is: 'leave', block: name }));
      each(j);
      sheet.add(put(j, loadWhole(links.following, j)));
    });
    sheet.add(put(j, loadWhole(links.head, bucket)), {
      is: 'block',
      name,
      body: [{ is: 'loop', index: round, from: whole(0), to: ENDLESS, body: list }],
    });
  }
}

/** More rounds than any list has agents. */
const ENDLESS = whole(0x7fffffff);
