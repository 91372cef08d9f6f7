import { bearingDegrees } from '../math.ts';
import { LaneIndex } from './lane-index.ts';
import type { LaneNetwork } from './lane-network.ts';
import type { Goal } from './wayfinder.ts';
import { NearLanes } from './near-lanes.ts';
import { Wayfinder } from './wayfinder.ts';

/** Speeds with ways of their own that are kept at a time. */
const MOST_SPEEDS = 8;

/** The lanes of a map as runs go on them. Answers are numbers, or stand in members until the next question. */
export class Lanes {
  readonly index: LaneIndex;
  private nearby: NearLanes | undefined;
  /** After `travel`: where one has come to, facing whither if one has moved, and how much of the way is left; 0 at the goal, infinite where no way leads there. */
  x = NaN;
  y = NaN;
  direction = NaN;
  left = NaN;
  /** The share of the amount that was used. */
  used = 0;

  /** The finder that was asked last, and the goal by each hint. */
  private last: { readonly speed: number; readonly ways: string; readonly finder: Wayfinder } | undefined;
  private readonly lastGoals: { readonly finder: Wayfinder; readonly goal: Goal }[] = [];
  /** By the kinds of ways they keep to and the speed they are quickest at. */
  private readonly finders = new Map<string, Map<number, Wayfinder>>();

  constructor(readonly network: LaneNetwork) {
    this.index = new LaneIndex(network);
  }

  /** What is near along the lanes, made when it is first asked for. */
  get near(): NearLanes {
    return (this.nearby ??= new NearLanes(this.network, this.index));
  }

  /** Ways by length, or with a speed above zero those that take least time at it, on lanes that are slower at theirs. */
  private finder(speed: number, ways: string): Wayfinder {
    const { last } = this;
    if (last && last.speed === speed && last.ways === ways) return last.finder;
    const finder = this.finderOf(speed, ways);
    this.last = { speed, ways, finder };
    return finder;
  }

  private finderOf(speed: number, ways: string): Wayfinder {
    let ofWays = this.finders.get(ways);
    if (!ofWays) this.finders.set(ways, (ofWays = new Map<number, Wayfinder>()));
    const known = ofWays.get(speed);
    if (known) return known;
    if (ofWays.size >= MOST_SPEEDS) ofWays.clear();
    const { network } = this;
    const kinds = new Set(ways.split(' '));
    const isOpen = network.kinds.map((kind) => ways === '' || kinds.has(kind));
    const cost = network.length.map((length, lane) =>
      !isOpen[network.kind[lane]!] ? Infinity : speed === 0 ? length : length / slower(speed, network.speed[lane]!),
    );
    const made = new Wayfinder(network, cost);
    ofWays.set(speed, made);
    return made;
  }

  /** The goal at a place. @param hint where the goal of the last question with the same hint is looked for first */
  private goalAt(finder: Wayfinder, x: number, y: number, hint: number): Goal {
    const last = this.lastGoals[hint];
    if (last?.finder === finder && last.goal.askedX === x && last.goal.askedY === y) return last.goal;
    let goal = finder.knownGoal(x, y);
    if (!goal) {
      const { lane, along, x: onX, y: onY } = this.index.snap(x, y);
      goal = finder.newGoal(x, y, lane, along, onX, onY);
    }
    this.lastGoals[hint] = { finder, goal };
    return goal;
  }

  /** The least cost from a place: a length, or with a speed above zero a time. Infinite where no way leads there. */
  wayLength(ax: number, ay: number, bx: number, by: number, speed: number, ways: string): number {
    if (!(ax === ax && bx === bx)) return NaN;
    const finder = this.finder(speed, ways);
    const goal = this.goalAt(finder, bx, by, 0);
    const { lane, along } = this.index.snap(ax, ay);
    return this.choose(finder, goal, lane, along);
  }

  /** The corners of the shortest way from a place to another on some kinds of ways: x and y by turns; none where no way leads there. */
  path(ax: number, ay: number, bx: number, by: number, ways: string): number[] {
    const finder = this.finder(0, ways);
    const goal = this.goalAt(finder, bx, by, 0);
    const { lane: first, along: start, x, y } = this.index.snap(ax, ay);
    if (this.choose(finder, goal, first, start) === Infinity) return [];
    const corners = [x, y];
    for (let lane = first; this.towards >= 0;) {
      const node = (this.towards === 0 ? this.network.from : this.network.to)[lane]!;
      corners.push(this.network.x[node]!, this.network.y[node]!);
      [lane] = this.onward(finder, goal, node);
    }
    corners.push(goal.x, goal.y);
    return corners;
  }

  /** Where the choice at a place on a lane leads: -1 straight along it to the goal, 0 to its first end, 1 to its second. */
  private towards = 0;

  /** Cost of the best way from a place on a lane; of equal ones the direct, then that over the first end. */
  private choose(finder: Wayfinder, goal: Goal, lane: number, along: number): number {
    const { from, to, length, oneWay } = this.network;
    let best = Infinity;
    this.towards = -1;
    if (lane === goal.lane && (along <= goal.along || !oneWay[lane]))
      best = finder.costOf(lane, Math.abs(goal.along - along));
    const back =
      along === 0 || !oneWay[lane]
        ? finder.costOf(lane, along) + finder.costFrom(goal, from[lane]!, to[lane])
        : Infinity;
    if (back < best) {
      best = back;
      this.towards = 0;
    }
    const on = finder.costOf(lane, length[lane]! - along) + finder.costFrom(goal, to[lane]!, from[lane]);
    if (on < best) {
      best = on;
      this.towards = 1;
    }
    return best;
  }

  /**
   * Goes from one place towards another, by the shortest way or with a speed above zero by the quickest.
   * @param amount a length to go, or with a speed the time there is
   * @param ways kinds of ways to keep to, with blanks between them; all if empty
   * @param hint a number of who travels, by which what was found before is found again; nothing but time depends on it
   */
  travel(
    x: number,
    y: number,
    goalX: number,
    goalY: number,
    amount: number,
    speed: number,
    ways: string,
    hint: number,
  ): void {
    const { index, network } = this;
    const finder = this.finder(speed, ways);
    const goal = this.goalAt(finder, goalX, goalY, hint);
    let { lane, along } = index.snap(x, y);
    this.x = index.x;
    this.y = index.y;
    this.direction = NaN;
    let rest = Math.max(0, amount);
    const cost = this.choose(finder, goal, lane, along);
    this.left = cost;
    this.used = 0;
    if (cost === Infinity || !(rest > 0 || cost === 0)) return;
    for (;;) {
      const perLength = finder.cost[lane]! / network.length[lane]!;
      const end = this.towards < 0 ? goal.along : this.towards === 0 ? 0 : network.length[lane]!;
      const needed = finder.costOf(lane, Math.abs(end - along));
      const isThere = needed <= rest;
      const to = isThere ? end : along + (end > along ? 1 : -1) * (rest / perLength);
      if (to !== along) this.face(lane, to > along);
      index.take(lane, to);
      rest = isThere ? rest - needed : 0;
      if (isThere && this.towards < 0) {
        this.finish(goal.x, goal.y, 0, amount, rest);
        return;
      }
      if (!isThere) {
        along = to;
        break;
      }
      const node = (this.towards === 0 ? network.from : network.to)[lane]!;
      [lane, along] = this.onward(finder, goal, node);
    }
    this.finish(index.x, index.y, this.choose(finder, goal, lane, along), amount, rest);
  }

  /** The lane by which a way leads on from a node, and where on it the node is; `towards` says whither. */
  private onward(finder: Wayfinder, goal: Goal, node: number): [number, number] {
    const { from, length } = this.network;
    const lane = finder.nextLane(goal, node);
    const goesOn = from[lane] === node;
    this.towards = lane === goal.lane ? -1 : goesOn ? 1 : 0;
    return [lane, goesOn ? 0 : length[lane]!];
  }

  private finish(x: number, y: number, left: number, amount: number, rest: number): void {
    this.x = x;
    this.y = y;
    this.left = left;
    this.used = amount > 0 ? (amount - rest) / amount : 0;
  }

  private face(lane: number, forward: boolean): void {
    const { x, y, from, to } = this.network;
    const [a, b] = forward ? [from[lane]!, to[lane]!] : [to[lane]!, from[lane]!];
    this.direction = bearingDegrees(x[b]! - x[a]!, y[b]! - y[a]!);
  }
}

/** The lesser of a speed and that of a lane, which may have none. */
function slower(speed: number, ofLane: number): number {
  return ofLane < speed ? ofLane : speed;
}

const made = new WeakMap<LaneNetwork, Lanes>();

/** The lanes of a network, made when they are first asked for; runs of one thread share them. */
export function lanesOf(network: LaneNetwork): Lanes {
  const known = made.get(network) ?? new Lanes(network);
  made.set(network, known);
  return known;
}
