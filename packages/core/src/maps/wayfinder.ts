import { KeptWays } from './kept-ways.ts';
import { KnownPlaces } from './known-places.ts';
import type { LaneNetwork } from './lane-network.ts';
import { LaneGraph } from './lane-graph.ts';
import { WayBounds } from './landmarks.ts';
import { WaySearch } from './way-search.ts';

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
  /** Where the nodes of ways that were asked for lie among those that were kept then. */
  known: KnownPlaces;
  /** How often everything had been forgotten then. */
  since: number;
}

/** A node that ways lead to, which goals on all lanes there share. */
interface Root {
  readonly node: number;
  /** Costs from all nodes, once many have asked for it. */
  all?: Float64Array;
  /** With them the lanes by which ways lead on, one more than their numbers; 0 where it is not known yet. */
  next?: Int32Array;
  /** How often ways to it were searched for. */
  searches: number;
}

/** How much is kept of ways, on which nothing but time depends. */
export interface WayMemory {
  /** Numbers kept before all is forgotten. */
  readonly mostKept?: number;
  /** How often a node is searched for before the costs from all nodes to it are found at once. */
  readonly searchesForAll?: number;
}

/** Numbers kept before all is forgotten. */
const MOST_KEPT = 60_000_000;
/** Of them those that are costs from all nodes. */
const MOST_FOR_ALL = MOST_KEPT / 2;
/** A node that was searched for so often gets the costs from all nodes; where those of all fit, every node does. */
const SEARCHES_FOR_ALL = 6;

/**
 * What it costs to come from the nodes of a map to a place. The cost of a way to a node is the sum of its lanes' costs, added from its end on, and the least of all ways
 * counts; to a place on a lane one comes over the end from which that and what is left are least. So it does not depend on how it was found: by a search from the
 * end towards two nodes (A*, with bounds below from straight distances and from landmarks) or to all of them (Dijkstra). Sources: P. E. Hart, N. J. Nilsson, B. Raphael, A formal basis for the heuristic determination of minimum cost paths (1968);
 * E. W. Dijkstra, A note on two problems in connexion with graphs (1959).
 */
export class Wayfinder {
  private readonly graph: LaneGraph;
  private goals = new Map<number, Map<number, Goal>>();
  private readonly roots: (Root | undefined)[] = [];
  private readonly searchesForAll: number;
  private readonly mostKept: number;
  private ways = new KeptWays();
  /** How often all that was kept was forgotten: places on ways from before say nothing then. */
  forgotten = 0;
  private kept = 0;
  private keptForAll = 0;
  /** Searches from the ends of the lane of a goal. */
  private readonly overFirst: WaySearch;
  private readonly overSecond: WaySearch;

  /**
   * @param cost of each lane, above zero; infinite of those that may not be gone on
   */
  constructor(
    readonly network: LaneNetwork,
    readonly cost: Float64Array,
    { mostKept = MOST_KEPT, searchesForAll }: WayMemory = {},
  ) {
    this.graph = new LaneGraph(network, cost);
    const { nodes } = this.graph;
    this.mostKept = mostKept;
    this.searchesForAll = searchesForAll ?? (nodes * nodes <= MOST_FOR_ALL ? 1 : SEARCHES_FOR_ALL);
    const bounds = new WayBounds(this.graph);
    this.overFirst = new WaySearch(this.graph, bounds);
    this.overSecond = new WaySearch(this.graph, bounds);
  }

  /** The goal of a place, if it was asked for before. */
  knownGoal(askedX: number, askedY: number): Goal | undefined {
    return this.goals.get(askedX)?.get(askedY);
  }

  newGoal(askedX: number, askedY: number, lane: number, along: number, x: number, y: number): Goal {
    if (this.kept > this.mostKept) this.forget();
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
      known: new KnownPlaces(),
      since: this.forgotten,
    };
    const column = this.goals.get(askedX) ?? new Map<number, Goal>();
    this.goals.set(askedX, column.set(askedY, goal));
    this.kept += 20;
    return goal;
  }

  private rootOf(node: number): Root {
    return (this.roots[node] ??= { node, searches: 0 });
  }

  /** Goals that are held elsewhere keep their roots, which begin anew, as what is known of ways to them does when it is asked for. */
  private forget(): void {
    for (const root of this.roots) {
      if (!root) continue;
      root.all = undefined;
      root.next = undefined;
      root.searches = 0;
    }
    this.ways = new KeptWays();
    this.forgotten++;
    this.goals = new Map();
    this.kept = this.keptForAll = 0;
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
    const { first, second } = goal;
    if (first.all && second.all)
      return Math.min(first.all[node]! + goal.fromFirst, second.all[node]! + goal.fromSecond);
    const place = this.placeOf(goal, node);
    if (place > 0) return this.ways.cost(place);
    this.search(goal, node, other);
    return this.costFrom(goal, node, other);
  }

  /** The lane by which a way leads on from a node; of equal ones the first. That of the goal itself if the node is at its end and nothing is better. */
  nextLane(goal: Goal, node: number): number {
    const { first, second } = goal;
    if (!(first.all && second.all)) {
      this.costFrom(goal, node);
      // The search may have come by the costs from all nodes instead.
      if (!(first.all && second.all)) return this.ways.lane(this.placeOf(goal, node));
    }
    const root = first.all[node]! + goal.fromFirst <= second.all[node]! + goal.fromSecond ? first : second;
    if (root.node === node) return goal.lane;
    const next = root.next!;
    if (next[node]! === 0) {
      const all = root.all!;
      next[node] = this.laneTowards(node, (other) => all[other]!) + 1;
    }
    return next[node]! - 1;
  }

  /** The lane that leads on from a node for the least. @param costFrom the node at its other end */
  private laneTowards(node: number, costFrom: (node: number) => number): number {
    const { starts, lanesAt } = this.graph;
    let best = Infinity;
    let found = -1;
    for (let i = starts[node]!; i < starts[node + 1]!; i++) {
      const lane = lanesAt[i]!;
      const other = this.graph.otherEnd(lane, node);
      if (other < 0) continue;
      const cost = costFrom(other) + this.cost[lane]!;
      if (cost < best) {
        best = cost;
        found = lane;
      }
    }
    return found;
  }

  /** Searches from both ends of the lane of a goal towards two nodes; what their best ways cost, from each node on them, is known then. */
  private search(goal: Goal, a: number, b: number): void {
    const { first, second } = goal;
    this.lookFor(first, this.overFirst, a, b);
    this.lookFor(second, this.overSecond, a, b);
    if (first.all && second.all) return;
    const before = goal.known.size;
    this.keepWay(goal, a);
    if (b !== a) this.keepWay(goal, b);
    this.kept += (goal.known.size - before) * 5;
  }

  /** From a node that is asked for often, or where all fit, the costs from all nodes are found at once. */
  private lookFor(root: Root, search: WaySearch, a: number, b: number): void {
    if (root.all) return;
    const { nodes } = this.graph;
    if (++root.searches >= this.searchesForAll && this.keptForAll + 1.5 * nodes <= MOST_FOR_ALL) {
      root.all = this.graph.costs(root.node, 'to');
      root.next = new Int32Array(nodes);
      this.kept += 1.5 * nodes;
      this.keptForAll += 1.5 * nodes;
    } else search.run(root.node, a, b);
  }

  /** The place of a node on a way, by one near it on that way; 0 where it is none, or none is known. */
  placeNear(place: number, node: number): number {
    return place > 0 ? this.ways.near(place, node) : 0;
  }

  /** The place of a node on the ways to a goal, as far as they are kept; else 0. */
  placeOf(goal: Goal, node: number): number {
    if (goal.since !== this.forgotten) {
      goal.since = this.forgotten;
      goal.known = new KnownPlaces();
    }
    return goal.known.get(node);
  }

  costAt(place: number): number {
    return this.ways.cost(place);
  }

  laneAt(place: number): number {
    return this.ways.lane(place);
  }

  /** Goes along the best way from a node, and keeps what it costs from each node on it. */
  private keepWay(goal: Goal, from: number): void {
    const { first, second, known } = goal;
    const { ways } = this;
    if (known.get(from) > 0) return;
    const overFirst = (node: number): number => (first.all ? first.all[node]! : this.overFirst.costAt(node));
    const overSecond = (node: number): number => (second.all ? second.all[node]! : this.overSecond.costAt(node));
    for (let node = from; known.get(node) === 0;) {
      const [one, other] = [overFirst(node) + goal.fromFirst, overSecond(node) + goal.fromSecond];
      const isReached = Math.min(one, other) < Infinity;
      const root = one <= other ? first : second;
      const lane = !isReached
        ? -1
        : root.node === node
          ? goal.lane
          : this.laneTowards(node, one <= other ? overFirst : overSecond);
      known.add(node, ways.add(node, Math.min(one, other), lane));
      if (!isReached || root.node === node) break;
      node = this.graph.otherEnd(lane, node);
    }
    ways.end();
  }
}
