import { loadModel } from '@vole/core';
import { describe, expect, it } from 'vitest';
import { describeName } from './describe-name.ts';
import { referenceEntry } from './reference.ts';

const TEXT = `model Names
clock
  step 1 day
  end after 9 days
parameter strike = 0.2 per day, from 0 to 1   "how often"
space S: plane 9 m by 9 m
agent Vole
  start 3 anywhere
  has age = 0 days
  has mother: Vole = nobody
  states life
    Young
      after gamma(mean = 3 days, shape = 2): Old
    Old
measure n = count Vole where it.life is Old and it.age > 1 day and it.mother is nobody
`;
const { model } = loadModel(TEXT).check;

describe('what a word under the pointer stands for', () => {
  it.each([
    ['STRIKE', /parameter, a number per day/, /0\.2 per day/],
    ['age', /attribute of Vole, a number in day/, /has age/],
    ['mother', /points at a Vole, or nobody/, /nobody/],
    ['life', /state machine of Vole/, /Young, Old/],
    ['Old', /state of life/, undefined],
    ['n', /measure/, /count Vole/],
    ['gamma', /distribution, draws/, /gamma\(mean, shape\)/],
    ['after', /word of the language/, undefined],
  ])('%s', (word, what, more) => {
    const found = describeName(model, word, TEXT)!;
    expect(found.what).toMatch(what);
    if (more) expect(found.more).toMatch(more);
  });

  it.each([
    ['after', /States/],
    ['grow', /Space, fields, zones/],
    ['mixing', /Interactions/],
    ['age', /Agents/],
    ['gamma', /./],
    ['timeline', /Order and timeline/],
    ['somewhere', /Expressions/],
  ])('leads from “%s” to its entry in the reference', (word, section) => {
    const entry = referenceEntry(describeName(model, word, TEXT)!.entry!)!;
    expect(entry.section).toMatch(section);
    expect(entry.text.length).toBeGreaterThan(30);
    expect(entry.text.length).toBeLessThan(430);
  });

  it.each([
    ['square', /7 by 7 = 49 cells/],
    ['cross', /13 cells/],
    ['mixing', /so many meetings in which an agent acts/],
  ])('tells what “%s” counts', (word, said) => {
    expect(referenceEntry(word)!.text).toMatch(said);
  });

  it('means, of two things of one name, the one at its place', () => {
    const two = `model Two
message Call
  has strength = 2
agent Vole
  start 3
  has strength = 1
  on Call as c
    strength += c.strength
  behaviour try_it
    let pull = strength
    with other = random Owl
      other.strength -= pull
    send Call to all Vole
agent Owl
  start 2
  has strength = 5
network Kin ties Vole to Vole: none
  has bond = 1
measure s = mean of it.strength over Vole
measure b = mean of it.bond over ties by Kin
`;
    const { model: both } = loadModel(two).check;
    const at = (piece: string, word = 'strength'): string =>
      describeName(both, word, two, two.indexOf(piece) + piece.lastIndexOf(word))!.what;
    expect(
      [
        at('has strength = 2'),
        at('    strength'),
        at('c.strength'),
        at('other.strength'),
        at('it.strength'),
        at('has strength = 5'),
      ].map((what) => what.replace(/, a number/, '')),
    ).toEqual([
      'attribute of the message Call',
      'attribute of Vole',
      'attribute of the message Call',
      'attribute of Owl',
      'attribute of Vole',
      'attribute of Owl',
    ]);
    expect(at('it.bond', 'bond')).toMatch(/attribute of a tie of Kin/);
    expect(describeName(both, 'pull', two, two.indexOf('-= pull') + 3)).toMatchObject({
      name: 'pull',
      what: 'a name given here:',
      more: 'let pull = strength',
    });
    expect(at('Call to all', 'Call')).toBe('message');
  });

  it('says nothing of a word that is nothing', () =>
    expect(describeName(model, 'anywhere_else', TEXT)).toBeUndefined());
});
