import { describe, expect, it } from 'vitest';
import type { Plan } from '@vole/core';
import { nearestStop, placeWords } from './line-acts.ts';

const map = (width: number, unitLabel = 'm'): Pick<Plan['spaces'][number], 'lanes' | 'unitLabel'> =>
  ({
    unitLabel,
    lanes: {
      width,
      height: width / 2,
      places: [
        { name: 'Mill', x: 100, y: 50 },
        { name: 'Old "Elder"', x: 300, y: 50 },
        { name: 'Reeds', x: 104, y: 50 },
      ],
    },
  }) as unknown as Plan['spaces'][number];

describe('a place that is clicked', () => {
  it('is written with its unit, as exactly as the map is large', () => {
    expect(placeWords(map(1000), { x: 512.34, y: 7.16 })).toBe('(512.3 m, 7.2 m)');
    expect(placeWords(map(30_000), { x: 20_512.34, y: 7.16 })).toBe('(20512 m, 7 m)');
    expect(placeWords(map(8, 'km'), { x: 3.14159, y: 2 })).toBe('(3.142 km, 2.000 km)');
    expect(placeWords(map(1000, ''), { x: 1, y: 2 })).toBe('(1.0, 2.0)');
  });

  it('has the name of the nearest place that is near, if a text can hold it', () => {
    expect(placeWords(map(1000), { x: 103, y: 51 })).toBe('place named "Reeds"');
    expect(placeWords(map(1000), { x: 97, y: 51 })).toBe('place named "Mill"');
    expect(placeWords(map(1000), { x: 80, y: 50 })).toBe('(80.0 m, 50.0 m)');
    expect(placeWords(map(1000), { x: 300, y: 50 })).toBe('(300.0 m, 50.0 m)');
  });

  it('is nearest to one of the stops', () => {
    const stops = Float32Array.of(0, 0, 10, 0, 10, 10);
    expect(
      [
        { x: 1, y: 1 },
        { x: 9, y: 4 },
        { x: 90, y: 90 },
      ].map((place) => nearestStop(stops, place)),
    ).toEqual([0, 1, 2]);
  });
});
