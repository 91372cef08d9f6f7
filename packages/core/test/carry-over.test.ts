import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import type { GeneratedRun } from '../src/index.ts';
import { compilePlan, loadModel, Run } from '../src/index.ts';
import { carryOver } from '../src/runs/carry-over.ts';
import { CONSTRUCT_MODELS } from './construct-models.ts';
import { generateModel } from './model-generator.ts';
import { failureOf, usualValues } from './models.ts';

/** A run that goes on with an edited text keeps what still fits, and is the same to the bit where the edit changes nothing. */

function loadedOf(text: string) {
  const { loaded, diagnostics } = loadModel(text);
  if (!loaded) throw new Error(diagnostics.map((d) => d.message).join('\n'));
  return loaded;
}

function standing(text: string, step: number, seed = 1) {
  const { plan } = loadedOf(text);
  const executable = compilePlan(plan).executable();
  const run = new Run(executable, usualValues(plan), seed);
  run.runTo(step);
  return { plan, executable, run };
}

function carried(from: ReturnType<typeof standing>, text: string) {
  const loaded = loadedOf(text);
  const result = carryOver(from, loaded, compilePlan(loaded.plan));
  if (typeof result === 'string') throw new Error(result);
  return { ...result, plan: loaded.plan };
}

/** The state and the rows of some measures. */
function comparable(executable: GeneratedRun, run: Run, measures: readonly string[]): string {
  const at = measures.map((name) => executable.plan.measures.findIndex((measure) => measure.name === name));
  const rows = Array.from({ length: run.rowCount }, (_, row) => at.map((m) => String(run.valueAt(row, m))));
  return JSON.stringify(
    [
      executable.view(),
      rows,
      [...executable.context.variables],
      [...executable.context.entered],
      [...executable.context.left],
      executable.context.refused,
      run.step,
      run.hasEnded,
    ].map((part) => JSON.stringify(part, (_, v: unknown) => (Object.is(v, -0) ? '-0' : v))),
  );
}

function isSame(executable: GeneratedRun, run: Run, whole: ReturnType<typeof standing>): boolean {
  const measures = whole.plan.measures.map(({ name }) => name);
  return comparable(executable, run, measures) === comparable(whole.executable, whole.run, measures);
}

const VOLES = `model Voles
clock
  step 1 day
  end after 60 days
parameter bite = 0.2, from 0 to 1
variable stock = 5
space Meadow: plane 30 m by 20 m, wrapping
zone Hedge on Meadow
  box (0 m, 0 m) to (5 m, 20 m)
field grass on Meadow, cells of 2 m
  start uniform(0, 1)
  grow 0.02
  keep 0 to 1
agent Vole
  start 40 anywhere
  has energy = uniform(1, 2)
  has coat = pick(brown, grey)
  has mother: Vole = nobody
  has haunts: last 3 places
  states life
    Young
      after 12 days: Old
    Old
      rate 0.05 per day: Young
  behaviour graze
    turn by uniform(-90, 90) deg
    move by 1 m
    let b = bite * grass
    grass -= b
    energy += b - 0.05
    add place to haunts
    stock += 0.01
agent Owl
  start 3 anywhere
  behaviour fly
    move by 4 m
network Kin ties Vole to Vole: ring, 4 neighbours
  has warmth = uniform(0, 1)
order
  grass
  graze in turn
  fly in turn
  life in turn
measure voles = count Vole
measure fed = mean of it.energy over Vole
measure aged = entered Old
`;

describe('a run that goes on with another text', () => {
  it('is the same to the bit when the edit changes nothing: the demo with a measure more', () => {
    const text = readFileSync(new URL('../../../examples/meadow-year.vole', import.meta.url), 'utf8');
    const whole = standing(text, 260);
    const { executable, run } = carried(standing(text, 130), `${text}\nmeasure again = count Vole\n`);
    run.runTo(260);
    expect(isSame(executable, run, whole)).toBe(true);
  });

  const lasting = CONSTRUCT_MODELS.filter(([, text]) => failureOf(() => standing(text, 20)) === undefined);
  it.each(lasting)('is the same to the bit when the edit changes nothing: “%s”', (_, text) => {
    const whole = standing(text, 20);
    const { executable, run } = carried(standing(text, 9), `${text}\nmeasure one_more = 1\n`);
    run.runTo(20);
    expect(isSame(executable, run, whole)).toBe(true);
  });

  it('is the same to the bit on 60 generated models', () => {
    const differing: number[] = [];
    for (let seed = 1; seed <= 60; seed++) {
      const text = generateModel(seed);
      if (failureOf(() => standing(text, 12, seed)) !== undefined) continue;
      const whole = standing(text, 12, seed);
      const from = standing(text, 6, seed);
      if (from.run.hasEnded) continue;
      const { executable, run } = carried(from, `${text}\nmeasure one_more = 1\n`);
      run.runTo(12);
      if (!isSame(executable, run, whole)) differing.push(seed);
    }
    expect(differing).toEqual([]);
  });

  it('says once of an attribute of several columns that it begins anew, also on a grid in lengths', () => {
    const text = (has: string, space: string): string =>
      `model Homes\nspace Moor: ${space}\nagent Vole\n  start 5 anywhere\n${has}  has nest = here\n  behaviour go\n    move to somewhere\nmeasure n = count Vole\n`;
    const more = '  has home = here\n  has haunts: last 2 places\n';
    for (const space of ['grid 9 by 9, cells of 5 m', 'grid 9 by 9', 'plane 9 by 9']) {
      const from = standing(text('', space), 3);
      const { executable, anew } = carried(from, text(more, space));
      expect(anew, space).toEqual(['home, haunts of Vole (first values)']);
      expect(executable.view().populations[0]!.attributes.slice(-2), space).toEqual(
        from.executable.view().populations[0]!.attributes,
      );
    }
    const longer = carried(
      standing(text(more, 'plane 9 by 9'), 3),
      text(more.replace('last 2', 'last 3'), 'plane 9 by 9'),
    );
    expect(longer.anew).toEqual(['haunts of Vole (first values)']);
  });

  it('gives new attributes their first values, and keeps all others with their numbers and places', () => {
    const from = standing(VOLES, 20);
    const before = from.executable.view().populations[0]!;
    const { executable, run, plan, anew } = carried(
      from,
      VOLES.replace('  has coat', '  has hunger = 3 * energy\n  has coat'),
    );
    const after = executable.view().populations[0]!;
    const column = (name: string): number => plan.kinds[0]!.columns.findIndex((c) => c.name === name);
    expect([after.numbers, after.x, after.y, after.states]).toEqual([
      before.numbers,
      before.x,
      before.y,
      before.states,
    ]);
    expect(after.attributes[column('energy')]).toEqual(before.attributes[0]);
    expect(after.attributes[column('haunts')]!.every((length) => length === 3)).toBe(true);
    // First values are those of the start: here of an energy between 1 and 2.
    expect(after.attributes[column('hunger')]!.every((hunger) => hunger >= 3 && hunger <= 6)).toBe(true);
    expect(anew).toEqual(['hunger of Vole (first values)']);
    run.runTo(25);
    expect(run.step).toBe(25);
  });

  it('starts a new kind and its durations now, and says what is gone', () => {
    const text = VOLES.replace(
      /agent Owl[\s\S]*?(?=network)/,
      'agent Kite\n  start 5 anywhere\n  states mood\n    Calm\n      after 4 days: Wild\n    Wild\n',
    ).replace('  fly in turn', '  mood in turn');
    const { executable, run, anew, plan } = carried(standing(VOLES, 20), text);
    expect(anew).toEqual(['Kite (a new kind)', 'Owl is gone']);
    const wild = (): number => executable.view().populations[1]!.states[0]!.filter((s) => s === 1).length;
    expect(executable.view().populations[1]!.numbers).toHaveLength(5);
    run.runTo(23);
    expect(wild()).toBe(0);
    run.runTo(24);
    expect(wild()).toBe(5);
    expect(plan.kinds.map((kind) => kind.name)).toEqual(['Vole', 'Kite']);
  });

  it('maps states and choices by their names, and puts those of a state that is gone into the first', () => {
    const from = standing(VOLES, 20);
    const before = from.executable.view().populations[0]!;
    const swapped = carried(
      from,
      VOLES.replace('pick(brown, grey)', 'pick(white, grey, brown)')
        .replace('    Young\n      after 12 days: Old\n    Old\n      rate', '    Old\n      rate')
        .replace(': Young\n  behaviour', ': Young\n    Young\n      after 12 days: Old\n  behaviour'),
    );
    const after = swapped.executable.view().populations[0]!;
    expect(after.states[0]).toEqual(before.states[0]!.map((state) => 1 - state));
    const coat = swapped.plan.kinds[0]!.columns.findIndex((c) => c.name === 'coat');
    const words = (values: readonly number[], options: readonly string[]): string[] =>
      values.map((value) => options[value]!);
    expect(words(after.attributes[coat]!, ['white', 'grey', 'brown'])).toEqual(
      words(before.attributes[1]!, ['brown', 'grey']),
    );
    const old = before.states[0]!.filter((state) => state === 1).length;
    const renamed = carried(from, VOLES.replace(/\bOld\b/g, 'Grown'));
    expect(renamed.anew).toContain(`${old} Vole were Old, which is gone, and are Young now`);
  });

  it('keeps values set by hand, but takes a new usual value of the text', () => {
    const from = standing(VOLES, 20);
    from.run.setParameter(0, 0.7);
    expect(carried(from, `${VOLES}measure m = 1\n`).executable.context.parameters[0]).toBe(0.7);
    expect(carried(from, VOLES.replace('bite = 0.2', 'bite = 0.4')).executable.context.parameters[0]).toBe(0.4);
  });

  it('makes a network anew among those who are there when the text makes it otherwise', () => {
    const from = standing(VOLES, 20);
    const same = carried(
      from,
      VOLES.replace('  has warmth = uniform(0, 1)', '  has warmth = uniform(0, 1)\n  has depth = 2'),
    );
    expect(same.executable.view().networks[0]!.values[1]!.every((depth) => depth === 2)).toBe(true);
    expect(same.executable.view().networks[0]!.values[0]).toEqual(from.executable.view().networks[0]!.values[0]);
    const other = carried(from, VOLES.replace('ring, 4 neighbours', 'random, mean degree 6'));
    expect(other.anew).toContain('the network Kin');
    expect(other.executable.view().networks[0]!.a.length).toBeGreaterThan(90);
  });

  it('carries fields, variables and rows, and leaves the row of a new measure empty before', () => {
    const from = standing(VOLES, 20);
    const { executable, run, carried: kept } = carried(from, `${VOLES}measure stocked = stock\n`);
    expect(executable.view().fields).toEqual(from.executable.view().fields);
    expect(run.valueAt(20, 3)).toBe(from.executable.context.variables[0]);
    expect(run.valueAt(19, 3)).toBeNaN();
    expect(run.valueAt(20, 2)).toBe(from.run.valueAt(20, 2));
    expect(kept).toEqual(
      expect.arrayContaining(['40 Vole', '3 Owl', 'the field grass', 'the variable stock', '80 ties of Kin']),
    );
  });

  it('carries a field into another precision and back, rounded', () => {
    const from = standing(VOLES, 20);
    const single = carried(from, VOLES.replace('cells of 2 m', 'cells of 2 m, single precision'));
    const rounded = from.executable.view().fields[0]!.map(Math.fround);
    expect(single.carried).toContain('the field grass');
    expect(single.executable.view().fields[0]).toEqual(rounded);
    expect(rounded).not.toEqual(from.executable.view().fields[0]);
    expect(carried(single, VOLES).executable.view().fields[0]).toEqual(rounded);
  });

  it('starts a kind anew whose space is another, and refuses another length of a step', () => {
    const from = standing(VOLES, 20);
    const grid = VOLES.replace('plane 30 m by 20 m', 'grid 30 by 20').replace(/ m\b/g, '').replace(', cells of 2', '');
    expect(carried(from, grid).anew).toEqual(
      expect.arrayContaining(['Vole (its space is another)', 'the field grass']),
    );
    expect(
      carryOver(
        from,
        loadedOf(VOLES.replace('step 1 day', 'step 2 days')),
        compilePlan(loadedOf(VOLES.replace('step 1 day', 'step 2 days')).plan),
      ),
    ).toBe('the length of a step has changed');
  });

  it('leaves agents where an obstacle is put under them, and ends a run whose new end is past', () => {
    const from = standing(VOLES, 20);
    const built = carried(from, VOLES.replace('zone Hedge on Meadow', 'obstacle Hedge on Meadow'));
    expect(built.executable.living(0)).toBe(40);
    expect(carried(from, VOLES.replace('end after 60 days', 'end after 15 days')).run.hasEnded).toBe(true);
  });
});
