import { describe, expect, it } from 'vitest';
import { compilePlan, loadModel } from '../load.ts';
import { expectationWords, runCheck } from './checks.ts';

const MODEL = `model Leak
clock
  step 1 day
  end after 10 days
parameter leak = 1, from 0 to 9
parameter spare = 2
variable level = 100
behaviour drip
  level -= if now >= 4 days then leak else 0
agent Vole
  start 1
order
  drip
measure left_ = level
`;

function outcomeOf(check: string) {
  const { loaded, diagnostics } = loadModel(`${MODEL}check The tank\n${check}`);
  expect(diagnostics.filter(({ severity }) => severity === 'error')).toEqual([]);
  return runCheck(compilePlan(loaded!.plan), loaded!.plan.checks[0]!);
}

describe('a check', () => {
  it('tells what it saw in every run, and with which values', () => {
    const outcome = outcomeOf(
      '  with leak = 0, over 3 seeds\n  expect always left_ is 100 in every run\n  expect last of left_ from 99 to 101\n',
    );
    expect(outcome).toMatchObject({ holds: true, seeds: 3, parameters: [0, 2] });
    const [always, last] = outcome.expectations;
    expect(always).toMatchObject({ holds: true, values: [1, 1, 1], against: [] });
    expect(always!.bounds).toBeUndefined();
    expect(last).toMatchObject({ values: [100, 100, 100], bounds: { low: 99, high: 101 } });
  });

  it('tells from which step on it did not hold, to be looked at there', () => {
    const outcome = outcomeOf(
      '  over 2 seeds\n  expect always left_ is 100 in every run\n  expect min of left_ from 98 to 101 in every run\n',
    );
    expect(outcome.holds).toBe(false);
    const [always, least] = outcome.expectations;
    // The first drop falls in the step that begins after four days, the third one is too many.
    const first = always!.against[0]!.step!;
    expect(always!.against).toEqual([
      { seed: 1, step: first },
      { seed: 2, step: first },
    ]);
    expect(first).toBeGreaterThanOrEqual(4);
    expect(first).toBeLessThanOrEqual(5);
    expect(least!.against[0]!.step).toBe(first + 2);
    expect(expectationWords(always!)).toMatch(/0 of 2 runs; not with seed 1, 2$/);
  });

  it('of a mean outside its bounds has no run without one to blame', () => {
    const outcome = outcomeOf('  over 2 seeds\n  expect last of left_ from 0 to 3\n');
    expect(outcome.expectations[0]).toMatchObject({
      holds: false,
      found: expect.stringMatching(/^mean 9\d/) as string,
    });
    expect(outcome.expectations[0]!.against.map(({ step }) => step)).toEqual([0, 0]);
  });

  it('keeps the first few steps only, and all seeds', () => {
    const { expectations } = outcomeOf('  over 12 seeds\n  expect ever left_ > 200 in every run\n');
    expect(expectations[0]!.against).toHaveLength(12);
    expect(expectations[0]!.against.filter(({ step }) => step !== undefined)).toHaveLength(8);
    expect(expectationWords(expectations[0]!)).toMatch(/seed 1, 2, 3, 4, 5, 6, 7, 8 \.\.\.$/);
  });
});
