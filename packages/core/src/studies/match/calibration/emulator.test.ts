import { describe, expect, it } from 'vitest';
import { drawNormal } from '../../../engine/random/laws.ts';
import { RandomStream } from '../../../engine/random/stream.ts';
import { drawnFromPrior } from './candidates.ts';
import { Emulator, Nearness } from './emulator.ts';

const bent = ([x = 0, y = 0]: readonly number[]): number => 2 * x - y + Math.sin(1.5 * x) + 0.5 * x * y;
const PLACES = Array.from({ length: 60 }, (_, i) => drawnFromPrior(2, 1, i));
const ASKED = Array.from({ length: 200 }, (_, i) => drawnFromPrior(2, 2, i));

describe('an emulator', () => {
  it('goes through values without luck, and knows how little it knows elsewhere', () => {
    const emulator = new Emulator(PLACES, PLACES.map(bent), 0);
    for (const place of PLACES.slice(0, 10)) {
      expect(emulator.at(place).mean).toBeCloseTo(bent(place), 2);
      expect(emulator.at(place).variance).toBeLessThan(1e-3);
    }
    const apart = ASKED.map((place) => {
      const { mean, variance } = emulator.at(place);
      return Math.abs(mean - bent(place)) / Math.sqrt(variance);
    });
    expect(apart.filter((sds) => sds < 3).length).toBeGreaterThan(190);
    expect(emulator.at([9, -9]).variance).toBeGreaterThan(100 * emulator.at([0, 0]).variance);
  });

  it('takes luck off: it is nearer to what is behind than the values it learnt from', () => {
    const stream = RandomStream.of(3, 0, 1);
    const noisy = PLACES.map((place) => bent(place) + drawNormal(0, 0.5, stream.word(), stream.word()));
    const emulator = new Emulator(PLACES, noisy, 0.25);
    const error = (values: readonly number[]): number =>
      Math.sqrt(values.reduce((sum, value, i) => sum + (value - bent(PLACES[i]!)) ** 2, 0) / values.length);
    expect(error(PLACES.map((place) => emulator.at(place).mean))).toBeLessThan(0.75 * error(noisy));
  });

  it('rules places out by what it expects there, what it does not know, and luck', () => {
    const emulator = new Emulator(PLACES, PLACES.map(bent), 0.01);
    const other = new Emulator(
      PLACES,
      PLACES.map(([x]) => x!),
      0.01,
    );
    const seen = new Set<boolean>();
    for (const luck of [0, 0.02, 1])
      for (const place of [...ASKED, ...PLACES]) {
        const nearness = new Nearness(PLACES, place);
        for (const asked of [emulator, other, emulator]) {
          const { mean, variance } = asked.at(place);
          const isFar = Math.abs(mean) > 2 * Math.sqrt(variance + luck);
          seen.add(isFar);
          expect(asked.isBeyond(2, place, luck, nearness)).toBe(isFar);
        }
      }
    expect(seen.size).toBe(2);
  });

  it('is a plane where values lie on one, and even where they are all the same', () => {
    const flat = new Emulator(
      PLACES,
      PLACES.map(([x, y]) => 1 + 2 * x! - y!),
      0,
    );
    expect(flat.at([5, -5]).mean).toBeCloseTo(16, 6);
    const same = new Emulator(
      PLACES,
      PLACES.map(() => 7),
      0,
    );
    expect(same.at([2, 2]).mean).toBeCloseTo(7, 9);
    expect(Number.isFinite(same.at([2, 2]).variance)).toBe(true);
  });
});
