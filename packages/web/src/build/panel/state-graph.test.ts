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
  it('has the inner states, an arrow for each target and each state of a group, and its places like a meander', () => {
    const [graph] = stateGraphs(TEXT);
    expect(graph!.nodes.map(({ name, group, column, row }) => [name, group, column, row])).toEqual([
      ['Young', undefined, 0, 0],
      ['Grown', 'Alive', 1, 0],
      ['Old', 'Alive', 0, 1],
      ['Lost', undefined, 1, 1],
    ]);
    expect(graph!.arrows.map(({ share }) => share)).toEqual(['70 %', 'rest', undefined, undefined, undefined]);
    expect(graph!.arrows.map(({ from, to, trigger }) => `${from} ${to}: ${trigger}`)).toEqual([
      'Young Grown: after 3 steps when 1 > 0',
      'Young Lost: after 3 steps when 1 > 0',
      'Grown Lost: chance 0.1',
      'Old Lost: chance 0.1',
      'Grown Old: when 1 > 2',
    ]);
  });

  it('has what meetings, behaviours and messages change, from the state that their conditions demand', () => {
    const [graph] = stateGraphs(`model Changes
agent Vole
  start 5
  states song
    Quiet
    Humming
      on Rally chance 10 %: Singing
    Singing
  behaviour tire when song is Singing
    song = Quiet
  behaviour startle
    with v = nearest Vole where it.song is Humming and it is not self
      v.song = Quiet
    if chance(0.1)
      song = Humming
  on Hush
    song = Quiet
interaction teach: singer Vole, hearer Vole
  random anyone
  where singer.song is Singing and hearer.song is Quiet
  hearer.song = Humming
message Rally
message Hush
`);
    expect(graph!.arrows.map(({ from, to, trigger, by }) => [from, to, trigger, by])).toEqual([
      ['Humming', 'Singing', 'on Rally chance 10 %', 'message'],
      ['Singing', 'Quiet', 'tire', 'rule'],
      ['Humming', 'Quiet', 'startle', 'rule'],
      [undefined, 'Humming', 'startle', 'rule'],
      [undefined, 'Quiet', 'on Hush', 'rule'],
      ['Quiet', 'Humming', 'teach', 'rule'],
    ]);
  });

  it('is there while the text is half typed', () => {
    expect(stateGraphs(TEXT.replace('chance 0.1: Lost', 'chance 0.1: Lo'))[0]!.nodes).toHaveLength(4);
    expect(stateGraphs('model')).toEqual([]);
  });
});
