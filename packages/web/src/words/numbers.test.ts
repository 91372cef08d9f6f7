import { describe, expect, it } from 'vitest';
import { shownBytes, shownNumber, shownSeconds } from './numbers.ts';

describe('numbers for people', () => {
  it('have sensible digits', () => {
    expect(
      [0.123456, 12.3456, 1234.5, 1234567, -3, 0.00001234, NaN, 1.3407807929942438e154, -2.5e20, 1e12, Infinity].map(
        (v) => shownNumber(v),
      ),
    ).toEqual([
      '0.123',
      '12.3',
      '1235',
      '1\u2009234\u2009567',
      '\u22123',
      '1.23e-5',
      'none',
      '1.34e+154',
      '\u22122.50e+20',
      '1\u2009000\u2009000\u2009000\u2009000',
      'no limit',
    ]);
    expect([shownSeconds(0.2), shownSeconds(50), shownSeconds(200), shownBytes(1500), shownBytes(2e6)]).toEqual([
      'under 1 s',
      '50 s',
      '3 min',
      '2 kB',
      '2.0 MB',
    ]);
  });
});
