import { below, shuffleInPlace } from '../random/stream.ts';
import type { RandomStream } from '../random/stream.ts';
import { drawUnit } from '../random/laws.ts';
import { log } from '../../math.ts';
import { neighbour } from '../../forms/edges.ts';
import type { Space } from '../../forms/form.ts';
import { formOf } from '../../forms/forms.ts';
import { squareBetween } from '../../forms/space.ts';

/** How the ties of a network are made; sizes and shares as numbers of this run. */
export type Maker =
  | { readonly is: 'none' }
  | {
      readonly is: 'lattice';
      readonly x: ArrayLike<number>;
      readonly y: ArrayLike<number>;
      readonly space: Space | undefined;
    }
  | { readonly is: 'ring' | 'random' | 'preferential'; readonly size: number }
  | { readonly is: 'small world'; readonly size: number; readonly rewired: number }
  | { readonly is: 'blocks'; readonly by: ArrayLike<number>; readonly inside: number; readonly across: number }
  | { readonly is: 'groups'; readonly size: number; readonly fits: ArrayLike<number> | undefined }
  | {
      readonly is: 'near';
      readonly distance: number;
      readonly space: Space;
      readonly ax: ArrayLike<number>;
      readonly ay: ArrayLike<number>;
      readonly bx: ArrayLike<number>;
      readonly by: ArrayLike<number>;
    };

export interface Pairs {
  readonly a: ArrayLike<number>;
  readonly b: ArrayLike<number>;
  /** Of ties from a file: their rows in it. */
  readonly rows?: number[];
}

/** Most ties that a network is made with; more would not fit into memory. */
export const MOST_TIES = 10_000_000;

/** Thrown where a network would have more ties than fit. */
export class TooManyTies extends RangeError {}

/** Thrown where a network would be made with fewer than no ties. */
export class BelowNone extends RangeError {
  constructor(readonly size: number) {
    super();
  }
}

/** The ends of the ties of a new network, as positions in the order of number, each pair once. */
export function makePairs(
  maker: Maker,
  from: number,
  to: number,
  sameKind: boolean,
  directed: boolean,
  luck: RandomStream,
): Pairs {
  if ('size' in maker && !(maker.size >= 0)) throw new BelowNone(maker.size);
  const made = new PairSet(to, directed || !sameKind);
  switch (maker.is) {
    case 'none':
      break;
    case 'ring':
      ring(made, from, maker.size);
      break;
    case 'small world':
      smallWorld(made, from, maker.size, maker.rewired, luck);
      break;
    case 'random':
      random(made, from, to, maker.size, sameKind, directed, luck);
      break;
    case 'preferential':
      return preferential(from, maker.size, luck);
    case 'blocks':
      blocks(made, from, maker, luck);
      break;
    case 'groups':
      groups(made, from, maker.size, maker.fits, luck);
      break;
    case 'near':
      near(made, from, to, maker, sameKind);
      break;
    case 'lattice':
      lattice(made, from, maker);
  }
  return made;
}

class PairSet implements Pairs {
  readonly a: number[] = [];
  readonly b: number[] = [];
  private readonly keys = new Set<number>();

  constructor(
    private readonly to: number,
    private readonly ordered: boolean,
  ) {}

  private key(a: number, b: number): number {
    return this.ordered || a < b ? a * this.to + b : b * this.to + a;
  }

  has(a: number, b: number): boolean {
    return this.keys.has(this.key(a, b));
  }

  add(a: number, b: number): boolean {
    const key = this.key(a, b);
    if (this.keys.has(key)) return false;
    if (this.a.length >= MOST_TIES) throw new TooManyTies();
    this.keys.add(key);
    this.a.push(a);
    this.b.push(b);
    return true;
  }

  replaceEnd(i: number, b: number): void {
    this.keys.delete(this.key(this.a[i]!, this.b[i]!));
    this.b[i] = b;
    this.keys.add(this.key(this.a[i]!, b));
  }
}

/** Each with so many nearest on a ring, half to either side. */
function ring(made: PairSet, n: number, neighbours: number): void {
  const half = Math.min(Math.floor(neighbours / 2), n - 1);
  if (n * Math.min(half, n / 2) > MOST_TIES) throw new TooManyTies();
  for (let i = 0; i < n; i++) for (let d = 1; d <= half; d++) if ((i + d) % n !== i) made.add(i, (i + d) % n);
}

/** Source: D. J. Watts and S. H. Strogatz, Collective dynamics of small-world networks (1998). */
function smallWorld(made: PairSet, n: number, neighbours: number, rewired: number, luck: RandomStream): void {
  ring(made, n, neighbours);
  for (let i = 0; i < made.a.length; i++) {
    if (luck.word() >= rewired * 4294967296) continue;
    for (let tries = 0; tries < 64; tries++) {
      const other = below(luck.word(), n);
      if (other === made.a[i] || made.has(made.a[i]!, other)) continue;
      made.replaceEnd(i, other);
      break;
    }
  }
}

/** As many ties as give the mean degree, drawn evenly from all pairs. Source: P. Erdos and A. Renyi, On random graphs (1959). */
function random(
  made: PairSet,
  from: number,
  to: number,
  degree: number,
  sameKind: boolean,
  directed: boolean,
  luck: RandomStream,
): void {
  const all = sameKind ? (from * (from - 1)) / (directed ? 1 : 2) : from * to;
  const wanted = Math.min(all, Math.round((from * degree) / (sameKind && !directed ? 2 : 1)));
  if (wanted > MOST_TIES) throw new TooManyTies();
  while (made.a.length < wanted) {
    const a = below(luck.word(), from);
    const b = below(luck.word(), to);
    if (!(sameKind && a === b)) made.add(a, b);
  }
}

/** Each newcomer ties to so many that are there, drawn by their degrees. Source: A.-L. Barabasi and R. Albert, Emergence of scaling in random networks (1999). */
function preferential(n: number, ties: number, luck: RandomStream): Pairs {
  const first = Math.min(n, ties + 1);
  const count = (first * (first - 1)) / 2 + (n - first) * ties;
  if (count > MOST_TIES) throw new TooManyTies();
  const a = new Int32Array(count);
  const b = new Int32Array(count);
  let made = 0;
  const tie = (newcomer: number, other: number): void => {
    a[made] = newcomer;
    b[made++] = other;
  };
  for (let i = 0; i < first; i++) for (let j = 0; j < i; j++) tie(i, j);
  for (let i = first; i < n; i++) {
    const before = made;
    while (made < before + ties) {
      // One end of one of the ties that were there, so that each is drawn as often as it has ties.
      const end = below(luck.word(), 2 * before);
      const other = (end & 1 ? b : a)[end >> 1]!;
      let isTied = false;
      for (let k = before; k < made; k++) if (b[k] === other) isTied = true;
      if (!isTied) tie(i, other);
    }
  }
  return { a, b };
}

/** Every pair with one chance within a block, another across; pairs are passed over by geometric jumps. */
function blocks(made: PairSet, n: number, maker: Extract<Maker, { is: 'blocks' }>, luck: RandomStream): void {
  const members = new Map<number, number[]>();
  for (let i = 0; i < n; i++) {
    const list = members.get(maker.by[i]!);
    if (list) list.push(i);
    else members.set(maker.by[i]!, [i]);
  }
  const lists = [...members.keys()].sort((a, b) => a - b).map((key) => members.get(key)!);
  lists.forEach((first, i) => {
    jumps((first.length * (first.length - 1)) / 2, maker.inside, luck, (k) => {
      // Pair k of the triangle below the diagonal: row r has r entries.
      let row = Math.floor((1 + Math.sqrt(1 + 8 * k)) / 2);
      while ((row * (row - 1)) / 2 > k) row--;
      while ((row * (row + 1)) / 2 <= k) row++;
      made.add(first[row]!, first[k - (row * (row - 1)) / 2]!);
    });
    for (const second of lists.slice(i + 1))
      jumps(first.length * second.length, maker.across, luck, (k) =>
        made.add(first[Math.floor(k / second.length)]!, second[k % second.length]!),
      );
  });
}

function jumps(count: number, p: number, luck: RandomStream, take: (k: number) => void): void {
  if (!(p > 0)) return;
  const scale = p < 1 ? log(1 - p) : -Infinity;
  for (let k = -1; ;) {
    k += 1 + (p < 1 ? Math.floor(log(1 - drawUnit(luck.word(), luck.word())) / scale) : 0);
    if (k >= count) return;
    take(k);
  }
}

/** Those who fit, in a drawn order, in groups in which all are tied. */
function groups(made: PairSet, n: number, size: number, fits: ArrayLike<number> | undefined, luck: RandomStream): void {
  const members = Int32Array.from({ length: n }, (_, i) => i).filter((i) => !fits || fits[i] !== 0);
  shuffleInPlace(members, members.length, luck);
  for (let start = 0; start < members.length; start += size) {
    const group = members.subarray(start, start + size);
    for (let i = 0; i < group.length; i++) for (let j = 0; j < i; j++) made.add(group[i]!, group[j]!);
  }
}

/** All pairs within a distance, found by cells as wide as it. */
function near(
  made: PairSet,
  from: number,
  to: number,
  { distance, space, ax, ay, bx, by }: Extract<Maker, { is: 'near' }>,
  sameKind: boolean,
): void {
  if (!(distance >= 0)) return;
  const wide = Math.max(formOf(space).stripe(distance), Math.sqrt((space.width * space.height) / 1e6));
  const columns = Math.max(1, Math.floor(space.width / wide));
  const rows = Math.max(1, Math.floor(space.height / wide));
  const cellOf = (x: number, y: number): number =>
    Math.min(rows - 1, Math.floor((y / space.height) * rows)) * columns +
    Math.min(columns - 1, Math.floor((x / space.width) * columns));
  const members: number[][] = Array.from({ length: columns * rows }, () => []);
  for (let b = 0; b < to; b++) if (bx[b] === bx[b]) members[cellOf(bx[b]!, by[b]!)]!.push(b);
  const wraps = space.edge === 'wrapping';
  for (let a = 0; a < from; a++) {
    if (ax[a] !== ax[a]) continue;
    const own = cellOf(ax[a]!, ay[a]!);
    const around = new Set<number>();
    for (let dy = -1; dy <= 1; dy++) {
      for (let dx = -1; dx <= 1; dx++) {
        const c = neighbour((own % columns) + dx, columns, wraps);
        const r = neighbour(Math.floor(own / columns) + dy, rows, wraps);
        if (c >= 0 && r >= 0) around.add(r * columns + c);
      }
    }
    const found = [...around]
      .flatMap((cell) => members[cell]!)
      .filter(
        (b) => !(sameKind && b >= a) && squareBetween(ax[a]!, ay[a]!, bx[b]!, by[b]!, space) <= distance * distance,
      );
    for (const b of found.sort((p, q) => p - q)) made.add(a, b);
  }
}

/** On a grid those on neighbouring cells; elsewhere in rows of about equal length, by number, four neighbours. */
function lattice(made: PairSet, n: number, { x, y, space }: Extract<Maker, { is: 'lattice' }>): void {
  if (!space || !formOf(space).isOfCells) {
    const columns = Math.max(1, Math.floor(Math.sqrt(n)));
    for (let i = 0; i < n; i++) {
      if ((i + 1) % columns !== 0 && i + 1 < n) made.add(i, i + 1);
      if (i + columns < n) made.add(i, i + columns);
    }
    return;
  }
  const members = new Map<number, number[]>();
  const keyOf = (column: number, row: number): number => row * space.width + column;
  for (let i = 0; i < n; i++) {
    const key = keyOf(x[i]!, y[i]!);
    const list = members.get(key);
    if (list) list.push(i);
    else members.set(key, [i]);
  }
  const wraps = space.edge === 'wrapping';
  for (let i = 0; i < n; i++) {
    for (const [dx, dy] of formOf(space).neighbourSteps(space, y[i]!)) {
      const c = neighbour(x[i]! + dx, space.width, wraps);
      const r = neighbour(y[i]! + dy, space.height, wraps);
      for (const other of (c < 0 || r < 0 ? undefined : members.get(keyOf(c, r))) ?? [])
        if (other !== i) made.add(i, other);
    }
  }
}
