import { describe, expect, it } from 'vitest';
import { fading, rankHistogram } from '../prove/fading.ts';

/** Of chi-square with nine degrees of freedom: exceeded by luck alone one time in a thousand. */
const MOST_UNEVEN = 27.88;

describe('simulation-based calibration, at a small size (npm run prove has it whole)', () => {
  it.each(['sequential monte carlo', 'rejection'])(
    'spreads hidden values evenly over their posteriors, by %s',
    (method) => {
      const { parameters, counts, chiSquare } = rankHistogram(fading(`by ${method}, 50 draws, at most 500 runs`), 50);
      expect(parameters).toEqual(['risk', 'founders']);
      for (const each of counts) expect(each.reduce((a, b) => a + b, 0)).toBe(50);
      for (const each of chiSquare) expect(each).toBeLessThan(MOST_UNEVEN);
    },
  );

  it('would tell of priors that are not those of the hidden values', () => {
    const honest = fading('by rejection, 40 draws, at most 300 runs');
    const text = honest.text.replace('founders 50 to 150', 'founders 100 to 150');
    // Hidden values come from the wide prior, posteriors from the narrow one.
    const found = rankHistogram({ ...honest, text: honest.text }, 30, { ...honest, text });
    expect(found.chiSquare[1]).toBeGreaterThan(MOST_UNEVEN);
  });
});
