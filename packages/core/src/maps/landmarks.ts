import type { LaneGraph } from './lane-graph.ts';

/** So many landmarks, each with the costs of ways to it and from it. */
const LANDMARKS = 8;
const PER_NODE = 2 * LANDMARKS;
/** Smaller maps are searched as quickly without. */
const LEAST_NODES = 2000;
/** Searches before landmarks pay for themselves. */
const SEARCHES_BEFORE = 24;
/** What rounding may add to a way. */
const SLACK = 1e-9;

/**
 * Bounds below what a way costs: by straight distance, and on larger maps by landmarks, as by way of none of them one is quicker than straight ahead.
 * Source: A. V. Goldberg, C. Harrelson, Computing the shortest path: A* search meets graph theory (2005).
 */
export class WayBounds {
  /** Least cost of a length. */
  private readonly leastCost: number;
  /** Of each node, side by side: the cost to each landmark and from it. */
  private known: Float64Array | undefined;
  private searches = 0;
  private a = 0;
  private b = 0;

  constructor(private readonly graph: LaneGraph) {
    const { length } = graph.network;
    let least = Infinity;
    for (let lane = 0; lane < length.length; lane++) least = Math.min(least, graph.cost[lane]! / length[lane]!);
    this.leastCost = least * (1 - SLACK);
  }

  /** Ways are looked for that begin at one of two nodes. */
  beginAt(a: number, b: number): void {
    this.a = a;
    this.b = b;
    if (!this.known && this.graph.nodes >= LEAST_NODES && ++this.searches > SEARCHES_BEFORE)
      this.known = this.measured();
  }

  /** What a way from either node to another costs at least. */
  to(node: number): number {
    return Math.min(this.between(this.a, node), this.b === this.a ? Infinity : this.between(this.b, node));
  }

  private between(from: number, to: number): number {
    const { x, y } = this.graph.network;
    const dx = x[from]! - x[to]!;
    const dy = y[from]! - y[to]!;
    let bound = this.leastCost * Math.sqrt(dx * dx + dy * dy);
    const { known } = this;
    if (!known) return bound;
    let f = from * PER_NODE;
    let t = to * PER_NODE;
    for (let i = 0; i < LANDMARKS; i++) {
      // Where no way leads to a landmark or from it, differences of infinities are no numbers, and count for nothing.
      const ahead = known[f]! - known[t]!;
      if (ahead > bound && ahead < Infinity) bound = ahead - SLACK * known[f]!;
      const behind = known[t + 1]! - known[f + 1]!;
      if (behind > bound && behind < Infinity) bound = behind - SLACK * known[t + 1]!;
      f += 2;
      t += 2;
    }
    return bound;
  }

  /** Landmarks far from one another, and what it costs to come to them and from them. */
  private measured(): Float64Array {
    const { graph } = this;
    const known = new Float64Array(graph.nodes * PER_NODE);
    let nearest = new Float64Array(graph.nodes).fill(Infinity);
    let landmark = farthest(graph.costs(0, 'from'));
    for (let i = 0; i < LANDMARKS; i++) {
      const [to, from] = [graph.costs(landmark, 'to'), graph.costs(landmark, 'from')];
      for (let node = 0; node < graph.nodes; node++) {
        known[node * PER_NODE + 2 * i] = to[node]!;
        known[node * PER_NODE + 2 * i + 1] = from[node]!;
      }
      nearest = nearest.map((cost, node) => Math.min(cost, from[node]!));
      landmark = farthest(nearest);
    }
    return known;
  }
}

/** The node at the greatest cost that is reached at all. */
function farthest(costs: Float64Array): number {
  let found = 0;
  for (let node = 0; node < costs.length; node++)
    if (costs[node]! < Infinity && !(costs[node]! <= costs[found]!)) found = node;
  return found;
}
