import { readFileSync } from 'node:fs';
import { addToModel, compilePlan, interpretPlan, loadModel, Run, simulate } from '@vole/core';
import { describe, expect, it } from 'vitest';
import { NEW_MODEL } from '../../storage/new-model.ts';
import { filled, PEN, SHELF } from './parts.ts';

const DEMO = readFileSync(new URL('../../../../../examples/meadow-year.vole', import.meta.url), 'utf8');
const MEADOW = `model Meadow
clock
  step 1 day
  end after 80 days
parameter pace = 1 m
space Bank: plane 60 m by 40 m, walled
agent Vole
  start 30 anywhere
  has energy = normal(1, 0.2)
  behaviour stroll
    move by pace
agent Owl
  start 3 anywhere
order
  stroll in turn
measure voles = count Vole where it.energy > 0
show Vole: leaf
show Owl: wing
`;
const GRID = PEN.replace('plane 30 by 18, reflecting', 'grid 30 by 18, walled');
const BARE = PEN.replace(/space.*\n/, '')
  .replace(' anywhere', '')
  .replace('show Vole: leaf\n', '');

const STREETS = `model Streets
clock
  step 1 minute
  end after 80 steps
data "lanes.geojson"
  {"type":"Feature","properties":{"kind":"lane"},"geometry":{"type":"LineString","coordinates":[[0,0],[400,0],[400,300],[0,0]]}}
space Lanes: map from "lanes.geojson", in metres
agent Vole
  start 30 anywhere
measure voles = count Vole
show Vole: leaf
`;

const SETTINGS = {
  pen: { text: PEN, setting: { unit: '', space: 'Pen', isPlane: true }, values: {} },
  meadow: { text: MEADOW, setting: { unit: 'm', space: 'Bank', isPlane: true }, values: { other: 'Owl' } },
  grid: { text: GRID, setting: { unit: '', space: 'Pen', isPlane: false }, values: {} },
  streets: { text: STREETS, setting: { unit: 'm', space: 'Lanes', isPlane: false }, values: {} },
  bare: { text: BARE, setting: { unit: '', space: undefined, isPlane: false }, values: {} },
} as const;

/** The models that a part goes into. */
function wheresOf({ needs }: (typeof SHELF)[number]): (keyof typeof SETTINGS)[] {
  if (needs === 'map') return ['streets'];
  return ['pen', 'meadow', 'grid', ...(needs === 'space' ? [] : ['bare' as const])];
}

function built(part: (typeof SHELF)[number], where: keyof typeof SETTINGS): string {
  const { text, setting, values } = SETTINGS[where];
  return addToModel(text, filled(part, values, setting));
}

function stateAfter(text: string, steps: number): string {
  const { loaded, diagnostics } = loadModel(text);
  if (!loaded)
    throw new Error(
      `${diagnostics
        .filter((d) => d.severity === 'error')
        .map((d) => d.message)
        .join('\n')}\n${text}`,
    );
  const executable = interpretPlan(loaded.plan);
  const run = new Run(
    executable,
    loaded.plan.parameters.map((p) => p.value),
    1,
  );
  run.runTo(steps);
  const { populations, fields, networks } = executable.view();
  return JSON.stringify([
    populations.map((p) => [p.numbers, p.x, p.y, p.attributes, p.states]),
    fields.length,
    networks,
  ]);
}

describe('the shelf', () => {
  it('has at least thirty parts, each of its own name, by purpose', () => {
    expect(SHELF.length).toBeGreaterThanOrEqual(30);
    expect(new Set(SHELF.map((part) => part.id)).size).toBe(SHELF.length);
    expect(new Set(SHELF.map((part) => part.purpose)).size).toBeGreaterThanOrEqual(12);
  });

  it.each(SHELF.map((part) => [part.name, part] as const))(
    '%s: runs in every kind of model, and something comes of it',
    (_, part) => {
      for (const where of wheresOf(part)) {
        const text = built(part, where);
        expect(
          loadModel(text)
            .diagnostics.filter((d) => d.severity === 'error')
            .map((d) => d.message),
          `${where}\n${text}`,
        ).toEqual([]);
      }
      const steps = 60;
      if (part.needs !== 'map') stateAfter(built(part, 'grid'), steps);
      const where = part.needs === 'map' ? 'streets' : 'pen';
      const { text, setting } = SETTINGS[where];
      const plain = part.adds.kind
        ? addToModel(text, { kind: 'Vole', attributes: filled(part, {}, setting).attributes })
        : text;
      expect(stateAfter(built(part, where), steps)).not.toBe(stateAfter(plain, steps));
    },
  );

  it.each(SHELF.map((part) => [part.name, part] as const))(
    '%s: goes into a model that has it already, and into the demo',
    (_, part) => {
      const { text, setting, values } = SETTINGS[part.needs === 'map' ? 'streets' : 'meadow'];
      const adds = filled(part, values, setting);
      const twice = addToModel(addToModel(text, adds), adds);
      const demo =
        part.needs === 'map'
          ? twice
          : addToModel(
              DEMO,
              filled(part, { kind: 'Vole', other: 'Kestrel' }, { unit: 'm', space: 'Meadow', isPlane: true }),
            );
      for (const changed of [twice, demo])
        expect(
          loadModel(changed)
            .diagnostics.filter((d) => d.severity === 'error')
            .map((d) => d.message),
          changed,
        ).toEqual([]);
    },
  );

  it('builds a model with moving, breeding, dying animals from the new model alone', () => {
    let text = NEW_MODEL;
    for (const id of ['graze', 'breed', 'starve', 'age', 'wander']) {
      text = addToModel(
        text,
        filled(
          SHELF.find((part) => part.id === id)!,
          {},
          { unit: '', space: 'Field', isPlane: true },
        ),
      );
    }
    const { diagnostics, loaded } = loadModel(text);
    expect(diagnostics.filter((d) => d.severity === 'error')).toEqual([]);
    expect(loaded!.plan.rules.map((rule) => rule.name)).toEqual(
      expect.arrayContaining(['roam', 'graze', 'breed', 'starve', 'grow_old', 'wander'].map((name) => `Vole.${name}`)),
    );
  });

  it('makes a school of the new model from three parts, which move it by one behaviour, go one way and stay together', () => {
    let text = NEW_MODEL;
    for (const id of ['spread-out', 'gather', 'align'])
      text = addToModel(
        text,
        filled(
          SHELF.find((part) => part.id === id)!,
          {},
          { unit: '', space: 'Field', isPlane: true },
        ),
      );
    expect(text.match(/^ +move /gm)).toHaveLength(1);
    expect(text).toContain('show Vole: leaf');
    text +=
      'measure east = mean of sin(it.direction) over Vole\nmeasure north = mean of cos(it.direction) over Vole\nmeasure one_way = sqrt(east^2 + north^2)\nmeasure near = mean of (count Vole within 10 of it) over Vole\n';
    const compiled = compilePlan(loadModel(text).loaded!.plan);
    for (const seed of [1, 2, 3]) {
      const outcome = simulate(compiled, { parameters: [], seed, every: 1 });
      if (!outcome || !('result' in outcome)) throw new Error('The school has stopped.');
      const late = Array.from({ length: 200 }, (_, i) => 800 + i);
      const meanOf = (measure: number): number =>
        late.reduce((sum, step) => sum + outcome.result.rows[4 * step + measure]!, 0) / late.length;
      expect(meanOf(2)).toBeGreaterThan(0.7);
      // At random there would be 199 * pi * 10 ^ 2 / 100 ^ 2 = 6.3.
      expect(meanOf(3)).toBeGreaterThan(20);
    }
  });

  it('gives what does not move yet one behaviour to go by, however many parts turn it', () => {
    const still =
      'model Still\nspace Pen: plane 30 by 18, walled\nagent Vole\n  start 20 anywhere\nagent Owl\n  start 2 anywhere\n  behaviour soar\n    move by 2\norder\n  soar in turn\n';
    let text = still;
    for (const id of ['gather', 'align'])
      text = addToModel(
        text,
        filled(
          SHELF.find((part) => part.id === id)!,
          {},
          { unit: '', space: 'Pen', isPlane: true },
        ),
      );
    expect(text.match(/behaviour go_on\n +move by 0.7/g)).toHaveLength(1);
    expect(text.slice(text.indexOf('order')).match(/go_on in turn/g)).toHaveLength(1);
    expect(loadModel(text).diagnostics.filter((d) => d.severity === 'error')).toEqual([]);
  });
});
