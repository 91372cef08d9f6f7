import type { GeneratedRun } from '@vole/core';
import { compilePlan, loadModel, Run } from '@vole/core';
import { beforeAll, describe, expect, it } from 'vitest';
import { loadForces, NetworkLayout } from './network-layout.ts';

function started(maker: string, count = 30, more = ''): { executable: GeneratedRun; run: Run } {
  const { plan } = loadModel(
    `model Ties\nagent Vole\n  start ${count}\n${more}network Web ties Vole to Vole: ${maker}\nmeasure m = count Vole\n`,
  ).loaded!;
  const executable = compilePlan(plan).executable();
  return { executable, run: new Run(executable, [], 4) };
}
function settled(executable: GeneratedRun, layout = new NetworkLayout()): NetworkLayout {
  for (let i = 0; i < 400 && (i === 0 || !layout.isAtRest); i++) layout.settle(executable, clock());
  return layout;
}
/** A clock by which each look at it is a millisecond. */
function clock(): () => number {
  let time = 0;
  return () => time++;
}
const apart = (layout: NetworkLayout, a: number, b: number): number => {
  const [p, q] = [layout.placeOf(0, a)!, layout.placeOf(0, b)!];
  return Math.hypot(p.x - q.x, p.y - q.y);
};
const mean = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;

beforeAll(loadForces);

describe('the layout of a network', () => {
  it('comes to rest with the tied nearer to each other than others are, and nobody on another', () => {
    const { executable } = started('groups of 5');
    const layout = settled(executable);
    expect(layout.isAtRest).toBe(true);
    const pairs = Array.from({ length: 30 }, (_, a) => Array.from({ length: 30 }, (_, b) => [a + 1, b + 1] as const))
      .flat()
      .filter(([a, b]) => a < b);
    const tied = new Set(executable.state.tiedTo(0).flatMap((list, a) => list.map((b) => `${a + 1} ${b + 1}`)));
    const [near, far] = [true, false].map((is) =>
      mean(pairs.filter(([a, b]) => tied.has(`${a} ${b}`) === is).map(([a, b]) => apart(layout, a, b))),
    ) as [number, number];
    expect(near).toBeLessThan(far / 2);
    expect(Math.min(...pairs.map(([a, b]) => apart(layout, a, b)))).toBeGreaterThan(1);
  });

  it('is the same for the same network', () => {
    const places = (): string => {
      const { executable } = started('small world, 4 neighbours, rewired 10 %');
      const layout = settled(executable);
      return Array.from({ length: 30 }, (_, i) =>
        Object.values({ ...layout.placeOf(0, i + 1) })
          .slice(0, 3)
          .join(),
      ).join(';');
    };
    expect(places()).toBe(places());
  });

  it('moves those who stay only a little when one goes', () => {
    const { executable, run } = started(
      'ring, 4 neighbours',
      30,
      '  behaviour go\n    if number is 7\n      remove self\n',
    );
    const layout = settled(executable);
    const before = Array.from({ length: 30 }, (_, i) => ({ ...layout.placeOf(0, i + 1)! }));
    run.next();
    settled(executable, layout);
    expect(layout.placeOf(0, 7)).toBeUndefined();
    const moved = before.flatMap((place, i) =>
      i === 6 ? [] : [Math.hypot(layout.placeOf(0, i + 1)!.x - place.x, layout.placeOf(0, i + 1)!.y - place.y)],
    );
    expect(mean(moved)).toBeLessThan(layout.side / 8);
  });

  it('of very many agents is a spiral in the order of their numbers, at once', () => {
    const { executable } = started('ring, 2 neighbours', 4000);
    const layout = new NetworkLayout();
    layout.settle(executable, clock());
    expect(layout.isAtRest).toBe(true);
    const fromMiddle = [1, 1000, 4000].map((number) =>
      Math.hypot(layout.placeOf(0, number)!.x - 50, layout.placeOf(0, number)!.y - 50),
    );
    expect(fromMiddle[0]).toBeLessThan(fromMiddle[1]!);
    expect(fromMiddle[1]).toBeLessThan(fromMiddle[2]!);
    expect(fromMiddle[2]).toBeLessThanOrEqual(50);
  });

  it('takes no longer than its share of a frame', () => {
    const { executable } = started('random, mean degree 6', 2000);
    const layout = new NetworkLayout();
    let looks = 0;
    layout.settle(executable, () => looks++);
    expect(looks).toBeLessThan(12);
    expect(layout.isAtRest).toBe(false);
  });
});
