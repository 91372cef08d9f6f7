import FlatQueue from 'flatqueue';
import type { LaneNetwork } from './lane-network.ts';

/** A place that ways lead to: a lane and how far along it. What is known of the ways there is kept with it. */
export interface Goal {
  readonly lane: number;
  readonly along: number;
  readonly x: number;
  readonly y: number;
  /** Costs from all nodes, once enough have been asked for. */
  all?: Float64Array;
  /** Costs from some nodes, those of the ways that were asked for. */
  readonly some: Map<number, number>;
  /** Nodes looked at in searches so far. */
  looked: number;
}

/** Numbers kept for goals before all is forgotten; nothing but time depends on it. */
const MOST_KEPT = 24_000_000;
/** A goal that is asked for again gets the costs from all nodes once its searches have looked at so many times the nodes there are. */
const SEARCHES_FOR_ALL = 0.5;
/** What rounding may add to a way: beyond so much more than the best, a search is over. */
const SLACK = 1e-9;

/**
 * What it costs to come from the nodes of a map to a place. The cost of a way is the sum of its lanes' costs, added from the goal on; that of a node is the least of all
 * its ways. So it does not depend on how it was found: by a search from the goal towards one node (A*, with straight distance as the bound below) or to all
 * of them (Dijkstra). Sources: P. E. Hart, N. J. Nilsson, B. Raphael, A formal basis for the heuristic determination of minimum cost paths (1968);
 * E. W. Dijkstra, A note on two problems in connexion with graphs (1959).
 */
export class Wayfinder {
  /** Lanes at node n: `lanesAt[starts[n]]` to before `lanesAt[starts[n + 1]]`. */
  readonly starts: Int32Array;
  readonly lanesAt: Int32Array;
  private readonly goals = new Map<number, Map<number, Goal>>();
  private kept = 0;
  private readonly nodes: number;
  /** Least cost of a length, for the bound below. */
  private readonly leastCost: number;

  /** @param cost of each lane, above zero; infinite of those that may not be gone on */
  constructor(
    readonly network: LaneNetwork,
    readonly cost: Float64Array,
  ) {
    const { x, from, to, length } = network;
    this.nodes = x.length;
    this.starts = new Int32Array(this.nodes + 1);
    for (const ends of [from, to]) for (const node of ends) this.starts[node + 1]!++;
    for (let node = 0; node < this.nodes; node++) this.starts[node + 1]! += this.starts[node]!;
    const next = this.starts.slice();
    this.lanesAt = new Int32Array(from.length * 2);
    for (let lane = 0; lane < from.length; lane++) {
      this.lanesAt[next[from[lane]!]!++] = lane;
      this.lanesAt[next[to[lane]!]!++] = lane;
    }
    let least = Infinity;
    for (let lane = 0; lane < from.length; lane++) least = Math.min(least, cost[lane]! / length[lane]!);
    this.leastCost = least * (1 - SLACK);
  }

  /** The goal at a place of the lanes. */
  goal(lane: number, along: number, x: number, y: number): Goal {
    let column = this.goals.get(x);
    if (!column) this.goals.set(x, (column = new Map()));
    let goal = column.get(y);
    if (!goal || goal.lane !== lane || goal.along !== along) {
      if (this.kept > MOST_KEPT) this.forget();
      column.set(y, (goal = { lane, along, x, y, some: new Map(), looked: 0 }));
      this.kept += 10;
    }
    return goal;
  }

  private forget(): void {
    for (const column of this.goals.values())
      for (const goal of column.values()) {
        goal.all = undefined;
        goal.some.clear();
        goal.looked = 0;
      }
    this.goals.clear();
    this.kept = 0;
  }

  /** What is left of the cost when a goal's lane is entered at one of its ends; infinite if it may not be gone so. */
  costAlong(goal: Goal, fromFirst: boolean): number {
    const { length, oneWay } = this.network;
    if (fromFirst) return this.costOf(goal.lane, goal.along);
    const left = length[goal.lane]! - goal.along;
    return oneWay[goal.lane] && left > 0 ? Infinity : this.costOf(goal.lane, left);
  }

  /** The cost of a piece of a lane; nothing at its ends, also of lanes that may not be gone on. */
  costOf(lane: number, piece: number): number {
    return piece === 0 ? 0 : (this.cost[lane]! * piece) / this.network.length[lane]!;
  }

  /** Least cost from a node to a goal; infinite where no way leads there. */
  costFrom(goal: Goal, node: number): number {
    if (goal.all) return goal.all[node]!;
    const known = goal.some.get(node);
    if (known !== undefined) return known;
    if (goal.looked > SEARCHES_FOR_ALL * this.nodes) return this.searchAll(goal)[node]!;
    return this.searchFrom(goal, node);
  }

  /** The other end of a lane; -1 if it may not be gone from this one. */
  otherEnd(lane: number, node: number): number {
    const { from, to, oneWay } = this.network;
    if (from[lane] === node) return to[lane]!;
    return oneWay[lane] ? -1 : from[lane]!;
  }

  /** The lane by which a way goes on from a node that is not at its goal's lane for the last time: of equal ones the first. */
  nextLane(goal: Goal, node: number): number {
    let best = Infinity;
    let found = -1;
    for (let i = this.starts[node]!; i < this.starts[node + 1]!; i++) {
      const lane = this.lanesAt[i]!;
      const other = this.otherEnd(lane, node);
      if (other < 0) continue;
      const cost = this.knownCost(goal, other) + this.cost[lane]!;
      if (cost < best) {
        best = cost;
        found = lane;
      }
    }
    return found;
  }

  /** Of nodes beside a way only those have been searched that could lie on one as good. */
  private knownCost(goal: Goal, node: number): number {
    return goal.all ? goal.all[node]! : (goal.some.get(node) ?? Infinity);
  }

  private begin(goal: Goal, reach: (node: number, cost: number) => void): void {
    const { from, to } = this.network;
    reach(from[goal.lane]!, this.costAlong(goal, true));
    reach(to[goal.lane]!, this.costAlong(goal, false));
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

  private searchAll(goal: Goal): Float64Array {
    const all = new Float64Array(this.nodes).fill(Infinity);
    const queue = new FlatQueue<number>();
    const reach = (node: number, cost: number): void => {
      if (!(cost < all[node]!)) return;
      all[node] = cost;
      queue.push(node, cost);
    };
    this.begin(goal, reach);
    for (;;) {
      const cost = queue.peekValue();
      const node = queue.pop();
      if (node === undefined || cost === undefined) break;
      if (cost === all[node]) this.before(node, cost, reach);
    }
    goal.all = all;
    this.kept += this.nodes;
    return all;
  }

  /** Searches towards one node, and keeps the costs from all nodes that lie on its best way or on one as good. */
  private searchFrom(goal: Goal, wanted: number): number {
    const { x, y } = this.network;
    const found = new Map<number, number>();
    const queue = new FlatQueue<number>();
    const bound = (node: number): number => {
      const dx = x[node]! - x[wanted]!;
      const dy = y[node]! - y[wanted]!;
      return this.leastCost * Math.sqrt(dx * dx + dy * dy);
    };
    const reach = (node: number, cost: number): void => {
      if (!(cost < (found.get(node) ?? Infinity))) return;
      found.set(node, cost);
      queue.push(node, cost + bound(node));
    };
    this.begin(goal, reach);
    for (;;) {
      const value = queue.peekValue();
      const node = queue.pop();
      if (node === undefined || value === undefined || value > (found.get(wanted) ?? Infinity) * (1 + SLACK)) break;
      goal.looked++;
      const cost = found.get(node)!;
      if (value <= cost + bound(node)) this.before(node, cost, reach);
    }
    const cost = found.get(wanted) ?? Infinity;
    // Costs of nodes farther than the one asked for may not be the least yet.
    const limit = cost * (1 + SLACK);
    const before = goal.some.size;
    for (const [node, known] of found) if (known + bound(node) <= limit) goal.some.set(node, known);
    goal.some.set(wanted, cost);
    this.kept += (goal.some.size - before) * 4;
    return cost;
  }
}
