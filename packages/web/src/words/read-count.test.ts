import { describe, expect, it } from 'vitest';
import { readCount } from './read-count.ts';

describe('a count in a sentence', () => {
  it.each<[string, number]>([
    ['40', 40],
    ['40 seeds', 40],
    [' 7 steps each ', 7],
    ['1e3', 1000],
    ['2 000 seeds', 2000],
    ['1 run', 1],
  ])('reads “%s”', (text, count) => expect(readCount(text, 10_000, 'A number of seeds')).toBe(count));
  it.each(['abc', '', '0', '-3', '1.5', '1e9', '12 voles', 'NaN', '3 4x'])(
    'refuses “%s” and says what it takes',
    (text) => {
      expect(readCount(text, 10_000, 'A number of seeds')).toEqual({
        problem: `A number of seeds is a whole number from 1 to 10,000, not “${text}”.`,
      });
    },
  );
  it('reads a seed, which may be 0 and large', () => {
    const seed = (text: string) => readCount(text, Number.MAX_SAFE_INTEGER, 'A seed', 0);
    expect([seed('0'), seed('1e12'), seed('9007199254740991')]).toEqual([0, 1e12, 9007199254740991]);
    expect(seed('9007199254740993')).toEqual({
      problem: 'A seed is a whole number from 0 to 9,007,199,254,740,991, not “9007199254740993”.',
    });
  });
});
