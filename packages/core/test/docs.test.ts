import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { applyEdits } from '../src/diagnostics.ts';
import { checkModel } from '../src/language/checker.ts';
import { compiledRun, firstDifference, planOf } from './models.ts';

const REFERENCE = readFileSync(new URL('../../../docs/language.md', import.meta.url), 'utf8');
const examples = [...REFERENCE.matchAll(/```vole\n([\s\S]*?)```/g)].map((match) => match[1]!);

describe('the Meadow year as it was first written, before it was tuned', () => {
  const text = readFileSync(new URL('fixtures/meadow-as-first-written.vole', import.meta.url), 'utf8');
  it('is right but for two doubts, each with a repair', () => {
    const { diagnostics, model } = checkModel(text);
    expect(model).toBeDefined();
    expect(diagnostics.map((d) => [d.code, d.severity])).toEqual([
      ['order/machine', 'warning'],
      ['doubt/not-shown', 'warning'],
    ]);
    const repaired = applyEdits(
      text,
      diagnostics.flatMap((d) => d.fixes![0]!.edits),
    );
    expect(checkModel(repaired).diagnostics).toEqual([]);
  });
  it('runs its two years, the same in both engines', () => {
    const plan = planOf(text);
    const { run } = compiledRun(plan, 1);
    run.runTo();
    expect(run.step).toBe(730);
    expect(firstDifference(plan, 1, 20)).toBe(-1);
  });
});

describe('the examples of docs/language.md', () => {
  it('are there', () => expect(examples.length).toBeGreaterThanOrEqual(2));
  for (const text of examples) {
    it(`“${text.split('\n')[0]}” is right, runs to its end, and both engines agree`, () => {
      expect(checkModel(text).diagnostics.filter((d) => d.severity === 'error')).toEqual([]);
      const plan = planOf(text);
      const { run } = compiledRun(plan, 3);
      run.runTo();
      expect(run.hasEnded).toBe(true);
      expect(run.step).toBeGreaterThan(10);
      expect(firstDifference(plan, 3, 25)).toBe(-1);
    });
  }
  it('have nothing that the checker doubts', () =>
    expect(examples.flatMap((text) => checkModel(text).diagnostics.map((d) => d.message))).toEqual([]));
});
