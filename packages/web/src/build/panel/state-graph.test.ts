import { describe, expect, it } from 'vitest';
import { stateGraphs } from './state-graph.ts';

const TEXT = `model Graph
clock
  end after 9 steps
agent Vole
  start 5
  states life
    Young
      after 3 steps when 1 > 0: 70 % Grown, rest Lost
    Alive
      chance 0.1: Lost
      Grown
        when 1 > 2: Old
      Old
    Lost
measure n = count Vole where it.life is Lost
`;

describe('the picture of a state machine', () => {
  it('has the inner states, an arrow for each target and each state of a group, and columns by distance from the first', () => {
    const [graph] = stateGraphs(TEXT);
    expect(graph!.nodes.map(({ name, group, column }) => [name, group, column])).toEqual([['Young', undefined, 0], ['Grown', 'Alive', 1], ['Old', 'Alive', 2], ['Lost', undefined, 1]]);
    expect(graph!.arrows.map(({ from, to, trigger }) => `${from} ${to}: ${trigger}`)).toEqual([
      'Young Grown: after 3 steps when 1 > 0', 'Young Lost: after 3 steps when 1 > 0', 'Grown Lost: chance 0.1', 'Old Lost: chance 0.1', 'Grown Old: when 1 > 2',
    ]);
  });

  it('is there while the text is half typed', () => {
    expect(stateGraphs(TEXT.replace('chance 0.1: Lost', 'chance 0.1: Lo'))[0]!.nodes).toHaveLength(4);
    expect(stateGraphs('model')).toEqual([]);
  });
});
