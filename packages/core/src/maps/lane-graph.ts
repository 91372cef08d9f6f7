import FlatQueue from 'flatqueue';
import type { LaneNetwork } from './lane-network.ts';
import { lanesAtNodes } from './lanes-at.ts';

/** The nodes of a map with what it costs to go along the lanes between them. */
export class LaneGraph {
  readonly nodes: number;
  /** Lanes at node n: `lanesAt[starts[n]]` to before `lanesAt[starts[n + 1]]`. */
  readonly starts: Int32Array;
  readonly lanesAt: Int32Array;
  private readonly queue = new FlatQueue<number>();

  /** @param cost of each lane, above zero; infinite of those that may not be gone on */
  constructor(
    readonly network: LaneNetwork,
    readonly cost: Float64Array,
  ) {
    this.nodes = network.x.length;
    const { starts, lanes } = lanesAtNodes(network);
    this.starts = starts;
    this.lanesAt = lanes;
  }

  /** The other end of a lane; -1 if it may not be gone from this one. */
  otherEnd(lane: number, node: number): number {
    const { from, to, oneWay } = this.network;
    if (from[lane] === node) return to[lane]!;
    return oneWay[lane] ? -1 : from[lane]!;
  }

  /** Lanes by which one can come to a node, from where, at what cost in all. */
  before(node: number, cost: number, reach: (node: number, cost: number) => void): void {
    const { from, to, oneWay } = this.network;
    for (let i = this.starts[node]!; i < this.starts[node + 1]!; i++) {
      const lane = this.lanesAt[i]!;
      if (to[lane] === node) reach(from[lane]!, cost + this.cost[lane]!);
      else if (!oneWay[lane]) reach(to[lane]!, cost + this.cost[lane]!);
    }
  }

  /** Lanes by which one can go on from a node, whither, at what cost in all. */
  private after(node: number, cost: number, reach: (node: number, cost: number) => void): void {
    for (let i = this.starts[node]!; i < this.starts[node + 1]!; i++) {
      const lane = this.lanesAt[i]!;
      const other = this.otherEnd(lane, node);
      if (other >= 0) reach(other, cost + this.cost[lane]!);
    }
  }

  /** Costs of the best ways from all nodes to one, or from one to all; infinite where there is none. */
  costs(end: number, which: 'to' | 'from'): Float64Array {
    const all = new Float64Array(this.nodes).fill(Infinity);
    const { queue } = this;
    const reach = (node: number, cost: number): void => {
      if (!(cost < all[node]!)) return;
      all[node] = cost;
      queue.push(node, cost);
    };
    queue.clear();
    reach(end, 0);
    while (queue.length > 0) {
      const cost = queue.peekValue()!;
      const node = queue.pop()!;
      if (cost !== all[node]) continue;
      if (which === 'to') this.before(node, cost, reach);
      else this.after(node, cost, reach);
    }
    return all;
  }
}
