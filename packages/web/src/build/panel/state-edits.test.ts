import { loadModel } from '@vole/core';
import { describe, expect, it } from 'vitest';
import { newStateName, removeState, renameState } from './state-edits.ts';
import { stateGraphs } from './state-graph.ts';

const TEXT = `model Moods
clock
  end after 9 steps
agent Vole
  start 5
  states mood
    Calm
      chance 0.1: Loud
      after 3 steps: 60 % Loud, rest State1
    Loud
      after 2 steps: Calm
      chance 0.5: State1
    State1
      after 1 step: Calm
  behaviour hush when mood is Loud
    mood = Calm
measure n = count Vole where it.mood is Calm
`;
const errorsOf = (text: string): string[] =>
  loadModel(text)
    .diagnostics.filter(({ severity }) => severity === 'error')
    .map(({ message }) => message);
const graph = stateGraphs(TEXT)[0]!;
const nodeOf = (name: string) => graph.nodes.find((node) => node.name === name)!;

describe('a state', () => {
  it('that is new has a name of its own', () => {
    expect(newStateName(graph)).toBe('State2');
    expect(newStateName({ ...graph, nodes: [] })).toBe('State1');
  });

  it('is renamed wherever it is named, unless another has the name', () => {
    const renamed = renameState(TEXT, nodeOf('Loud'), 'Noisy');
    expect(renamed).toEqual({ text: TEXT.replaceAll('Loud', 'Noisy') });
    expect(renameState(TEXT, nodeOf('Loud'), 'Calm')).toMatchObject({
      problem: expect.stringContaining('Calm') as string,
    });
    expect(renameState(TEXT, nodeOf('Loud'), 'two words')).toHaveProperty('problem');
  });

  it('is removed with the lines of other states that lead to it', () => {
    const without = removeState(TEXT, graph, nodeOf('State1'));
    expect(without).not.toContain('State1');
    expect(without).toContain('chance 0.1: Loud');
    expect(errorsOf(without)).toEqual([]);
    expect(stateGraphs(without)[0]!.nodes.map(({ name }) => name)).toEqual(['Calm', 'Loud']);
  });

  it('that a rule or a measure still names is told as missing once it is removed', () => {
    const without = removeState(TEXT, graph, nodeOf('Loud'));
    expect(without).toContain('behaviour hush when mood is Loud');
    expect(errorsOf(without).join()).toMatch(/Loud/);
  });
});
