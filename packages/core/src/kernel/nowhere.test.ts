import { describe, expect, it } from 'vitest';
import { compilePlan, Run } from '../index.ts';
import { expectSameKernel, modelOf } from '../../test/kernel-models.ts';
import { firstDifference, planOf, usualValues } from '../../test/models.ts';

/** Agents that may be nowhere, fields at any place, and what is made of tallies, in kernels beside the interpreter. */

const SPACES: readonly string[] = [
  'plane 30 by 20, wrapping',
  'plane 30 by 20, reflecting',
  'grid 30 by 20, wrapping',
  'grid 30 by 20, walled, one agent a cell',
  'grid 30 by 20, wrapping, 6 neighbours',
];

/** Voles that come and go; with `within` on planes, and `in a square of` on grids. */
const NOWHERE: readonly string[] = [
  'if chance(0.3)\n  move to nowhere\nelse if chance(0.4)\n  move to (uniform(0, 29), uniform(0, 19))\nfood = count Vole within 4',
  'with v = random Vole\n  food += 1\n  if chance(0.2)\n    move v to nowhere\nelse\n  move to (uniform(0, 29), uniform(0, 19))\nhunger = count Vole where it.food > 3',
  'with v = nearest Vole\n  hunger = distance(v)\n  if chance(0.3)\n    move to nowhere\nif food > 3\n  move to (uniform(0, 29), uniform(0, 19))\nfood = uniform(0, 4)',
  'with v = random Vole where it.food > food\n  v.food -= 0.5\nif chance(0.3)\n  move to nowhere\nmove by 2\nturn by 20 deg',
  'if chance(0.2)\n  create 1 Vole nowhere\n    food = 2\nif chance(0.3)\n  move to home\nif food < 0\n  remove self\nfood -= 0.6\nhunger = count Vole within 3',
  'with v = Vole with most it.food\n  v.food -= 0.25\n  if chance(0.5)\n    move v to nowhere\nif chance(0.1)\n  move to (uniform(0, 29), uniform(0, 19))\nif any Vole within 5\n  hunger += 1',
];

const AT_PLACES: readonly string[] = [
  'let far = ahead(9)\nscent at far += 0.25\nfood = scent at far',
  'scent at ahead(food * 20) = food\nturn by uniform(-90 deg, 90 deg)\nmove by 1',
  'with o = random Owl\n  scent at o *= 0.5\nscent at ahead(2) += 0.5',
];

/** What those who are nowhere do to a field all at once: there is no cell for it. */
const AT_NOWHERE: readonly string[] = [
  'if chance(0.5)\n  move to nowhere\nscent += 0.25\nscent *= 1.5',
  'if chance(0.5)\n  move to nowhere\nscent = food',
  'if chance(0.5)\n  move to nowhere\nscent at ahead(2) *= 2\nfood += 1\nif scent is scent\n  hunger += 1',
];

/** Who is born among obstacles and in zones. */
const BORN: readonly string[] = [
  'if chance(0.3) and count Vole < 200\n  create 2 Vole here\n    food = 2\nmove by 1.5\nfood -= 0.25\nif food < 0\n  remove self',
  'if chance(0.3)\n  create 1 Vole anywhere\n    food = x\nif chance(0.2)\n  create 1 Owl in zone Patch\nfood -= 0.5\nif food < 0\n  remove self',
  'if chance(0.2)\n  create 1 Vole next to here\n    food = y\nelse if chance(0.3)\n  create 3 Vole at ahead(2)\nif number > 30\n  remove self',
];
const WALLS = 'obstacle Walls on Bank\n  line (3, 1) to (8, 7)\n  box (9, 2) to (10, 6)\n';

const TALLIED: readonly string[] = [
  'add food to eaten\nif count eaten > 0\n  food = mean of eaten\nhunger = count eaten',
  'add food to eaten\nif count eaten > 2\n  food = quantile 80 % of eaten + 0.125 * sd of eaten\n  hunger = max of eaten',
];

function nowhereModel(space: string, behaviour: string, order: string): string {
  const here = space.startsWith('plane') ? behaviour : behaviour.replaceAll(/within \d/g, 'in a square of 2');
  return modelOf(space, here, order).replace('  has hunger = 1', '  has hunger = 1\n  has home = here');
}

function modes(behaviour: string): readonly string[] {
  return /v\.food|move v/.test(behaviour)
    ? ['in turn', 'in fixed order']
    : ['in turn', 'in fixed order', 'all at once'];
}

describe('turns that are kernels', () => {
  it.each(SPACES)('let agents be nowhere, and come back, on a %s', (space) => {
    NOWHERE.forEach((behaviour, i) =>
      modes(behaviour).forEach((mode, m) => {
        expectSameKernel(nowhereModel(space, behaviour, `do ${mode}`), i + m);
      }),
    );
  });

  it.each(SPACES)('write fields at any place on a %s', (space) => {
    AT_PLACES.forEach((behaviour, i) =>
      ['in turn', 'all at once'].forEach((mode, m) => expectSameKernel(modelOf(space, behaviour, `do ${mode}`), i + m)),
    );
  });

  it.each(SPACES)('do nothing to fields where they are nowhere, by whatever code, on a %s', (space) => {
    for (const behaviour of AT_NOWHERE)
      for (const seed of [1, 2, 5, 8]) expectSameKernel(nowhereModel(space, behaviour, 'do all at once'), seed);
  });

  it.each(SPACES)('fail in the same words where they read a field from nowhere, on a %s', (space) => {
    const text = nowhereModel(space, 'move to nowhere\nfood = scent', 'do in turn');
    for (const seed of [1, 2, 5]) expect(firstDifference(planOf(text), seed, 6)).toBe(-1);
    expect(() => new Run(compilePlan(planOf(text)).executable(), usualValues(planOf(text)), 1).next()).toThrow(
      /not a number/,
    );
  });

  it.each(SPACES)('are born among obstacles and in zones on a %s', (space) => {
    BORN.forEach((behaviour, i) => {
      if (behaviour.includes('next to') && space.startsWith('plane')) return;
      ['in turn', 'in fixed order', 'all at once'].forEach((mode, m) => {
        const text = modelOf(space, `${behaviour}\nhunger = count Vole in zone Patch`, `do ${mode}`);
        expectSameKernel(text, i + m);
        expectSameKernel(text.replace('agent Owl', `${WALLS}agent Owl`), i + m);
      });
    });
  });

  it('ask what was added to tallies', () => {
    TALLIED.forEach((behaviour, i) =>
      ['in turn', 'in fixed order', 'all at once'].forEach((mode, m) => {
        const text = modelOf(SPACES[0]!, behaviour, `do ${mode}`).replace('agent Owl', 'tally eaten, kept\nagent Owl');
        expectSameKernel(text, i + m);
      }),
    );
  });
});
