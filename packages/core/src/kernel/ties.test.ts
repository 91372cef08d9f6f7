import { describe, expect, it } from 'vitest';
import { expectSameKernel, isKernel, modelOf } from '../../test/kernel-models.ts';
import { compilePlan, Run } from '../index.ts';
import { planOf, usualValues } from '../../test/models.ts';

/** Ties and lists in kernels, beside the interpreter. */

const PLANE = 'plane 30 by 20, wrapping';
const NETWORKS: readonly string[] = [
  'network Bonds ties Vole to Vole: ring, 4 neighbours',
  'network Bonds ties Vole to Vole, directed: random, mean degree 3',
  'network Bonds ties Vole to Vole: none',
];

/** Voles with ties that have a strength, ties to owls, and lists of three kinds. */
function tiedModel(network: string, behaviour: string, order: string): string {
  return modelOf(PLANE, behaviour, order)
    .replace(
      '  has hunger = 1',
      '  has hunger = 1\n  has mates: last 3 Vole\n  has marks: last 2 numbers\n  has spots: last 3 places',
    )
    .replace(/network Bonds.*\n/, '')
    .replace(
      '\norder',
      `\n${network}\n  has strength = uniform(0, 1)\nnetwork Watch ties Owl to Vole: random, mean degree 1\n  has heed = 2\norder`,
    );
}

const TYING: readonly string[] = [
  'with v = random Vole\n  tie to v by Bonds\n    strength = food',
  'repeat at most 6 times\n  tie to random Vole by Bonds\nhunger = count Vole tied by Bonds',
  'for each v in Vole within 4\n  tie to v by Bonds\n    strength = distance(v)\n  food += count ties by Bonds',
  'with v = random Vole tied by Bonds\n  untie from v by Bonds\n  food += count Vole tied by Bonds\nif chance(0.3)\n  join random Vole by Bonds',
  'if chance(0.1)\n  untie by Bonds\nelse\n  tie to random Vole by Bonds\nhunger = sum of it.strength over ties by Bonds',
  'with v = random Vole\n  with t = tie to v by Bonds\n    t.strength += 0.5\n    hunger = t.strength\n  else\n    tie to v by Bonds',
  'for each t in ties by Bonds\n  t.strength *= 0.75\n  if t.strength < 0.2\n    untie from t.other by Bonds\ntie to random Vole by Bonds',
  'with o = random Owl\n  tie to o by Watch\n    heed = food\n  food += 1 / (1 + count Vole where it.food > 9)\nhunger = count Owl tied by Watch',
  'if any ties by Bonds where it.strength > 0.3 and it.other.food > 1\n  food = max of it.strength over ties by Bonds where it.strength > 0.3 and it.other.food > 1\nwith v = random Vole tied by Bonds\n  with t = tie to v by Bonds\n    t.strength = 0.9',
  'if count ties by Bonds > 1\n  hunger = median of it.strength over ties by Bonds + sd of it.strength over ties by Bonds\nwith w = random Owl tied by Watch\n  with t = tie to w by Watch\n    t.heed += food\n    food = t.heed',
  'if chance(0.2)\n  create 2 Vole here\n    food = 1\n  tie to random Vole by Bonds\nfood -= 0.4\nif food < 0\n  remove self\nhunger = count ties by Bonds',
];

const LISTING: readonly string[] = [
  'add random Vole to mates\nfood = count mates',
  'with v = random Vole\n  add v to mates\n  if v is one of mates\n    hunger = sum of it.food over mates',
  'add food to marks\nadd hunger to marks\nhunger = (sum of it over marks) / count marks + median of it over marks',
  'add here to spots\nturn by uniform(-40 deg, 40 deg)\nmove by 2\nif count spots > 2\n  food = distance(first spots)',
  'add random Vole to mates\nwith m = random mates where it.food > 1\n  m.food -= 0.25\nelse\n  food += 1',
  'for each m in mates\n  m.hunger += 0.125\nadd random Vole to mates\nif count mates > 1\n  with m = first mates\n    food = m.number',
  'add random Vole to mates\nif chance(0.1)\n  remove first mates\nif chance(0.3)\n  create 1 Vole here\nhunger = count mates where it.food > 1',
  'with v = random Vole\n  add self to v.mates\n  add food to v.marks\nif count marks > 0\n  hunger = max of it over marks',
];

function lines(behaviour: string): readonly string[] {
  const reachesOthers = /v\.\w+ [-+*]?=|m\.\w+ [-+*]?=/.test(behaviour);
  return ['in turn', 'in fixed order', ...(reachesOthers ? [] : ['all at once'])];
}

describe('ties in kernels', () => {
  it.each(NETWORKS)('are made, cut, found and changed as the interpreter says: %s', (network) => {
    TYING.forEach((behaviour, i) =>
      lines(behaviour).forEach((mode, m) => expectSameKernel(tiedModel(network, behaviour, `do ${mode}`), i + m)),
    );
  });

  it('have room made while the kernel waits, however many there are', () => {
    const behaviour =
      'repeat at most 40 times\n  tie to random Vole by Bonds\n    strength = number\nfood = count ties by Bonds';
    const text = tiedModel(NETWORKS[2]!, behaviour, 'do in turn').replace('start 40', 'start 300');
    expect(isKernel(text)).toBe(true);
    const ends = (['WebAssembly', 'JavaScript'] as const).map((engine) => {
      const plan = planOf(text);
      const executable = compilePlan(plan, false, engine).executable();
      new Run(executable, usualValues(plan), 1).runTo(2);
      expect(executable.kernelEngine).toBe(engine);
      return executable.view();
    });
    expect(ends[0]!.networks[0]!.a.length).toBeGreaterThan(10_000);
    expect(ends[0]).toEqual(ends[1]);
  });
});

describe('lists in kernels', () => {
  it('are added to, gone through and asked as the interpreter says', () => {
    LISTING.forEach((behaviour, i) =>
      lines(behaviour).forEach((mode, m) => expectSameKernel(tiedModel(NETWORKS[0]!, behaviour, `do ${mode}`), i + m)),
    );
  });
});
