import { beforeAll, describe, expect, it, vi } from 'vitest';
import { crewOf } from '../../test/crews.ts';
import { modelOf } from '../../test/kernel-models.ts';
import { failureOf, firstDifference, planOf, usualValues } from '../../test/models.ts';
import { compilePlan, Run } from '../index.ts';
import type { CrewMessage } from './crew.ts';
import { helping, HelpingCrew } from './crew.ts';

let crews: readonly HelpingCrew[] = [];

beforeAll(async () => {
  crews = [await crewOf(1), await crewOf(2)];
});

const SPACES = ['plane 30 by 20.25, reflecting', 'grid 17 by 19, 8 neighbours, wrapping, one agent a cell'];

/** What all do at once, so that several threads may do parts of it. */
const BODIES: readonly string[] = [
  'turn by uniform(-50 deg, 50 deg)\nmove by 1\nfood = count Vole within 2',
  'if mood is Calm and chance(rate)\n  mood = Wild\n  food += exp(-hunger)',
  'with v = random Vole\n  v.food = food + hunger\n  v.mood = Tired\nhunger += 1',
  'with v = random Vole within 3\n  v.food *= 0.5\n  v.mood = Wild\nfood = normal(1, 0.2)',
  'repeat at most 3 times\n  with v = random Vole\n    if v.mood is Calm\n      v.mood = Wild\n      scent = 1',
  'if (count Vole within 4) > 2\n  food = mean of it.food over Vole within 4\n  hunger = sd of it.food over Vole within 4',
  'if here is in zone Patch\n  turn by 30 deg\nmove by 1.5\nfood = count Vole in zone Patch\nwith v = nearest Vole\n  hunger = distance(v)',
  'with v = first Vole tied by Bonds where it.food > food\n  v.food = 0\nfood = count Vole tied by Bonds where it.mood is Wild',
];

const FIELDS: readonly string[] = [
  '  grow 0.1 * scent * (1 - scent)\n  keep 0 to 3',
  '  grow 0.1\n  spread 30 %\n  fade 10 %\n  keep 0 to 3',
  '  fade 20 %\n  keep 0 to 3',
  '  grow sin(scent * 90 deg) - scent / 4\n  keep 0 to 3',
  '  grow 0.1 * (mean of (scent at it) over cells within 2)\n  keep 0 to 3',
  '  becomes scent / 2 + normal(1, 0.1) when chance(0.5)\n  keep 0 to 3',
  '  becomes 1 when (count cells next to here where scent at it > 0.5) > 2\n  becomes 0 when chance(0.2)\n  keep 0 to 3',
];

/** How often threads are asked for help while something is done. */
function asked(work: () => void): number {
  const spies = crews.map((crew) => vi.spyOn(crew, 'together'));
  work();
  const calls = spies.map((spy) => spy.mock.calls.length);
  for (const spy of spies) spy.mockRestore();
  return Math.min(...calls);
}

describe('threads that help', () => {
  it.each(SPACES)('come to the same bits in what all do at once, on a %s', (space) => {
    BODIES.forEach((behaviour, seed) => {
      const plan = planOf(modelOf(space, behaviour, 'do all at once').replace('start 40', 'start 200'));
      const calls = asked(() => expect([behaviour, firstDifference(plan, seed, 6, crews)]).toEqual([behaviour, -1]));
      expect([behaviour, calls > 5]).toEqual([behaviour, true]);
    });
  });

  it('do nothing to others where there are none of them', () => {
    const text = modelOf(SPACES[0]!, 'for each o in Owl within 2\n  o.prey = food\nfood += 1', 'do all at once');
    const none = text.replace('start 7 anywhere', 'start 0 anywhere\n  has prey = 0').replace('start 40', 'start 200');
    const calls = asked(() => expect(firstDifference(planOf(none), 1, 6, crews)).toBe(-1));
    expect(calls).toBeGreaterThan(5);
  });

  it('come to the same bits in fields', () => {
    FIELDS.forEach((lines, seed) => {
      const text = modelOf('grid 70 by 45, 8 neighbours, wrapping', 'scent += 0.5').replace('  keep 0 to 3', lines);
      const plan = planOf(text.replace('  mood all at once', '  mood all at once\n  scent'));
      const calls = asked(() => expect([lines, firstDifference(plan, seed, 6, crews)]).toEqual([lines, -1]));
      expect([lines, calls > 5]).toEqual([lines, true]);
    });
  });

  it('help where turns ask and tell what the thread of the run alone knows', () => {
    const text = modelOf('grid 70 by 45, 8 neighbours, wrapping', 'heat += 0.5\nfood = heat\nlog food');
    const plan = planOf(text.replace('  keep 0 to 3', FIELDS[1]!).replace('  mood all', '  scent\n  mood all'));
    expect(asked(() => expect(firstDifference(plan, 1, 6, crews)).toBe(-1))).toBeGreaterThan(5);
  });

  it('come to the same bits in fields of single precision', () => {
    FIELDS.forEach((lines, seed) => {
      const text = modelOf('grid 70 by 45, 8 neighbours, wrapping', 'scent += 0.5').replace('  keep 0 to 3', lines);
      const single = text.replace('field scent on Bank', 'field scent on Bank, single precision');
      const plan = planOf(single.replace('  mood all at once', '  mood all at once\n  scent'));
      expect(plan.fields[0]!.isSingle).toBe(true);
      expect([lines, firstDifference(plan, seed, 6, crews)]).toEqual([lines, -1]);
    });
  });

  it('help with turns that nobody sees of others, and leave others to one thread', () => {
    const alone = 'turn by uniform(-50 deg, 50 deg)\nmove by 1\nfood += hunger\nif chance(0.3)\n  mood = Wild';
    for (const order of ['in turn', 'in fixed order']) {
      const free = planOf(modelOf(SPACES[0]!, alone, `do ${order}`).replace('start 40', 'start 200'));
      expect(asked(() => expect([order, firstDifference(free, 1, 6, crews)]).toEqual([order, -1]))).toBeGreaterThan(5);
    }
    for (const [space, body] of [
      [SPACES[0]!, 'move by 1\nscent += 1'],
      [SPACES[1]!, 'move by 1'],
    ] as const) {
      const plan = planOf(modelOf(space, body, 'do in fixed order').replace('  mood all at once\n', ''));
      expect(asked(() => new Run(compilePlan(plan).executable(crews[0]), usualValues(plan), 1).next())).toBe(0);
    }
  });

  it('tell the same failure, that of whose turn comes first', () => {
    for (const order of ['in turn', 'in fixed order', 'all at once']) {
      const body = 'food -= 1\nif food < 1 and number > 20\n  food = log(food - 9)';
      const plan = planOf(modelOf(SPACES[0]!, body, `do ${order}`).replace('start 40', 'start 300'));
      for (const seed of [1, 2, 3, 4]) expect([order, firstDifference(plan, seed, 3, crews)]).toEqual([order, -1]);
    }
    for (const behaviour of [
      'if number > 20\n  food = log(-food)',
      'with v = random Vole\n  v.food = 1 / (hunger - 1)',
    ]) {
      const plan = planOf(modelOf(SPACES[0]!, behaviour, 'do all at once').replace('start 40', 'start 300'));
      for (const seed of [1, 2, 3]) expect(firstDifference(plan, seed, 3, crews)).toBe(-1);
      const run = new Run(compilePlan(plan).executable(crews[1]), usualValues(plan), 1);
      expect(failureOf(() => run.next())).toBeDefined();
    }
  });

  it('note more than there is room for, in the order of one thread', () => {
    const text = modelOf(
      SPACES[0]!,
      'repeat at most 20 times\n  with v = random Vole\n    v.food += 1\n    v.food *= 0.99',
      'do all at once',
    );
    const plan = planOf(text.replace('start 40', 'start 400'));
    expect(firstDifference(plan, 1, 2, crews)).toBe(-1);
  });
});

describe('a crew', () => {
  const over = { module: {}, memory: {} };
  const parts = [[1], [2], [3]];

  it('says so when a thread cannot do its part', () => {
    const broken = helping(() => {
      throw new Error('no such module');
    });
    const crew = new HelpingCrew(() => [{ postMessage: broken }]);
    crew.call();
    expect(crew.helpers).toBe(1);
    expect(() => crew.together(over, 'grow0', parts, () => -1)).toThrow('could not do its part of grow0');
    // It is not asked again.
    expect(crew.helpers).toBe(0);
    expect(crew.together(over, 'grow0', parts, () => -1)).toEqual([-1, -1, -1]);
  });

  it('has nobody where no thread can be started', () => {
    const crew = new HelpingCrew(() => {
      throw new Error('no more threads');
    });
    crew.call();
    expect(crew.helpers).toBe(0);
    expect(crew.together(over, 'grow0', parts, () => -1)).toEqual([-1, -1, -1]);
  });

  it('does all parts itself where help is late, and late help does none of another job', () => {
    const done: string[] = [];
    const late: CrewMessage[] = [];
    const take = helping(() => ({ grow0: (given) => done.push(`late ${given}`) }));
    const crew = new HelpingCrew(() => [{ postMessage: (message) => void late.push(message) }]);
    crew.call();
    take(late.shift()!);
    expect(crew.helpers).toBe(1);
    const here = ([given]: readonly number[]): number => done.push(`here ${given!}`);
    expect(crew.together(over, 'grow0', parts, here)).toEqual([1, 2, 3]);
    crew.together(over, 'grow0', parts, (given) => {
      if (late.length > 1) take(late.shift()!);
      return here(given);
    });
    expect(done).toEqual(['here 1', 'here 2', 'here 3', 'here 1', 'here 2', 'here 3']);
  });

  it('leaves parts to those who come in time', () => {
    const done: string[] = [];
    const take = helping(() => ({ grow0: (given) => done.push(`helped ${given}`) }));
    const crew = new HelpingCrew(() => [{ postMessage: take }]);
    crew.call();
    crew.together(over, 'grow0', parts, () => done.push('here'));
    expect(done).toEqual(['helped 1', 'helped 2', 'helped 3']);
  });
});
