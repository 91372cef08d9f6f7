import { describe, expect, it } from 'vitest';
import { CONSTRUCT_MODELS } from './construct-models.ts';
import { generateModel } from './model-generator.ts';
import { firstDifference, planOf } from './models.ts';

const GENERATED = 500;

describe('interpreter and generated code give the same states to the bit', () => {
  for (const [title, text] of CONSTRUCT_MODELS) {
    it(`on the model “${title}”`, () => {
      const plan = planOf(text);
      for (const seed of [7, 8, 9]) expect([seed, firstDifference(plan, seed, 25)]).toEqual([seed, -1]);
    });
  }

  it(`on ${GENERATED} generated models`, () => {
    const failing: string[] = [];
    for (let seed = 1; seed <= GENERATED; seed++) {
      const step = firstDifference(planOf(generateModel(seed)), seed, 12);
      if (step >= 0) failing.push(`seed ${seed} at step ${step}`);
    }
    expect(failing).toEqual([]);
  }, 300_000);
});
