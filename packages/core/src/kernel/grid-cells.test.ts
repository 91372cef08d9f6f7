import { describe, expect, it } from 'vitest';
import { compilePlan, Run } from '../index.ts';
import { expectSameKernel, isKernel, modelOf } from '../../test/kernel-models.ts';
import { firstDifference, planOf, usualValues } from '../../test/models.ts';

const SQUARES = ['wrapping', 'walled', 'reflecting'].flatMap((edge) =>
  [4, 8].map((neighbours) => `grid 13 by 11, ${neighbours} neighbours, ${edge}, one agent a cell`),
);
const GRIDS = [
  ...SQUARES,
  ...['wrapping', 'walled', 'reflecting'].map((edge) => `grid 13 by 14, 6 neighbours, ${edge}, one agent a cell`),
];

/** What is asked of those around, and done to them. */
const BODIES: readonly string[] = [
  'food = count Vole within 2\nhunger = count Owl within 3',
  'food = count Vole within 2.5 where it.mood is Wild\nif food > 1\n  mood = Tired',
  'food = count Vole in a square of 2 where it.mood is not Calm\nif any Owl in a square of 1\n  mood = Wild',
  'food = count Vole in a cross of 4\nif any Vole next to here where it.mood is Tired or it.mood is Wild\n  mood = Calm',
  'food = count Vole next to here\nhunger = count Owl here',
  'food = count Vole within 5 where it.food > hunger',
  'with v = random Vole within 3 where it.mood is Wild\n  v.mood = Calm\n  v.food += 1\nelse\n  mood = Wild',
  'with v = random Vole next to here\n  v.mood = Wild\n  food = count Vole within 2 of v where it.mood is Wild',
  'for each v in Vole within 2 where it.mood is Calm\n  v.food += 0.25',
  'with o = nearest Owl\n  food = count Vole within 3 of o',
  'food = count Vole within (rate * 6)\nhunger = count Owl in a square of (rate * 10)',
  'food = count Vole in a square of 1.9999999999\nhunger = count Owl in a cross of (rate * 10 - 0.0000000001)',
  'food = count Vole within 0\nhunger = count Owl in a square of 0.5',
];

/** What changes who stands where. */
const MOVING: readonly string[] = [
  'with c = random empty cell in a square of 2\n  move to c\nfood = count Vole within 3 where it.mood is Wild',
  'turn by uniform(-90 deg, 90 deg)\nmove by 1\nhunger = count Vole within 2',
  'with c = random empty cell next to here\n  move to c\n  with v = random Vole within 2 where it.mood is Calm\n    v.mood = Wild',
  'with c = random empty cell within 1 where scent at it > 2.9\n  move to c\nelse\n  food += 1\nscent *= 0.9',
  'with c = random cell in a cross of 3 where scent at it > 0.5\n  move to c\nfood = count Vole within 1',
  'let before = count Owl within 2\nmove by 2\nfood = before - count Owl within 2\nif any Vole within 1 where it.mood is Tired\n  mood = Wild',
];

/** Who comes and goes, one after another. */
const COMING_AND_GOING: readonly string[] = [
  'if chance(0.3)\n  move to somewhere\nif chance(0.2)\n  create 2 Owl anywhere\nfood = count Owl within 2\nif food > 3\n  with o = nearest Owl\n    remove o',
  'food -= 0.5\nif food < 0\n  remove self\nhunger = count Vole within 2',
  'with c = random empty cell next to here\n  if chance(0.4)\n    create 1 Vole at c\n      food = 3\n      mood = Wild\nfood = count Vole within 2 where it.mood is Wild',
  'with v = random Vole next to here\n  remove v\n  move by 1\nif chance(0.3)\n  create 2 Vole at ahead(2)\nhunger = count Vole in a square of 1',
  'create 1 Owl here\nif (count Owl within 3) > 4\n  with o = random Owl within 3\n    remove o\nwith c = random empty cell in a square of 2\n  move to c',
];

describe('turns on cells that hold one agent each', () => {
  it.each(GRIDS)('let agents come and go on a %s', (space) => {
    COMING_AND_GOING.forEach((behaviour, i) =>
      ['in turn', 'in fixed order'].forEach((mode, m) =>
        expectSameKernel(modelOf(space, behaviour, `do ${mode}`), i + m),
      ),
    );
  });

  it.each(GRIDS)('go as the interpreter says on a %s', (space) => {
    [...BODIES, ...MOVING].forEach((behaviour, i) =>
      ['in turn', 'all at once'].forEach((mode, m) => expectSameKernel(modelOf(space, behaviour, `do ${mode}`), i + m)),
    );
  });

  it('reach as far as half the grid and over many words of cells, also where sizes are parameters', () => {
    const asked = 'food = count Vole within 20 where it.mood is Wild\nhunger = count Owl in a square of 17';
    for (const space of [
      'grid 41 by 43, 8 neighbours, wrapping, one agent a cell',
      'grid 41 by 43, walled, one agent a cell',
    ])
      expectSameKernel(modelOf(space, `move by 1\n${asked}`), 3);
    const sized = modelOf(
      GRIDS[0]!,
      'move by rate\nfood = count Vole within 2\nwith c = random empty cell within 2\n  move to c',
    )
      .replace('grid 13 by 11', 'grid wide by 11')
      .replace('parameter rate', 'parameter wide = 13, whole\nparameter rate');
    expectSameKernel(sized, 3);
  });

  it('are left to other code where a reach meets itself round the edge', () => {
    const text = modelOf(GRIDS[1]!, 'food = count Vole within 6\nmove by 1');
    expect(isKernel(text)).toBe(true);
    const executable = compilePlan(planOf(text)).executable();
    new Run(executable, usualValues(planOf(text)), 1).next();
    expect(executable.linesByKernel.has(0)).toBe(false);
    for (const seed of [1, 2, 3]) expect(firstDifference(planOf(text), seed, 6)).toBe(-1);
  });

  it('are left to other code while a cell holds more than one, to the same end', () => {
    const plan = planOf(
      modelOf(GRIDS[3]!, 'with c = random empty cell in a square of 4\n  move to c\nfood = count Vole within 2'),
    );
    const [byKernel, other] = [compilePlan(plan), compilePlan(plan, true)].map((compiled) => {
      const executable = compiled.executable();
      const run = new Run(executable, usualValues(plan), 1);
      // As a changed model or an obstacle may leave it.
      const { x, y } = executable.state.populations[1]!;
      for (const slot of [1, 2]) [x[slot], y[slot]] = [x[0]!, y[0]!];
      executable.state.countCells();
      return { executable, run, lines: [] as boolean[] };
    });
    for (const { executable, run, lines } of [byKernel!, other!])
      for (let step = 0; step < 4; step++) {
        run.next();
        lines.push(executable.linesByKernel.has(0));
      }
    expect(byKernel!.lines).toEqual([false, true, true, true]);
    expect(other!.lines).not.toContain(true);
    expect(byKernel!.executable.view()).toEqual(other!.executable.view());
  });
});
