import { describe, expect, it } from 'vitest';
import { repainted } from '../engine/zones.ts';
import { compilePlan, Run } from '../index.ts';
import { zonesOf } from '../plan/start-space.ts';
import { expectSameKernel, modelOf } from '../../test/kernel-models.ts';
import { planOf, usualValues } from '../../test/models.ts';

/** Spaces of which the zone takes little, and some of which it takes much. */
const SPACES: readonly string[] = [
  'plane 60 by 40, wrapping',
  'plane 31.5 by 27.25, walled',
  'plane 12 by 9, reflecting',
  'grid 60 by 40, wrapping',
  'grid 30 by 25, walled, one agent a cell',
  'grid 12 by 9, 4 neighbours, reflecting',
  'grid 60 by 40, wrapping, 6 neighbours',
];

const BODIES: readonly string[] = [
  'hunger = count Vole in zone Patch\nif any Vole in zone Patch where it.food > 3.5\n  food -= 0.5',
  'food = sum of (it.hunger / 3) over Vole in zone Patch where it.mood is Wild\nif count Vole in zone Patch > 2\n  hunger = sd of it.y over Vole in zone Patch + mean of it.food over Vole in zone Patch',
  'with v = random Vole in zone Patch\n  hunger = distance(v)\nelse\n  food += 1',
  'with v = Vole in zone Patch with most floor(it.food)\n  food = v.food / 2\n  v.food += 0.25',
  'with v = nearest Vole in zone Patch\n  turn to v\n  move by 1\n  hunger = count Vole in zone Patch',
  'with v = first Vole in zone Patch where (count Vole within 2 of it) > 1\n  food = v.number',
  'with v = random Vole in zone Patch weighted by it.food\n  hunger += v.food',
  'for each v in Vole in zone Patch where it.food > 1\n  v.food *= 0.75\n  hunger += 1',
  'turn by uniform(-90 deg, 90 deg)\nmove by 3\nhunger = count Vole in zone Patch\nfood = sum of it.x over Vole in zone Patch',
  'if here is in zone Patch\n  move by 9\nelse\n  with o = random Owl in zone Patch\n    move toward o by 2\n    hunger = distance(o)',
];

/** Voles that come and go, or are nowhere, among those who are asked for. */
const COMING: readonly string[] = [
  'if chance(0.3)\n  create 1 Vole in zone Patch\n    food = count Vole in zone Patch\nfood -= 0.5\nif food < 0\n  remove self\nhunger = count Vole in zone Patch',
  'with v = random Vole in zone Patch where it.food < 2\n  remove v\n  food += 1\nif food > 3\n  food /= 2\n  create 1 Vole anywhere\nmove by 1',
  'if chance(0.3)\n  move to nowhere\nelse if chance(0.5)\n  move to (uniform(0, 11), uniform(0, 8))\nhunger = count Vole in zone Patch\nfood = sum of it.hunger over Vole in zone Patch',
];

describe('agents that are asked for in a zone', () => {
  it.each(SPACES)('are what the interpreter says on a %s', (space) => {
    const bodies = space.includes('one agent') ? BODIES.filter((body) => !body.includes('toward')) : BODIES;
    bodies.forEach((behaviour, i) =>
      ['in turn', 'all at once'].forEach((mode, m) => expectSameKernel(modelOf(space, behaviour, `do ${mode}`), i + m)),
    );
  });

  it.each(SPACES.filter((space) => !space.includes('one agent')))('come and go on a %s', (space) => {
    COMING.forEach((behaviour, i) =>
      ['in turn', 'all at once'].forEach((mode, m) => expectSameKernel(modelOf(space, behaviour, `do ${mode}`), i + m)),
    );
  });

  it('are looked for where the zone was painted meanwhile', () => {
    const plan = planOf(modelOf(SPACES[0]!, 'turn by 40 deg\nmove by 2\nhunger = count Vole in zone Patch'));
    const ends = (['WebAssembly', 'JavaScript'] as const).map((engine) => {
      const executable = compilePlan(plan, engine === 'JavaScript', engine).executable();
      const run = new Run(executable, usualValues(plan), 3);
      run.runTo(3);
      const { masks } = executable.state.zones;
      const { space } = executable.state.grounds[0]!;
      const none = repainted(masks[0]!, [[0, 0]], 99, false, space);
      executable.useZones(zonesOf(plan, [none]));
      run.runTo(4);
      const nobody = executable.view();
      executable.useZones(zonesOf(plan, [repainted(none, [[50, 30]], 6, true, space)]));
      run.runTo(8);
      return { nobody, view: executable.view() };
    });
    expect(ends[0]).toEqual(ends[1]);
    const hungerOf = ({ populations }: (typeof ends)[0]['view']): readonly number[] => [
      ...populations[1]!.attributes[1]!,
    ];
    expect(hungerOf(ends[0]!.nobody)).toEqual(Array.from({ length: 40 }, () => 0));
    expect(Math.max(...hungerOf(ends[0]!.view))).toBeGreaterThan(0);
  });
});
