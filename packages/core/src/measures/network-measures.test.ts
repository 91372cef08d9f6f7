import { describe, expect, it } from 'vitest';
import { RandomStream } from '../engine/random/stream.ts';
import { componentSizes, meanClustering, meanPathLength, networkMeasure } from './network-measures.ts';

/** Measures of networks against their definitions, written out without a thought for speed. */

function randomGraph(n: number, share: number, seed: number): number[][] {
  const luck = RandomStream.of(seed, 0, 0);
  const ties = Array.from({ length: n }, () => [] as number[]);
  for (let a = 0; a < n; a++) {
    for (let b = a + 1; b < n; b++) {
      if (luck.word() / 4294967296 >= share) continue;
      ties[a]!.push(b);
      ties[b]!.push(a);
    }
  }
  return ties.map((list) => list.sort((p, q) => p - q));
}

/** Shortest ways between all pairs, after Floyd and Warshall. */
function allWays(ties: readonly (readonly number[])[]): number[][] {
  const far = ties.map((list, a) => ties.map((_, b) => (a === b ? 0 : list.includes(b) ? 1 : Infinity)));
  for (let via = 0; via < ties.length; via++) {
    for (let a = 0; a < ties.length; a++)
      for (let b = 0; b < ties.length; b++) far[a]![b] = Math.min(far[a]![b]!, far[a]![via]! + far[via]![b]!);
  }
  return far;
}

describe('measures of a network', () => {
  it.each([
    [20, 0.03],
    [25, 0.08],
    [30, 0.2],
    [12, 0.6],
  ])('of %i agents with a share of ties of %f are what their definitions say', (n, share) => {
    for (let seed = 1; seed <= 8; seed++) {
      const ties = randomGraph(n, share, seed);
      const far = allWays(ties);
      const parts = new Set(far.map((row) => row.map((way) => (Number.isFinite(way) ? 1 : 0)).join('')));
      expect(networkMeasure('components', ties)).toBe(parts.size);
      expect(componentSizes(ties).reduce((sum, size) => sum + size, 0)).toBe(n);
      expect(networkMeasure('largest component', ties)).toBe(
        Math.max(...far.map((row) => row.filter(Number.isFinite).length)),
      );
      const ways = far.flatMap((row, a) => row.filter((way, b) => a !== b && Number.isFinite(way)));
      const mean = ways.reduce((sum, way) => sum + way, 0) / ways.length;
      if (ways.length > 0) expect(networkMeasure('mean path', ties)).toBeCloseTo(mean, 12);
      expect(networkMeasure('diameter', ties)).toBe(ways.length > 0 ? Math.max(...ways) : NaN);
      const inverse = far.flatMap((row, a) => row.filter((_, b) => a !== b).map((way) => 1 / way));
      expect(networkMeasure('efficiency', ties)).toBeCloseTo(
        inverse.reduce((sum, each) => sum + each, 0) / inverse.length,
        12,
      );
      const clustering = ties.map((list) => {
        if (list.length < 2) return 0;
        const pairs = list.flatMap((p, i) => list.slice(i + 1).map((q) => (ties[p]!.includes(q) ? 1 : 0)));
        return pairs.reduce<number>((sum, closed) => sum + closed, 0) / pairs.length;
      });
      expect(meanClustering(ties)).toBeCloseTo(clustering.reduce((sum, c) => sum + c, 0) / n, 12);
    }
  });

  it('of a ring, a star and of nobody', () => {
    const ring = Array.from({ length: 8 }, (_, i) => [(i + 7) % 8, (i + 1) % 8]);
    expect([networkMeasure('components', ring), networkMeasure('clustering', ring)]).toEqual([1, 0]);
    expect([networkMeasure('diameter', ring), networkMeasure('largest component', ring)]).toEqual([4, 8]);
    expect(meanPathLength(ring, [0])).toBeCloseTo((1 + 1 + 2 + 2 + 3 + 3 + 4) / 7, 12);
    const star = [[1, 2, 3], [0], [0], [0]];
    expect(meanPathLength(star, [0, 1, 2, 3])).toBeCloseTo((3 + 3 * 5) / 12, 12);
    expect(componentSizes([[], [], []])).toEqual([1, 1, 1]);
    expect(meanPathLength([[], []], [0, 1])).toBeNaN();
    expect(meanClustering([])).toBeNaN();
    // Of nobody, and of two who do not know one another.
    for (const which of ['mean path', 'diameter', 'efficiency'] as const) expect(networkMeasure(which, [])).toBeNaN();
    expect([networkMeasure('diameter', [[], []]), networkMeasure('efficiency', [[], []])]).toEqual([NaN, 0]);
    expect([networkMeasure('largest component', []), networkMeasure('largest component', [[], []])]).toEqual([0, 1]);
  });

  it('do not depend on the order of the agents, to the bit', () => {
    const ties = randomGraph(40, 0.06, 9);
    const place = ties.map((_, i) => (i * 17) % 40);
    const moved: number[][] = ties.map(() => []);
    ties.forEach((list, i) => (moved[place[i]!] = list.map((other) => place[other]!).sort((p, q) => p - q)));
    for (const which of ['mean path', 'diameter', 'efficiency', 'largest component'] as const)
      expect(networkMeasure(which, moved)).toBe(networkMeasure(which, ties));
  });
});
