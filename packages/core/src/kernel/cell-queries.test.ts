import { describe, expect, it } from 'vitest';
import { compilePlan, Run } from '../index.ts';
import { expectSameKernel, isKernel, modelOf } from '../../test/kernel-models.ts';
import { firstDifference, planOf, usualValues } from '../../test/models.ts';

const PLANES = [
  'plane 9 by 8, wrapping, cells of 1',
  'plane 9.5 by 7.25, walled, cells of 0.75',
  'plane 2 by 9, wrapping, cells of 1',
  'plane 9 by 8.5, reflecting, cells of 1',
];
const GRIDS = [
  'grid 9 by 8, 8 neighbours, wrapping, one agent a cell',
  'grid 9 by 8, 8 neighbours, reflecting, one agent a cell',
  'grid 8 by 7, 4 neighbours, wrapping',
  'grid 8 by 7, 4 neighbours, walled',
  'grid 9 by 8, 6 neighbours, wrapping, one agent a cell',
  'grid 9 by 7, 6 neighbours, walled, one agent a cell',
  'grid 9 by 8, 6 neighbours, reflecting',
];

/** What is made of the cells around, or of all. */
const BODIES: readonly string[] = [
  'food = count cells next to here where scent at it > 0.5\nhunger = count cells within 2.5',
  'if any cells in a cross of 2 where scent at it > 0.9\n  food += 1\nhunger = count cells where scent at it > hunger / 2',
  'food = sum of (scent at it) over cells within 2\nhunger = mean of (scent at it) over cells in a square of 1',
  'food = sum of (scent at it) over cells in a cross of 3 where scent at it > 0.2\nscent += 0.25',
  'food = sum of (scent at it * it.x + it.y) over cells where scent at it < 0.4',
  'hunger = max of (distance(it) + scent at it) over cells next to here',
  'for each c in cells within 1.5\n  scent at c *= 0.9\n  food += scent at c',
  'for each c in cells next to here where scent at it > 0.3\n  if chance(0.4)\n    scent at c += 0.1',
  'with c = cells within 2 with most scent at it\n  food = scent at c\n  scent at c = 0',
  'with c = cells in a square of 2 with least floor(scent at it * 3)\n  move to c\n  hunger = x + y',
  'with c = cells with most floor(scent at it * 3)\n  scent at c -= 0.5\n  food = distance(c)',
  'with c = first cells within 2 where scent at it > 0.4\n  food = scent at c\nelse\n  hunger += 1',
  'with c = first cells where scent at it > food / 2\n  hunger = scent at c',
  'with c = nearest cells where scent at it > 0.6\n  move toward c by 1',
  'with c = nearest cells within 3 where scent at it > 0.6\n  move to c\n  food += 1',
  'with c = random cells\n  scent at c += 0.25\nwith d = random cells where scent at it > 1\n  food += 1',
  'with c = random cells where scent at it > 2.5\n  food = scent at c\nelse\n  scent += 0.5',
  'with c = cells within 2 with most (sum of (scent at it) over cells next to it)\n  food = scent at c',
  'food = sum of (scent at it) over cells in zone Patch where scent at it > 0.2\nscent += 0.25\nhunger = count cells in zone Patch',
  'with c = random cells in zone Patch where (count cells next to it where scent at it > 0.4) > 1\n  scent at c -= 0.2\nelse\n  food += 1',
  'with c = cells in zone Patch with most floor(scent at it * 3)\n  scent at c -= 0.5\n  food = distance(c)',
  'food = count cells where (it.y, it.x) is in zone Patch and scent at it > 0.3\nscent += 0.25',
  'with c = first cells where it is in zone Patch and scent at it > food / 3\n  hunger = scent at c',
  'for each c in cells in a cross of 1\n  food += count cells next to c where scent at it < 0.5',
  'for each c in cells where scent at it > 0.7\n  scent at c *= 0.9\n  food += scent at c',
  'for each c in cells in zone Patch where scent at it > 0.3\n  scent at c *= 0.9\n  food += scent at c',
  'with c = random cells within 2 weighted by scent at it\n  food += scent at c\n  scent at c *= 0.5',
  'with c = random cells next to here where scent at it > 0.4 weighted by max(0, (scent at it) - 0.6)\n  move to c\nelse\n  hunger += 1',
  'with c = random cells weighted by it.y * scent at it\n  food = distance(c)\n  scent at c -= 0.1',
  'with c = random cells in zone Patch weighted by (count cells next to it where scent at it > 0.5)\n  scent at c -= 0.2\nelse\n  food += 1',
];

/** What only planes have: places that are no middles of cells, and reaches that change. */
const ON_PLANES: readonly string[] = [
  'food = count cells within (food * 0.7) of (x + 0.3, y)\nturn by 40 deg\nmove by 1.3',
  'for each c in cells here\n  scent at c *= 0.5\n  food += scent at c',
  'with c = random cells within 2.25\n  move toward c by 0.4\n  hunger = distance(c)',
  'with c = cells within 1.7 of ahead(2) with most scent at it\n  turn to c\n  move by 0.5\n  scent at c -= 0.1',
  'food = count cells within 40\nhunger = sum of it.x over cells in a square of 30',
];

/** One number of many that needs them all. */
const OF_MANY: readonly string[] = [
  'food = sd of (scent at it) over cells within 2\nhunger = median of (scent at it + it.y) over cells',
  'if count cells next to here > 1\n  food = quantile 75 % of (scent at it) over cells next to here',
];

/** What asks for empty cells. */
const EMPTY: readonly string[] = [
  'with c = random empty cell\n  move to c\nfood = count empty cells next to here',
  'with c = empty cells within 2 with most scent at it\n  move to c\n  scent = 0',
  'with c = random empty cells within 2 weighted by scent at it\n  move to c\nelse\n  food += 1',
  'for each c in empty cells in zone Patch\n  scent at c += 0.01 * hunger\n  food += scent at c',
  'with c = random empty cell where scent at it > 0.7\n  move to c\nelse\n  food += 1',
  'with c = random empty cells in zone Patch where scent at it > 0.4\n  move to c\nelse\n  food += 1',
  'with c = first empty cells\n  move to c\nhunger = count empty cells',
  'with c = nearest empty cells where scent at it > 0.5\n  move to c\nif any empty cells in a square of 1\n  food = 0',
];

function asksOf(space: string): readonly string[] {
  const all = [...BODIES, ...OF_MANY];
  if (space.startsWith('plane')) return [...all, ...ON_PLANES];
  return space.includes('one agent') ? [...all, ...EMPTY] : all;
}

describe('cells that are asked for in turns', () => {
  it.each([...GRIDS, ...PLANES])('are what the interpreter says on a %s', (space) => {
    asksOf(space).forEach((behaviour, i) =>
      ['in turn', 'all at once'].forEach((mode, m) => expectSameKernel(modelOf(space, behaviour, `do ${mode}`), i + m)),
    );
  });

  it('are drawn among all that fit where most do not', () => {
    const crowded = modelOf(GRIDS[0]!, EMPTY[0]!).replace('start 40', 'start 64');
    for (const seed of [1, 2, 3]) expectSameKernel(crowded, seed);
  });

  it('are found by nobody where there are none', () => {
    const full = modelOf(GRIDS[1]!, EMPTY[0]!).replace('start 40', 'start 65');
    expectSameKernel(full, 1);
  });

  it('are left to other code where steps meet round the edge, to the same end', () => {
    const text = modelOf(GRIDS[0]!, 'with c = cells within 5 with most scent at it\n  food = scent at c');
    expect(isKernel(text)).toBe(true);
    const executable = compilePlan(planOf(text)).executable();
    new Run(executable, usualValues(planOf(text)), 1).next();
    expect(executable.linesByKernel.has(0)).toBe(false);
    for (const seed of [1, 2, 3]) expect(firstDifference(planOf(text), seed, 6)).toBe(-1);
  });
});
