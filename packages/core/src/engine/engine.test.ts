import type { BucketIndex } from './spaces/bucket-index.ts';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { civilFromDays, dayOfYearOf, daysFromCivil, weekdayOf } from '../calendar/civil.ts';
import * as math from '../math.ts';
import { Population } from './population.ts';
import * as laws from './random/laws.ts';
import { below, keyOfName, mix, shuffleInPlace, RandomStream } from './random/stream.ts';
import { gridCell, reflect, wrap } from '../forms/edges.ts';
import type { Space } from '../forms/form.ts';
import { formOf } from '../forms/forms.ts';
import { cellAt, directionAfter, distanceBetween } from '../forms/space.ts';
import { RunContext } from './run-context.ts';

const relative = (a: number, b: number): number => (a === b ? 0 : Math.abs(a - b) / Math.max(Math.abs(a), Math.abs(b)));

describe('functions that give the same bits everywhere', () => {
  it('agree with the machine to a few units in the last place', () => {
    for (let i = -4000; i <= 4000; i++) {
      const x = i * 0.17337;
      expect(relative(math.exp(x), Math.exp(x))).toBeLessThan(4e-16);
      const p = Math.abs(x) + 1e-9;
      expect(Math.abs(math.log(p) - Math.log(p))).toBeLessThan(4e-16 * Math.max(1, Math.abs(Math.log(p))));
      expect(relative(math.power(p, 1.37), Math.pow(p, 1.37))).toBeLessThan(1e-14);
    }
  });
  it('turn agents to the sine and cosine of their direction, whichever quadrant it lies in', () => {
    const [direction, sine, cosine] = [new Float64Array(1), new Float64Array(1), new Float64Array(1)];
    for (let i = -4000; i <= 4000; i++) {
      math.turnTo(direction, sine, cosine, 0, i % 5 === 0 ? i * 9 : i * 0.17337);
      const d = direction[0]!;
      expect([sine[0], cosine[0]]).toEqual([math.sinDegrees(d), math.cosDegrees(d)]);
    }
  });
  it('are exact where people expect it', () => {
    expect(
      [0, 360, -30, 725, -1e-20, 1.234567e20, -9.87654321e18, -360]
        .map(math.heading)
        .every((d) => d >= 0 && d < 360 && !Object.is(d, -0)),
    ).toBe(true);
    expect([-30, 725, 450].map(math.heading)).toEqual([330, 5, 90]);
    expect([math.exp(0), math.log(1), math.power(3, 4), math.power(2, -2), math.power(9, 0.5)]).toEqual([
      1, 0, 81, 0.25, 3,
    ]);
    expect([math.exp(800), math.exp(-800), math.log(0), math.log(-1)]).toEqual([Infinity, 0, -Infinity, NaN]);
  });
  it('give bearings from up, turning right', () => {
    expect(
      [
        [0, 1],
        [1, 1],
        [1, 0],
        [1, -1],
        [0, -1],
        [-1, 0],
        [0, 0],
      ].map(([x, y]) => Math.round(math.bearingDegrees(x!, y!) * 1e9) / 1e9),
    ).toEqual([0, 45, 90, 135, 180, 270, 0]);
    fc.assert(
      fc.property(
        fc.double({ min: 0.01, max: 359.99, noNaN: true }),
        (a) => Math.abs(math.bearingDegrees(math.sinDegrees(a), math.cosDegrees(a)) - a) < 1e-9,
      ),
      { seed: 1 },
    );
    expect([math.swing(350, 10), math.swing(10, 350), math.swing(0, 180)]).toEqual([20, -20, 180]);
  });
  it('turn rates into chances, also tiny ones', () => {
    expect(math.chanceOfRate(0)).toBe(0);
    expect(relative(math.chanceOfRate(1e-9), -Math.expm1(-1e-9))).toBeLessThan(1e-14);
    expect(relative(math.chanceOfRate(2), -Math.expm1(-2))).toBeLessThan(1e-14);
  });
});

describe('keyed luck', () => {
  it('mixes bijectively and moves half of the bits', () => {
    const seen = new Set(Array.from({ length: 20000 }, (_, i) => mix(i)));
    expect(seen.size).toBe(20000);
    let flips = 0;
    for (let i = 0; i < 2000; i++) {
      let x = (mix(i) ^ mix(i ^ (1 << (i % 32)))) >>> 0;
      for (; x; x &= x - 1) flips++;
    }
    expect(flips / 2000).toBeGreaterThan(15);
    expect(flips / 2000).toBeLessThan(17);
  });
  it('gives streams that differ in seed, step, rule and agent, and repeat for the same key', () => {
    const first = (...key: [number, number, number, number]): number => RandomStream.of(...key).word();
    const keys: [number, number, number, number][] = [
      [1, 2, 3, 4],
      [2, 2, 3, 4],
      [1, 3, 3, 4],
      [1, 2, 4, 4],
      [1, 2, 3, 5],
      [1 + 2 ** 40, 2, 3, 4],
    ];
    expect(new Set(keys.map((key) => first(...key))).size).toBe(keys.length);
    expect(first(...keys[0]!)).toBe(first(...keys[0]!));
    expect(keyOfName('Vole.forage')).not.toBe(keyOfName('Vole.forages'));
  });
  it('shuffles evenly: chi-square over all orders of four, false alarm 1 in 1000', () => {
    const counts = new Map<string, number>();
    const n = 24000;
    for (let i = 0; i < n; i++) {
      const items = Int32Array.of(0, 1, 2, 3);
      shuffleInPlace(items, 4, RandomStream.of(9, i, 77));
      counts.set(items.join(''), (counts.get(items.join('')) ?? 0) + 1);
    }
    const chi = [...counts.values()].reduce((sum, c) => sum + (c - n / 24) ** 2 / (n / 24), 0);
    expect(counts.size).toBe(24);
    expect(chi).toBeLessThan(49.73);
  });
});

/** Draws with keys that follow one another, as agents of one rule have them. */
function sample(law: (a: number, b: number) => number, n = 20000): number[] {
  return Array.from({ length: n }, (_, agent) => {
    const stream = RandomStream.of(42, 7, 99, agent);
    return law(stream.word(), stream.word());
  });
}

/** Greatest distance between the sample's distribution and a law's. */
function kolmogorov(values: number[], cumulative: (x: number) => number): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted.reduce(
    (most, x, i) =>
      Math.max(most, Math.abs(cumulative(x) - i / sorted.length), Math.abs(cumulative(x) - (i + 1) / sorted.length)),
    0,
  );
}

/** Normal distribution function. Source: Abramowitz and Stegun 26.2.17, error below 7.5e-8. */
function normalCumulative(x: number): number {
  const t = 1 / (1 + 0.2316419 * Math.abs(x));
  const tail =
    (Math.exp((-x * x) / 2) / Math.sqrt(2 * Math.PI)) *
    t *
    (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))));
  return x > 0 ? 1 - tail : tail;
}

// Kolmogorov-Smirnov bound for 20,000 draws at a false-alarm rate of 1 in 1000: 1.95 / sqrt(n).
const BOUND = 1.95 / Math.sqrt(20000);

describe('distributions against their theory (fixed keys; each bound has a false-alarm rate of 1 in 1000)', () => {
  const continuous: [string, (a: number, b: number) => number, (x: number) => number][] = [
    ['uniform', (a, b) => laws.drawUniform(2, 5, a, b), (x) => (x - 2) / 3],
    ['normal', (a, b) => laws.drawNormal(3, 2, a, b), (x) => normalCumulative((x - 3) / 2)],
    ['exponential', (a, b) => laws.drawExponential(4, a, b), (x) => 1 - Math.exp(-x / 4)],
    ['gamma of shape 2', (a, b) => laws.drawGamma(6, 2, a, b), (x) => 1 - Math.exp(-x / 3) * (1 + x / 3)],
    ['weibull', (a, b) => laws.drawWeibull(2, 1.5, a, b), (x) => 1 - Math.exp(-((x / 2) ** 1.5))],
    ['triangular', (a, b) => laws.drawTriangular(0, 1, 3, a, b), (x) => (x < 1 ? x ** 2 / 3 : 1 - (3 - x) ** 2 / 6)],
    ['beta of 2 and 1', (a, b) => laws.drawBeta(2, 1, a, b), (x) => x * x],
    [
      'lognormal',
      (a, b) => laws.drawLognormal(3, 2, a, b),
      (x) => {
        const variance = Math.log(1 + 4 / 9);
        return normalCumulative((Math.log(x) - Math.log(3) + variance / 2) / Math.sqrt(variance));
      },
    ],
  ];
  for (const [name, law, cumulative] of continuous)
    it(name, () => expect(kolmogorov(sample(law), cumulative)).toBeLessThan(BOUND));

  const counts: [string, (a: number, b: number) => number, number, number][] = [
    ['poisson of a small mean', (a, b) => laws.drawPoisson(3.5, a, b), 3.5, 3.5],
    ['poisson of a large mean', (a, b) => laws.drawPoisson(200, a, b), 200, 200],
    ['binomial of few trials', (a, b) => laws.drawBinomial(10, 0.3, a, b), 3, 2.1],
    ['binomial of many trials', (a, b) => laws.drawBinomial(500, 0.3, a, b), 150, 105],
    ['whole', (a, b) => laws.drawWhole(1, 6, a, b), 3.5, 35 / 12],
    ['gamma of a small shape', (a, b) => laws.drawGamma(2, 0.5, a, b), 2, 8],
    ['chance', (a) => laws.drawChance(0.2, a), 0.2, 0.16],
  ];
  for (const [name, law, mean, variance] of counts) {
    it(`${name}: mean and variance`, () => {
      const values = sample(law);
      const n = values.length;
      const found = values.reduce((a, b) => a + b, 0) / n;
      const spread = values.reduce((sum, v) => sum + (v - found) ** 2, 0) / (n - 1);
      const fourth = values.reduce((sum, v) => sum + (v - found) ** 4, 0) / n;
      expect(Math.abs(found - mean)).toBeLessThan(3.3 * Math.sqrt(variance / n));
      expect(Math.abs(spread - variance)).toBeLessThan(3.3 * Math.sqrt((fourth - variance ** 2) / n));
    });
  }
  it('gives not-a-number for parameters that make no sense', () => {
    expect(
      [
        laws.drawNormal(0, -1, 1, 2),
        laws.drawGamma(1, 0, 1, 2),
        laws.drawPoisson(-1, 1, 2),
        laws.drawBinomial(3, 2, 1, 2),
        laws.drawTriangular(3, 1, 2, 1, 2),
      ].every(Number.isNaN),
    ).toBe(true);
  });
  it('draws whole numbers below n evenly', () => {
    expect(below(0, 7)).toBe(0);
    expect(below(4294967295, 7)).toBe(6);
  });
});

describe('calendar', () => {
  it('goes from days to dates and back', () => {
    for (let day = -200000; day < 200000; day += 997) {
      const { year, month, day: d } = civilFromDays(day);
      expect(daysFromCivil(year, month, d)).toBe(day);
      const date = new Date(day * 86_400_000);
      expect([year, month, d]).toEqual([date.getUTCFullYear(), date.getUTCMonth() + 1, date.getUTCDate()]);
      expect(weekdayOf(day)).toBe(date.getUTCDay() || 7);
    }
    expect(dayOfYearOf(daysFromCivil(2032, 12, 31))).toBe(366);
  });
  it('knows in which step a time, a multiple and a day of the year lie', () => {
    const context = new RunContext(
      { stepLength: 0.1, unitSeconds: 86400, start: { year: 2031, month: 12, day: 31 } },
      0,
      0,
      0,
    );
    const steps = (test: () => boolean): number[] =>
      Array.from({ length: 30 }, (_, i) => i + 1).filter((step) => (context.setStep(step), test()));
    expect(steps(() => context.isNow(0.3))).toEqual([4]);
    expect(steps(() => context.isMultipleNow(0.7))).toEqual([8, 15, 22, 29]);
    expect(steps(() => context.isDayOfYearNow(1, 1))).toEqual([11]);
  });
  it('counts days, hours and weekdays from the time of day with which a run begins', () => {
    const context = new RunContext(
      { stepLength: 1, unitSeconds: 3600, start: { year: 2031, month: 12, day: 31, seconds: 18.5 * 3600 } },
      0,
      0,
      0,
    );
    const at = (step: number) => {
      context.setStep(step);
      const { now, hour, month, date, weekday } = context;
      return { now, hour, month, day: date - daysFromCivil(2031, 12, 31), weekday };
    };
    // 31 December 2031 is a Wednesday.
    expect(at(1)).toEqual({ now: 0, hour: 18.5, month: 12, day: 0, weekday: 3 });
    expect(at(6)).toEqual({ now: 5, hour: 23.5, month: 12, day: 0, weekday: 3 });
    expect(at(7)).toEqual({ now: 6, hour: 0.5, month: 1, day: 1, weekday: 4 });
    const steps = (test: () => boolean): number[] =>
      Array.from({ length: 60 }, (_, i) => i + 1).filter((step) => (context.setStep(step), test()));
    expect(steps(() => context.isTimeOfDayNow(0, 18.5))).toEqual([1, 25, 49]);
    expect(steps(() => context.isTimeOfDayNow(0, 18))).toEqual([24, 48]);
    expect(steps(() => context.isTimeOfDayNow(4, 0))).toEqual([6]);
    expect(steps(() => context.isDayOfYearNow(1, 1))).toEqual([6]);
    expect(steps(() => context.isDayOfYearNow(12, 31))).toEqual([]);
  });
});

const plane = (edge: Space['edge']): Space => ({
  form: 'plane',
  edge,
  neighbours: 8,
  oneAgentACell: false,
  width: 10,
  height: 6,
});

describe('space', () => {
  it('wraps, reflects and stops', () => {
    expect([wrap(-1, 10), wrap(10, 10), wrap(23, 10), wrap(-1e-20, 10)]).toEqual([9, 0, 3, 0]);
    expect([reflect(-2, 10), reflect(12, 10), reflect(25, 10)]).toEqual([2, 8, 5]);
    expect([
      gridCell(-1, 5, 'wrapping'),
      gridCell(5, 5, 'walled'),
      gridCell(-1, 5, 'reflecting'),
      gridCell(6, 5, 'reflecting'),
    ]).toEqual([4, 4, 0, 3]);
    expect(directionAfter(30, 11, 3, plane('reflecting'))).toBe(330);
    expect(directionAfter(30, 5, 7, plane('reflecting'))).toBe(150);
  });
  it('measures the shorter way round', () => {
    expect(distanceBetween(1, 1, 9, 5, plane('wrapping'))).toBeCloseTo(Math.hypot(2, 2), 12);
    expect(distanceBetween(1, 1, 9, 5, plane('walled'))).toBeCloseTo(Math.hypot(8, 4), 12);
  });
  it('finds cells, also in a last one that is narrower', () => {
    const space = plane('walled');
    const grid = { ...formOf(space).rasterOf(space, 4), values: new Float64Array(0) };
    expect([grid.columns, grid.rows]).toEqual([3, 2]);
    expect([
      cellAt(0, 0, grid, space),
      cellAt(9.9, 0, grid, space),
      cellAt(10, 6, grid, space),
      cellAt(-3, 99, grid, space),
    ]).toEqual([0, 2, 5, 3]);
  });
});

describe('population', () => {
  const make = (): Population => new Population({ attributes: 1, machines: 1, dues: 1, isSomewhere: true });

  /** What somebody has who has just come. */
  const startOf = ({ attributes, due, states, direction, cosine }: Population, slot: number): number[] => [
    ...[attributes[0]!, due[0]!, states[0]!, direction, cosine].map((column) => column[slot]!),
  ];

  it('keeps numbers rising with slots through births, deaths, growth and snapshots', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.boolean(), fc.nat()), { maxLength: 300 }), (acts) => {
        const population = make();
        const model = new Map<number, number>();
        for (const [isBirth, n] of acts) {
          if (isBirth || population.living === 0) {
            const slot = population.add(n % 10, n % 7, 1);
            expect(startOf(population, slot)).toEqual([0, 0, 0, 0, 1]);
            population.attributes[0]![slot] = n;
            population.due[0]![slot] = 1;
            population.states[0]![slot] = 1;
            population.direction[slot] = 1;
            model.set(population.number[slot]!, n);
          } else {
            const [number] = [...model.keys()].slice(n % model.size);
            population.removeAt(population.slotOf(number!));
            model.delete(number!);
          }
          if (n % 11 === 0) population.compact();
        }
        const copy = make();
        copy.restore(population.snapshot());
        const numbers = Array.from(copy.number.subarray(0, copy.used));
        expect(numbers).toEqual([...model.keys()]);
        expect(numbers.map((number) => copy.attributes[0]![copy.slotOf(number)])).toEqual([...model.values()]);
        expect(copy.nextNumber).toBe(population.nextNumber);
        for (const number of numbers) copy.removeAt(copy.slotOf(number));
        copy.compact();
        expect(startOf(copy, copy.add(1, 2, 1))).toEqual([0, 0, 0, 0, 1]);
      }),
      { seed: 2, numRuns: 60 },
    );
  });

  it('finds the same neighbours by its index as by asking everybody, while agents move', () => {
    const place = fc.tuple(
      fc.double({ min: 0, max: 9.999, noNaN: true }),
      fc.double({ min: 0, max: 5.999, noNaN: true }),
    );
    fc.assert(
      fc.property(
        fc.array(place, { minLength: 1, maxLength: 80 }),
        fc.array(fc.tuple(fc.nat(), place), { maxLength: 60 }),
        fc.double({ min: 0, max: 7, noNaN: true }),
        fc.boolean(),
        (places, moves, radius, wraps) => {
          const space = plane(wraps ? 'wrapping' : 'walled');
          const population = make();
          for (const [x, y] of places) population.add(x, y, 1);
          population.index.ensure(space, population.alive, population.x, population.y, population.used);
          for (const [which, [x, y]] of moves) {
            const slot = which % population.used;
            population.x[slot] = x;
            population.y[slot] = y;
            population.index.move(slot, x, y);
          }
          const [x, y] = places[0]!;
          const near = (slot: number): boolean =>
            distanceBetween(x, y, population.x[slot]!, population.y[slot]!, space) <= radius;
          const listed = slotsInRange(population.index, x, y, radius, wraps);
          expect(new Set(listed).size).toBe(listed.length);
          expect(listed.filter(near).sort((a, b) => a - b)).toEqual(
            Array.from({ length: population.used }, (_, slot) => slot).filter(near),
          );
        },
      ),
      { seed: 3, numRuns: 300 },
    );
  });
});

/** All slots in the buckets that a circle touches. */
function slotsInRange(index: BucketIndex, x: number, y: number, radius: number, wraps: boolean): number[] {
  if (!index.range(x, y, radius, wraps)) return [];
  const { columns, rows, head, next } = index;
  const found: number[] = [];
  for (let row = index.fromRow; row <= index.toRow; row++) {
    for (let column = index.fromColumn; column <= index.toColumn; column++) {
      const bucket = ((row + rows) % rows) * columns + ((column + columns) % columns);
      for (let slot = head[bucket]!; slot >= 0; slot = next[slot]!) found.push(slot);
    }
  }
  return found;
}
