import { afterEach, describe, expect, it, vi } from 'vitest';
import { CellCounts } from '../src/engine/spaces/cell-counts.ts';
import { firstDifference, planOf } from './models.ts';

/** Counting by adding cells gives what asking everybody gives, whatever turns do to those who are counted. */

const SPACES = {
  'wrapping, one agent a cell': 'grid 14 by 11, 8 neighbours, wrapping, one agent a cell',
  'walled, one agent a cell': 'grid 14 by 11, 4 neighbours, one agent a cell',
  'wrapping, many a cell': 'grid 9 by 17, 8 neighbours, wrapping',
  'walled, in lengths': 'grid 15 by 10, cells of 2 m',
};

/** How those who are counted move, change, come and go in their turns. */
const TURNS: Readonly<Record<string, string>> = {
  'moving and changing': `
    with c = random empty cell in a square of REACH
      move to c
    if out > owls
      mood = Quiet
    else
      mood = Out`,
  'coming and going': `
    if chance(0.1)
      create 1 Vole here
        mood = Held
    if out > 4 and chance(0.5)
      remove self
    move by 2 U
    if chance(0.2)
      mood = Out`,
  'changing and removing others': `
    with v = random Vole within REACH where it.mood is Out
      v.mood = Held
    with v = random Vole in a square of REACH where it.mood is not Held
      v.energy += 1
      if v.energy > 9
        remove v
    if chance(0.3)
      mood = Out`,
  'going nowhere and coming back': `
    if chance(0.1)
      move to nowhere
    if chance(0.1)
      with c = random empty cell
        move to c
    if chance(0.3)
      mood = Out`,
};

function model(space: string, turns: string, mode: string): string {
  const isInLengths = space.includes('cells of');
  return `model Counts
clock
  end after 12 steps
space Field: ${space}
agent Vole
  start 50 anywhere
  has energy = uniform(0, 5)
  has near = 0
  states mood
    start 20 of Out, rest Quiet
    Quiet
    Out
    Held
      after 2 steps: Quiet
  behaviour go
    let owls = count Owl within REACH
    let out = count Vole within REACH where it.mood is Out
    let calm = count Vole in a square of REACH where it.mood is Quiet or it.mood is Held
    near = out + 10 * calm + 100 * owls
    if any Vole within REACH where it.mood is not Quiet
      energy += 0.5${turns}
agent Owl
  start 12 anywhere
  behaviour watch
    with v = random Vole within REACH where it.mood is Out
      v.mood = Held
order
${mode === 'all at once' ? '  Vole.go all at once\n  Owl.watch all at once' : `  Vole.go, Owl.watch ${mode}`}
  mood in turn
measure near = mean of it.near over Vole
measure out = count Vole where it.mood is not Quiet
measure held = count Vole where not (it.mood is Quiet or it.mood is Out)
`
    .replaceAll('square of REACH', 'square of 3')
    .replaceAll('REACH', isInLengths ? '6 m' : '3')
    .replaceAll('2 U', isInLengths ? '4 m' : '2');
}

const COUNTED: [string, string][] = Object.entries(SPACES).flatMap(([name, space]) =>
  Object.entries(TURNS).flatMap(([turn, body]) =>
    ['in turn', 'in fixed order', 'all at once'].map((mode): [string, string] => [
      `${turn}, ${mode}, ${name}`,
      model(space, body, mode),
    ]),
  ),
);

afterEach(() => vi.restoreAllMocks());

describe('counts by cell', () => {
  it.each(COUNTED)('are those of everybody asked: %s', (_, text) => {
    const within = vi.spyOn(CellCounts.prototype, 'within');
    const square = vi.spyOn(CellCounts.prototype, 'inSquare');
    const plan = planOf(text);
    for (const seed of [1, 2]) expect([seed, firstDifference(plan, seed, 8)]).toEqual([seed, -1]);
    for (const { mock } of [within, square]) expect(mock.results.some(({ value }) => value > 0)).toBe(true);
  });
});
