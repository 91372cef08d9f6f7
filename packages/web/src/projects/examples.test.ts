import { compilePlan, loadModel, looksOf, modelFiles, Run } from '@vole/core';
import { describe, expect, it } from 'vitest';
import { EXAMPLES } from './examples.ts';
import { NEW_MODEL } from '../storage/new-model.ts';

describe('a new project', () => {
  const { loaded, diagnostics } = loadModel(NEW_MODEL);
  it('has six lines without a finding, and draws its agents', () => {
    expect(NEW_MODEL.trimEnd().split('\n')).toHaveLength(6);
    expect(diagnostics).toEqual([]);
    expect(looksOf(loaded!.plan, 'paper').map((look) => look.shown)).toEqual([true]);
  });
  it('moves everybody in its first step, and ends', () => {
    const executable = compilePlan(loaded!.plan).executable();
    const run = new Run(executable, [], 1);
    const places = () => {
      const { x, y } = executable.view().populations[0]!;
      return Array.from(x, (value, i) => `${value} ${y[i]}`);
    };
    const before = places();
    run.next();
    expect(places().filter((place, i) => place === before[i])).toEqual([]);
    run.runTo();
    expect([run.step, run.hasEnded]).toEqual([1000, true]);
  });
});

describe('the examples', () => {
  it.each(EXAMPLES.map((example) => [example.name, example] as const))(
    '%s has a sentence, no finding, and says that its data are made up',
    async (name, { text, about, map }) => {
      expect(about).toMatch(/^[A-Z].*[.?]$/);
      const files = await modelFiles(map ? [[map.name, await map.text()]] : []);
      expect(loadModel(text, files).diagnostics).toEqual([]);
      expect(text).toMatch(new RegExp(`^model ${name}$`, 'm'));
      expect(text).toMatch(/made up/);
    },
  );
});
