import { describe, expect, it } from 'vitest';
import type { PosteriorAnswer } from '../studies/answers/questions.ts';
import { posteriorBlock } from './posterior-picture.ts';

type Found = NonNullable<PosteriorAnswer['found']>;

function foundOf(names: readonly string[]): Found {
  const draws = [0.1, 0.2, 0.4].map((value) => names.map(() => value));
  return {
    posterior: { draws, weights: [0.5, 0.25, 0.25] },
    findings: names.map((parameter) => ({ parameter, median: 0.2, low: 0.1, high: 0.4 })),
    bins: names.map(() => ({ edges: [0, 0.25, 0.5], posterior: [0.75, 0.25], prior: [0.5, 0.5] })),
    pairs: names.flatMap((_, second) => names.slice(0, second).map((__, first) => ({ first, second, correlation: 1 }))),
  } as unknown as Found;
}
const blockOf = (...names: string[]) => {
  const block = posteriorBlock(foundOf(names), { units: names.map(() => 'per day'), words: [] }, []);
  if (block.is !== 'picture') throw new Error('no picture');
  return block;
};

describe('the picture of a posterior', () => {
  it('of one unknown is half as wide as that of two, which fill a column; the ends of the range stand below', () => {
    const [one, two, four] = [blockOf('strike'), blockOf('strike', 'bite'), blockOf('a', 'b', 'c', 'd')];
    expect([one.width, two.width, four.width]).toEqual([240, 480, 480]);
    expect(one.svg).toContain('viewBox="0 0 240 262"');
    expect(one.svg).toContain('>0.5 per day</text>');
    expect(one.svg.match(/<g transform/g)).toHaveLength(1);
    expect(four.svg.match(/<g transform/g)).toHaveLength(4 + 6);
  });

  it('writes names of unknowns as words of the picture', () => {
    expect(blockOf('a<b').svg).toContain('data-unknown="a&lt;b"');
    expect(blockOf('strike', 'bite').told).toContain('strike, bite');
  });
});
