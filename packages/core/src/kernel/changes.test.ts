import { describe, expect, it, vi } from 'vitest';
import { expectSameKernel, modelOf } from '../../test/kernel-models.ts';
import { firstDifference, planOf, usualValues } from '../../test/models.ts';
import { compilePlan, Run } from '../index.ts';

/** Machines that others set all at once, changed by kernels beside the interpreter. */

const SET: readonly string[] = [
  'with v = random Vole\n  v.mood = Wild',
  'with v = random Vole\n  if food > 2\n    v.mood = Wild\n  else\n    v.mood = Tired',
  'with v = random Vole where it.mood is Tired\n  v.mood = Calm\nwith v = random Vole\n  v.mood = Tired',
  'for each v in Vole within 3\n  if v.food > food\n    v.mood = Wild',
  'with v = random Vole\n  v.mood = Wild\nif food > 3.5\n  remove self\nelse if food < 0.2\n  create 1 Vole here\n    food = 2',
];

/** What an agent does as it becomes wild, and as it ceases to be. */
const BECOMING: readonly string[] = [
  '',
  '      enter\n        food += 1\n        hunger = normal(0, 1)\n',
  '      enter\n        if chance(0.5)\n          food = hunger\n      leave\n        hunger = count Vole where it.mood is Wild\n',
];
/** Such a change is left to the generated code. */
const BEYOND = '      enter\n        hunger = count Vole within 4\n';

function changesModel(behaviour: string, becoming: string, many = 40): string {
  return modelOf('plane 30 by 20, wrapping', behaviour, 'do all at once')
    .replace('    Wild\n', `    Wild\n${becoming}`)
    .replace('start 40 anywhere', `start ${many} anywhere`);
}

/** Of a run of some steps, how often the generated code changed a machine. */
function changedByCode(text: string): number {
  const plan = planOf(text);
  const executable = compilePlan(plan).executable();
  const changed = vi.spyOn(executable, 'changeState');
  const run = new Run(executable, usualValues(plan), 3);
  run.runTo(4);
  expect(executable.kernelEngine).toBe('WebAssembly');
  expect(run.valueAt(4, 1)).toBeGreaterThan(0);
  return changed.mock.calls.length;
}

describe('machines that others set all at once', () => {
  it.each(SET)('change by a kernel: %s', (behaviour) => {
    BECOMING.forEach((becoming, i) => expectSameKernel(changesModel(behaviour, becoming), i));
  });

  it('are changed by a kernel where many are, and by code where few are, or it asks for more than is at hand', () => {
    const one = 'with v = random Vole\n  v.mood = Wild';
    expect(changedByCode(changesModel(one, BECOMING[1]!))).toBe(0);
    expect(changedByCode(changesModel(one, BEYOND))).toBeGreaterThan(0);
    const few = `if number < 4\n  ${one.replace('\n', '\n  ')}`;
    expect(changedByCode(changesModel(few, BECOMING[1]!, 400))).toBeGreaterThan(0);
    for (const text of [changesModel(one, BEYOND), changesModel(few, BECOMING[1]!, 400)]) expectSameKernel(text, 2);
  });

  it('are the same where two machines of an agent are set', () => {
    const text = changesModel('with v = random Vole\n  v.mood = Wild\n  v.life = Old', BECOMING[1]!).replace(
      '  states mood',
      '  states life\n    Young\n    Old\n      enter\n        food = hunger + 1\n  states mood',
    );
    expectSameKernel(text, 1);
  });

  it('are changed by code where the line is left to it, as too many stand in a circle', () => {
    const behaviour = 'if (count Vole within 12) > 2\n  with v = random Vole\n    v.mood = Wild';
    const text = modelOf('grid 12 by 10, 8 neighbours, wrapping', behaviour, 'do all at once');
    const plan = planOf(text.replace('    Wild\n', `    Wild\n${BECOMING[1]}`));
    const executable = compilePlan(plan).executable();
    new Run(executable, usualValues(plan), 1).runTo(3);
    expect(executable.linesByKernel.has(0)).toBe(false);
    expect(firstDifference(plan, 1, 6)).toBe(-1);
  });

  it('fail with the same words', () => {
    const plan = planOf(changesModel(SET[0]!, '      enter\n        hunger = log(food - 3)\n'));
    const run = new Run(compilePlan(plan).executable(), usualValues(plan), 1);
    expect(() => run.runTo(6)).toThrow('“log” came out as not a number for Vole');
    expect(firstDifference(plan, 1, 6)).toBe(-1);
  });
});
