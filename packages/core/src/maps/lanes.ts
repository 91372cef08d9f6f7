import { bearingDegrees } from '../math.ts';
import { LaneIndex } from './lane-index.ts';
import type { LaneNetwork } from './lane-network.ts';
import { Travellers } from './travellers.ts';
import { NearLanes } from './near-lanes.ts';
import type { WayMemory } from './wayfinder.ts';
import { Wayfinder } from './wayfinder.ts';

/** Who asks for ways without going them. */
const ASKING = 0;

/** Speeds with ways of their own that are kept at a time. */
const MOST_SPEEDS = 8;

/** The lanes of a map as runs go on them. Answers are numbers, or stand in members until the next question. */
export class Lanes {
  readonly index: LaneIndex;
  private nearby: NearLanes | undefined;
  /** After `travel`: where one has come to, facing whither if one has moved, and whether something of the way is left: 0 at the goal, infinite where no way leads there, else above 0. */
  x = NaN;
  y = NaN;
  direction = NaN;
  left = NaN;
  /** The share of the amount that was used. */
  used = 0;

  /** The finder that was asked last, and who has travelled, by hint. */
  private last: { readonly speed: number; readonly ways: string; readonly finder: Wayfinder } | undefined;
  private readonly travellers = new Travellers();
  /** By the kinds of ways they keep to and the speed they are quickest at. */
  private readonly finders = new Map<string, Map<number, Wayfinder>>();

  /** Directions along each lane, back and on; NaN of those that nobody has gone in. */
  private readonly directions: Float64Array;

  constructor(
    readonly network: LaneNetwork,
    private readonly memory: WayMemory = {},
  ) {
    this.index = new LaneIndex(network);
    this.directions = new Float64Array(2 * network.length.length).fill(NaN);
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
    const made = new Wayfinder(network, cost, this.memory);
    ofWays.set(speed, made);
    return made;
  }

  /** Makes sure that one is on the way to a place. @param hint a number of who travels */
  private setOut(finder: Wayfinder, x: number, y: number, hint: number): void {
    if (this.travellers.isBoundFor(hint, finder, x, y)) return;
    let goal = finder.knownGoal(x, y);
    if (!goal) {
      const { lane, along, x: onX, y: onY } = this.index.snap(x, y);
      const { forgotten } = finder;
      goal = finder.newGoal(x, y, lane, along, onX, onY);
      if (finder.forgotten !== forgotten) this.travellers.forgetPlaces();
    }
    this.travellers.setOut(hint, finder, goal);
  }

  /** The least cost from a place: a length, or with a speed above zero a time. Infinite where no way leads there. */
  wayLength(ax: number, ay: number, bx: number, by: number, speed: number, ways: string): number {
    if (!(ax === ax && bx === bx)) return NaN;
    const finder = this.finder(speed, ways);
    const { lane, along } = this.index.snap(ax, ay);
    this.setOut(finder, bx, by, ASKING);
    return this.choose(finder, ASKING, lane, along);
  }

  /** The corners of the shortest way from a place to another on some kinds of ways: x and y by turns; none where no way leads there. */
  path(ax: number, ay: number, bx: number, by: number, ways: string): number[] {
    const finder = this.finder(0, ways);
    this.setOut(finder, bx, by, ASKING);
    const goal = this.travellers.goalOf(ASKING);
    const { lane: first, along: start, x, y } = this.index.snap(ax, ay);
    if (this.choose(finder, ASKING, first, start) === Infinity) return [];
    const corners = [x, y];
    for (let lane = first; this.towards >= 0;) {
      const node = (this.towards === 0 ? this.network.from : this.network.to)[lane]!;
      corners.push(this.network.x[node]!, this.network.y[node]!);
      lane = this.onward(finder, ASKING, node);
    }
    corners.push(goal.x, goal.y);
    return corners;
  }

  /** Where the choice at a place on a lane leads: -1 straight along it to the goal, 0 to its first end, 1 to its second. */
  private towards = 0;

  /** Cost of the best way from a place on a lane; of equal ones the direct, then that over the first end. */
  private choose(finder: Wayfinder, hint: number, lane: number, along: number): number {
    const { travellers } = this;
    const { length, oneWay } = this.network;
    let best = Infinity;
    this.towards = -1;
    if (lane === travellers.goalLane(hint)) {
      const goal = travellers.goalOf(hint);
      if (along <= goal.along || !oneWay[lane]) best = finder.costOf(lane, Math.abs(goal.along - along));
    }
    if (along === 0 || !oneWay[lane]) {
      const back = finder.costOf(lane, along) + this.costOver(finder, hint, lane, 0);
      if (back < best) {
        best = back;
        this.towards = 0;
      }
    }
    const on = finder.costOf(lane, length[lane]! - along) + this.costOver(finder, hint, lane, 1);
    if (on < best) {
      best = on;
      this.towards = 1;
    }
    return best;
  }

  /** Cost of the way over an end of a lane, 0 its first and 1 its second. */
  private costOver(finder: Wayfinder, hint: number, lane: number, end: 0 | 1): number {
    const { travellers } = this;
    const kept = travellers.costOver(hint, lane, end);
    if (kept >= 0) return kept;
    const { from, to } = this.network;
    const [node, other] = end === 0 ? [from[lane]!, to[lane]!] : [to[lane]!, from[lane]!];
    const place = finder.placeNear(travellers.placeOf(hint), node);
    const cost = place > 0 ? finder.costAt(place) : finder.costFrom(travellers.goalOf(hint), node, other);
    return travellers.keepCost(hint, end, cost);
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
    const traveller = hint + 1;
    this.setOut(finder, goalX, goalY, traveller);
    const { travellers } = this;
    let { lane, along } = index.snap(x, y, travellers.laneOf(traveller));
    this.x = index.x;
    this.y = index.y;
    this.direction = NaN;
    let rest = Math.max(0, amount);
    const cost = this.choose(finder, traveller, lane, along);
    this.left = cost;
    this.used = 0;
    if (cost === Infinity || !(rest > 0 || cost === 0)) return;
    let faced = -1;
    let forward = true;
    for (;;) {
      const perLength = finder.cost[lane]! / network.length[lane]!;
      const end =
        this.towards < 0 ? travellers.goalOf(traveller).along : this.towards === 0 ? 0 : network.length[lane]!;
      const needed = finder.costOf(lane, Math.abs(end - along));
      const isThere = needed <= rest;
      const to = isThere ? end : along + (end > along ? 1 : -1) * (rest / perLength);
      if (to !== along) {
        faced = lane;
        forward = to > along;
      }
      rest = isThere ? rest - needed : 0;
      if (isThere && this.towards < 0) {
        const goal = travellers.goalOf(traveller);
        this.finish(goal.x, goal.y, 0, amount, rest);
        break;
      }
      if (!isThere) {
        index.take(lane, to);
        // What rounding has brought to the end of a lane may be there.
        const left = to === end ? this.choose(finder, traveller, lane, to) : needed - rest;
        this.finish(index.x, index.y, left, amount, 0);
        break;
      }
      const node = (this.towards === 0 ? network.from : network.to)[lane]!;
      lane = this.onward(finder, traveller, node);
      along = network.from[lane] === node ? 0 : network.length[lane]!;
    }
    travellers.come(traveller, lane);
    if (faced >= 0) this.face(faced, forward);
  }

  /** The lane by which a way leads on from a node; `towards` says whither. */
  private onward(finder: Wayfinder, hint: number, node: number): number {
    const { travellers } = this;
    const near = finder.placeNear(travellers.placeOf(hint), node);
    const goal = near > 0 ? undefined : travellers.goalOf(hint);
    const lane = goal ? finder.nextLane(goal, node) : finder.laneAt(near);
    travellers.keepPlace(hint, goal ? finder.placeOf(goal, node) : near);
    this.towards = lane === travellers.goalLane(hint) ? -1 : this.network.from[lane] === node ? 1 : 0;
    return lane;
  }

  private finish(x: number, y: number, left: number, amount: number, rest: number): void {
    this.x = x;
    this.y = y;
    this.left = left;
    this.used = amount > 0 ? (amount - rest) / amount : 0;
  }

  private face(lane: number, forward: boolean): void {
    const place = 2 * lane + (forward ? 1 : 0);
    let known = this.directions[place]!;
    if (!(known >= 0)) {
      const { x, y, from, to } = this.network;
      const [a, b] = forward ? [from[lane]!, to[lane]!] : [to[lane]!, from[lane]!];
      known = this.directions[place] = bearingDegrees(x[b]! - x[a]!, y[b]! - y[a]!);
    }
    this.direction = known;
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
