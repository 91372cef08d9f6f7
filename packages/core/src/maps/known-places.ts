/** Spread of keys over the table: a large odd number. */
const SPREAD = 0x9e3779b1;

/** Places of nodes among ways that are kept: a small table for each of very many goals, with two numbers a node and no objects. */
export class KnownPlaces {
  size = 0;
  /** Nodes and their places by turns; a place of 0 is free. */
  private table = NONE;

  /** The place of a node; 0 if it is not known. */
  get(node: number): number {
    const { table } = this;
    const mask = table.length / 2 - 1;
    if (mask < 0) return 0;
    for (let at = Math.imul(node, SPREAD) >>> 7; ; at++) {
      const here = 2 * (at & mask);
      const place = table[here + 1]!;
      if (place === 0 || table[here] === node) return place;
    }
  }

  /** @param node one that is not known yet */
  add(node: number, place: number): void {
    if (this.size * 4 >= this.table.length) this.grow();
    this.size++;
    this.put(node, place);
  }

  private put(node: number, place: number): void {
    const { table } = this;
    const mask = table.length / 2 - 1;
    let at = Math.imul(node, SPREAD) >>> 7;
    while (table[2 * (at & mask) + 1]! !== 0) at++;
    table[2 * (at & mask)] = node;
    table[2 * (at & mask) + 1] = place;
  }

  private grow(): void {
    const before = this.table;
    this.table = new Int32Array(Math.max(32, 2 * before.length));
    for (let here = 0; here < before.length; here += 2)
      if (before[here + 1]! !== 0) this.put(before[here]!, before[here + 1]!);
  }
}

const NONE = new Int32Array(0);
