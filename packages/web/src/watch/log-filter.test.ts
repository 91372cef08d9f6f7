import { loadModel } from '@vole/core';
import { describe, expect, it } from 'vitest';
import { agentNamed, notesWith } from './log-filter.ts';

const notes = [
  { step: 1, agent: 'Vole 1', line: 7, text: 'hungry 0.5' },
  { step: 2, agent: 'Vole 12', line: 7, text: 'Hungry 0.2' },
  { step: 12, agent: '', line: 9, text: 'rain' },
];
const found = (words: string): string[] => notesWith(notes, words).map(({ step, text }) => `${step} ${text}`);

describe('the log of a run', () => {
  it('lists the newest first, those in which all words occur', () => {
    expect(found('')).toEqual(['12 rain', '2 Hungry 0.2', '1 hungry 0.5']);
    expect(found(' hungry ')).toEqual(['2 Hungry 0.2', '1 hungry 0.5']);
    expect(found('vole 12 HUNGRY')).toEqual(['2 Hungry 0.2']);
    expect(found('snow')).toEqual([]);
  });

  it('takes an agent for the one that is named, not for others whose numbers begin so or who wrote the number', () => {
    expect(found('vole 1')).toEqual(['1 hungry 0.5']);
    expect(found('vole 2')).toEqual([]);
    expect(found('vole')).toEqual(['2 Hungry 0.2', '1 hungry 0.5']);
    expect(found('kestrel 1')).toEqual([]);
  });

  it('lists one step where it is asked for', () => {
    expect(found('step 1')).toEqual(['1 hungry 0.5']);
    expect(found('step 2 hungry')).toEqual(['2 Hungry 0.2']);
    expect(found('Step 3')).toEqual([]);
    expect(found('steps')).toEqual([]);
  });

  it('knows agents by their names, also of kinds that are called like what every object has', () => {
    const { plan } = loadModel(
      'model K\nagent Vole\n  start 1\nagent constructor\n  start 1\nmeasure n = count Vole\n',
    ).loaded!;
    expect(agentNamed(plan, 'Vole 12')).toEqual({ kind: 0, number: 12 });
    expect(agentNamed(plan, 'constructor 3')).toEqual({ kind: 1, number: 3 });
    expect([agentNamed(plan, ''), agentNamed(plan, 'Kestrel 1'), agentNamed(plan, 'Vole')]).toEqual([
      undefined,
      undefined,
      undefined,
    ]);
  });
});
