import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { checkModel } from '../src/language/checker.ts';
import { compiledRun, firstDifference, planOf } from './models.ts';

const REFERENCE = readFileSync(new URL('../../../docs/language.md', import.meta.url), 'utf8');
const examples = [...REFERENCE.matchAll(/```vole\n([\s\S]*?)```/g)].map((match) => match[1]!);

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
  it('have nothing that the checker doubts', () => expect(examples.flatMap((text) => checkModel(text).diagnostics.map((d) => d.message))).toEqual([]));
});
