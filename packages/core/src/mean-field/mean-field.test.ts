import { describe, expect, it } from 'vitest';
import { studiedModel } from '../../test/models.ts';
import { compilePlan } from '../load.ts';
import { simulate } from '../studies/runner/simulate.ts';
import type { MeanFieldCourse } from './course.ts';
import { meanFieldCourse } from './course.ts';
import type { MeanField } from './derive.ts';
import { deriveMeanField } from './derive.ts';
import { equationsOf } from './equations.ts';
import type { Formula } from './formula.ts';
import { integrate } from './integrate.ts';

/** Formulas as plain text. */
function words(formula: Formula): string {
  switch (formula.is) {
    case 'number':
      return formula.text;
    case 'name':
      return formula.text + (formula.stage === undefined ? '' : `_${formula.stage}`);
    case 'mean':
      return `<${formula.text}>`;
    case 'product':
      return formula.factors.map(words).join(' ');
    case 'sum':
      return `(${sumWords(formula.terms)})`;
    case 'fraction':
      return `[${words(formula.top)} / ${words(formula.bottom)}]`;
    case 'power':
      return `${words(formula.base)}^${words(formula.exponent)}`;
    case 'function':
      return `${formula.name}(${formula.args.map(words).join(', ')})`;
    case 'condition':
      return `{${formula.words.map((part) => (typeof part === 'string' ? part : words(part))).join('')}}`;
  }
}

function sumWords(terms: readonly { readonly isLess: boolean; readonly of: Formula }[]): string {
  return terms.map(({ isLess, of }, i) => `${isLess ? '-' : i > 0 ? '+' : ''}${words(of)}`).join(' ');
}

function limitOf(text: string): { limit: MeanField; model: ReturnType<typeof studiedModel> } {
  const model = studiedModel(text);
  const limit = deriveMeanField(model.loaded.checked);
  if ('obstacles' in limit) throw new Error(limit.obstacles.map(({ message }) => message).join('\n'));
  return { limit, model };
}

function equations(text: string): string[] {
  return equationsOf(limitOf(text).limit).equations.map(
    ({ of, terms, stages }) =>
      `${words(of)}' = ${sumWords(terms)}${stages ? `; i from ${stages.from} to ${words(stages.to)}` : ''}`,
  );
}

function courseOf(text: string, steps: number, values: Readonly<Record<string, number>> = {}): MeanFieldCourse {
  const { limit, model } = limitOf(text);
  const parameters = model.loaded.plan.parameters.map(({ name, value }) => values[name] ?? value);
  return meanFieldCourse(limit, parameters, steps, 1);
}

const CLOCK = 'clock\n  step 0.1 days from 2031-03-01\n  end after 30 days\n';
const DECAY = `model Leaving
${CLOCK}parameter risk = 0.2 per day, from 0 to 1
agent Vole
  start 1000
  states life
    Stay
      rate risk: Away
    Away
measure stay = count Vole where it.life is Stay
measure away_ = share of Vole where it.life is Away
`;
const RUMOUR = `model Rumour
${CLOCK}parameter meetings = 2 per day, from 0 to 20
parameter catching = 30 %, from 0 to 1
agent Vole
  start 1000
  states ear
    start 10 of Knowing, rest Unaware
    Unaware
    Knowing
interaction tell: a Vole, b Vole
  mixing meetings
  where a.ear is Knowing and b.ear is Unaware
  chance catching
  b.ear = Knowing
order
  tell in turn
measure knowing = count Vole where it.ear is Knowing
`;
const STAGES = `model Stages
${CLOCK}parameter shape_ = 3, whole from 1 to 200
agent Vole
  start 1000
  states song
    Humming
      after gamma(mean = 6 days, shape = shape_): 75 % Singing, rest Weary
    Singing
    Weary
measure humming = count Vole where it.song is Humming
measure singing = count Vole where it.song is Singing
`;
const BREEDING = `model Breeding
${CLOCK}parameter litter = 2, whole from 0 to 9
agent Vole
  start 100
  behaviour breed
    if chance(0.4 %)
      create litter Vole
measure voles = count Vole
`;

describe('the well-mixed limit', () => {
  it('of a rate is exponential decay', () => {
    expect(equations(DECAY)).toEqual(["Stay' = -risk Stay", "Away' = risk Stay"]);
    const { rows, steps } = courseOf(DECAY, 300);
    for (let step = 0; step <= steps; step += 50) {
      const here = 1000 * Math.exp(-0.02 * step);
      expect(rows[2 * step]).toBeCloseTo(here, 4);
      expect(rows[2 * step + 1]).toBeCloseTo(1 - here / 1000, 7);
    }
  });

  it('of meetings by mixing is logistic growth', () => {
    expect(equations(RUMOUR)).toEqual([
      "Unaware' = -[meetings catching Knowing Unaware / N]",
      "Knowing' = [meetings catching Knowing Unaware / N]",
    ]);
    const { rows } = courseOf(RUMOUR, 300);
    for (let step = 0; step <= 300; step += 30)
      expect(rows[step]).toBeCloseTo(1000 / (1 + 99 * Math.exp(-0.06 * step)), 4);
  });

  it('of a gamma duration with a whole shape is a row of stages', () => {
    expect(equations(STAGES)).toEqual([
      "Humming_1' = -[shape_ / 6 days] Humming_1",
      "Humming_i' = [shape_ / 6 days] Humming_i−1 -[shape_ / 6 days] Humming_i; i from 2 to shape_",
      "Singing' = 75 % [shape_ / 6 days] Humming_shape_",
      "Weary' = (1 -75 %) [shape_ / 6 days] Humming_shape_",
    ]);
    const { rows } = courseOf(STAGES, 300);
    for (let step = 0; step <= 300; step += 30) {
      const x = (3 / 6) * 0.1 * step;
      const left = 1000 * Math.exp(-x) * (1 + x + (x * x) / 2);
      expect(rows[2 * step]).toBeCloseTo(left, 4);
      expect(rows[2 * step + 1]).toBeCloseTo(0.75 * (1000 - left), 4);
    }
    expect(() => courseOf(STAGES, 3, { shape_: 101 })).toThrow('a whole number up to 100, not 101');
  });

  it('of agents that come by chance is exponential growth', () => {
    expect(equations(BREEDING)).toEqual(["Vole' = [0.4 % / 0.1 days] Vole litter"]);
    const { rows } = courseOf(BREEDING, 300);
    expect(rows[300]).toBeCloseTo(100 * Math.exp(0.08 * 30), 3);
  });

  it('has a chance in each step as the rate of the same effect, with agents that go, in turn with a duration', () => {
    const text = `model Going
${CLOCK}agent Vole
  start 500
  states life
    Young
      chance 2 %: Gone
        remove self
      after exponential(5 days): Grown
    Grown
    Gone
measure young = count Vole where it.life is Young
measure voles = count Vole
`;
    expect(equations(text)).toEqual([
      "Young' = -[−log((1 -2 %)) / 0.1 days] Young -[1 / 5 days] Young",
      "Grown' = [1 / 5 days] Young",
    ]);
    const { rows } = courseOf(text, 100);
    const lost = -Math.log(0.98) / 0.1;
    const young = 500 * Math.exp(-(lost + 0.2) * 10);
    expect(rows[200]).toBeCloseTo(young, 5);
    expect(rows[201]).toBeCloseTo(young + ((500 - young) * 0.2) / (lost + 0.2), 5);
  });

  it('has values that hold for a time in the steps in which a run has them', () => {
    const text = `${RUMOUR}timeline\n  from 5 days to 10 days: catching = 0\n  at 20 days: catching = 1\n`;
    const { rows } = courseOf(text, 300);
    const knowing = (days: number): number => 1000 / (1 + 99 * Math.exp(-0.6 * days));
    expect(rows[50]).toBeCloseTo(knowing(5), 4);
    expect(rows[100]).toBeCloseTo(knowing(5), 4);
    expect(rows[200]).toBeCloseTo(knowing(15), 4);
    expect(rows[201]! - rows[200]!).toBeGreaterThan(1.5 * (knowing(15.1) - knowing(15)));
  });

  it('tells two machines apart by all their states, and everybody by their own', () => {
    const text = `model Two
${CLOCK}agent Vole
  start 90
  states day
    start 40 % Awake, rest Asleep
    Awake
      rate 0.5 per day when food is Full: Asleep
    Asleep
  states food
    Hungry
      rate 0.25 per day: Full
    Full
agent Owl
  start 5
measure awake = count Vole where it.day is Awake
measure owls = count Owl
`;
    expect(equations(text)).toEqual([
      "Awake, Hungry' = -0.25 per day Awake, Hungry",
      "Awake, Full' = 0.25 per day Awake, Hungry -0.5 per day Awake, Full",
      "Asleep, Hungry' = -0.25 per day Asleep, Hungry",
      "Asleep, Full' = 0.5 per day Awake, Full +0.25 per day Asleep, Hungry",
    ]);
    const { rows } = courseOf(text, 100);
    // Two exponential durations one after the other.
    const awake = 36 * (2 * Math.exp(-0.25 * 10) - Math.exp(-0.5 * 10));
    expect([rows[200], rows[201]]).toEqual([expect.closeTo(awake, 6), 5]);
  });

  it('is where the mean of many runs of very many agents lies', () => {
    const text = RUMOUR.replace('start 1000', 'start 20000')
      .replace('10 of', '2000 of')
      .replace('0.1 days', '0.02 days');
    const { limit, model } = limitOf(text);
    const { plan } = model.loaded;
    const compiled = compilePlan(plan);
    const parameters = plan.parameters.map(({ value }) => value);
    const steps = 300;
    const { rows } = meanFieldCourse(limit, parameters, steps, 1);
    const runs = [1, 2, 3, 4].map((seed) => simulate(compiled, { seed, parameters, steps, every: 1 })!);
    for (const step of [100, 200, 300]) {
      const values = runs.map((run) => ('result' in run ? run.result.rows[step]! : NaN));
      const mean = values.reduce((a, b) => a + b, 0) / runs.length;
      expect(Math.abs(mean / rows[step]! - 1)).toBeLessThan(0.015);
    }
  });

  it('has nothing happen at a rate below 0, as a run has', () => {
    const { rows } = courseOf(DECAY.replace('rate risk', 'rate risk - 0.3 per day'), 10);
    expect(rows[20]).toBe(1000);
  });

  it('says why runs may differ from it', () => {
    const text = RUMOUR.replace('step 0.1 days', 'step 1 day')
      .replace('start 1000', 'start 50\n  has zeal = lognormal(1, 0.5)')
      .replace('mixing meetings', 'mixing meetings: 80 % tied by Tunnels, rest anyone')
      .replace('chance catching', 'chance min(1, catching * b.zeal)')
      .replace('interaction', 'network Tunnels ties Vole to Vole: ring, 4 neighbours\ninteraction');
    expect(equations(text)[1]).toBe("Knowing' = [meetings min(1, catching <zeal>) Knowing Unaware / N]");
    expect(courseOf(text, 3).reasons).toEqual([
      expect.stringMatching(/^Meetings are along Tunnels/),
      expect.stringMatching(/^Agents of Vole differ in zeal/),
      expect.stringMatching(/^In one step up to \d+ % of the agents/),
      expect.stringMatching(/^There are 50 agents at first/),
    ]);
    expect(courseOf(RUMOUR, 3).reasons).toEqual([]);
  });

  it('is of what states hang on: other rules neither stand in its way nor give reasons', () => {
    const text = DECAY.replace('agent', 'space Bank: plane 9 by 9\nagent')
      .replace('start 1000', 'start 1000 anywhere\n  has warmth = uniform(0, 1)\n  has met = 0')
      .concat(
        'interaction huddle: a Vole, b Vole\n  within 1\n  where a.warmth > b.warmth\n  if a.warmth > 0.5\n    a.met += 1\n',
        'network Tunnels ties Vole to Vole: ring, 4 neighbours\ninteraction greet: a Vole, b Vole\n  mixing 2 per day: 50 % tied by Tunnels, rest anyone\n  a.met += 1\n',
        'order\n  huddle in turn\n  greet in turn\n  life in turn\n',
        'measure met = mean of it.met over Vole\nmeasure warmth = mean of it.warmth over Vole\n',
      );
    expect(equations(text)).toEqual(["Stay' = -risk Stay", "Away' = risk Stay"]);
    const { rows, reasons } = courseOf(text, 1);
    expect(reasons).toEqual([]);
    // What rules change has no value in it, though it has one at the start.
    expect([...rows.slice(0, 4)]).toEqual([1000, 0, NaN, 0.5]);
  });

  it('has what is set for good beneath what holds for a time, as a run has', () => {
    const text = `${DECAY}timeline\n  at 6 days: risk = 0\n  from 5 days to 10 days: risk = 0.4 per day\n`;
    const { rows } = courseOf(text, 150);
    const left = (...exponents: number[]): number => 1000 * Math.exp(-exponents.reduce((a, b) => a + b, 0));
    expect(rows[200]).toBeCloseTo(left(0.2 * 5, 0.4 * 5), 4);
    expect(rows[300]).toBeCloseTo(rows[200]!, 6);
  });

  it('leaves out a measure that has none, and gives the others', () => {
    const { rows } = courseOf(`${DECAY}measure gone = entered Away\nmeasure both = stay * away_\n`, 1);
    expect([rows[0], rows[2], rows[3]]).toEqual([1000, NaN, 0]);
  });

  it.each([
    ['a fixed duration', DECAY.replace('rate risk', 'after 3 days'), 'this one looks back in time'],
    [
      'a threshold in an attribute that is drawn',
      RUMOUR.replace('start 1000', 'start 1000\n  has zeal = uniform(0, 1)').replace(
        'b.ear is Unaware',
        'b.ear is Unaware and b.zeal > 0.7',
      ),
      'the limit knows its mean only',
    ],
    ['a parameter that grows step by step', `${DECAY}timeline\n  at 3 days: risk += 0.1 per day\n`, '“risk” changes'],
    ['a change of all in one step', DECAY.replace('rate risk', 'chance 100 %'), 'to all in one step'],
    ['a threshold', DECAY.replace('rate risk', 'when count Vole > 500'), 'for all at once'],
    [
      'a rate that depends on space',
      DECAY.replace('agent', 'space Bank: plane 9 by 9\nagent')
        .replace('start 1000', 'start 1000 anywhere')
        .replace('rate risk', 'rate x * risk'),
      'depends on “x”',
    ],
    [
      'an attribute that changes',
      DECAY.replace('start 1000', 'start 1000\n  has age = 1\n  behaviour grow\n    age += 1').replace(
        'rate risk',
        'rate age * risk',
      ),
      '“age” changes during a run',
    ],
    [
      'partners by space',
      RUMOUR.replace('agent', 'space Bank: plane 9 by 9\nagent')
        .replace('start 1000', 'start 1000 anywhere')
        .replace('mixing meetings', 'within 1'),
      'told by space or ties',
    ],
    ['agents that come at a date', `${DECAY}timeline\n  at 3 days\n    create 5 Vole\n`, 'no rate, chance or meeting'],
    [
      'a parameter that changes by what happens',
      `${DECAY}timeline\n  whenever stay < 500: risk = 0.1 per day\n`,
      '“risk” changes during a run',
    ],
    ['nothing that changes', DECAY.replace('      rate risk: Away\n', ''), 'No state or number of agents changes'],
  ])('is not derived from %s', (_, text, message) => {
    const limit = deriveMeanField(studiedModel(text).loaded.checked);
    const told = 'obstacles' in limit ? limit.obstacles.map((obstacle) => obstacle.message) : [];
    expect(told.join('\n')).toContain(message);
    for (const { span } of 'obstacles' in limit ? limit.obstacles : []) expect(span.end).toBeGreaterThan(span.start);
  });
});

describe('integration', () => {
  it('keeps to its tolerance over many turns of an oscillation, and says when it cannot', () => {
    const turn = (_: number, [x, v]: Float64Array, into: Float64Array): void => {
      into[0] = v!;
      into[1] = -x!;
    };
    for (const tolerance of [1e-5, 1e-9]) {
      const [x, v] = integrate(turn, Float64Array.of(1, 0), 0, 40, { tolerance, scale: 1 });
      expect(Math.hypot(x! - Math.cos(40), v! + Math.sin(40))).toBeLessThan(100 * tolerance);
    }
    const burst = (_: number, [x]: Float64Array, into: Float64Array): void => {
      into[0] = x! * x!;
    };
    expect(() => integrate(burst, Float64Array.of(1), 0, 2, { tolerance: 1e-8, scale: 1 })).toThrow(RangeError);
  });
});
