import { describe, expect, it } from 'vitest';
import { applyEdits } from '../src/diagnostics.ts';
import { actByHand, formatModel } from '../src/index.ts';
import type { GeneratedRun } from '../src/index.ts';
import { checkModel } from '../src/language/checker.ts';
import { compiledRun, planOf } from './models.ts';

/** Two spaces in one model, one measured in metres and one in cells. */
const TWO = `model Two spaces
clock
  step 1 day
  end after 20 days
space Meadow: plane 60 m by 40 m, walled
space Yard: grid 12 by 8, one agent a cell
zone Pond on Meadow
  circle 6 m around (20 m, 20 m)
obstacle Wall on Yard
  line (0, 4) to (8, 4)
field grass on Meadow, cells of 2 m
  start 1
agent Vole on Meadow
  start 30 anywhere
  has food = 0
  has friend: Hen = nobody
  behaviour graze
    move by 1 m
    food += grass
agent Hen on Yard
  start 20 one to a cell
  has luck = 0
  behaviour peck
    move to random empty cell next to here
    luck = count Hen within 2
order
  graze in turn
  peck in turn
measure fed = sum of it.food over Vole
measure luck = sum of it.luck over Hen
show Vole: dot
show Hen: dot
`;

function errorsOf(text: string): string[] {
  return checkModel(text)
    .diagnostics.filter((d) => d.severity === 'error')
    .map((d) => `${text.slice(d.span.start, d.span.end)}: ${d.message}`);
}

describe('several spaces', () => {
  it('are right as they stand, and stay so in the usual layout', () => {
    expect(errorsOf(TWO)).toEqual([]);
    expect(formatModel(TWO)).toBe(TWO);
  });

  it.each([
    [
      'a kind that does not say on which it lives',
      'agent Hen on Yard',
      'agent Hen',
      'Hen: The model has several spaces, and Hen does not say on which it lives.',
    ],
    ['a space that is not there', 'agent Hen on Yard', 'agent Hen on Yart', 'Yart: There is no space “Yart”.'],
    [
      'a second space of one name',
      'space Yard: grid 12 by 8, one agent a cell',
      'space Yard: grid 12 by 8, one agent a cell\nspace Yard: grid 3 by 3',
      'Yard: “Yard” is already the name of a space.',
    ],
  ])('report %s, and offer both', (_, from, to, says) => {
    const text = TWO.replace(from, to);
    expect(errorsOf(text)).toContain(says);
    const found = checkModel(text).diagnostics.find((d) => d.severity === 'error')!;
    const mended = (found.fixes ?? []).map((fix) => errorsOf(applyEdits(text, fix.edits)));
    if (to.includes('Yard: grid 3')) return;
    expect(mended).toHaveLength(2);
    expect(mended[1]).toEqual([]);
  });

  it.each([
    ['a distance from one to the other', 'with v = random Vole\n      luck = distance(self, v)', 'v'],
    ['a field of the other', 'luck = grass', 'grass'],
    ['a reach into the other', 'luck = count Vole within 2', 'within 2'],
    ['a zone of the other', 'luck = count Hen in zone Pond', 'in zone Pond'],
    ['the nearest on the other', 'with v = nearest Vole\n      luck = v.food', 'Vole'],
    ['a move to a place of the other', 'with v = random Vole\n      move to v.place', 'v.place'],
    ['a birth here on the other', 'create 1 Vole here', 'here'],
    ['a birth at a place of this one', 'create 1 Vole at here', 'here'],
    ['whether a place lies in a zone of the other', 'luck = if here is in zone Pond then 1 else 0', 'here'],
  ])('have nothing in common: %s', (_, line, piece) => {
    const text = TWO.replace('    luck = count Hen within 2', `    ${line}`);
    const found = checkModel(text).diagnostics.filter((d) => d.severity === 'error');
    expect(found.map((d) => d.code)).toEqual(['type/other-space']);
    expect(text.slice(found[0]!.span.start, found[0]!.span.end)).toBe(piece);
    expect(found[0]!.message).toMatch(
      /lies on (Meadow, but what is asked here lies on Yard|Yard, but what is asked here lies on Meadow)\./,
    );
  });

  it('are each measured in their own unit', () => {
    expect(errorsOf(TWO.replace('move by 1 m', 'move by 1'))[0]).toMatch(/^1: /);
    expect(errorsOf(TWO.replace('within 2', 'within 2 m'))[0]).toMatch(/^2 m: A plain number is expected here/);
  });

  it('are named where nobody stands on one, by what is asked of cells and by `somewhere`', () => {
    const plan = planOf(
      TWO.replace(
        'show Vole',
        'measure wet = count cells on Yard\nmeasure far = (mean of distance(it.place, somewhere in zone Pond) over Vole) / 1 m\nshow Vole',
      ).replace(
        'mean of distance(it.place, somewhere in zone Pond) over Vole',
        'mean of distance(it.place, (0 m, 0 m)) over Vole',
      ),
    );
    const { run } = compiledRun(plan);
    run.runTo(1);
    expect(run.valueAt(1, 2)).toBe(12 * 8);
    expect(run.valueAt(1, 3)).toBeGreaterThan(5);
  });

  it('keep their agents, obstacles and taken cells apart', () => {
    const plan = planOf(TWO);
    const { run, executable } = compiledRun(plan, 3);
    run.runTo(20);
    const [voles, hens] = executable.view().populations;
    expect(Math.max(...voles!.x)).toBeGreaterThan(12);
    const cells = hens!.x.map((x, i) => `${x} ${hens!.y[i]}`);
    expect(new Set(cells).size).toBe(20);
    expect(hens!.y.every((y, i) => y !== 4 || hens!.x[i]! > 8)).toBe(true);
  });

  it('are painted and built on by hand each for itself', () => {
    const plan = planOf(TWO);
    const { run, executable } = compiledRun(plan);
    const generated = executable as GeneratedRun;
    expect(actByHand(run, generated, { is: 'place', kind: 1, x: 3, y: 4 }, 0)).toBe('there is an obstacle');
    expect(actByHand(run, generated, { is: 'place', kind: 0, x: 3, y: 4 }, 1)).toBeUndefined();
    expect(
      actByHand(run, generated, { is: 'paint', zone: 1, inside: false, radius: 0, places: [[3, 4]] }, 2),
    ).toBeUndefined();
    expect(actByHand(run, generated, { is: 'place', kind: 1, x: 3, y: 4 }, 3)).toBeUndefined();
    expect(actByHand(run, generated, { is: 'place', kind: 1, x: 3, y: 4 }, 4)).toBe('the cell is taken');
  });
});
