import { describe, expect, it } from 'vitest';
import { CONSTRUCT_MODELS } from './construct-models.ts';
import { generateModel } from './model-generator.ts';
import type { GeneratedScript } from '../src/index.ts';
import { compilePlan } from '../src/index.ts';
import { compiledRun, failureOf, firstDifference, planOf, stateText } from './models.ts';

const GENERATED = 500;

describe('interpreter and generated code give the same states to the bit', () => {
  for (const [title, text] of CONSTRUCT_MODELS) {
    it(`on the model “${title}”`, () => {
      const plan = planOf(text);
      for (const seed of [7, 8, 9]) expect([seed, firstDifference(plan, seed, 25)]).toEqual([seed, -1]);
    });
  }

  it.each(CONSTRUCT_MODELS)('on the model “%s”, with code that tells what an agent goes through', (_, text) => {
    const plan = planOf(text);
    const [plain, told] = [compiledRun(plan, 7), compiledRun(plan, 7, compilePlan(plan, true))];
    (told.script as GeneratedScript).trace.listenTo(0, 1);
    for (let step = 0; step < 25; step++) {
      expect(stateText(told.script, told.run)).toBe(stateText(plain.script, plain.run));
      const failures = [plain, told].map(({ run }) => failureOf(() => run.next()));
      expect(failures[1]).toBe(failures[0]);
      if (failures[0] !== undefined) return;
    }
  });

  it(`on ${GENERATED} generated models`, () => {
    const failing: string[] = [];
    for (let seed = 1; seed <= GENERATED; seed++) {
      const step = firstDifference(planOf(generateModel(seed)), seed, 12);
      if (step >= 0) failing.push(`seed ${seed} at step ${step}`);
    }
    expect(failing).toEqual([]);
  }, 300_000);
});
