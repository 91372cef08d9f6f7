import FlatQueue from 'flatqueue';
import type { WayBounds } from './landmarks.ts';
import type { LaneGraph } from './lane-graph.ts';

/** What rounding may add to a way: beyond so much more than the best, a search is over. */
const SLACK = 1e-9;

/** A search from a node back to two others: after it, the costs from all nodes on their best ways, and on ways as good, are the least. */
export class WaySearch {
  /** Costs found so far, of nodes that bear the number of the search. */
  private readonly found: Float64Array;
  private readonly foundIn: Int32Array;
  /** Of the same nodes what the rest of a way costs at least. */
  private readonly rest: Float64Array;
  private search = 0;
  private readonly queue = new FlatQueue<number>();

  constructor(
    private readonly graph: LaneGraph,
    private readonly bounds: WayBounds,
  ) {
    this.found = new Float64Array(graph.nodes);
    this.foundIn = new Int32Array(graph.nodes);
    this.rest = new Float64Array(graph.nodes);
  }

  /** The cost from a node, as far as it was found; infinite where it was not. */
  costAt(node: number): number {
    return this.foundIn[node] === this.search ? this.found[node]! : Infinity;
  }

  run(end: number, a: number, b: number): void {
    const { found, foundIn, rest, queue, bounds } = this;
    const search = ++this.search;
    bounds.beginAt(a, b);
    const reach = (node: number, cost: number): void => {
      if (!(cost < Infinity)) return;
      if (foundIn[node] !== search) {
        foundIn[node] = search;
        rest[node] = bounds.to(node);
      } else if (!(cost < found[node]!)) return;
      found[node] = cost;
      queue.push(node, cost + rest[node]!);
    };
    queue.clear();
    reach(end, 0);
    while (queue.length > 0) {
      const value = queue.peekValue()!;
      if (value > Math.max(this.costAt(a), this.costAt(b)) * (1 + SLACK)) break;
      const node = queue.pop()!;
      const cost = found[node]!;
      if (value <= cost + rest[node]!) this.graph.before(node, cost, reach);
    }
  }
}
