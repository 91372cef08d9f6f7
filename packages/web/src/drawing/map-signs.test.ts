import { describe, expect, it } from 'vitest';
import { barOf } from './map-signs.ts';

describe('the bar that says how long a length is', () => {
  it.each([
    [1, '100 m'],
    [0.4, '200 m'],
    [0.31, '500 m'],
    [0.02, '5 km'],
    [0.1, '1 km'],
    [100, '1 m'],
    [200, '50 cm'],
  ])('of %f pixels a metre is %s long', (metre, label) => {
    const bar = barOf(metre);
    expect(bar.label).toBe(label);
    expect(bar.metres * metre).toBeGreaterThan(60);
    expect(bar.metres * metre).toBeLessThanOrEqual(160);
  });
});
