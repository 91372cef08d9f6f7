/** Stands after each way, so that who looks for the next node finds none. */
const END = -1;
const AT_FIRST = 4096;

/**
 * Ways as they were found, to whatever goals: node by node, with what is left from there and the lane that leads on, all in one long row, so that who goes along a way reads what
 * lies side by side.
 */
export class KeptWays {
  /** Places in the row that are taken; the first is none, so that each place is above 0. */
  size = 1;
  private nodes = new Int32Array(AT_FIRST).fill(END);
  private lanes = new Int32Array(AT_FIRST);
  private costs = new Float64Array(AT_FIRST);

  /** @returns the place of a node that comes after those before it */
  add(node: number, cost: number, lane: number): number {
    if (this.size + 1 >= this.nodes.length) this.grow();
    this.nodes[this.size] = node;
    this.costs[this.size] = cost;
    this.lanes[this.size] = lane;
    return this.size++;
  }

  /** The way that was begun is at its end, or goes on as one before. */
  end(): void {
    this.add(END, Infinity, -1);
  }

  /** Where a node lies that is at a place of a way, or beside it on that way; 0 if it is neither. */
  near(place: number, node: number): number {
    const { nodes } = this;
    if (nodes[place] === node) return place;
    if (nodes[place + 1] === node) return place + 1;
    return nodes[place - 1] === node ? place - 1 : 0;
  }

  cost(place: number): number {
    return this.costs[place]!;
  }

  /** The lane by which the way leads on; -1 where no way does. */
  lane(place: number): number {
    return this.lanes[place]!;
  }

  private grow(): void {
    const wanted = 2 * this.nodes.length;
    const nodes = new Int32Array(wanted).fill(END);
    nodes.set(this.nodes);
    const lanes = new Int32Array(wanted);
    lanes.set(this.lanes);
    const costs = new Float64Array(wanted);
    costs.set(this.costs);
    this.nodes = nodes;
    this.lanes = lanes;
    this.costs = costs;
  }
}
