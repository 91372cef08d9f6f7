import { describe, expect, it } from 'vitest';
import { keyPlaces } from './picture-key.ts';

describe('the key under a picture', () => {
  it('goes on in another row where there is no room', () => {
    expect(keyPlaces([40, 40, 40], 10, 130)).toEqual([
      { x: 10, row: 0 },
      { x: 69, row: 0 },
      { x: 10, row: 1 },
    ]);
  });
  it('gives one that is wider than a row a row for itself, and leaves none empty', () => {
    expect(keyPlaces([500, 20, 500], 10, 130).map(({ row }) => row)).toEqual([0, 1, 2]);
    expect(keyPlaces([], 10, 130)).toEqual([]);
  });
});
