import { expect, it } from 'vitest';
import { planOf } from '../../test/models.ts';
import { CompiledPlan } from './compiled-plan.ts';

/** A little of everything that code is generated for, on a space of each form. */
const model = (space: string): string => `model Voles and a scent
clock
  step 1 day
  end after 30 days
parameter bite = 0.2, from 0 to 1
space Bank: ${space}
field scent on Bank
  start 0
  fade 10 % per day
agent Vole
  start 20 anywhere
  has energy = 1
  states health
    start 3 of Ill, rest Well
    Well
    Ill
      rate 0.1 per day: Well
  behaviour roam
    turn by normal(0 deg, 30 deg)
    move by 1
    scent at here += 1
    if energy < 0.1
      remove self
  behaviour feed
    with other = nearest Vole within 2
      other.energy -= bite * energy
interaction cough: a Vole, b Vole
  within 2
  where a.health is Ill and b.health is Well
  chance 0.3
  b.health = Ill
order
  roam in turn
  feed all at once
  cough in turn
  health in turn
  scent
measure ill = count Vole where it.health is Ill
`;

it.each([
  ['plane', 'plane 20 by 20, wrapping, cells of 1'],
  ['grid', 'grid 20 by 20, 8 neighbours, walled'],
  ['hexagons', 'grid 20 by 20, 6 neighbours, reflecting'],
])('the code of a small model on a %s is the one that was read and found right', async (form, space) => {
  await expect(new CompiledPlan(planOf(model(space))).source).toMatchFileSnapshot(`./golden/${form}.js.txt`);
});
