import { describe, expect, it } from 'vitest';
import { applyEdits } from '../../diagnostics.ts';
import { loadModel } from '../../load.ts';
import { pointAt, pointCount, runCount, seedsAt } from '../design/design.ts';
import { withOutcomes } from '../outcomes.ts';
import { modelNamedIn, readStudy } from './read-study.ts';

const MODEL = `model Bank
clock
  step 1 day from 2031-03-01
  end after 60 days
parameter strike = 0.1 per day, from 0 per day to 0.5 per day
parameter kestrels = 2, whole from 0 to 12
parameter bite = 0.2, from 0 to 1
parameter covered = no
parameter ground = clay of clay, peat, sand
agent Vole
  start 30
  behaviour go
    if chance(bite)
      remove self
order
  go in turn
measure voles = count Vole
summary low = min of voles
`;

function reading(text: string) {
  const { loaded } = loadModel(MODEL);
  return readStudy(text, { text: MODEL, loaded: loaded! });
}
function studyOf(text: string) {
  const { study, diagnostics } = reading(text);
  expect(diagnostics.map(({ message }) => message)).toEqual([]);
  return study!;
}
const points = (text: string) => {
  const { design } = studyOf(text).setting;
  return Array.from({ length: pointCount(design) }, (_, place) => pointAt(design, place).values);
};

describe('the text of a study', () => {
  it('says name, note, factors, design, seeds and what is kept', () => {
    const study = studyOf(`# made up
study Strikes and kestrels
  note What decides how low it falls?
  note And when?
  vary strike     3 values from 0 to 0.4 per day   # both ends belong to it
  vary kestrels   2, 6, 12
  set bite = 0.3
  every combination
  20 seeds each
  keep every 7 days
  end after 30 steps
  outcome crash: low < 20
`);
    expect(study).toMatchObject({
      name: 'Strikes and kestrels',
      note: 'What decides how low it falls? And when?',
      outcomes: [{ name: 'crash', condition: 'low < 20' }],
    });
    expect(study.setting).toMatchObject({ every: 7, steps: 30, parameters: { bite: 0.3 } });
    expect(runCount(study.setting.design)).toBe(180);
    expect(pointAt(study.setting.design, 1)).toEqual({ id: 'strike=0;kestrels=6', values: [0, 6] });
  });

  it('leaves out what a condition on parameters says, with units', () => {
    expect(
      points(
        'study S\nvary strike 0, 0.2, 0.4\nvary kestrels 2, 12\nleave out strike > 0.3 per day and kestrels is 12\n1 seed each',
      ),
    ).toEqual([
      [0, 2],
      [0, 12],
      [0.2, 2],
      [0.2, 12],
      [0.4, 2],
    ]);
  });

  it('one at a time goes from the values of the model, or those that are set, and takes each point once', () => {
    expect(points('study S\nvary kestrels 2, 6\nvary bite 0.1, 0.4\nset bite = 0.3\none at a time\n1 seed')).toEqual([
      [2, 0.3],
      [6, 0.3],
      [2, 0.1],
      [2, 0.4],
    ]);
  });

  it('sampled designs take ranges, distributions, whole numbers, switches and choices, each within its bounds, the same each time', () => {
    const text =
      'study S\nvary strike 0.1 to 0.4 per day\nvary kestrels 2 to 6\nvary bite normal(0.5, 0.1)\nvary covered no, yes\nvary ground clay, sand\nlatin hypercube of 40\n1 seed';
    const rows = points(text);
    expect(rows.length).toBe(40);
    expect(points(text)).toEqual(rows);
    expect(points(text.replace('of 40', 'of 40, seed 2'))).not.toEqual(rows);
    for (const [strike, kestrels, , covered, ground] of rows) {
      expect(strike! >= 0.1 && strike! <= 0.4).toBe(true);
      expect([2, 3, 4, 5, 6]).toContain(kestrels);
      expect([0, 1]).toContain(covered);
      expect([0, 2]).toContain(ground);
    }
    // Every whole number and word about equally often, as each factor has one level in each stretch.
    expect(rows.filter((row) => row[1] === 4).length).toBe(8);
    expect(rows.filter((row) => row[3] === 1).length).toBe(20);
    expect(rows.reduce((sum, row) => sum + row[2]!, 0) / 40).toBeCloseTo(0.5, 1);
  });

  it('all methods give as many points as they say', () => {
    const count = (method: string) =>
      points(`study S\nvary strike 0.1 to 0.4 per day\nvary bite 0.1 to 0.2\n${method}\n1 seed`).length;
    expect(count('random 30')).toBe(30);
    expect(count('sobol sequence of 32')).toBe(32);
    expect(count('sobol indices of 16')).toBe(64);
    const paths = studyOf(
      'study S\nvary strike 0.1 to 0.4 per day\nvary bite 0.1 to 0.2\nelementary effects, 5 paths\n1 seed',
    ).setting.design;
    expect(paths).toMatchObject({ is: 'listed', rows: { length: 15 }, sample: { count: 5, luck: 1 } });
  });

  it('scenarios are points by name, with the values of the model where they set none', () => {
    const study = studyOf(
      'study S\n10 seeds each\nown seeds\nscenario As it is\nscenario Dry summer\n  bite = 0.1\n  strike = 0.3 per day\n',
    );
    const { design } = study.setting;
    expect(design).toMatchObject({ names: ['As it is', 'Dry summer'], method: 'scenarios' });
    expect([pointAt(design, 0).values, pointAt(design, 1).values]).toEqual([
      [0.2, 0.1],
      [0.1, 0.3],
    ]);
    expect(seedsAt(design, 1)).toEqual([11, 12, 13, 14, 15, 16, 17, 18, 19, 20]);
  });

  it('scenarios can lay timeline lines over the model, and need no values then', () => {
    const { design } = studyOf(
      'study S\n2 seeds each\nscenario As it is\nscenario Quiet\n  from 10 days to 20 days: kestrels = 0\n  at 30 days: kestrels = 9\n',
    ).setting;
    const lines = 'from 10 days to 20 days: kestrels = 0\nat 30 days: kestrels = 9';
    expect(design).toMatchObject({ timelines: ['', lines] });
    expect(pointAt(design, 1)).toMatchObject({ values: [], timeline: lines });
    expect(pointAt(design, 0).id).not.toBe(pointAt(design, 1).id);
  });

  it('a rule of precision names a summary', () => {
    const study = studyOf('study S\nuntil mean of low is known within 2 %, at most 200 seeds');
    expect(study.until).toEqual({ summary: 0, share: 0.02, most: 200 });
    expect(study.setting.design.seeds.length).toBe(200);
  });

  it('outcomes are summaries that are yes or no, after those of the model', () => {
    const { plan } = withOutcomes(MODEL, undefined, [
      { name: 'crash', condition: 'low < 20' },
      { name: 'soon', condition: '(first time voles < 5) < 30 days' },
    ])!;
    expect(plan.summaries.map(({ name, yesNo }) => [name, yesNo])).toEqual([
      ['low', false],
      ['crash', true],
      ['soon', true],
    ]);
    expect(plan.checks.length).toBe(0);
  });

  it('names the file of its model', () => {
    expect(modelNamedIn('study S\n  model "meadow year.vole"\n')).toBe('meadow year.vole');
    expect(modelNamedIn('study S')).toBeUndefined();
  });

  it.each([
    ['a line that says nothing', 'study S\nvry bite 1\n1 seed', 'study/line', 'vry bite 1'],
    ['no name', 'vary bite 0.1\n1 seed', 'study/missing', 'vary bite 0.1'],
    ['no seeds', 'study S\nvary bite 0.1, 0.2', 'study/missing', 'study S'],
    ['no seeds at all', 'study S\n0 seeds each', 'study/design', '0 seeds each'],
    ['a name that is not there', 'study S\nvary bit 0.1\n1 seed', 'study/parameter', 'bit'],
    ['a name that every object has', 'study S\nvary constructor 0.1\n1 seed', 'study/parameter', 'constructor'],
    ['a value outside', 'study S\nvary bite 0.1, 3\n1 seed', 'study/values', '0.1, 3'],
    ['words for numbers', 'study S\nvary bite much, little\n1 seed', 'study/values', 'much, little'],
    ['a range where values are wanted', 'study S\nvary bite 0.1 to 0.3\n1 seed', 'study/values', '0.1 to 0.3'],
    [
      'a law that goes outside',
      'study S\nvary bite normal(0.5, 1)\nrandom 5\n1 seed',
      'study/values',
      'normal(0.5, 1)',
    ],
    [
      'fractions of whole numbers',
      'study S\nvary kestrels normal(6, 1)\nrandom 5\n1 seed',
      'study/values',
      'normal(6, 1)',
    ],
    ['a factor twice', 'study S\nvary bite 0.1\nvary Bite 0.2\n1 seed', 'study/twice', 'vary Bite 0.2'],
    ['two designs', 'study S\nvary bite 0.1\nrandom 5\nrandom 6\n1 seed', 'study/twice', 'random 6'],
    ['nothing varied', 'study S\nrandom 5\n1 seed', 'study/design', 'random 5'],
    ['no points', 'study S\nvary bite 0.1 to 0.2\nrandom 0\n1 seed', 'study/design', 'random 0'],
    [
      'everything left out',
      'study S\nvary bite 0.1, 0.2\nleave out bite > 0\n1 seed',
      'study/design',
      'vary bite 0.1, 0.2',
    ],
    [
      'points left out of paths',
      'study S\nvary bite 0.1 to 0.2\nleave out bite > 0\nelementary effects, 3 paths\n1 seed',
      'study/design',
      'elementary effects, 3 paths',
    ],
    ['a condition on measures', 'study S\nvary bite 0.1\nleave out voles > 3\n1 seed', 'study/condition', 'voles'],
    ['a condition without end', 'study S\nvary bite 0.1\nleave out bite >\n1 seed', 'study/condition', '>'],
    ['an outcome that reads nothing', 'study S\noutcome crash: lows < 20\n1 seed', 'name/unknown', 'lows'],
    ['an outcome of a taken name', 'study S\noutcome low: low < 20\n1 seed', 'study/twice', 'low'],
    ['records of a model without', 'study S\nkeep records\n1 seed', 'study/values', 'keep records'],
    ['a time that is none', 'study S\nkeep every now and then\n1 seed', 'study/values', 'now and then'],
    ['half a step', 'study S\nkeep every 12 h\n1 seed', 'study/values', '12 h'],
    ['one scenario', 'study S\n1 seed\nscenario Dry\n  bite = 0.1', 'study/scenario', 'scenario Dry'],
    [
      'scenarios of one name',
      'study S\n1 seed\nscenario Dry\n  bite = 0.1\nscenario dry\n  bite = 0.3',
      'study/scenario',
      'scenario dry',
    ],
    [
      'scenarios that are the same',
      'study S\n1 seed\nscenario A\n  bite = 0.2\nscenario B\n',
      'study/design',
      'study S',
    ],
    [
      'a timeline line that sets what is not there',
      'study S\n1 seed\nscenario A\nscenario B\n  at 3 days: kestrel = 2',
      'name/unknown',
      'kestrel',
    ],
    [
      'factors and scenarios',
      'study S\n1 seed\nvary bite 0.1\nscenario A\nscenario B\n  bite = 0.3',
      'study/design',
      'vary bite 0.1',
    ],
    [
      'a line of the study under a scenario',
      'study S\n1 seed\nscenario A\n  keep every 7 days\nscenario B',
      'study/line',
      'keep every 7 days',
    ],
    [
      'a precision never reached',
      'study S\nuntil mean of low is known within 0 %, at most 50 seeds',
      'study/values',
      'until mean of low is known within 0 %, at most 50 seeds',
    ],
    [
      'a precision of nothing',
      'study S\nuntil mean of lo is known within 2 %, at most 50 seeds',
      'study/parameter',
      'lo',
    ],
    [
      'more points than anybody has time for',
      'study S\nvary bite 1000 values from 0 to 1\nvary strike 1000 values from 0 to 0.5\nvary covered no, yes\n1 seed',
      'study/design',
      'vary bite 1000 values from 0 to 1',
    ],
  ] as const)('%s is told, with its place', (_, text, code, piece) => {
    const { study, diagnostics } = reading(text);
    expect(study).toBeUndefined();
    const found = diagnostics.find((each) => each.code === code);
    expect([code, found && text.slice(found.span.start, found.span.end)]).toEqual([code, piece]);
    expect(found!.message.length).toBeGreaterThan(10);
  });

  it('repairs mend what they are for', () => {
    for (const text of [
      'study S\nvary bit 0.1\n1 seed',
      'study S\nvary bite 0.1 to 0.3\n1 seed',
      'study S\n\nscenario A\n\nscenario B\n  bite = 0.3\n',
      'study S\nvary bite 0.1',
    ]) {
      const [found] = reading(text).diagnostics;
      expect(reading(applyEdits(text, found!.fixes![0]!.edits)).diagnostics).toEqual([]);
    }
  });

  it('any text gives findings or a study, and never throws', () => {
    for (const text of [
      '',
      '\n\n',
      '#',
      'study',
      'scenario',
      '"',
      'vary',
      'vary a',
      '\u0000',
      'until',
      'leave out',
      'outcome x:',
      'study S\n1 seed\noutcome __proto__: low < 3',
    ])
      expect(reading(text).diagnostics.length + (reading(text).study ? 1 : 0)).toBeGreaterThan(0);
  });
});
