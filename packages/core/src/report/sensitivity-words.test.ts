import type { Sensitivity } from '../studies/answers/sensitivity.ts';
import { describe, expect, it } from 'vitest';
import { pairOf, ranked, sensitivitySentences, sensitivityTable } from './sensitivity-words.ts';

type Index = Sensitivity['indices'][number];
const index = (factor: string, name: Index['index'], value: number, low = NaN, high = NaN): Index => ({
  factor,
  index: name,
  value,
  low,
  high,
});
const answer = (luck: number, ...indices: Index[]): Sensitivity => ({ indices, luck, points: 30 });

describe('what sensitivity indices say', () => {
  it('of variance: shares alone, the largest first, with intervals, and luck', () => {
    const told = answer(
      0.31,
      index('bite', 'first index', 0.05, 0, 0.1),
      index('strike', 'first index', 0.46, 0.41, 0.51),
      index('bite', 'total index', 0.2, 0.1, 0.3),
      index('strike', 'total index', 0.6, 0.5, 0.7),
    );
    expect(sensitivitySentences(told, 'peak')).toEqual([
      'Of what differs between points in peak, strike alone explains 46 % (41 to 51), bite alone explains 5 % (0 to 10).',
      'Of the variance over all runs 31 % is luck, within points.',
    ]);
    expect(pairOf(told)!.light).toBe('total index');
    expect(ranked(told, 'total index').map(({ factor }) => factor)).toEqual(['strike', 'bite']);
    expect(sensitivityTable(told, 'peak').at(-1)).toEqual(['', 'peak', 'share of luck', 0.31, NaN, NaN]);
  });

  it('of few points: that the intervals are wide', () => {
    const told = answer(0.004, index('bite', 'first index', 0.3, -0.1, 0.8));
    expect(sensitivitySentences(told, 'peak').slice(1)).toEqual([
      'Of the variance over all runs less than 1 % is luck, within points.',
      'The intervals are wide; four times as many points would halve them.',
    ]);
  });

  it('of effects: by how much, in the unit of the summary', () => {
    const told = answer(
      NaN,
      index('bite', 'size of effects', 120.4, 90, 150),
      index('bite', 'mean of effects', -120.4),
      index('bite', 'spread of effects', 20),
    );
    expect(sensitivitySentences(told, 'peak')).toEqual([
      'Over its whole range, bite moves peak by 120 (90 to 150).',
      'With one seed a point, luck cannot be told from what the factors do.',
    ]);
  });

  it('of ranks: which way, and of which no effect is seen', () => {
    const told = answer(
      0.2,
      index('bite', 'partial rank correlation', -0.812, -0.9, -0.7),
      index('strike', 'partial rank correlation', 0.1, -0.2, 0.4),
      index('bite', 'rank correlation', -0.7, -0.8, -0.6),
    );
    expect(sensitivitySentences(told, 'peak')[0]).toBe(
      'Peak falls with bite (-0.81, -0.90 to -0.70); of strike no effect is seen.',
    );
  });

  it('of a summary that never changes: that nothing matters for it; of no indices nothing', () => {
    expect(sensitivitySentences(answer(NaN, index('bite', 'first index', NaN)), 'peak')[0]).toBe(
      'peak is the same at all points, so nothing matters for it here.',
    );
    expect(sensitivitySentences(answer(0.1), 'peak')).toEqual([]);
  });
});
