import { describe, expect, it } from 'vitest';
import { planOf } from '../../test/models.ts';
import { simulate } from '../studies/runner/simulate.ts';
import { compilePlan } from '../load.ts';

/** Rises to 12 on day 6 and falls again; on day 9 there is nobody, so that the mean is of nothing. */
const HEAD = `model Hill
clock
  step 1 day
  end after 10 days
parameter scale = 2
variable height = 0
behaviour climb
  height += if now < 6 days then scale else -scale
agent Vole
  start 2
  has age = 1
  behaviour leave_early
    if now >= 8 days
      remove self
order
  climb
  leave_early in turn
measure hill = height
measure high = height > 7
measure age = mean of it.age over Vole
`;
const HILL = [0, 2, 4, 6, 8, 10, 12, 10, 8, 6, 4];
const mean = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;

function summary(expression: string): number {
  const outcome = simulate(compilePlan(planOf(`${HEAD}summary found = ${expression}\n`)), {
    parameters: [2],
    seed: 1,
    every: 1,
  });
  return (outcome as { result: { summaries: Float64Array } }).result.summaries[0]!;
}

describe('summaries of a run', () => {
  it.each<[string, number]>([
    ['max of hill', 12],
    ['min of hill', 0],
    ['sum of hill', 70],
    ['mean of hill', 70 / 11],
    ['median of hill', 6],
    ['sd of hill', Math.sqrt(HILL.reduce((sum, v) => sum + (v - 70 / 11) ** 2, 0) / 10)],
    ['quantile 90 % of hill', 10],
    ['time of max of hill', 6],
    ['time of min of hill', 0],
    ['first time hill > 7', 4],
    ['first time hill > 99', NaN],
    ['last of hill', 4],
    ['hill at 3 days', 6],
    ['hill at 99 days', NaN],
    ['mean of hill over last 3 days', mean([8, 6, 4])],
    ['max of hill over last 99 days', 12],
    ['mean of (if high then 1 else 0)', 5 / 11],
    ['max of (hill * scale + 1)', 25],
    ['max of (-hill)', 0],
    ['min of abs(hill - 5)', 1],
    ['max of age', 1],
    ['last of age', NaN],
    ['mean of age', 1],
    ['first time age < 0.5', NaN],
    ['first time age > 0.5', 0],
    ['last of age > 0.5 and hill at 3 days > 99', 0],
    ['if last of age > 0.5 then 1 else 0', NaN],
    ['time of max of age', 0],
    ['(max of hill) - (last of hill)', 8],
    ['(max of hill) / (hill at 1 day)', 6],
    ['if (max of hill) > 9 then 1 else 2', 1],
    ['(max of hill) ^ 2', 144],
    ['growth rate of hill over first 2 days', Math.LN2],
    ['growth rate of hill over last 2 days', Math.log(4 / 6)],
    ['growth rate of (hill - hill)', NaN],
    ['period of hill', NaN],
    ['spells of hill > 5', 1],
    ['mean spell of hill > 5', 7],
    ['mean spell of hill >= 0', NaN],
    ['longest spell of hill >= 0', 11],
    ['longest spell of not (hill > 5)', 3],
    ['mean peak of hill while hill > 5', 12],
    ['2 * spells of hill > 5', 2],
  ])('%s is %d', (expression, expected) => {
    const found = summary(expression);
    if (Number.isNaN(expected)) expect(found).toBeNaN();
    else expect(found).toBeCloseTo(expected, 12);
  });

  it.each<[string, boolean]>([
    ['ever hill > 11', true],
    ['ever hill > 12', false],
    ['always hill >= 0', true],
    ['always hill > 0', false],
    ['ever high and always hill < 13', true],
    ['not ever high', false],
    ['ever high or always high', true],
    ['last of high', false],
    ['(max of hill) > 3 and (min of hill) < 1', true],
  ])('%s is %s', (expression, expected) => expect(summary(expression)).toBe(expected ? 1 : 0));
});
