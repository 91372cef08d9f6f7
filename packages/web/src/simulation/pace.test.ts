import { describe, expect, it } from 'vitest';
import { Pace } from './pace.ts';

/** Plays for some milliseconds with a turn at each `every`; gives how many steps were taken. */
function played(pace: Pace, clock: { now: number }, milliseconds: number, every: number): number {
  let steps = 0;
  for (const end = clock.now + milliseconds; clock.now < end; clock.now += every)
    for (pace.due(clock.now); pace.owes && steps < 10_000; steps++) pace.stepped();
  return steps;
}

function pacer(stepsPerSecond: number) {
  const clock = { now: 1000 };
  const pace = new Pace(() => clock.now);
  pace.set(stepsPerSecond);
  pace.start();
  return { clock, pace };
}

describe('the pace of a run', () => {
  it('takes as many steps a second as are wanted, however often there is a turn', () => {
    for (const every of [1, 7, 16, 40]) {
      const { clock, pace } = pacer(30);
      expect(Math.abs(played(pace, clock, 2000, every) - 60)).toBeLessThanOrEqual(2);
    }
    const { clock, pace } = pacer(0.5);
    expect(played(pace, clock, 5999, 100)).toBe(2);
  });

  it('says when the next step falls due', () => {
    const { clock, pace } = pacer(4);
    pace.due(clock.now);
    expect([pace.owes, pace.pause]).toEqual([false, 250]);
    clock.now += 200;
    pace.due(clock.now);
    expect(pace.pause).toBeCloseTo(50, 9);
    pace.set(Infinity);
    expect([pace.owes, pace.pause]).toEqual([true, 0]);
  });

  it('makes up for a quarter of a second at most, and for nothing of the time while it stood still', () => {
    const { clock, pace } = pacer(40);
    clock.now += 60_000;
    pace.due(clock.now);
    let made_up = 0;
    for (; pace.owes; made_up++) pace.stepped();
    expect(made_up).toBe(11);
    clock.now += 60_000;
    pace.start();
    pace.due(clock.now);
    expect(pace.owes).toBe(false);
  });

  it('measures the steps of every half second', () => {
    const { clock, pace } = pacer(20);
    played(pace, clock, 3000, 10);
    expect(pace.rate).toBeCloseTo(20, -0.5);
    played(pace, clock, 2000, 1000);
    expect(pace.rate).toBeLessThan(10);
  });
});
