import { describe, expect, it } from 'vitest';
import { RandomStream } from '../engine/random/stream.ts';
import { Contributions } from '../plan/settling.ts';
import { FACTOR, SETTING, SUM, WriteLog } from './write-log.ts';

/** What many write to one target all at once comes out as it does when each target is settled alone. */

const HOWS = ['=', '*=', '+='] as const;
const CODES = { '=': SETTING, '*=': FACTOR, '+=': SUM } as const;

describe('the log of what is written all at once', () => {
  it('settles every target as its contributions would be, to the bit', () => {
    const luck = RandomStream.of(23, 0, 0);
    const below = (n: number): number => Math.floor((luck.word() / 4294967296) * n);
    for (let round = 0; round < 60; round++) {
      const size = 1 + below(12);
      const log = new WriteLog();
      const alone = Array.from({ length: size }, () => new Contributions());
      for (let i = 0, n = below(200); i < n; i++) {
        const [target, how, value] = [below(size), HOWS[below(3)]!, below(1000) / 7 - 40] as const;
        log.add(5, target, CODES[how], value);
        alone[target]!.add(how, value);
      }
      const before = Float64Array.from({ length: size }, () => below(100) / 3);
      const streamOf = (target: number): RandomStream => RandomStream.of(round, 1, 2, target);
      const wanted = alone.map((contributions, target) =>
        contributions.settle(before[target]!, () => streamOf(target)),
      );
      const values = before.slice();
      if (log.columns.length > 0) log.settleInto(5, values, size, streamOf);
      expect([...values]).toEqual(log.columns.length > 0 ? wanted : [...before]);
    }
  });

  it('of several settings takes each with the same chance', () => {
    const counts = [0, 0, 0];
    for (let seed = 0; seed < 6000; seed++) {
      const log = new WriteLog();
      for (const value of [0, 1, 2]) log.add(1, 0, SETTING, value);
      const values = new Float64Array(1);
      log.settleInto(1, values, 1, () => RandomStream.of(seed, 0, 0));
      counts[values[0]!]!++;
    }
    // Chi-square of two degrees of freedom: 13.8 once in a thousand.
    expect(counts.reduce((sum, count) => sum + (count - 2000) ** 2 / 2000, 0)).toBeLessThan(13.8);
  });

  it('lists the columns that were written to in order, and forgets them', () => {
    const log = new WriteLog();
    for (const column of [9, 2, 9, 4]) log.add(column, 1, SUM, 1);
    expect(log.columns).toEqual([2, 4, 9]);
    expect([...log.targetsOf(9)]).toEqual([1, 1]);
    log.clear();
    expect(log.columns).toEqual([]);
  });
});
