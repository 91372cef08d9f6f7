import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { CONSTRUCT_MODELS } from '../../test/construct-models.ts';
import { EXAMPLE_MAPS } from '../../test/example-maps.ts';
import { applyEdits } from '../diagnostics.ts';
import { checkModel } from './checker.ts';
import { Names } from './rename.ts';

/** The text with what is named at a piece of it (at its first occurrence, or after another piece) called otherwise. */
function renamed(text: string, piece: string, to: string, after = ''): string {
  const from = text.indexOf(after);
  const at = text.indexOf(piece, from + after.length);
  if (from < 0 || at < 0) throw new Error(`no “${after}” and “${piece}” in the text`);
  const { edits, problem } = new Names(text).rename(at, to);
  if (problem) throw new Error(problem);
  const changed = applyEdits(text, edits);
  expect(checkModel(changed, EXAMPLE_MAPS).diagnostics.map((d) => d.code)).toEqual(
    checkModel(text).diagnostics.map((d) => d.code),
  );
  return changed;
}

const TWO_KINDS = `model Names
  Prose that speaks of energy and of rest.
unit sack
parameter strike = 0.2, from 0 to 1 "a chance of energy"
space Field: plane 20 by 20, wrapping
message Call
  has energy = 1
define worth(one) = one * 2
define waste(energy) = energy - 1
agent Vole
  start 5 anywhere
  has energy = 1
  has mood = calm of calm, wild
  has store = 2 sack
  states life
    Rest
      chance strike: Up
      on Call as c when c.energy > 1: Up
    Up
  behaviour eat
    energy += 1
    mood = if energy > 3 then wild else calm
    with other = nearest Owl
      other.energy -= 1
    send Call(energy = worth(energy)) to all Vole
agent Owl
  start 2 anywhere
  has energy = 5
  states life
    Rest
      after 2 steps: Hunt
    Hunt
  behaviour eat
    energy += count Vole as energetic within 3 where energetic.energy > 2
interaction chase: o Owl, v Vole
  within 2
  where v.life is Rest and o.life is Hunt
  v.energy = 0
  v.mood = wild
order
  Vole.eat in turn
  Owl.eat in turn
  Vole.life in turn
  Owl.life in turn
  chase in turn
measure fed = mean of it.energy over Vole
measure woken = entered Vole.Up
summary most = max of fed
chart Fed: fed
check Fed well
  with strike = 0, over 2 seeds for 3 steps
  expect max of fed >= 0 in every run
show Vole: leaf, colour by life
show Owl: wing
`;

describe('renaming', () => {
  it('has a text to work on', () =>
    expect(
      checkModel(TWO_KINDS)
        .diagnostics.filter((d) => d.severity === 'error')
        .map((d) => [d.message, TWO_KINDS.slice(d.span.start, d.span.end)]),
    ).toEqual([]));

  it('changes what is meant, not what merely has the same name', () => {
    const text = renamed(TWO_KINDS, 'energy', 'strength', 'start 5 anywhere');
    expect(text.match(/strength/g)).toHaveLength(7);
    for (const piece of [
      'Prose that speaks of energy',
      'message Call\n  has energy = 1',
      'c.energy > 1',
      'start 2 anywhere\n  has energy = 5',
      'other.energy -= 1',
      'Call(energy = worth(strength))',
      'energetic.strength > 2',
      'mean of it.strength',
      'a chance of energy',
      'waste(energy) = energy - 1',
    ])
      expect(text).toContain(piece);
  });

  it('may give a name that another kind has for a thing of its own', () => {
    const text = renamed(
      renamed(TWO_KINDS, 'energy', 'hunger', 'start 2 anywhere'),
      'energy',
      'hunger',
      'start 5 anywhere',
    );
    expect(text).toContain('other.hunger -= 1');
    expect(text).toContain('Call(energy = worth(hunger))');
  });

  it.each<[string, string, string, string, string[]]>([
    [
      'a kind',
      'Vole',
      'agent ',
      'Shrew',
      [
        'agent Shrew',
        'to all Shrew',
        'count Shrew as',
        'v Shrew\n',
        'Shrew.eat in turn',
        'over Shrew',
        'entered Shrew.Up',
        'show Shrew',
      ],
    ],
    [
      'a state of one of two kinds',
      'Rest',
      'Vole\n',
      'Asleep',
      ['    Asleep\n      chance', 'v.life is Asleep', '    Rest\n      after 2'],
    ],
    [
      'a state where it is counted',
      'Up',
      'entered Vole.',
      'Awake',
      ['chance strike: Awake', 'c.energy > 1: Awake', '    Awake\n  behaviour', 'entered Vole.Awake'],
    ],
    [
      'a state machine of one kind',
      'life',
      'states ',
      'way',
      [
        '  states way\n    Rest\n      chance',
        'v.way is Rest',
        'o.life is Hunt',
        'Vole.way in turn',
        'Owl.life in turn',
        'colour by way',
      ],
    ],
    [
      'a behaviour of one kind',
      'eat\n',
      'behaviour ',
      'graze',
      ['behaviour graze\n    energy += 1', 'Vole.graze in turn', 'Owl.eat in turn'],
    ],
    ['an interaction', 'chase', 'interaction ', 'hunt', ['interaction hunt: o', '  hunt in turn']],
    ['a role', 'o Owl', 'chase: ', 'hunter', ['chase: hunter Owl', 'hunter.life is Hunt']],
    ['a parameter', 'strike', 'chance ', 'luck', ['parameter luck =', 'chance luck: Up', 'with luck = 0']],
    ['a message', 'Call', 'message ', 'Shout', ['message Shout', 'on Shout as c', 'send Shout(']],
    [
      'an attribute of a message',
      'energy',
      'message Call\n  has ',
      'weight',
      ['has weight = 1', 'c.weight > 1', 'Call(weight = worth(energy))'],
    ],
    ['the name of a heard message', 'c when', 'on Call as ', 'heard', ['on Call as heard when heard.energy']],
    [
      'a word of a choice',
      'wild',
      'of calm, ',
      'fierce',
      ['of calm, fierce', 'then fierce else calm', 'v.mood = fierce'],
    ],
    ['a formula', 'worth', 'define ', 'value', ['define value(one)', 'energy = value(energy)']],
    ['an input of a formula', 'one', 'worth(', 'amount', ['worth(amount) = amount * 2']],
    ['an input of a formula that nobody uses', 'energy', 'waste(', 'left', ['waste(left) = left - 1']],
    ['a candidate with a name', 'energetic', ' as ', 'fed_one', ['Vole as fed_one within 3 where fed_one.energy']],
    ['what “with” names', 'other', 'with ', 'near_one', ['with near_one = nearest Owl', 'near_one.energy -= 1']],
    [
      'a measure',
      'fed',
      'measure ',
      'fedness',
      ['measure fedness =', 'max of fedness\n', 'chart Fed: fedness', 'expect max of fedness'],
    ],
    ['a unit of the model', 'sack', 'unit ', 'crate', ['unit crate', '2 crate']],
    ['the space', 'Field', 'space ', 'Heath', ['space Heath:']],
  ])('reaches every place of %s', (_, piece, after, to, expected) => {
    const text = renamed(TWO_KINDS, piece, to, after);
    for (const part of expected) expect(text).toContain(part);
  });

  it('takes both along where one formula reads both', () => {
    const text = TWO_KINDS.replace('define worth(one) = one * 2', 'define worth(one) = one * energy');
    const both = text.replace('    energy += count Vole', '    energy += worth(1) + count Vole');
    expect(renamed(text, 'energy', 'strength', 'start 5 anywhere')).toContain('start 2 anywhere\n  has energy');
    expect(renamed(both, 'energy', 'strength', 'start 5 anywhere')).toContain('start 2 anywhere\n  has strength');
  });

  it.each<[string, string, string, string, RegExp]>([
    ['what is no name', 'strike', 'two words', '', /no name/],
    ['a number', 'strike', '3', '', /no name/],
    ['a word of the language', 'strike', 'count', '', /cannot be the name/],
    ['a name that is taken', 'strike', 'fed', 'parameter ', /cannot be the name/],
    ['two states of one name', 'Up', 'Rest', 'chance strike: ', /cannot be the name/],
    ['prose', 'Prose', 'Words', '', /Nothing that has a name/],
    ['words of the language', 'start', 'begin', '', /Nothing that has a name/],
  ])('refuses %s, with the reason', (_, piece, to, after, problem) => {
    const at = TWO_KINDS.indexOf(piece, TWO_KINDS.indexOf(after) + after.length);
    const renaming = new Names(TWO_KINDS).rename(at, to);
    expect(renaming.problem).toMatch(problem);
    expect(renaming.edits).toEqual([]);
  });

  it('says which name would change its meaning', () => {
    const text =
      'model Hidden\nparameter pace = 2\nagent Vole\n  start 3\n  has age = 0\n  behaviour go\n    let quick = 1\n    age += pace + quick\nmeasure m = mean of it.age over Vole\n';
    expect(new Names(text).rename(text.indexOf('pace'), 'quick').problem).toMatch(/“quick” cannot be the name: /);
  });

  it('goes on in a text with errors elsewhere', () => {
    const text = TWO_KINDS.replace('v.energy = 0', 'v.energy = nonsense');
    const { edits, problem } = new Names(text).rename(text.indexOf('strike'), 'luck');
    expect(problem).toBeUndefined();
    expect(edits).toHaveLength(3);
  });

  it('counts the places, from any of them, at both ends of the name', () => {
    const names = new Names(TWO_KINDS);
    const { spans } = names.named(TWO_KINDS.indexOf('strike'))!;
    expect(spans.map(({ start }) => TWO_KINDS.slice(0, start).split('\n').length)).toEqual([4, 17, 51]);
    for (const { start, end } of spans)
      for (const at of [start, end]) expect(names.named(at)).toEqual({ name: 'strike', spans });
    expect(names.named(0)).toBeUndefined();
  });

  const examples = new URL('../../../../examples/', import.meta.url);
  const models: (readonly [string, string])[] = [
    ...readdirSync(examples)
      .filter((file) => file.endsWith('.vole'))
      .map((file) => [file, readFileSync(new URL(file, examples), 'utf8')] as const),
    ...CONSTRUCT_MODELS,
  ];
  it.each(models)('%s: every declared name can be changed and changed back', (_, text) => {
    const { uses, diagnostics } = checkModel(text, EXAMPLE_MAPS);
    const declared = [...new Set([...uses.values()].flatMap(({ declaredAt }) => [...declaredAt]))].filter((at) =>
      uses.has(at),
    );
    expect(declared.length).toBeGreaterThan(0);
    const names = new Names(text, EXAMPLE_MAPS);
    for (const at of declared) {
      const { edits, problem } = names.rename(at, 'zz_other');
      const name = uses.get(at)!.spelling;
      expect(problem, name).toBeUndefined();
      const changed = applyEdits(text, edits);
      expect(
        checkModel(changed, EXAMPLE_MAPS).diagnostics.map((d) => d.code),
        name,
      ).toEqual(diagnostics.map((d) => d.code));
      const back = new Names(changed, EXAMPLE_MAPS).rename(
        changed.indexOf('zz_other'),
        text.slice(at, at + name.length),
      );
      expect(applyEdits(changed, back.edits).toLowerCase(), name).toBe(text.toLowerCase());
    }
  });
});

describe('names in tables that a text holds', () => {
  const text = `model Tables
clock
  end after 3 steps
data "voles.csv"
  coat;Life;weight
  brown; old ;2
  grey;Young;3
  "grey";Young;4
data "sky.csv"
  step,sky
  0,clear
  1,brown
variable sky from "sky.csv" of clear, brown
agent Vole
  start from "voles.csv"
  has coat = brown of brown, grey
  has weight = 1
  states life
    Young
      after 2 steps: Old
    Old
order
  life in turn
measure grey = count Vole where it.coat is grey and it.weight > 1
measure brown_sky = if sky is brown then 1 else 0
`;

  it('are changed with the names of the text', () => {
    expect(renamed(text, 'Old', 'Worn', 'after 2 steps')).toContain('  brown; Worn ;2\n');
    expect(renamed(text, 'weight', 'mass', 'has')).toContain('  coat;Life;mass\n');
    expect(renamed(text, 'life', 'age', 'states')).toContain('  coat;age;weight\n');
    const dull = renamed(text, 'brown', 'dull', 'sky.csv" of');
    expect(dull).toContain('  1,dull\n');
    expect(dull).toContain('  brown; old ;2\n');
    expect(renamed(text, 'sky', 'weather', 'variable')).toContain('  step,weather\n');
  });

  it('are changed in rasters of words too', () => {
    const moor = `model Moor
space S: grid 2 by 1
field ground on S
  start from "land.asc" of bare, moss
data "land.asc"
  ncols 2
  nrows 1
  moss  Bare
measure bare = count cells where ground is moss
`;
    expect(renamed(moor, 'moss', 'fern', 'of bare')).toContain(
      '  fern  Bare\nmeasure bare = count cells where ground is fern\n',
    );
  });

  it('may be where one begins', () => {
    expect(renamed(text, 'old', 'Worn')).toContain('after 2 steps: Worn');
  });

  it('cannot be told between quotation marks, nor in files beside the text', () => {
    expect(() => renamed(text, 'grey', 'dark', 'has coat')).toThrow('“grey” is no one of brown, dark for coat');
    const beside = text.replace('data "sky.csv"', 'data "other.csv"');
    const files = new Map([['sky.csv', 'step,sky\n0,clear\n1,brown\n']]);
    const { problem } = new Names(beside, files).rename(beside.indexOf('brown', beside.indexOf('sky.csv" of')), 'dull');
    expect(problem).toContain('“brown” is no value for sky');
  });
});
