import type { PosteriorAnswer } from '@vole/core';
import { loadModel, readStudy } from '@vole/core';
import { describe, expect, it } from 'vitest';
import { takesScenarios } from '../studies/scenario-wording.ts';
import { withDraws } from './save-scenarios.ts';

const posterior: NonNullable<PosteriorAnswer['found']>['posterior'] = {
  parameters: ['strike', 'bite', 'kestrels'],
  draws: [
    [0.2, 0.15, 5],
    [0.25, 0.14, 6.123456789],
  ],
  weights: [0.5, 0.5],
  effective: 1.6,
  isAdjusted: true,
  best: [0.21, 0.15, 5],
  method: 'sequential monte carlo',
  tolerance: 1.2,
  rounds: 6,
  accepted: 0.041,
};

describe('draws as scenarios', () => {
  const text = `model M\nparameter strike = 0.2, from 0 to 1\nparameter bite = 0.1\nparameter kestrels = 6\nclock\n  end after 3 steps\nagent V\n  start 1\nmeasure n = count V\n`;
  const { loaded } = loadModel(text);
  const readOf = (study: string) => readStudy(study, { text, loaded: loaded! });

  it('are read as they were drawn, to the last digit that is kept', () => {
    const { study, diagnostics } = readOf(withDraws('', loaded!.plan, 'Counts', posterior));
    expect(diagnostics).toEqual([]);
    const { design } = study!.setting;
    if (design.is !== 'listed') throw new Error('no scenarios');
    expect(design.names).toEqual(['As it is', 'Best of Counts', 'Draw 1 of Counts', 'Draw 2 of Counts']);
    expect(design.points[1]).toEqual([0.21, 0.15, 5]);
    expect(design.points[3]).toContain(6.123456789);
  });

  it('stand beside scenarios that are there, in the place of those saved before', () => {
    const mine = 'study Mine\n  20 seeds each\n\nscenario Many\n  kestrels = 12\n';
    const once = withDraws(mine, loaded!.plan, 'Counts', posterior);
    const twice = withDraws(once, loaded!.plan, 'Counts', posterior);
    const names = (study: string): readonly string[] => {
      const { design } = readOf(study).study!.setting;
      return design.is === 'listed' ? design.names! : [];
    };
    expect(names(once)[0]).toBe('Many');
    expect(names(twice)).toEqual(names(once));
  });

  it('take no text of another study away', () => {
    expect(takesScenarios('')).toBe(true);
    expect(takesScenarios('study A\nscenario B\n')).toBe(true);
    expect(takesScenarios('study A\nvary strike over 0, 1\n')).toBe(false);
  });
});
