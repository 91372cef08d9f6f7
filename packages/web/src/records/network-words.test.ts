import { describe, expect, it } from 'vitest';
import { figureWords, FIGURES, spreadWords } from './network-words.ts';

describe('figures of networks', () => {
  it('say what there is none of, and how many runs have none', () => {
    expect([figureWords(NaN), figureWords(0)]).toEqual(['none', '0']);
    expect(spreadWords([])).toBe('none');
    expect(spreadWords([NaN, NaN])).toBe('none');
    expect(spreadWords([4])).toBe('4, 4 to 4');
    // Of 0 to 20 the twentieths lie at whole numbers.
    expect(spreadWords([NaN, ...Array.from({ length: 21 }, (_, i) => 20 - i), NaN])).toBe('10, 1 to 19; none in 2');
    expect(new Set(FIGURES.map(({ key }) => key)).size).toBe(FIGURES.length);
  });
});
