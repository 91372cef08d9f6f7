import { describe, expect, it } from 'vitest';
import { RandomStream } from '../engine/random/stream.ts';
import { LaneIndex } from './lane-index.ts';
import type { LaneNetwork } from './lane-network.ts';
import { laneNetwork } from './lane-network.ts';
import { Lanes } from './lanes.ts';
import { MapDraft } from './map-file.ts';
import type { Goal } from './wayfinder.ts';
import { Wayfinder } from './wayfinder.ts';

/** A network of so many nodes, each tied to some others near it, some one way, some with speeds. */
function randomNetwork(seed: number, nodes: number): LaneNetwork {
  const stream = RandomStream.of(seed, 1, 2);
  const unit = (): number => stream.word() / 4294967296;
  const draft = new MapDraft();
  const places = Array.from({ length: nodes }, () => [unit() * 1000, unit() * 1000] as const);
  for (const [x, y] of places) draft.point(x, y);
  for (let i = 1; i < nodes; i++) {
    const near = places
      .slice(0, i)
      .map(([x, y], j) => [(x - places[i]![0]) ** 2 + (y - places[i]![1]) ** 2, j] as const)
      .sort((a, b) => a[0] - b[0]);
    for (const [, j] of near.slice(0, 1 + Math.floor(unit() * 3)))
      draft.way([i, j], 'path', unit() < 0.2, unit() < 0.5 ? undefined : 1 + unit() * 10);
  }
  return laneNetwork(draft.finish(), { allParts: true, inMetres: true, scale: 1 }) as LaneNetwork;
}

/** Crooked streets at right angles, so many each way, some missing, some one way, one part by itself. */
function streets(side: number): LaneNetwork {
  const stream = RandomStream.of(side, 2, 7);
  const unit = (): number => stream.word() / 4294967296;
  const draft = new MapDraft();
  for (let i = 0; i < side * side; i++)
    draft.point(((i % side) + 0.4 * unit()) * 30, (Math.floor(i / side) + 0.4 * unit()) * 30);
  const add = (a: number, b: number): void => {
    if (unit() < 0.85) draft.way([a, b], 'lane', unit() < 0.15, undefined);
  };
  for (let i = 0; i < side * side; i++) {
    if ((i + 1) % side !== 0) add(i, i + 1);
    if (i + side < side * side && i !== side * 20) add(i, i + side);
  }
  return laneNetwork(draft.finish(), { allParts: true, inMetres: true, scale: 1 }) as LaneNetwork;
}

/** Costs from all nodes to a place on a lane: over one end of it or the other. */
function costsByHand(network: LaneNetwork, cost: Float64Array, lane: number, along: number): number[] {
  const { from, to, oneWay, length } = network;
  const overFirst = costsTo(network, cost, from[lane]!);
  const overSecond = costsTo(network, cost, to[lane]!);
  const back = oneWay[lane] ? Infinity : (cost[lane]! * (length[lane]! - along)) / length[lane]!;
  return overFirst.map((each, node) =>
    Math.min(each + (cost[lane]! * along) / length[lane]!, overSecond[node]! + back),
  );
}

/** Costs from all nodes to one, by going over all lanes until nothing gets less. */
function costsTo({ from, to, oneWay, x }: LaneNetwork, cost: Float64Array, end: number): number[] {
  const costs = Array.from(x, () => Infinity);
  const lower = (node: number, value: number): boolean => {
    if (!(value < costs[node]!)) return false;
    costs[node] = value;
    return true;
  };
  lower(end, 0);
  for (let changed = true; changed;) {
    changed = false;
    for (let i = 0; i < from.length; i++) {
      changed = lower(from[i]!, costs[to[i]!]! + cost[i]!) || changed;
      if (!oneWay[i]) changed = lower(to[i]!, costs[from[i]!]! + cost[i]!) || changed;
    }
  }
  return costs;
}

describe('the cost of ways', () => {
  it.each([1, 2, 3, 4, 5, 6])('is that of going over all lanes by hand, to the bit, on random map %i', (seed) => {
    const network = randomNetwork(seed, 60);
    const times = network.length.map((length, lane) => length / Math.min(4, network.speed[lane]! || 4));
    for (const cost of [network.length, times]) {
      const lane = (seed * 7) % network.from.length;
      const along = network.length[lane]! * 0.3;
      const wanted = costsByHand(network, cost, lane, along);
      // The first of a goal are searched for one by one, later ones are known from a search over all.
      const finder = new Wayfinder(network, cost);
      const goal = finder.newGoal(1, 2, lane, along, 1, 2);
      expect(Array.from(network.x, (_, node) => finder.costFrom(goal, node))).toEqual(wanted);
      expect(goal.first.all).toBeDefined();
      const single = Array.from(network.x, (_, node) => {
        const fresh = new Wayfinder(network, cost, { searchesForAll: 1000 });
        const same = fresh.newGoal(1, 2, lane, along, 1, 2);
        const found = fresh.costFrom(same, node);
        expect(same.first.all).toBeUndefined();
        return found;
      });
      expect(single).toEqual(wanted);
    }
  });

  it('is the same to the bit, with the lanes that lead on, on maps so large that landmarks bound the searches', () => {
    const network = streets(48);
    for (const cost of [network.length, network.length.map((length, lane) => length / (1 + (lane % 5)))]) {
      const all = new Wayfinder(network, cost, { searchesForAll: 1 });
      const single = new Wayfinder(network, cost, { searchesForAll: Infinity });
      const stream = RandomStream.of(3, 1, 4);
      const below = (count: number): number => stream.word() % count;
      let open = 0;
      for (let i = 0; i < 60; i++) {
        const [lane, node] = [below(network.length.length), below(network.x.length)];
        const along = network.length[lane]! * (below(3) / 2);
        const goals = [all, single].map((finder) => finder.newGoal(i, 0, lane, along, 0, 0)) as [Goal, Goal];
        const wanted = all.costFrom(goals[0], node);
        expect(single.costFrom(goals[1], node)).toBe(wanted);
        expect([goals[1].first.all, goals[1].second.all]).toEqual([undefined, undefined]);
        if (wanted === Infinity) continue;
        open++;
        // All the way to the goal.
        for (let at = node, next = -1; next !== lane;) {
          next = all.nextLane(goals[0], at);
          expect([single.nextLane(goals[1], at), single.costFrom(goals[1], at)]).toEqual([
            next,
            all.costFrom(goals[0], at),
          ]);
          at = network.from[next] === at ? network.to[next]! : network.from[next]!;
        }
      }
      expect(open).toBeGreaterThan(40);
    }
  });

  it('is that of streets at right angles, counted by hand', () => {
    const draft = new MapDraft();
    for (let i = 0; i < 9; i++) draft.point((i % 3) * 10, Math.floor(i / 3) * 10);
    for (const way of [
      [0, 1, 2],
      [3, 4, 5],
      [6, 7, 8],
      [0, 3, 6],
      [1, 4, 7],
      [2, 5, 8],
    ])
      draft.way(way, 'lane', false, undefined);
    const network = laneNetwork(draft.finish(), { allParts: false, inMetres: true, scale: 1 }) as LaneNetwork;
    const lanes = new Lanes(network);
    const at = (x: number, y: number): [number, number] => [x + network.shift[0], y + network.shift[1]];
    expect(lanes.wayLength(...at(0, 0), ...at(20, 20), 0, '')).toBe(40);
    expect(lanes.wayLength(...at(5, 0), ...at(20, 15), 0, '')).toBeCloseTo(30, 10);
    expect(lanes.wayLength(...at(4, 0), ...at(7, 0), 0, '')).toBeCloseTo(3, 10);
    expect(lanes.wayLength(...at(4, 0), ...at(4, 10), 0, '')).toBeCloseTo(18, 10);
  });
});

describe('the nearest of the lanes', () => {
  it('is the same whatever lane is taken to be likely, also where lanes cross without a node and lie on one another', () => {
    const draft = new MapDraft();
    const stream = RandomStream.of(5, 6, 7);
    const unit = (): number => stream.word() / 4294967296;
    const ends = [
      [0, 0, 100, 0],
      [50, -40, 50, 40],
      [20, -30, 80, 30],
      [0, 0, 60, 1e-6],
      [10, 20, 90, 20],
      [90, 20, 90, 60],
      [30, 20, 70, 20],
      ...Array.from({ length: 20 }, () => [unit() * 100, unit() * 80 - 40, unit() * 100, unit() * 80 - 40]),
    ];
    ends.forEach(([ax, ay, bx, by], i) => {
      draft.point(ax!, ay!);
      draft.point(bx!, by!);
      draft.way([2 * i, 2 * i + 1], 'lane', false, undefined);
    });
    const network = laneNetwork(draft.finish(), { allParts: true, inMetres: true, scale: 1 }) as LaneNetwork;
    const places = Array.from({ length: 400 }, (_, i) => {
      const at = new LaneIndex(network).placeAt(unit());
      const aside = i % 4 === 0 ? unit() : i % 4 === 1 ? 1e-7 : 0;
      return [at.x + aside, at.y, at.lane] as const;
    });
    const index = new LaneIndex(network);
    for (const [x, y, lane] of places)
      for (const likely of [lane, (lane + 1) % network.length.length]) {
        const { lane: found, along, x: atX, y: atY } = new LaneIndex(network).snap(x, y);
        const guessed = index.snap(NaN, NaN) && index.snap(x, y, likely);
        expect([guessed.lane, guessed.along, guessed.x, guessed.y]).toEqual([found, along, atX, atY]);
      }
  });
});

describe('a journey', () => {
  it.each([1, 2, 3])(
    'is the same to the bit whatever was asked before, and as long as its way, on random map %i',
    (seed) => {
      const network = randomNetwork(seed, 80);
      const [kept, stream] = [new Lanes(network), RandomStream.of(seed, 5, 6)];
      const unit = (): number => stream.word() / 4294967296;
      let arrived = 0;
      for (let trip = 0; trip < 12; trip++) {
        const speed = trip % 2 === 0 ? 0 : 3;
        let { x, y } = { ...place(new LaneIndex(network), unit()) };
        const goal = place(new LaneIndex(network), unit());
        const whole = kept.wayLength(x, y, goal.x, goal.y, speed, '');
        let gone = 0;
        for (let step = 0; step < 100_000; step++) {
          kept.travel(x, y, goal.x, goal.y, 25, speed, '', trip);
          if (step % 5 === 0) {
            const fresh = new Lanes(network);
            fresh.travel(x, y, goal.x, goal.y, 25, speed, '', trip);
            expect([fresh.x, fresh.y, fresh.left, fresh.used]).toEqual([kept.x, kept.y, kept.left, kept.used]);
          }
          if (kept.left === Infinity) break;
          ({ x, y } = kept);
          gone += kept.used * 25;
          if (kept.left === 0) break;
        }
        if (whole === Infinity) expect(kept.left).toBe(Infinity);
        else {
          arrived++;
          expect([x, y]).toEqual([goal.x, goal.y]);
          expect(gone).toBeCloseTo(whole, 6);
        }
      }
      expect(arrived).toBeGreaterThan(5);
    },
  );

  it('is the same to the bit for many at once who go on along ways that are kept, also where these are forgotten under way', () => {
    const network = streets(16);
    const stream = RandomStream.of(11, 5, 6);
    const unit = (): number => stream.word() / 4294967296;
    const index = new LaneIndex(network);
    const all = Array.from({ length: 30 }, () => ({ at: place(index, unit()), goal: place(index, unit()) }));
    const lanes = [
      new Lanes(network),
      new Lanes(network, { searchesForAll: Infinity }),
      new Lanes(network, { searchesForAll: Infinity, mostKept: 900 }),
    ];
    let arrived = 0;
    for (let step = 0; step < 60; step++)
      for (const [who, each] of all.entries()) {
        // Some go elsewhere under way, and some stand beside their way.
        if (unit() < 0.02) each.goal = place(index, unit());
        if (unit() < 0.02) each.at = place(index, unit());
        const found = lanes.map((of) => {
          of.travel(each.at.x, each.at.y, each.goal.x, each.goal.y, 35, 0, '', who);
          return [of.x, of.y, of.left, of.used, of.direction];
        });
        expect(found[1]).toEqual(found[0]);
        expect(found[2]).toEqual(found[0]);
        each.at = { x: found[0]![0]!, y: found[0]![1]! };
        if (found[0]![2] === 0) arrived++;
      }
    expect(arrived).toBeGreaterThan(30);
  });

  it('goes only forward on lanes of one way, and nowhere where none leads there', () => {
    const draft = new MapDraft();
    for (const [x, y] of [
      [0, 0],
      [10, 0],
      [10, 10],
    ] as const)
      draft.point(x, y);
    draft.way([0, 1, 2], 'lane', true, undefined);
    const network = laneNetwork(draft.finish(), { allParts: false, inMetres: true, scale: 1 }) as LaneNetwork;
    const lanes = new Lanes(network);
    const [dx, dy] = network.shift;
    expect(lanes.wayLength(2 + dx, dy, 10 + dx, 7 + dy, 0, '')).toBeCloseTo(15, 10);
    expect(lanes.wayLength(10 + dx, 7 + dy, 2 + dx, dy, 0, '')).toBe(Infinity);
    expect(lanes.wayLength(7 + dx, dy, 2 + dx, dy, 0, '')).toBe(Infinity);
    lanes.travel(7 + dx, dy, 2 + dx, dy, 5, 0, '', 0);
    expect([lanes.left, lanes.used]).toEqual([Infinity, 0]);
  });

  it('stays where it is without anything to go, or less', () => {
    const network = randomNetwork(9, 20);
    const lanes = new Lanes(network);
    const { x, y } = place(new LaneIndex(network), 0.4);
    for (const amount of [0, -5]) {
      lanes.travel(x, y, network.x[3]!, network.y[3]!, amount, 0, '', 0);
      expect([lanes.x, lanes.y, lanes.used]).toEqual([x, y, 0]);
      lanes.travel(x, y, x, y, amount, 0, '', 0);
      expect([lanes.x, lanes.y, lanes.left]).toEqual([x, y, 0]);
    }
  });
});

function place(index: LaneIndex, share: number): { x: number; y: number } {
  const { x, y } = index.placeAt(share);
  const at = index.snap(x, y);
  return { x: at.x, y: at.y };
}

describe('the lane nearest to a place', () => {
  it.each([1, 2, 3])('is that of asking all lanes, also far outside, on random map %i', (seed) => {
    const network = randomNetwork(seed, 150);
    const index = new LaneIndex(network);
    const stream = RandomStream.of(seed, 8, 9);
    const unit = (): number => stream.word() / 4294967296;
    for (let i = 0; i < 400; i++) {
      const [px, py] = [unit() * 3000 - 1000, unit() * 3000 - 1000];
      const squares = Array.from(network.from, (a, lane) => {
        const b = network.to[lane]!;
        const [ax, ay, dx, dy] = [
          network.x[a]!,
          network.y[a]!,
          network.x[b]! - network.x[a]!,
          network.y[b]! - network.y[a]!,
        ];
        const t = Math.min(1, Math.max(0, ((px - ax) * dx + (py - ay) * dy) / (dx * dx + dy * dy)));
        return (ax + t * dx - px) ** 2 + (ay + t * dy - py) ** 2;
      });
      const { x, y } = index.snap(px, py);
      expect((x - px) ** 2 + (y - py) ** 2).toBeCloseTo(Math.min(...squares), 4);
    }
  });

  it('is spread evenly over the length of all lanes by shares of it', () => {
    const network = randomNetwork(4, 40);
    const index = new LaneIndex(network);
    const total = network.length.reduce((sum, length) => sum + length, 0);
    const found = Array.from(network.length, () => 0);
    for (let i = 0; i < 20_000; i++) found[index.placeAt((i + 0.5) / 20_000).lane]!++;
    network.length.forEach((length, lane) =>
      expect(Math.abs(found[lane]! - (length / total) * 20_000)).toBeLessThanOrEqual(1),
    );
  });
});
