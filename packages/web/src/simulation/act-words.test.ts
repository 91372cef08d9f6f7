import type { HandAct } from '@vole/core';
import { loadModel, valueWords } from '@vole/core';
import { describe, expect, it } from 'vitest';
import { actWords, orderLineName } from './act-words.ts';

const { plan } = loadModel(`model Acts
clock
  step 1 day
  end after 9 days
parameter strike = 0.2 per day, from 0 to 1 per day
parameter breeding = yes
space Field: plane 20 m by 20 m, wrapping
field grass on Field, cells of 2 m
  grow 1 per day
obstacle Wall on Field
  box (1 m, 1 m) to (2 m, 2 m)
message Call
behaviour weather
  log strike
agent Vole
  start 3 anywhere
  has age = 3 days
  has coat = brown of brown, grey
  states life
    Pup
      after 3 days: Adult
    Adult
  on Call
    age += 1 day
  behaviour go
    move by 1 m
order
  weather
  go in turn
  life in turn
  grass
measure m = count Vole
`).loaded!;

describe('acts by hand in words', () => {
  it.each<[string, HandAct, number | undefined, string]>([
    ['a parameter', { is: 'set parameter', parameter: 0, value: 0.5 }, 0.2, 'strike 0.2 per day to 0.5 per day'],
    ['a parameter of yes and no', { is: 'set parameter', parameter: 1, value: 0 }, 1, 'breeding yes to no'],
    [
      'a parameter whose value before is not known',
      { is: 'set parameter', parameter: 1, value: 0 },
      undefined,
      'breeding no',
    ],
    ['painting', { is: 'paint', zone: 0, inside: true, radius: 1, places: [[1, 1]] }, undefined, 'painted Wall'],
    ['clearing', { is: 'paint', zone: 0, inside: false, radius: 1, places: [[1, 1]] }, undefined, 'cleared Wall'],
    ['placing', { is: 'place', kind: 0, x: 1, y: 1 }, undefined, 'placed a Vole'],
    ['a rule switched off', { is: 'switch', line: 1, on: false }, undefined, 'Vole.go off'],
    ['a field switched on', { is: 'switch', line: 3, on: true }, undefined, 'grass on'],
    ['moving', { is: 'move', kind: 0, number: 2, x: 1, y: 1 }, undefined, 'moved Vole 2'],
    ['removing', { is: 'remove', kind: 0, number: 2 }, undefined, 'removed Vole 2'],
    ['sending', { is: 'send', kind: 0, number: 2, message: 0 }, undefined, 'sent Call to Vole 2'],
    ['a state', { is: 'set state', kind: 0, number: 2, machine: 0, state: 1 }, undefined, 'made Vole 2 Adult'],
    [
      'an attribute with a unit',
      { is: 'set attribute', kind: 0, number: 2, column: 0, value: 5 },
      undefined,
      'Vole 2: age 5 days',
    ],
    ['a choice', { is: 'set attribute', kind: 0, number: 2, column: 1, value: 1 }, undefined, 'Vole 2: coat grey'],
  ])('%s', (_, act, from, words) => expect(actWords(plan, { step: 4, act, from })).toBe(words));

  it('name the lines of the order as the text does', () => {
    expect(plan.schedule.map((_, line) => orderLineName(plan, line))).toEqual([
      'weather',
      'Vole.go',
      'Vole.life',
      'grass',
    ]);
  });

  it('show values in their unit, and nothing for a choice that is none', () => {
    expect(valueWords({ type: 'number', unitFactor: 7, unitLabel: 'weeks' }, 21)).toBe('3 weeks');
    expect(valueWords({ type: 'choice', options: ['calm'], unitFactor: 1, unitLabel: '' }, 4)).toBe('');
    const friend = { type: 'agent', of: 'Vole', unitFactor: 1, unitLabel: '' };
    expect([valueWords(friend, 7), valueWords(friend, 0)]).toEqual(['Vole 7', 'nobody']);
  });
});
