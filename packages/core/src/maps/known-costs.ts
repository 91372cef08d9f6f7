/** Spread of keys over the table: a large odd number. */
const SPREAD = 0x9e3779b1;

/** Costs by node, and the lanes by which ways lead on: a small table for each of very many goals, with two numbers a place and no objects. */
export class KnownCosts {
  size = 0;
  private keys: Int32Array | undefined;
  private values = EMPTY;
  private lanes = NO_LANES;

  /** The cost from a node; -1 if it is not known. */
  get(node: number): number {
    const place = this.placeOf(node);
    return place < 0 ? -1 : this.values[place]!;
  }

  private placeOf(node: number): number {
    const { keys } = this;
    if (!keys) return -1;
    const mask = keys.length - 1;
    for (let at = Math.imul(node, SPREAD) >>> 7; ; at++) {
      const key = keys[at & mask]!;
      if (key === node) return at & mask;
      if (key < 0) return -1;
    }
  }

  /** The lane by which the way leads on from a node whose cost is known; -1 if that is not known. */
  laneFrom(node: number): number {
    const place = this.placeOf(node);
    return place < 0 ? -1 : this.lanes[place]! - 1;
  }

  /** @param node one whose cost is known */
  setLane(node: number, lane: number): void {
    this.lanes[this.placeOf(node)] = lane + 1;
  }

  set(node: number, cost: number): void {
    if (!this.keys || this.size * 2 >= this.keys.length) this.grow();
    const keys = this.keys!;
    const mask = keys.length - 1;
    for (let at = Math.imul(node, SPREAD) >>> 7; ; at++) {
      const place = at & mask;
      if (keys[place] !== node && keys[place]! >= 0) continue;
      if (keys[place]! < 0) this.size++;
      keys[place] = node;
      this.values[place] = cost;
      return;
    }
  }

  private grow(): void {
    const { keys, values, lanes } = this;
    const places = keys ? keys.length * 2 : 16;
    this.keys = new Int32Array(places).fill(-1);
    this.values = new Float64Array(places);
    this.lanes = new Int32Array(places);
    this.size = 0;
    keys?.forEach((node, place) => {
      if (node < 0) return;
      this.set(node, values[place]!);
      if (lanes[place]! > 0) this.setLane(node, lanes[place]! - 1);
    });
  }
}

const EMPTY = new Float64Array(0);
const NO_LANES = new Int32Array(0);
