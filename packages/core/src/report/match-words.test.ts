import type { PosteriorAnswer } from '../studies/answers/questions.ts';
import { describe, expect, it } from 'vitest';
import { paperParagraph, posteriorSentences, scoreCells, scoreNumber, searchWords } from './match-words.ts';

type Found = NonNullable<PosteriorAnswer['found']>;
const finding = (parameter: string, low: number, high: number, narrowing: number, end?: 'low' | 'high') => ({
  parameter,
  median: (low + high) / 2,
  low,
  high,
  priorLow: 0,
  priorHigh: 1,
  narrowing,
  ...(end ? { end } : {}),
});
const found: Found = {
  posterior: {
    parameters: ['strike', 'bite', 'kestrels'],
    draws: [
      [0.2, 0.15, 5],
      [0.25, 0.14, 6.123456789],
    ],
    weights: [0.5, 0.5],
    effective: 1.6,
    isAdjusted: true,
    best: [0.21, 0.15, 5],
    method: 'sequential monte carlo',
    tolerance: 1.2,
    rounds: 6,
    accepted: 0.041,
  },
  findings: [
    finding('strike', 0.19, 0.26, 0.8),
    finding('bite', 0.1, 0.2, 0.3, 'high'),
    finding('kestrels', 2, 9, 0.18),
  ],
  bins: [],
  pairs: [
    { first: 0, second: 1, correlation: -0.72 },
    { first: 0, second: 2, correlation: 0.1 },
  ],
};

describe('what the data tell', () => {
  it('is said of each unknown, and of pairs that hang together', () => {
    const texts = posteriorSentences(found, ['per day', '', ''], 'The counts').map(({ text }) => text);
    expect(texts).toEqual([
      'The draws are worth only 2 independent ones: take more runs before you rely on these ranges.',
      'The counts fix strike: 0.19 to 0.26 per day, 80 % narrower than before.',
      'The counts tell something of bite: 0.1 to 0.2, which is 30 % narrower than before. It heaps at the upper end of what was thought possible: think of a wider range.',
      'The counts say little about kestrels: its range narrows by only 18 % (2 to 9).',
      'strike and bite are known mostly together: a higher strike with a lower bite agrees as well (correlation −0.72).',
    ]);
  });

  it('says that a range does not narrow at all', () => {
    const wide = {
      ...found,
      posterior: { ...found.posterior, effective: 50 },
      findings: [finding('bite', 0, 1, -0.1)],
      pairs: [],
    };
    expect(posteriorSentences(wide, [''], 'They')[0]!.text).toBe(
      'They say little about bite: its range does not narrow (0 to 1).',
    );
  });

  const facts = {
    model: 'Meadow year',
    engine: '3',
    runs: 5214,
    pilots: 30,
    priors: ['0 to 0.4', '0.1 to 0.2', '2 to 10'],
    series: ['voles (23 observations)'],
    heldOut: 'from 2032-06-01',
    units: ['per day', '', ''],
  };

  it('is no posterior where values are only ruled out, and is not called one', () => {
    const region = {
      ...found,
      posterior: { ...found.posterior, method: 'history matching' as const, left: 0.08, accepted: 0.08, rounds: 3 },
    };
    expect(posteriorSentences(region, ['per day', '', ''], 'The counts').map(({ text }) => text)).toEqual([
      '8 % of what was thought possible is not ruled out by the counts. Nothing is said of what in it is likelier.',
      'Of strike, nine tenths of what is left lie in 0.19 to 0.26 per day, 80 % narrower than before.',
      'Of bite, nine tenths of what is left lie in 0.1 to 0.2, 30 % narrower than before.',
      'The counts rule out little of kestrels.',
      'strike and bite are known mostly together: a higher strike with a lower bite agrees as well (correlation −0.72).',
    ]);
    expect(searchWords(region)).toBe('8 % of what was thought possible is left after 3 waves; 2 draws spread over it');
    const text = paperParagraph(region, facts);
    for (const part of ['Vernon et al. 2010', '5,214 runs in 3 waves left 8 % of the prior space', 'no probabilities'])
      expect(text).toContain(part);
    expect(text).not.toMatch(/posterior|credible|pilot/);
  });

  it('tells what draws are worth, in the words of each method', () => {
    expect(searchWords(found)).toBe(
      '6 rounds, accepted at last 4 %; 2 draws, worth 2 with equal weights; none further off than 1.2 standard deviations',
    );
    const chains = { ...found, posterior: { ...found.posterior, method: 'synthetic likelihood' as const } };
    expect(searchWords(chains)).toBe('6 moves of each chain, 4 % of them taken; 2 draws, worth 2 independent ones');
    expect(paperParagraph(chains, facts)).toMatch(/Wood 2010.*5,214 runs gave 2 draws of the posterior/);
  });

  it('makes a paragraph with all numbers', () => {
    const text = paperParagraph(found, facts);
    for (const part of [
      '5,214 runs',
      '6 rounds',
      '4 %',
      'strike 0.225 per day (90 % credible interval 0.19 to 0.26)',
      'holding out what was observed from 2032-06-01',
      'Beaumont',
      'Del Moral',
    ])
      expect(text).toContain(part);
  });
});

describe('scores', () => {
  const interval = (value: number, low = NaN, high = NaN) => ({ value, low, high });
  const scores = {
    points: 14,
    outside: 0,
    bias: interval(2, 1, 3),
    meanAbsoluteError: interval(3),
    rootMeanSquareError: interval(4),
    normalisedError: interval(0.1),
    inside50: interval(0.5, 0.4, 0.6),
    inside90: interval(13 / 14, -Infinity, Infinity),
    rankedProbabilityScore: interval(3),
    skillAgainstMean: interval(-0.2, -0.3, -0.1),
    skillAgainstLast: interval(NaN),
    ranks: [],
  };
  it('are shown as counts, shares and numbers, with intervals where there are some', () => {
    expect(scoreCells(scores, 'inside50')).toEqual({ value: '7 of 14', interval: '40 % to 60 %' });
    expect(scoreCells(scores, 'inside90')).toEqual({ value: '13 of 14', interval: '' });
    expect(scoreCells(scores, 'bias')).toEqual({ value: '+2', interval: '+1 to +3' });
    expect(scoreCells(scores, 'skillAgainstMean').value).toBe('−20 %');
    expect(scoreCells(scores, 'skillAgainstLast')).toEqual({ value: 'none', interval: '' });
    expect(scoreNumber('rankedProbabilityScore', 12.345)).toBe('12.3');
  });
});
