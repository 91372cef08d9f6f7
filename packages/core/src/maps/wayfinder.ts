import FlatQueue from 'flatqueue';
import { KnownCosts } from './known-costs.ts';
import type { LaneNetwork } from './lane-network.ts';
import { lanesAtNodes } from './lanes-at.ts';

/** A place that ways lead to: a lane and how far along it. What is known of the ways there is kept with it. */
export interface Goal {
  /** The place that was asked for, from which the nearest of the lanes was found. */
  readonly askedX: number;
  readonly askedY: number;
  readonly lane: number;
  readonly along: number;
  readonly x: number;
  readonly y: number;
  /** The nodes at both ends of its lane, and what is left from there; infinite where it may not be gone so. */
  readonly first: Root;
  readonly second: Root;
  readonly fromFirst: number;
  readonly fromSecond: number;
}

/** A node that ways lead to, which goals on all lanes there share. */
interface Root {
  readonly node: number;
  /** Costs from all nodes, once many have asked for it. */
  all?: Float64Array;
  /** Costs from some nodes, those of the ways that were asked for. */
  some: KnownCosts;
  /** How often ways to it were searched for. */
  searches: number;
}

/** Numbers kept before all is forgotten; nothing but time depends on it. */
const MOST_KEPT = 30_000_000;
/** A node that was searched for so often gets the costs from all nodes; where those of all fit, every node does. */
const SEARCHES_FOR_ALL = 6;
/** What rounding may add to a way: beyond so much more than the best, a search is over. */
const SLACK = 1e-9;

/**
 * What it costs to come from the nodes of a map to a place. The cost of a way to a node is the sum of its lanes' costs, added from its end on, and the least of all ways
 * counts; to a place on a lane one comes over the end from which that and what is left are least. So it does not depend on how it was found: by a search from the
 * end towards two nodes (A*, with straight distance as the bound below) or to all of them (Dijkstra). Sources: P. E. Hart, N. J. Nilsson, B. Raphael, A formal basis for the heuristic determination of minimum cost paths (1968);
 * E. W. Dijkstra, A note on two problems in connexion with graphs (1959).
 */
export class Wayfinder {
  /** Lanes at node n: `lanesAt[starts[n]]` to before `lanesAt[starts[n + 1]]`. */
  private readonly starts: Int32Array;
  private readonly lanesAt: Int32Array;
  private goals = new Map<number, Map<number, Goal>>();
  private readonly roots: (Root | undefined)[] = [];
  private readonly searchesForAll: number;
  private kept = 0;
  private readonly nodes: number;
  /** Least cost of a length, for the bound below. */
  private readonly leastCost: number;
  /** Of the search under way: costs found so far, of nodes that bear its number, and these nodes. */
  private readonly found: Float64Array;
  private readonly foundIn: Int32Array;
  private readonly reached: number[] = [];
  private search = 0;
  private readonly queue = new FlatQueue<number>();

  /**
   * @param cost of each lane, above zero; infinite of those that may not be gone on
   * @param searchesForAll how often a node is searched for before the costs from all nodes to it are found at once
   */
  constructor(
    readonly network: LaneNetwork,
    readonly cost: Float64Array,
    searchesForAll?: number,
  ) {
    const { x, from, length } = network;
    this.nodes = x.length;
    this.searchesForAll = searchesForAll ?? (this.nodes * this.nodes <= MOST_KEPT ? 1 : SEARCHES_FOR_ALL);
    this.found = new Float64Array(this.nodes);
    this.foundIn = new Int32Array(this.nodes);
    const { starts, lanes } = lanesAtNodes(network);
    this.starts = starts;
    this.lanesAt = lanes;
    let least = Infinity;
    for (let lane = 0; lane < from.length; lane++) least = Math.min(least, cost[lane]! / length[lane]!);
    this.leastCost = least * (1 - SLACK);
  }

  /** The goal of a place, if it was asked for before. */
  knownGoal(askedX: number, askedY: number): Goal | undefined {
    return this.goals.get(askedX)?.get(askedY);
  }

  newGoal(askedX: number, askedY: number, lane: number, along: number, x: number, y: number): Goal {
    if (this.kept > MOST_KEPT) this.forget();
    const { from, to, length, oneWay } = this.network;
    const left = length[lane]! - along;
    const goal: Goal = {
      askedX,
      askedY,
      lane,
      along,
      x,
      y,
      first: this.rootOf(from[lane]!),
      second: this.rootOf(to[lane]!),
      fromFirst: this.costOf(lane, along),
      fromSecond: oneWay[lane] && left > 0 ? Infinity : this.costOf(lane, left),
    };
    const column = this.goals.get(askedX) ?? new Map<number, Goal>();
    this.goals.set(askedX, column.set(askedY, goal));
    this.kept += 20;
    return goal;
  }

  private rootOf(node: number): Root {
    return (this.roots[node] ??= { node, some: new KnownCosts(), searches: 0 });
  }

  /** Goals that are held elsewhere keep their roots, which begin anew. */
  private forget(): void {
    for (const root of this.roots) {
      if (!root) continue;
      root.all = undefined;
      root.some = new KnownCosts();
      root.searches = 0;
    }
    this.goals = new Map();
    this.kept = 0;
  }

  /** The cost of a piece of a lane; nothing at its ends, also of lanes that may not be gone on. */
  costOf(lane: number, piece: number): number {
    return piece === 0 ? 0 : (this.cost[lane]! * piece) / this.network.length[lane]!;
  }

  /**
   * Least cost from a node to a goal; infinite where no way leads there.
   * @param other a node that will be asked for too, as the other end of the lane one stands on
   */
  costFrom(goal: Goal, node: number, other = node): number {
    return Math.min(
      this.costTo(goal.first, node, other) + goal.fromFirst,
      this.costTo(goal.second, node, other) + goal.fromSecond,
    );
  }

  private costTo(root: Root, node: number, other: number): number {
    if (root.all) return root.all[node]!;
    const known = root.some.get(node);
    if (known >= 0) return known;
    if (root.searches + 1 >= this.searchesForAll) return this.searchAll(root)[node]!;
    this.searchFrom(root, node, other);
    return root.some.get(node);
  }

  /** The other end of a lane; -1 if it may not be gone from this one. */
  private otherEnd(lane: number, node: number): number {
    const { from, to, oneWay } = this.network;
    if (from[lane] === node) return to[lane]!;
    return oneWay[lane] ? -1 : from[lane]!;
  }

  /** The lane by which a way leads on from a node; of equal ones the first. That of the goal itself if the node is at its end and nothing is better. */
  nextLane(goal: Goal, node: number): number {
    const overFirst = this.costTo(goal.first, node, node) + goal.fromFirst;
    const overSecond = this.costTo(goal.second, node, node) + goal.fromSecond;
    const root = overFirst <= overSecond ? goal.first : goal.second;
    if (root.node === node) return goal.lane;
    let best = Infinity;
    let found = -1;
    for (let i = this.starts[node]!; i < this.starts[node + 1]!; i++) {
      const lane = this.lanesAt[i]!;
      const other = this.otherEnd(lane, node);
      if (other < 0) continue;
      const cost = this.knownCost(root, other) + this.cost[lane]!;
      if (cost < best) {
        best = cost;
        found = lane;
      }
    }
    return found;
  }

  /** Of nodes beside a way only those have been searched that could lie on one as good. */
  private knownCost(root: Root, node: number): number {
    if (root.all) return root.all[node]!;
    const known = root.some.get(node);
    return known < 0 ? Infinity : known;
  }

  /** Lanes by which one can come to a node, from where, at what cost in all. */
  private before(node: number, cost: number, reach: (node: number, cost: number) => void): void {
    const { from, to, oneWay } = this.network;
    for (let i = this.starts[node]!; i < this.starts[node + 1]!; i++) {
      const lane = this.lanesAt[i]!;
      if (to[lane] === node) reach(from[lane]!, cost + this.cost[lane]!);
      else if (!oneWay[lane]) reach(to[lane]!, cost + this.cost[lane]!);
    }
  }

  private searchAll(root: Root): Float64Array {
    const all = new Float64Array(this.nodes).fill(Infinity);
    const { queue } = this;
    const reach = (node: number, cost: number): void => {
      if (!(cost < all[node]!)) return;
      all[node] = cost;
      queue.push(node, cost);
    };
    queue.clear();
    reach(root.node, 0);
    while (queue.length > 0) {
      const cost = queue.peekValue()!;
      const node = queue.pop()!;
      if (cost === all[node]) this.before(node, cost, reach);
    }
    root.all = all;
    root.some = new KnownCosts();
    this.kept += this.nodes;
    return all;
  }

  /** Searches towards two nodes, and keeps the costs from all nodes that lie on their best ways or on ones as good. */
  private searchFrom(root: Root, a: number, b: number): void {
    const { x, y } = this.network;
    const { found, foundIn, reached, queue } = this;
    const search = ++this.search;
    root.searches++;
    reached.length = 0;
    const [ax, ay, bx, by] = [x[a]!, y[a]!, x[b]!, y[b]!];
    const bound = (node: number): number => {
      const [ex, ey, fx, fy] = [x[node]! - ax, y[node]! - ay, x[node]! - bx, y[node]! - by];
      return this.leastCost * Math.sqrt(Math.min(ex * ex + ey * ey, fx * fx + fy * fy));
    };
    const costAt = (node: number): number => (foundIn[node] === search ? found[node]! : Infinity);
    const reach = (node: number, cost: number): void => {
      if (!(cost < costAt(node))) return;
      if (foundIn[node] !== search) reached.push(node);
      foundIn[node] = search;
      found[node] = cost;
      queue.push(node, cost + bound(node));
    };
    queue.clear();
    reach(root.node, 0);
    while (queue.length > 0) {
      const value = queue.peekValue()!;
      if (value > Math.max(costAt(a), costAt(b)) * (1 + SLACK)) break;
      const node = queue.pop()!;
      const cost = found[node]!;
      if (value <= cost + bound(node)) this.before(node, cost, reach);
    }
    // Costs of nodes that are not on the way of either may not be the least yet.
    const before = root.some.size;
    for (const [wanted, wx, wy] of [
      [a, ax, ay],
      [b, bx, by],
    ] as const) {
      const limit = costAt(wanted) * (1 + SLACK);
      for (const node of reached) {
        const [ex, ey] = [x[node]! - wx, y[node]! - wy];
        if (found[node]! + this.leastCost * Math.sqrt(ex * ex + ey * ey) <= limit) root.some.set(node, found[node]!);
      }
      root.some.set(wanted, costAt(wanted));
    }
    this.kept += (root.some.size - before) * 3;
  }
}
