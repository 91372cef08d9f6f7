import { afterEach, describe, expect, it, vi } from 'vitest';
import { compileLightly, compilePlan, Run } from '../index.ts';
import { repainted } from '../engine/zones.ts';
import { zonesOf } from '../plan/start-space.ts';
import { makeKernels } from '../javascript/make-kernels.ts';
import { expectSameKernel, isKernel, modelOf } from '../../test/kernel-models.ts';
import { failureOf, firstDifference, planOf, usualValues } from '../../test/models.ts';

const PLANES = [
  'plane 32 by 16, wrapping',
  'plane 30 by 20, wrapping',
  'plane 30.5 by 20, walled',
  'plane 30 by 20.25, reflecting',
];
const SQUARES = ['wrapping', 'walled', 'reflecting'].map((edge) => `grid 12 by 9, 8 neighbours, ${edge}`);
const HEXAGONS = ['wrapping', 'walled', 'reflecting'].map((edge) => `grid 12 by 10, 6 neighbours, ${edge}`);
const GRIDS = [...SQUARES, ...HEXAGONS];

/** What depends on the form of a space and its edge. */
const ON_ALL_SPACES: readonly string[] = [
  'turn by 30 deg\nmove by 1.5',
  'turn by uniform(-50 deg, 50 deg)\nmove by rate * 9\nfood -= 0.25',
  'turn by normal(0 deg, 90 deg)\nmove by food',
  'let l = scent at ahead(3 * 10 ^ (14 + 10 * food), 10 deg)\nfood = l\nif l < 0.9\n  turn by 70 deg\n  move by 7 * 10 ^ 16\n  scent += 0.5',
  'turn to 725 deg\nmove by 40\nturn by -800 deg',
  'let l = scent at ahead(3, -30 deg)\nlet r = scent at ahead(3, 30 deg)\nif l > r\n  turn by -45 deg\nelse if l < r\n  turn by 45 deg\nmove by 1\nscent += 0.5',
  'food = if scent > 0.5 and food < 3 then food + scent else food * 0.5\nscent *= 0.9',
];

/** What is the same wherever it is done. */
const ANYWHERE: readonly string[] = [
  'food = count Vole where it.mood is Wild\nhunger = count Vole where it.mood is not Calm and not (it.mood is Tired)\nif food < 12 and chance(0.3)\n  mood = Wild\n  hunger = count Vole where it.mood is Wild or it.mood is Tired',
  'with v = random Vole where it.food > food\n  v.hunger += 1\nelse\n  food += 1',
  'with o = random Owl where it.number is 3 or it.x > 29\n  food = o.x\nwith v = random Vole where it.food > 99\n  hunger = 0\nelse\n  food = 5',
  'if mood is Calm and chance(rate)\n  mood = Wild\n  food += 1',
  'if mood is Calm\n  food += 1\n  repeat at most 3 times\n    if mood is Calm and chance(0.5)\n      mood = Wild\n    if mood is Calm\n      food += 10',
  'if mood is Calm and food > 1\n  for each v in Vole tied by Bonds where it.mood is Calm\n    if mood is Calm\n      v.hunger += 1',
  'if mood is Wild or mood is Tired\n  food -= 0.125\n  hunger = clip(hunger + heat, 0, 2)',
  'repeat at most 3 times\n  food += whole(0, 2)\n  if food > 4\n    food = mod(food, 3)',
  'food = exponential(2)\nhunger = gamma(mean = 2, shape = 3) + poisson(3) - binomial(4, 0.5)',
  'food = min(food, 3) + max(hunger, 2) + floor(food) + abs(food - 2) + sqrt(hunger) + round(food)',
  'food = exp(-food) + log(1 + hunger) + sin(30 deg) * food\nhunger = food ^ 2',
  'food = count Vole where it.mood is Wild\nhunger = count Owl',
  'if any Vole tied by Bonds where it.mood is Wild\n  food += 1',
  'heat += 0.125 * food\nfood = heat\nif heat > 3\n  heat = mod(heat, 2)\nelse\n  heat *= 1.5',
  'if food > 2\n  log food, "of", number\n  heat += 1\nhunger = heat',
];

/** What reaches others, in turn and all at once. */
const REACHING: readonly string[] = [
  'with v = random Vole\n  v.food += 0.5\n  if v.mood is Calm\n    v.mood = Wild',
  'for each v in Vole tied by Bonds where it.food < food\n  v.food += 0.25',
  'with v = random Vole tied by Bonds\n  food = v.food\nelse\n  food = 0',
  'with v = random Vole\n  v.food = food + hunger\nfood += 1\nhunger = food',
  'with v = random Vole\n  v.food *= 0.5\nfood *= 2\nif food > 5\n  food = 0\n  hunger += food',
  'with v = random Vole\n  v.food = 1\n  hunger = v.food - food\nif chance(0.5)\n  food = hunger',
  'with v = random Vole\n  if v.direction > 90 deg\n    food += hunger\nmove by 1\nturn by 10 deg',
  'if any Vole tied by Bonds where it.mood is Wild\n  mood = Wild\n  hunger = food',
  'with v = Vole with most it.food\n  v.food -= 0.5\n  hunger += v.food',
  'with v = Vole with least (floor(it.food))\n  hunger = v.food',
  'with o = nearest Owl\n  food += 1\nelse\n  hunger += 1',
  'if mood is Wild or mood is Tired\n  with v = random Vole\n    v.mood = Wild\n  with v = random Vole\n    v.mood = Calm\n  food += 1',
  'with v = random Vole weighted by it.food\n  hunger = v.food',
  'with v = first Vole tied by Bonds where it.food > food\n  hunger = v.food + mean of scent\nelse\n  hunger = food',
];

/** One number of many, and ways to somebody. */
const GATHERING: readonly string[] = [
  'food = median of it.food over Vole where it.mood is not Calm\nhunger = quantile 90 % of (it.hunger + it.number) over Vole where it.number > number - 9',
  'hunger = 1 / (7 + (median of (0 * (it.food - 2)) over Vole))\nlet level = hunger * 7 - 0.5 + 0.1 * mod(number, 9)\nif number > 3\n  food = quantile clip(level, 0, 1) of it.number over Vole where it.number <= number',
  'food = sum of it.food over Vole where it.mood is Calm\nhunger = mean of it.food over Vole',
  'food = max of it.hunger over Vole tied by Bonds\nhunger = (min of (it.food * -1) over Vole tied by Bonds) / 3',
  'food = sd of it.food over Vole tied by Bonds\nif any Owl where it.x > 90\n  hunger = 1\nhunger += geometric mean of (it.x + 1) over Owl',
  'food = sum of (it.food + hunger) over Vole where it.food < food\nhunger = count Vole where it.food > (mean of it.hunger over Vole)',
  'with o = nearest Owl\n  turn to o\n  food = distance(o)\n  move by 1',
  'with v = random Vole\n  move toward v by 0.7\n  hunger = bearing(v) / 90 deg',
  'turn to random Vole\nwith o = random Owl\n  food = distance(o) / 5\nmove by 1.25',
  'food = count Vole tied by Bonds within 6\nhunger = count Vole tied by Bonds here',
  'if here is in zone Patch\n  food += 1\nhunger = count Vole in zone Patch\nif ahead(4) is in zone Patch\n  turn by 30 deg\nmove by 2',
];

/** Who is near, while they move. */
const NEAR_ON_PLANES: readonly string[] = [
  'turn by uniform(-40 deg, 40 deg)\nmove by 2\nfood = count Vole within 3',
  'with v = random Vole within 4\n  turn to v\n  v.food += 0.25\n  hunger = sum of it.food over Vole within 2\nmove by 1.5',
  'move by 2\nif any Vole within 2 where it.mood is Wild\n  mood = Wild\nelse\n  move by 3',
  'with v = nearest Vole within 9\n  move v toward self by 0.5\n  food = count Vole within 1000',
  'for each v in Vole within 3\n  v.food *= 0.75\n  food += distance(v)\nmove by 0.5',
  'if food < 1\n  remove self\nif chance(0.2)\n  create 2 Vole here\n    food = count Vole within 2\nmove by 1\nfood -= count Vole within 1.5',
  'turn to direction + 30 deg\nmove by food\nhunger = mean of it.x over Vole within (food + 6)',
];

const NEAR_ON_GRIDS: readonly string[] = [
  'food = count Vole tied by Bonds next to here\nhunger = count Vole tied by Bonds in a square of 3\nmove by 1\nfood += count Vole tied by Bonds in a cross of 2',
  'turn by uniform(-90 deg, 90 deg)\nmove by 1\nfood = count Vole next to here + count Vole here',
  'with v = random Vole in a square of 2\n  v.food += 0.5\nmove by 1.5\nhunger = count Vole in a cross of 3',
  'if chance(0.3)\n  create 1 Vole here\nmove by 1\nif food < 0.5\n  remove self\nfood -= 0.25 * count Vole here',
];

/** Who is the nearest of all, wherever that is. */
const NEAREST: readonly string[] = [
  'with v = nearest Vole\n  turn to v\n  food = distance(v)\n  move by 0.75',
  'with v = nearest Vole where it.mood is Wild or it.food > 3.5\n  v.food -= 0.5\n  mood = Wild\n  move toward v by 2',
  'with v = nearest Vole where it.number > 38\n  food = v.number\nwith o = nearest Owl where it.number is 99\n  food = 7\nmove by 1',
  'with o = nearest Owl\n  with v = nearest Vole\n    hunger = distance(o) - v.number\n    move v toward self by 0.5',
];

/** The same where agents come and go. */
const NEAREST_OF_CHANGING: readonly string[] = [
  'food -= 0.4\nwith v = nearest Vole where it.food < food\n  remove v\n  food += 1\nif food < 0\n  remove self\nmove by 1.5',
  'if chance(0.2)\n  create 2 Vole anywhere\n    with v = nearest Vole\n      food = v.food\nmove by 0.5\nwith v = nearest Vole\n  hunger = v.number',
];

/** What only turns one after another do in a kernel. */
const IN_TURN: readonly string[] = [
  'food -= 0.5\nif food < 0\n  remove self\nif chance(0.4)\n  create 1 Vole here\n    food = 2',
  'if chance(0.2)\n  create 3 Vole anywhere\n    food = uniform(0, 1)\n    mood = Wild\nfood -= 0.25\nif food < 0\n  remove self',
  'if chance(0.3)\n  create poisson(2) Vole here\n    food = 1\n    create poisson(0.5) Owl anywhere\nfood -= 0.25\nif food < 0\n  remove self',
];

/** More of them in one turn than anybody made room for. */
const LITTERS: readonly string[] = [
  'if number is 3 and count Vole < 100\n  create whole(150, 200) Vole here\n    food = number\n    mood = Wild\nfood += 1',
  'if number is 3 and count Vole < 100\n  create 150 + poisson(20) Vole anywhere\n    food = count Vole within 3\nmove by 2\nfood += count Vole within 2',
  'if number is 3 and count Vole < 100\n  create whole(100, 150) Owl here\n  create whole(100, 150) Vole here\nwith v = Vole with most it.food\n  hunger += v.number\nwith o = nearest Owl within 4\n  food += o.number',
  'with v = random Vole within 9 where it.number is 5\n  create whole(80, 120) Vole here\n    food = v.food\n  v.food += 1\n  remove v',
];

/** Who comes and goes all at once, when the rule is over. */
const COMING_AND_GOING: readonly string[] = [
  'food -= 0.5\nif food < 0\n  remove self\nhunger = count Vole where it.food > 1',
  'if chance(0.3)\n  create 2 Vole here\n    food = 2\n    hunger = count Vole\nfood = count Vole where it.mood is Calm',
  'with v = random Vole where it.food < food\n  remove v\nif chance(0.2)\n  create 1 Vole anywhere\n    mood = Wild\nhunger = count Vole',
  'if mood is Wild and number > 12\n  remove self\n  create 1 Owl here\nfood = count Owl',
];

const ON_PLANES: readonly string[] = [
  'food = count Owl within 4',
  'food = count Owl within (food * 3)',
  'if any Owl within 2\n  food -= 0.1\nhunger = food - count Owl within 1000',
  'with o = random Owl within 5\n  food += 1',
];

const ON_GRIDS: readonly string[] = [
  'food = count Owl here\nif any Owl next to here\n  hunger += 1',
  'with o = random Owl next to here\n  food += 1',
];

const WALLS = 'obstacle Walls on Bank\n  line (3, 1) to (8, 7)\n  box (9, 2) to (10, 6)\n  circle 1.5 around (1, 7)\n';

/** Two kinds, whose rules share turns: the voles', which they may have two of, and the owls'. */
function sharedOf(space: string, vole: string, owl: string, second = 'hunger += 1', every = ''): string {
  const inside = (body: string): string =>
    body
      .split('\n')
      .map((line) => `    ${line}`)
      .join('\n');
  const behaviours = `  behaviour rest${every}\n${inside(second)}\nagent Owl\n  start 9 anywhere\n  has prey = 0\n  behaviour hunt\n${inside(owl)}`;
  return modelOf(space, vole, 'do, rest, Owl.hunt in turn')
    .replace('agent Owl\n  start 7 anywhere\n', '')
    .replace('\norder', `\n${behaviours}\norder`);
}

describe('turns that are kernels', () => {
  it.each([...PLANES, ...GRIDS])('go as the interpreter says, in turn and all at once, on a %s', (space) => {
    const here = [...ON_ALL_SPACES, ...(space.startsWith('plane') ? ON_PLANES : ON_GRIDS)];
    here.forEach((behaviour, i) =>
      ['in turn', 'all at once'].forEach((mode, m) => expectSameKernel(modelOf(space, behaviour, `do ${mode}`), i + m)),
    );
  });

  it.each([PLANES[1]!, GRIDS[0]!])('go as the interpreter says, whatever is done, on a %s', (space) => {
    [...ANYWHERE, ...REACHING].forEach((behaviour, i) =>
      ['in turn', 'in fixed order', 'all at once'].forEach((mode, m) =>
        expectSameKernel(modelOf(space, behaviour, `do ${mode}`), i + m),
      ),
    );
  });

  it.each([PLANES[1]!, PLANES[2]!, GRIDS[0]!])('make one number of many, and find their ways, on a %s', (space) => {
    GATHERING.forEach((behaviour, i) =>
      ['in turn', 'all at once'].forEach((mode, m) => expectSameKernel(modelOf(space, behaviour, `do ${mode}`), i + m)),
    );
  });

  it.each([...PLANES, ...GRIDS])('go no further than obstacles let them, on a %s', (space) => {
    [
      'turn by uniform(-60 deg, 60 deg)\nmove by 2.5\nfood = x',
      'turn by 10 deg\nmove by 40\nmove by 0.25\nmove by -3',
      'with v = random Vole\n  move to v\n  hunger = y\nelse\n  move by 0',
      'turn to 0 deg\nmove by 7.5\nmove to ahead(3)\nfood = count Vole where it.y > y',
    ].forEach((behaviour, i) => {
      for (const mode of ['in turn', 'in fixed order', 'all at once']) {
        const text = modelOf(space, behaviour, `do ${mode}`);
        expectSameKernel(text.replace('agent Owl', `${WALLS}agent Owl`), i);
      }
    });
  });

  it.each([...PLANES, ...GRIDS])('know who is near while they move, on a %s', (space) => {
    (space.startsWith('plane') ? NEAR_ON_PLANES : NEAR_ON_GRIDS).forEach((behaviour, i) =>
      ['in turn', 'in fixed order'].forEach((mode, m) =>
        expectSameKernel(modelOf(space, behaviour, `do ${mode}`), i + m),
      ),
    );
  });

  it.each(GRIDS.filter((space) => !space.includes('6 neighbours')))(
    'ask one by one who is in a circle of squares, unless so many stand there that cells are sooner counted, on a %s',
    (space) => {
      const asks = [
        'food = count Vole within REACH where it.mood is Wild',
        'turn by 30 deg\nmove by 1\nif any Vole within REACH\n  hunger += 1',
        'with v = random Vole within REACH\n  v.food += 1\nmove by 1',
        'for each v in Vole within REACH\n  food += v.hunger\nmove to random cell',
        'food = sum of it.hunger over Vole within REACH\nlet owls = count Owl within REACH\nhunger += owls',
      ];
      asks.forEach((ask, i) => {
        const text = modelOf(space, ask.replaceAll('REACH', i % 2 ? '(rate * 4)' : '1.5'));
        expectSameKernel(text, i);
        expectSameKernel(text.replace('do in turn', 'do all at once'), i + 1);
        const crowded = modelOf(space, ask.replaceAll('REACH', '(rate * 20)'));
        const executable = compilePlan(planOf(crowded)).executable();
        new Run(executable, usualValues(planOf(crowded)), i).next();
        expect([crowded, isKernel(crowded), executable.linesByKernel.has(0)]).toEqual([crowded, true, false]);
        expect([crowded, firstDifference(planOf(crowded), i, 6)]).toEqual([crowded, -1]);
      });
      const each = modelOf(space, 'food = count Vole within hunger');
      expect([each, isKernel(each)]).toEqual([each, false]);
    },
  );

  it.each([...PLANES, GRIDS[0]!, GRIDS[1]!])('find who is the nearest of all on a %s', (space) => {
    const spaces = space.startsWith('grid') ? [space, `${space}, one agent a cell`] : [space];
    for (const where of spaces) {
      NEAREST.forEach((behaviour, i) =>
        ['in turn', 'all at once'].forEach((mode, m) => {
          if (mode === 'in turn' || !/move v|v.food -/.test(behaviour))
            expectSameKernel(modelOf(where, behaviour, `do ${mode}`), i + m);
        }),
      );
      NEAREST_OF_CHANGING.forEach((behaviour, i) => expectSameKernel(modelOf(where, behaviour), i));
    }
  });

  it.each([PLANES[1]!, GRIDS[0]!])('come and go all at once on a %s', (space) => {
    COMING_AND_GOING.forEach((behaviour, i) => expectSameKernel(modelOf(space, behaviour, 'do all at once'), i));
  });

  it.each([PLANES[0]!, PLANES[3]!])('reach others one after another on a %s', (space) => {
    for (const behaviour of IN_TURN)
      ['in turn', 'in fixed order'].forEach((mode, m) =>
        expectSameKernel(modelOf(space, behaviour, `do ${mode}`), m + 1),
      );
  });

  it.each([PLANES[1]!, GRIDS[0]!])('have room for litters of any number on a %s', (space) => {
    for (const behaviour of LITTERS) {
      const here = space.startsWith('plane') ? behaviour : behaviour.replaceAll(/within \d/g, 'in a square of 2');
      ['in turn', 'in fixed order', 'all at once'].forEach((mode, m) => {
        if (mode === 'all at once' && here.includes('v.food +=')) return;
        expectSameKernel(modelOf(space, here, `do ${mode}`).replace('start 40', 'start 12'), m);
      });
    }
    expectSameKernel(
      sharedOf(space, LITTERS[0]!, 'if number is 2\n  create poisson(150) Owl here\nprey = count Vole'),
      2,
    );
  });

  it('cut the ties of those who go', () => {
    const behaviour =
      'if chance(0.1)\n  remove self\nwith v = random Vole where it.food < 1\n  remove v\nif chance(0.2)\n  create 1 Vole here';
    const text = modelOf(PLANES[1]!, behaviour, 'do in turn\n  look in turn')
      .replace('  behaviour do', '  behaviour look\n    hunger = count Vole tied by Bonds\n  behaviour do')
      .replace('\norder', '\nnetwork Bonds ties Vole to Vole: ring, 4 neighbours\norder')
      .replace('measure fed', 'measure ties_left = count ties by Bonds\nmeasure fed');
    for (const seed of [1, 2, 3]) expectSameKernel(text, seed);
  });

  it.each([
    ['with v = random Vole\n  v.food += 0.25\nmove by 1', 'with v = random Vole\n  prey += v.food\n  v.food = 0'],
    ['food -= 0.5\nif food < 0\n  remove self', 'with v = first Vole where it.food > 1\n  prey += v.food'],
    [
      'if chance(0.2)\n  create 2 Vole here\n    food = 1',
      'prey = count Vole\nturn by normal(0 deg, 30 deg)\nmove by prey',
    ],
    [
      'with o = random Owl\n  o.prey += uniform(0, 1)\nscent += 0.5',
      'with v = Vole with most it.food\n  v.mood = Wild\nprey = scent',
    ],
    ['if hunger > 3 and number > 20\n  food = 1 / (hunger - 4)', 'prey += 1'],
    ['food += 1', 'if prey > 2\n  prey = log(-prey)\nprey += 1'],
  ])('share the turns of several kinds: %s, %s', (vole, owl) => {
    for (const order of ['in turn', 'in fixed order'])
      [PLANES[0]!, GRIDS[1]!].forEach((space, seed) => {
        expectSameKernel(sharedOf(space, vole, owl).replace('in turn', order), seed);
        expectSameKernel(sharedOf(space, vole, owl, 'hunger *= 2', ' every 2 minutes').replace('in turn', order), seed);
      });
  });

  it('have room made for those who are born, however many', () => {
    for (const behaviour of [
      'create 3 Vole here\n  food = 1',
      'with v = random Vole within 90\n  food += v.food\ncreate 3 Vole here\n  food = 1',
      'with v = Vole with most it.food\n  food += v.hunger\nhunger = sum of it.food over Vole within 3\ncreate 3 Vole here',
    ]) {
      const text = modelOf(PLANES[1]!, behaviour).replace('start 40', 'start 12');
      expect(isKernel(text)).toBe(true);
      expect([behaviour, firstDifference(planOf(text), 1, 3)]).toEqual([behaviour, -1]);
    }
  });

  it('keep fields within bounds also where the memory has grown meanwhile', () => {
    const text = modelOf(PLANES[1]!, 'scent -= 0.4\nif count Vole < 5000\n  create 3 Vole here', 'do all at once');
    expect(isKernel(text)).toBe(true);
    const executable = compilePlan(planOf(text)).executable();
    const run = new Run(executable, usualValues(planOf(text)), 1);
    const least = Array.from({ length: 5 }, () => {
      run.next();
      return Math.min(...executable.view().fields[0]!);
    });
    expect(executable.kernelEngine).toBe('WebAssembly');
    expect(least).toEqual([0, 0, 0, 0, 0]);
  });

  it('find their columns where the memory has grown for one of them after another', () => {
    const behaviour = 'if any Vole tied by Bonds where it.mood is Wild\n  with v = random Vole\n    v.food += hunger';
    const text = modelOf(
      PLANES[1]!,
      `${behaviour}\nfood += 1\nwith o = random Owl within 3\n  hunger = food`,
      'do all at once',
    );
    const plan = planOf(
      text.replace('start 40 anywhere', 'start 4000 anywhere').replace('start 7 anywhere', 'start 3000 anywhere'),
    );
    const [grown, apart] = [compilePlan(plan), compilePlan(plan, false, 'JavaScript')].map((compiled) => {
      const executable = compiled.executable();
      new Run(executable, usualValues(plan), 1).runTo(2);
      return executable.view();
    });
    expect(grown).toEqual(apart);
  });

  it.each(['in turn', 'in fixed order'])('are the same where there are many, %s', (order) => {
    const text = modelOf(
      PLANES[1]!,
      'move by 0.5\nfood = count Vole here + hunger\nif chance(0.001)\n  remove self',
      `do ${order}`,
    );
    const many = planOf(text.replace('start 40 anywhere', 'start 24000 anywhere'));
    const ends = (['WebAssembly', 'JavaScript'] as const).map((engine) => {
      const executable = compilePlan(many, false, engine).executable();
      new Run(executable, usualValues(many), 1).runTo(2);
      return executable.view();
    });
    const traced = compilePlan(many, true).executable();
    new Run(traced, usualValues(many), 1).runTo(2);
    expect(ends[0]).toEqual(ends[1]);
    expect(ends[0]).toEqual(traced.view());
  });

  it('see zones and obstacles as they are now, also where they were painted meanwhile', () => {
    const behaviour = 'if here is in zone Patch\n  food += 1\nturn by uniform(-60 deg, 60 deg)\nmove by 2';
    const plan = planOf(modelOf(PLANES[1]!, behaviour).replace('agent Owl', `${WALLS}agent Owl`));
    const ends = (['WebAssembly', 'JavaScript'] as const).map((engine) => {
      const executable = compilePlan(plan, engine === 'JavaScript', engine).executable();
      const run = new Run(executable, usualValues(plan), 3);
      run.runTo(3);
      const { zones, grounds } = executable.state;
      const patch = repainted(zones.masks[0]!, [[0, 0]], 99, true, grounds[0]!.space);
      const walls = { ...zones.masks[1]!, inside: zones.masks[1]!.inside.slice() };
      walls.inside.set(walls.inside.map((_, cell) => (cell % walls.raster.columns === 100 ? 1 : 0)));
      executable.useZones(zonesOf(plan, [patch, walls]));
      run.runTo(8);
      return { view: executable.view(), lines: executable.linesByKernel.has(0) };
    });
    expect(ends.map(({ lines }) => lines)).toEqual([true, false]);
    expect(ends[0]!.view).toEqual(ends[1]!.view);
    const food = ends[0]!.view.populations[1]!.attributes[0]!;
    expect(Math.min(...food)).toBeGreaterThanOrEqual(5);
  });

  it('are had by nobody where there is nobody, and by those who come', () => {
    const text = modelOf(PLANES[0]!, 'with v = random Vole\n  v.food += 1', 'do in turn')
      .replace('start 40 anywhere', 'start 0 anywhere')
      .replace('start 10 of Wild, rest Calm', 'start rest Calm')
      .replace('measure fed', 'timeline\n  at 3 minutes: create 30 Vole anywhere\nmeasure fed');
    expect(isKernel(text)).toBe(true);
    for (const seed of [1, 2, 3]) expect(firstDifference(planOf(text), seed, 6)).toBe(-1);
  });

  it('do nothing to others where there are none of them', () => {
    const text = modelOf(PLANES[1]!, 'for each o in Owl within 2\n  o.prey = food\nfood += 1', 'do all at once');
    const none = text.replace('start 7 anywhere', 'start 0 anywhere\n  has prey = 0');
    for (const nobody of [none, none.replace('start 40', 'start 0').replace('start 10 of', 'start 0 of')]) {
      expect(isKernel(nobody)).toBe(true);
      expect(firstDifference(planOf(nobody), 1, 6)).toBe(-1);
    }
  });

  it('find no ties of those who came after the last tie was made', () => {
    const text = modelOf(
      PLANES[1]!,
      'food += count Vole tied by Bonds\nwith v = first Vole tied by Bonds\n  v.food += 1',
    );
    const born = text
      .replace('measure fed', 'timeline\n  every 1 minute: create 30 Vole anywhere\nmeasure fed')
      .replace('start 40', 'start 33');
    for (const seed of [1, 2, 3]) expect(firstDifference(planOf(born), seed, 6)).toBe(-1);
  });

  it('end at the ceiling with the same word, where the same agents are born before', () => {
    const plan = planOf(modelOf(PLANES[1]!, 'create 2 Vole here\nfood += 1'));
    const told = [compilePlan(plan), compilePlan(plan, false, 'JavaScript'), compilePlan(plan, true)].map(
      (compiled) => {
        const executable = compiled.executable();
        executable.context.ceiling = 300;
        const run = new Run(executable, usualValues(plan), 1);
        return [failureOf(() => run.runTo(5)), run.step, executable.living(1)];
      },
    );
    expect(told[0]![0]).toMatch(/300/);
    expect(told[1]).toEqual(told[0]);
    expect(told[2]).toEqual(told[0]);
  });

  it.each([
    ['a value', 'if number > 20\n  food = log(-food)'],
    ['a direction', 'if number > 30\n  turn by 1 deg / (hunger - 1)'],
    ['a chance', 'if chance(1 / (hunger - 1) - 1 / (hunger - 1))\n  food = 1'],
    ['a count of rounds', 'repeat at most round(hunger - 2) times\n  food += 0.5'],
    ['a field', 'if food > 3\n  scent += 1 / (hunger - 1)'],
    ['a mean of nobody', 'if number > 20\n  food = mean of it.x over Owl where it.x > 90'],
    ['a variable', 'if food > 3\n  heat = 1 / (hunger - 1)'],
    ['a draw', 'if food > 3\n  food = gamma(mean = -1, shape = hunger)'],
  ])('fail with the same word: %s', (_, behaviour) => {
    for (const mode of ['in turn', 'in fixed order', 'all at once']) {
      const text = modelOf(PLANES[1]!, behaviour, `do ${mode}`);
      expect(isKernel(text)).toBe(true);
      const plan = planOf(text);
      for (const seed of [1, 2, 3, 4]) expect([mode, seed, firstDifference(plan, seed, 4)]).toEqual([mode, seed, -1]);
      const run = new Run(compilePlan(plan).executable(), usualValues(plan), 1);
      expect(failureOf(() => run.next())).toBeDefined();
    }
  });

  it('put zeros of both signs in the order of sorted arrays', () => {
    const plan = planOf(modelOf(PLANES[1]!, 'hunger = quantile 100 % of (0 * (it.food - 2)) over Vole'));
    const zeros = [compilePlan(plan), compilePlan(plan, true)].map((compiled) => {
      const executable = compiled.executable();
      new Run(executable, usualValues(plan), 1).runTo(1);
      return { zero: executable.view().populations[1]!.attributes[1]![0], isKernel: executable.linesByKernel.has(0) };
    });
    expect(zeros).toEqual([
      { zero: 0, isKernel: true },
      { zero: 0, isKernel: false },
    ]);
  });

  it('are not there where a body asks for more than kernels can do', () => {
    const text = modelOf(GRIDS[0]!, 'add food to eaten\nfood = sum of it over eaten where it > 1');
    expect(isKernel(text.replace('agent Owl', 'tally eaten\nagent Owl'))).toBe(false);
  });
});

describe('kernels that come later', () => {
  it('are taken up by runs under way, to the same end', () => {
    const plan = planOf(modelOf(PLANES[0]!, `${ON_ALL_SPACES[4]!}\nfood -= 0.25\nif food < 0\n  remove self`));
    const usual = compilePlan(plan).executable();
    new Run(usual, usualValues(plan), 1).runTo(10);
    const light = compileLightly(plan);
    const executable = light.executable();
    const run = new Run(executable, usualValues(plan), 1);
    run.runTo(4);
    expect(light.source).not.toContain('turnsByKernel');
    light.takeUp(makeKernels);
    expect(light.source).toContain('turnsByKernel');
    run.runTo(10);
    expect(executable.kernelEngine).toBe('WebAssembly');
    expect(executable.view()).toEqual(usual.view());
  });
});

describe('a run whose memory cannot grow any more', () => {
  afterEach(() => vi.restoreAllMocks());

  it('goes on without WebAssembly to the same end', () => {
    const plan = planOf(modelOf(PLANES[1]!, 'create 3 Vole here\n  food = 1'));
    const begun = () => {
      const executable = compilePlan(plan).executable();
      return { executable, run: new Run(executable, usualValues(plan), 1) };
    };
    const [usual, poor] = [begun(), begun()];
    for (const { run } of [usual, poor]) run.next();
    expect(poor.executable.kernelEngine).toBe('WebAssembly');
    usual.run.runTo(4);
    const { Memory } = (globalThis as unknown as { WebAssembly: { Memory: { prototype: { grow(): number } } } })
      .WebAssembly;
    vi.spyOn(Memory.prototype, 'grow').mockImplementation(() => {
      throw new RangeError('no more');
    });
    poor.run.runTo(4);
    expect(poor.executable.kernelEngine).toBe('JavaScript');
    expect(poor.executable.view()).toEqual(usual.executable.view());
  });
});
