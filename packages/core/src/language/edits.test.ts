import { describe, expect, it } from 'vitest';
import { checkModel } from './checker.ts';
import { addState, addToModel, addTransition, movePart, redrawZone, removeBlock, replaceLine } from './edits.ts';

const TEXT = `model Edits
  Voles and energy, in prose.

clock
  end after 20 steps
parameter gain = 2   # how much
space S: plane 20 by 20, wrapping
agent Vole
  start 5 anywhere
  has energy = 1   # stays
  states life
    Young
      after 3 steps: Old
    Old
  behaviour eat
    energy += gain
order
  eat in turn
  life in turn
measure e = sum of it.energy over Vole where it.life is Old
show Vole: leaf
`;

const errors = (text: string) =>
  checkModel(text)
    .diagnostics.filter((d) => d.severity === 'error')
    .map((d) => d.message);

describe('edits of the text by views', () => {
  it('puts each piece of an addition where its like stands, and leaves what is there', () => {
    const text = addToModel(TEXT, {
      kind: 'vole',
      parameters: ['parameter stride = 1', 'parameter gain = 99'],
      attributes: ['has energy = 7', 'has age = 0'],
      blocks: ['behaviour eat\n  age += stride', 'states life\n  Nothing'],
      parts: ['interaction meet: a Vole, b Vole\n  within 2\n  b.energy += 1'],
      order: ['eat in turn', 'meet in turn'],
      timeline: ['at 5 steps: gain = 3'],
    });
    expect(errors(text)).toEqual([]);
    expect(text).toContain('parameter gain = 2   # how much\nparameter stride = 1\nspace');
    expect(text).toContain('  has energy = 1   # stays\n  has age = 0\n  states');
    expect(text).toContain('    energy += gain\n  behaviour eat_2\n    age += stride\ninteraction meet');
    expect(text).toContain(
      '  life in turn\n  eat_2 in turn\n  meet in turn\ntimeline\n  at 5 steps: gain = 3\nmeasure',
    );
    expect(text.match(/has energy/g)).toHaveLength(1);
  });

  it('moves a part with what stands under it', () => {
    const text = movePart(TEXT, TEXT.indexOf('order'), TEXT.indexOf('agent'));
    expect(errors(text)).toEqual([]);
    expect(text.indexOf('order\n  eat in turn\n  life in turn\nagent')).toBeGreaterThan(0);
    expect(movePart(text, text.indexOf('order'), text.indexOf('measure'))).toBe(TEXT);
    expect(movePart(TEXT, TEXT.indexOf('space'), undefined).endsWith('space S: plane 20 by 20, wrapping\n')).toBe(true);
  });

  it('draws a zone anew, with lines under it or without', () => {
    const text = TEXT.replace(
      'agent Vole',
      'obstacle Wall on S   "by hand"\n  circle 2 around (3, 3)\nzone Pond on S\nagent Vole',
    );
    const drawn = redrawZone(redrawZone(text, 'wall', ['box (1, 1) to (2, 2)', 'box (4, 1) to (4, 3)']), 'Pond', [
      'box (7, 7) to (8, 8)',
    ]);
    expect(errors(drawn)).toEqual([]);
    expect(drawn).toContain(
      'obstacle Wall on S   "by hand"\n  box (1, 1) to (2, 2)\n  box (4, 1) to (4, 3)\nzone Pond on S\n  box (7, 7) to (8, 8)\nagent Vole',
    );
    expect(redrawZone(text, 'Hedge', ['box (1, 1) to (2, 2)'])).toBe(text);
  });

  it('adds and removes states and transitions', () => {
    let text = addState(TEXT, 'Vole', 'life', 'Gone');
    text = addTransition(text, 'Vole', 'life', 'Old', 'chance 0.1: Gone');
    expect(text).toContain('    Old\n      chance 0.1: Gone\n    Gone\n  behaviour');
    expect(errors(text)).toEqual([]);
    text = replaceLine(text, text.indexOf('chance 0.1'), 'chance 0.5: Gone');
    text = removeBlock(text, text.indexOf('after 3 steps'));
    expect(text).toContain('    Young\n    Old\n      chance 0.5: Gone\n');
    expect(addState(TEXT, 'Owl', 'life', 'Gone')).toBe(TEXT);
    expect(addTransition(TEXT, 'Vole', 'life', 'None', 'chance 1: Old')).toBe(TEXT);
  });
});
