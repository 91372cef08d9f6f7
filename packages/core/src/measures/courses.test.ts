import { describe, expect, it } from 'vitest';
import { growthRate, longestSpell, meanPeak, meanSpell, period, spellsOf } from './courses.ts';

const rows = (count: number, at: (i: number) => number): number[] => Array.from({ length: count }, (_, i) => at(i));
const wave =
  (every: number, shift = 0) =>
  (i: number) =>
    Math.sin((2 * Math.PI * (i - shift)) / every);
/** Park and Miller's generator: luck for these tests alone. */
function noise(seed: number): () => number {
  let state = seed;
  return () => (state = (state * 16807) % 2147483647) / 2147483647 - 0.5;
}

describe('growth rate', () => {
  it.each([0.3, 0, -0.07])('of e^(%d t) is that number, per time and not per row', (rate) =>
    expect(
      growthRate(
        rows(20, (i) => 5 * Math.exp(rate * 2 * i)),
        2,
      ),
    ).toBeCloseTo(rate, 10),
  );

  it('is the slope by least squares of the logarithms, without what is empty or nought', () => {
    // log 1, 2, 8 at times 0, 1, 3: times from their mean -4/3, -1/3, 5/3; slope of 0, 1, 3 (times log 2) is 1.
    expect(growthRate([1, 2, 0, 8, NaN, -3], 1)).toBeCloseTo(Math.LN2, 12);
  });

  it.each([[[]], [[4]], [[0, 0, 0]], [[NaN, 7, NaN]]])('of %j there is none', (values) =>
    expect(growthRate(values, 1)).toBeNaN(),
  );
});

describe('period', () => {
  it.each([
    [200, 20],
    [365, 31.4],
    [1000, 7.3],
    [64, 2.5],
    [120, 40],
  ])('in %d rows of a wave that comes back every %d rows, three times or more, is that within 2 %%', (count, every) => {
    const found = period(rows(count, wave(every, 3.3)), 0.5);
    expect(found / (every / 2)).toBeGreaterThan(0.98);
    expect(found / (every / 2)).toBeLessThan(1.02);
  });

  it('of a little more than two cycles is coarse, within 5 %', () =>
    expect(Math.abs(period(rows(90, wave(40, 3.3)), 1) / 40 - 1)).toBeLessThan(0.05));

  it('does not mind a trend, noise as large as the wave, or gaps', () => {
    const luck = noise(7);
    const course = rows(400, (i) => (i % 17 === 5 ? NaN : 300 + 0.8 * i + wave(25)(i) + 3 * luck()));
    expect(period(course, 1)).toBeGreaterThan(24.5);
    expect(period(course, 1)).toBeLessThan(25.5);
  });

  it('is the same to the bit each time, and scales with the step', () => {
    const course = rows(300, (i) => wave(12)(i) + 0.3 * wave(40)(i));
    expect(period(course, 3)).toBe(3 * period(course, 1));
  });

  it('is found in noise alone not more often than the test allows, one time in twenty', () => {
    const luck = noise(11);
    const found = rows(400, () =>
      period(
        rows(100, () => luck()),
        1,
      ),
    ).filter((value) => !Number.isNaN(value)).length;
    expect(found).toBeLessThan(32);
  });

  it.each<[string, number[]]>([
    ['nothing', []],
    ['one row', [3]],
    ['always the same', rows(50, () => 0.1)],
    ['a straight line', rows(50, (i) => 0.1 + 0.7 * i)],
    ['one hump', rows(100, wave(200))],
    ['a wave of less than two cycles', rows(100, wave(70))],
    ['only empty rows', rows(50, () => NaN)],
  ])('of %s there is none', (_, values) => expect(period(values, 1)).toBeNaN());
});

describe('stretches in which something holds', () => {
  const holds = [1, 1, 0, 1, 0, 0, 1, 1, 1, NaN, 1, 0, 1];
  const spells = spellsOf(holds);

  it('begin where it first holds and end before it does not, or is empty', () =>
    expect(spells.map(({ from, to }) => [from, to])).toEqual([
      [0, 2],
      [3, 4],
      [6, 9],
      [10, 11],
      [12, 13],
    ]));

  it('have a mean length of those that are seen whole, and a longest', () => {
    expect(meanSpell(spells, holds.length)).toBeCloseTo((1 + 3 + 1) / 3, 12);
    expect(longestSpell(spells)).toBe(3);
    expect(meanSpell([], 5)).toBeNaN();
    expect(meanSpell(spellsOf([1, 1, 1]), 3)).toBeNaN();
    expect(longestSpell([])).toBe(0);
  });

  it('have a mean peak, over those with a value', () => {
    const values = Float64Array.from([4, 9, 0, NaN, 0, 0, -1, -7, NaN, 0, 5, 0, 6]);
    expect(meanPeak(spells, values)).toBeCloseTo((9 - 1 + 5 + 6) / 4, 12);
    expect(meanPeak([], values)).toBeNaN();
  });
});
