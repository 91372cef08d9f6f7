import type { RunMemory } from '../memory/run-memory.ts';
import { Columns } from '../memory/columns.ts';

/** The ties of one side of a network: for each agent (by slot) those it is tied to, by slot in rising order. */
class Rows {
  start!: Int32Array;
  length!: Int32Array;
  private room!: Int32Array;
  other!: Int32Array;
  tie!: Int32Array;
  private used = 0;
  private readonly agents = new Columns(3 * 4, 64, (next) => {
    this.start = next.i32();
    this.length = next.i32();
    this.room = next.i32();
  });
  /** All rows, one after another, with room between them. */
  private readonly pool = new Columns(2 * 4, 256, (next) => {
    this.other = next.i32();
    this.tie = next.i32();
  });

  /** All that it keeps in columns, and how many numbers of each. */
  get held(): readonly (readonly [Columns, number])[] {
    return [
      [this.agents, this.agents.capacity],
      [this.pool, this.used],
    ];
  }

  /** @param memory where what has to grow is to lie */
  ensureAgents(count: number, memory?: RunMemory): void {
    const { agents } = this;
    if (count > agents.capacity) agents.grow(Math.max(count, agents.capacity * 2), agents.capacity, memory);
  }

  private ensurePool(count: number, memory?: RunMemory): void {
    const { pool } = this;
    if (count > pool.capacity) pool.grow(Math.max(count, pool.capacity * 2), this.used, memory);
  }

  /** How far rows reach once one more was put into the rows of some agents: full ones move behind the others. */
  private reachWith(agents: readonly number[]): number {
    const { length, room } = this;
    return agents.reduce(
      (used, agent) => (length[agent] === room[agent] ? used + roomAfter(length[agent]!) : used),
      this.used,
    );
  }

  /** Whether one more can be put into the rows of some agents. */
  hasRoomFor(agents: readonly number[]): boolean {
    const { capacity } = this.agents;
    return agents.every((agent) => agent < capacity) && this.reachWith(agents) <= this.pool.capacity;
  }

  makeRoomFor(agents: readonly number[], memory?: RunMemory): void {
    this.ensureAgents(Math.max(...agents) + 1, memory);
    this.ensurePool(this.reachWith(agents), memory);
  }

  /** Where the other stands in the row of an agent, or the place where it would, less one, negated. */
  find(agent: number, other: number): number {
    if (agent >= this.agents.capacity) return -1;
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

  /** Puts a tie into the row of an agent, in which there is room for it. */
  insert(agent: number, other: number, tie: number): void {
    const length = this.length[agent]!;
    if (length === this.room[agent]!) this.move(agent, roomAfter(length));
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
    const from = this.start[agent]!;
    const to = this.used;
    this.other.copyWithin(to, from, from + this.length[agent]!);
    this.tie.copyWithin(to, from, from + this.length[agent]!);
    this.start[agent] = to;
    this.room[agent] = room;
    this.used += room;
  }

  delete(agent: number, other: number): void {
    const at = this.find(agent, other);
    if (at < 0) return;
    const end = this.start[agent]! + this.length[agent]!;
    this.other.copyWithin(at, at + 1, end);
    this.tie.copyWithin(at, at + 1, end);
    this.length[agent]!--;
  }

  /** Makes room for rows of known lengths, which are to be filled without moving. @param memory where what has to grow is to lie */
  makeRoomForRows(lengths: Int32Array, memory?: RunMemory): void {
    this.ensureAgents(lengths.length, memory);
    this.ensurePool(
      lengths.reduce((all, length) => all + length, 0),
      memory,
    );
  }

  /** Lays out rows of known lengths, of which `append` fills all. */
  layOut(lengths: Int32Array): void {
    const { start, length, room } = this;
    length.fill(0);
    room.fill(0);
    start.fill(0);
    length.set(lengths);
    room.set(lengths);
    let total = 0;
    for (let agent = 0; agent < lengths.length; agent++) {
      start[agent] = total;
      total += lengths[agent]!;
    }
    this.used = total;
  }

  /** Adds ties at the ends of rows, the i-th being tie i, whatever the order. Rows begin where they end so far until `sort` brings all into order. */
  append(agents: Int32Array, others: Int32Array): void {
    const { start, other, tie } = this;
    for (let i = 0; i < agents.length; i++) {
      const at = start[agents[i]!]!++;
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

  /** Puts rows into order that have all been filled. */
  sort(agents: number): void {
    const { start, length, other, tie } = this;
    for (let agent = 0; agent < agents; agent++) {
      const end = start[agent]!;
      const from = end - length[agent]!;
      start[agent] = from;
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

/** The room of a full row once one more is put into it. */
function roomAfter(length: number): number {
  return Math.max(4, length * 2);
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
  a!: Int32Array;
  b!: Int32Array;
  there!: Uint8Array;
  /** Rises with the making of ties, also when holes are closed. */
  serial!: Float64Array;
  nextSerial = 0;
  columns!: readonly Float64Array[];
  readonly rows: readonly Rows[];
  private readonly ties: Columns;

  constructor(
    readonly from: number,
    readonly to: number,
    readonly directed: boolean,
    columnCount: number,
  ) {
    this.ties = new Columns(8 * (1 + columnCount) + 2 * 4 + 1, 64, (next) => {
      this.serial = next.f64();
      this.columns = Array.from({ length: columnCount }, () => next.f64());
      this.a = next.i32();
      this.b = next.i32();
      this.there = next.u8();
    });
    this.rows = this.isOneSided ? [new Rows()] : [new Rows(), new Rows()];
  }

  get isOneSided(): boolean {
    return !this.directed && this.from === this.to;
  }

  /** All that it keeps in columns, and how many numbers of each. */
  private get held(): readonly (readonly [Columns, number])[] {
    return [[this.ties, this.count], ...this.rows.flatMap(({ held }) => held)];
  }

  /** Bytes that it takes beside the memory of the run. */
  get bytesApart(): number {
    return this.held.reduce((sum, [columns]) => sum + columns.bytesApart, 0);
  }

  /** Brings all rows into the memory of the run, unless they lie there; that of others may be replaced by it. */
  moveRowsInto(memory: RunMemory): void {
    for (const rows of this.rows) for (const [columns, used] of rows.held) columns.moveInto(memory, used);
  }

  /** Brings what is kept of ties there. */
  moveTiesInto(memory: RunMemory): void {
    this.ties.moveInto(memory, this.count);
  }

  /** Takes all from the memory of the run as it is now. */
  renew(): void {
    for (const [columns] of this.held) columns.renew();
  }

  private ensureTies(count: number, memory?: RunMemory): void {
    const { ties } = this;
    if (count > ties.capacity) ties.grow(Math.max(count, ties.capacity * 2), this.count, memory);
  }

  /** Room for so many agents at each end. @param memory where what has to grow is to lie; that of others may be replaced by it */
  ensureAgents(fromCount: number, toCount: number, memory?: RunMemory): void {
    this.rows[0]!.ensureAgents(fromCount, memory);
    (this.rows[1] ?? this.rows[0]!).ensureAgents(toCount, memory);
  }

  /** Of each side the agents into whose rows a tie goes. */
  private endsBySide(a: number, b: number): readonly (readonly number[])[] {
    return this.isOneSided ? [[a, b]] : [[a], [b]];
  }

  /** Whether two agents can be tied without room being made. */
  hasRoomFor(a: number, b: number): boolean {
    const ends = this.endsBySide(a, b);
    return this.count < this.ties.capacity && this.rows.every((rows, side) => rows.hasRoomFor(ends[side]!));
  }

  /** Makes room for a tie. @param memory where what has to grow is to lie; that of others may be replaced by it */
  makeRoomFor(a: number, b: number, memory?: RunMemory): void {
    this.ensureTies(this.count + 1, memory);
    const ends = this.endsBySide(a, b);
    this.rows.forEach((rows, side) => {
      // What grew before may have replaced all views of the memory.
      if (memory) this.renew();
      rows.makeRoomFor(ends[side]!, memory);
    });
  }

  /** The tie from one agent to another, by slots, or -1. In a one-sided network either way round. */
  between(a: number, b: number): number {
    if (a < 0 || b < 0) return -1;
    const rows = this.rows[0]!;
    const at = rows.find(a, b);
    return at < 0 ? -1 : rows.tie[at]!;
  }

  /** Ties two agents; -1 if they are tied already or are the same. */
  add(a: number, b: number): number {
    if (this.from === this.to && a === b) return -1;
    if (this.between(a, b) >= 0) return -1;
    if (!this.hasRoomFor(a, b)) this.makeRoomFor(a, b);
    const tie = this.put(a, b);
    this.rows[0]!.insert(a, b, tie);
    (this.rows[1] ?? this.rows[0]!).insert(b, a, tie);
    return tie;
  }

  private put(a: number, b: number): number {
    const tie = this.count++;
    this.a[tie] = a;
    this.b[tie] = b;
    this.there[tie] = 1;
    this.serial[tie] = this.nextSerial++;
    this.living++;
    for (const column of this.columns) column[tie] = 0;
    return tie;
  }

  /**
   * Takes up many new ties at once into an empty network; no two of them join the same agents.
   * @param memory where rows are to lie that have to grow; the views of others may be replaced by it
   */
  fill(a: Int32Array, b: Int32Array, agents: number, memory?: RunMemory): void {
    const [first, second] = [this.rows[0]!, this.rows[1] ?? this.rows[0]!];
    const ofFirst = new Int32Array(agents);
    const ofSecond = first === second ? ofFirst : new Int32Array(agents);
    for (let i = 0; i < a.length; i++) {
      ofFirst[a[i]!]!++;
      ofSecond[b[i]!]!++;
    }
    first.makeRoomForRows(ofFirst, memory);
    if (second !== first) second.makeRoomForRows(ofSecond, memory);
    this.renew();
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
