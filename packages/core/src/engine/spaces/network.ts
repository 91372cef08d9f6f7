/** The ties of one side of a network: for each agent (by slot) those it is tied to, by slot in rising order. */
class Rows {
  /** Rises whenever ties come, go or move. */
  version = 0;
  start = new Int32Array(64);
  length = new Int32Array(64);
  private room = new Int32Array(64);
  other = new Int32Array(256);
  tie = new Int32Array(256);
  private used = 0;

  ensureAgents(count: number): void {
    if (count <= this.start.length) return;
    const grow = (old: Int32Array<ArrayBuffer>): Int32Array<ArrayBuffer> => {
      const bigger = new Int32Array(Math.max(count, old.length * 2));
      bigger.set(old);
      return bigger;
    };
    this.start = grow(this.start);
    this.length = grow(this.length);
    this.room = grow(this.room);
  }

  private ensurePool(count: number): void {
    if (count <= this.other.length) return;
    const size = Math.max(count, this.other.length * 2);
    const other = new Int32Array(size);
    const tie = new Int32Array(size);
    other.set(this.other);
    tie.set(this.tie);
    this.other = other;
    this.tie = tie;
  }

  /** Where the other stands in the row of an agent, or the place where it would, less one, negated. */
  find(agent: number, other: number): number {
    let low = this.start[agent]!;
    let high = low + this.length[agent]! - 1;
    while (low <= high) {
      const middle = (low + high) >> 1;
      const found = this.other[middle]!;
      if (found === other) return middle;
      if (found < other) low = middle + 1;
      else high = middle - 1;
    }
    return -low - 1;
  }

  insert(agent: number, other: number, tie: number): void {
    this.version++;
    const length = this.length[agent]!;
    if (length === this.room[agent]!) this.move(agent, Math.max(4, length * 2));
    const found = this.find(agent, other);
    const at = found < 0 ? -found - 1 : found;
    const end = this.start[agent]! + length;
    this.other.copyWithin(at + 1, at, end);
    this.tie.copyWithin(at + 1, at, end);
    this.other[at] = other;
    this.tie[at] = tie;
    this.length[agent] = length + 1;
  }

  private move(agent: number, room: number): void {
    this.ensurePool(this.used + room);
    const from = this.start[agent]!;
    const to = this.used;
    this.other.copyWithin(to, from, from + this.length[agent]!);
    this.tie.copyWithin(to, from, from + this.length[agent]!);
    this.start[agent] = to;
    this.room[agent] = room;
    this.used += room;
  }

  delete(agent: number, other: number): void {
    this.version++;
    const at = this.find(agent, other);
    if (at < 0) return;
    const end = this.start[agent]! + this.length[agent]!;
    this.other.copyWithin(at, at + 1, end);
    this.tie.copyWithin(at, at + 1, end);
    this.length[agent]!--;
  }

  /** Lays out rows of known lengths, so that they are filled without moving. */
  layOut(lengths: Int32Array): void {
    this.version++;
    this.ensureAgents(lengths.length);
    const { start, length, room } = this;
    length.fill(0);
    room.fill(0);
    start.fill(0);
    let total = 0;
    for (let agent = 0; agent < lengths.length; agent++) {
      start[agent] = total;
      room[agent] = lengths[agent]!;
      total += lengths[agent]!;
    }
    this.ensurePool(total);
    this.used = total;
  }

  /** Adds ties at the ends of rows, the i-th being tie i, whatever the order; `sort` brings all rows into order. */
  append(agents: Int32Array, others: Int32Array): void {
    const { start, length, other, tie } = this;
    for (let i = 0; i < agents.length; i++) {
      const agent = agents[i]!;
      const at = start[agent]! + length[agent]!++;
      other[at] = others[i]!;
      tie[at] = i;
    }
  }

  /** Puts a stretch into order, other and place in it being one number. */
  private sortLong(from: number, end: number): void {
    const many = end - from;
    const [others, ties] = [this.other.slice(from, end), this.tie.slice(from, end)];
    const keys = new Float64Array(many);
    for (let i = 0; i < many; i++) keys[i] = others[i]! * many + i;
    keys.sort();
    for (let i = 0; i < many; i++) {
      const at = keys[i]! % many;
      this.other[from + i] = others[at]!;
      this.tie[from + i] = ties[at]!;
    }
  }

  sort(agents: number): void {
    this.version++;
    const { start, length, other, tie } = this;
    for (let agent = 0; agent < agents; agent++) {
      const from = start[agent]!;
      const end = from + length[agent]!;
      if (end - from > MANY_TIES) {
        this.sortLong(from, end);
        continue;
      }
      for (let i = from + 1; i < end; i++) {
        const o = other[i]!;
        const t = tie[i]!;
        let j = i - 1;
        while (j >= from && other[j]! > o) {
          other[j + 1] = other[j]!;
          tie[j + 1] = tie[j]!;
          j--;
        }
        other[j + 1] = o;
        tie[j + 1] = t;
      }
    }
  }
}

/** More ties of one agent are not put into order one by one, which takes as long as their number squared. */
const MANY_TIES = 64;

/**
 * Ties between agents of one kind or of two. An undirected network within one kind keeps each tie in the rows of both its ends; any other
 * keeps a side for those who tie and one for those tied to. Numbers of ties rise with their making.
 */
export class Network {
  count = 0;
  living = 0;
  a = new Int32Array(64);
  b = new Int32Array(64);
  there = new Uint8Array(64);
  /** Rises with the making of ties, also when holes are closed. */
  serial = new Float64Array(64);
  nextSerial = 0;
  columns: Float64Array[];
  readonly rows: readonly Rows[];

  constructor(
    readonly from: number,
    readonly to: number,
    readonly directed: boolean,
    columnCount: number,
  ) {
    this.columns = Array.from({ length: columnCount }, () => new Float64Array(64));
    this.rows = this.isOneSided ? [new Rows()] : [new Rows(), new Rows()];
  }

  get isOneSided(): boolean {
    return !this.directed && this.from === this.to;
  }

  private ensureTies(count: number): void {
    if (count <= this.a.length) return;
    const size = Math.max(count, this.a.length * 2);
    const grow = <T extends Int32Array | Uint8Array | Float64Array>(old: T, bigger: T): T => {
      bigger.set(old);
      return bigger;
    };
    this.a = grow(this.a, new Int32Array(size));
    this.b = grow(this.b, new Int32Array(size));
    this.there = grow(this.there, new Uint8Array(size));
    this.serial = grow(this.serial, new Float64Array(size));
    this.columns = this.columns.map((column) => grow(column, new Float64Array(size)));
  }

  ensureAgents(fromCount: number, toCount: number): void {
    this.rows[0]!.ensureAgents(fromCount);
    (this.rows[1] ?? this.rows[0]!).ensureAgents(toCount);
  }

  /** The tie from one agent to another, by slots, or -1. In a one-sided network either way round. */
  between(a: number, b: number): number {
    if (a < 0 || b < 0) return -1;
    const rows = this.rows[0]!;
    const at = rows.find(a, b);
    return at < 0 ? -1 : rows.tie[at]!;
  }

  /** Ties two agents; -1 if they are tied already or are the same. Agents beyond the rows are made room for. */
  add(a: number, b: number): number {
    if (this.from === this.to && a === b) return -1;
    if (this.rows[0]!.start.length <= Math.max(a, b) || (this.rows[1] && this.rows[1].start.length <= Math.max(a, b)))
      this.ensureAgents(Math.max(a, b) + 1, Math.max(a, b) + 1);
    if (this.between(a, b) >= 0) return -1;
    const tie = this.put(a, b);
    this.rows[0]!.insert(a, b, tie);
    (this.rows[1] ?? this.rows[0]!).insert(b, a, tie);
    return tie;
  }

  private put(a: number, b: number): number {
    this.ensureTies(this.count + 1);
    const tie = this.count++;
    this.a[tie] = a;
    this.b[tie] = b;
    this.there[tie] = 1;
    this.serial[tie] = this.nextSerial++;
    this.living++;
    for (const column of this.columns) column[tie] = 0;
    return tie;
  }

  /** Takes up many new ties at once into an empty network; no two of them join the same agents. */
  fill(a: Int32Array, b: Int32Array, agents: number): void {
    const [first, second] = [this.rows[0]!, this.rows[1] ?? this.rows[0]!];
    const ofFirst = new Int32Array(agents);
    const ofSecond = first === second ? ofFirst : new Int32Array(agents);
    for (let i = 0; i < a.length; i++) {
      ofFirst[a[i]!]!++;
      ofSecond[b[i]!]!++;
    }
    first.layOut(ofFirst);
    if (second !== first) second.layOut(ofSecond);
    this.ensureTies(a.length);
    this.a.set(a);
    this.b.set(b);
    this.there.fill(1, 0, a.length);
    const { serial } = this;
    for (let i = 0; i < a.length; i++) serial[i] = i;
    for (const column of this.columns) column.fill(0, 0, a.length);
    this.count = this.living = this.nextSerial = a.length;
    first.append(a, b);
    second.append(b, a);
    for (const rows of this.rows) rows.sort(agents);
  }

  remove(tie: number): void {
    if (tie < 0 || !this.there[tie]) return;
    const a = this.a[tie]!;
    const b = this.b[tie]!;
    this.there[tie] = 0;
    this.living--;
    this.rows[0]!.delete(a, b);
    (this.rows[1] ?? this.rows[0]!).delete(b, a);
  }

  /** Cuts all ties of an agent of a kind. */
  isolate(kind: number, slot: number): void {
    const sides = [...(kind === this.from ? [0] : []), ...(kind === this.to && this.rows.length > 1 ? [1] : [])];
    for (const side of sides) {
      const rows = this.rows[side]!;
      if (slot >= rows.length.length) continue;
      while (rows.length[slot]! > 0) this.remove(rows.tie[rows.start[slot]!]!);
    }
  }

  /** Closes holes among the ties and gives agents their new slots after a compaction; maps are absent for kinds that stay. */
  renumber(fromMap: Int32Array | undefined, toMap: Int32Array | undefined, agents: number): void {
    const keep: number[] = [];
    for (let tie = 0; tie < this.count; tie++) if (this.there[tie]) keep.push(tie);
    const a = Int32Array.from(keep, (tie) => (fromMap ? fromMap[this.a[tie]!]! : this.a[tie]!));
    const b = Int32Array.from(keep, (tie) => (toMap ? toMap[this.b[tie]!]! : this.b[tie]!));
    const columns = this.columns.map((column) => Float64Array.from(keep, (tie) => column[tie]!));
    const serial = Float64Array.from(keep, (tie) => this.serial[tie]!);
    const next = this.nextSerial;
    this.clear();
    this.fill(a, b, agents);
    this.serial.set(serial);
    this.nextSerial = next;
    columns.forEach((column, i) => this.columns[i]!.set(column));
  }

  clear(): void {
    this.count = 0;
    this.living = 0;
    this.nextSerial = 0;
    for (const rows of this.rows) rows.layOut(new Int32Array(rows.length.length));
  }

  /** Makes an order by number of ties of the living ones. */
  get list(): number[] {
    const list: number[] = [];
    for (let tie = 0; tie < this.count; tie++) if (this.there[tie]) list.push(tie);
    return list;
  }
}
