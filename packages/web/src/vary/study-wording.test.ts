import { loadModel, pointAt, pointCount, readStudy } from '@vole/core';
import { describe, expect, it } from 'vitest';
import { withScenario } from '../studies/scenario-wording.ts';
import { BEGINNINGS, beginningOf, wordingOf } from './study-wording.ts';

const models = {
  'a model of all kinds of parameters': `model M
clock
  step 1 day
  end after 3 days
parameter strike = 2 per week, from 0 to 7
parameter door = ajar of shut, ajar
parameter calm = yes
parameter nests = 4, whole from 1 to 20
agent A
  start 1
measure m = 1
summary s = last of m
`,
  'a model of one switch':
    'model M\nclock\n  end after 3 steps\nparameter calm = yes\nagent A\n  start 1\nmeasure m = 1\nsummary s = last of m\n',
  'a number at its upper bound':
    'model M\nclock\n  end after 3 steps\nparameter p = 1, from 0 to 1\nagent A\n  start 1\nmeasure m = p\nsummary s = last of m\n',
  'a number without bounds that is 0':
    'model M\nclock\n  end after 3 steps\nparameter p = 0\nagent A\n  start 1\nmeasure m = p\nsummary s = last of m\n',
};

describe.each(Object.entries(models))('of %s', (_, text) => {
  const loaded = loadModel(text).loaded!;

  it.each(BEGINNINGS)('“%s” begins with a text that can be run at once', (beginning) => {
    const { study, diagnostics } = readStudy(beginningOf(loaded.plan, beginning), { text, loaded });
    expect(diagnostics).toEqual([]);
    expect(pointCount(study!.setting.design)).toBeGreaterThan(1);
  });
});

describe('the text of a study', () => {
  const text = models['a model of all kinds of parameters'];
  const loaded = loadModel(text).loaded!;

  it('says what the sentence said', () => {
    const factors = [
      { parameter: 'strike', values: [0, 3.5] },
      { parameter: 'door', values: [0, 1] },
      { parameter: 'calm', values: [0, 1] },
    ];
    const written = wordingOf(loaded.plan, { name: 'strike and door', factors, seeds: [1, 2, 3] });
    const { study } = readStudy(written, { text, loaded });
    expect(study).toMatchObject({ name: 'strike and door', setting: { design: { factors, seeds: [1, 2, 3] } } });
  });

  it('takes the values of Watch as a further scenario', () => {
    const begun = beginningOf(loaded.plan, 'scenarios');
    const written = withScenario(begun, loaded.plan, 'As in Watch', {
      strike: 3 * loaded.plan.parameters[0]!.unitFactor,
      calm: 0,
      door: 0,
    });
    const { design } = readStudy(written, { text, loaded }).study!.setting;
    expect(design).toMatchObject({ names: ['As it is', 'Otherwise', 'As in Watch'] });
    expect(pointAt(design, 2).values).toEqual([3, 0, 0]);
  });
});
