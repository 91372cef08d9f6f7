import { describe, expect, it } from 'vitest';
import { ModelError } from '../src/index.ts';
import type { Executable } from '../src/engine/executable.ts';
import { compiledRun, interpretedRun, planOf, usualValues } from './models.ts';

/**
 * What each construct means, on models small enough to be followed by hand. Every case runs in both engines; the expected numbers come
 * from docs/language.md and the grammar, not from a run.
 */

interface Case {
  readonly name: string;
  /** Parts of the model besides title and clock. */
  readonly parts: string;
  readonly clock?: string;
  /** Steps to run. */
  readonly steps?: number;
  /** Last value of each measure, or values row by row. */
  readonly expect?: readonly (number | null)[];
  readonly rows?: readonly (readonly number[])[];
  /** Attribute columns of the first kind at the end, by attribute. */
  readonly attributes?: readonly (readonly number[])[];
  readonly places?: readonly (readonly [number, number])[];
  readonly directions?: readonly number[];
  readonly refused?: number;
}

const CLOCK = 'clock\n  end after 20 steps';

function check(c: Case): void {
  const plan = planOf(`model Case\n${c.clock ?? CLOCK}\n${c.parts}\n`);
  for (const make of [compiledRun, interpretedRun]) {
    const { run, executable } = make(plan, 1, undefined, undefined);
    const steps = c.steps ?? 1;
    run.runTo(steps);
    if (c.expect) expect(plan.measures.map((_, m) => nullIfEmpty(run.valueAt(run.rowCount - 1, m)))).toEqual(c.expect);
    if (c.rows)
      expect(
        plan.measures.map((_, m) => Array.from({ length: run.rowCount }, (_, row) => run.valueAt(row, m))),
      ).toEqual(c.rows);
    population(c, executable);
    if (c.refused !== undefined) expect(executable.context.refused).toBe(c.refused);
  }
}

function population(c: Case, executable: Executable): void {
  const view = executable.view().populations[0]!;
  if (c.attributes) expect(view.attributes).toEqual(c.attributes);
  if (c.places) expect(view.x.map((x, i) => [rounded(x), rounded(view.y[i]!)])).toEqual(c.places);
  if (c.directions) expect(view.direction.map(rounded)).toEqual(c.directions);
}

const nullIfEmpty = (value: number): number | null => (Number.isNaN(value) ? null : value);
const rounded = (value: number): number => Math.round(value * 1e9) / 1e9;

function cases(title: string, list: readonly Case[]): void {
  describe(title, () => {
    for (const c of list) it(c.name, () => check(c));
  });
}

const plane = (edge: string): string => `space S: plane 10 by 10, ${edge}`;
const mover = (edge: string, at: string, facing: string, by: string): string =>
  `${plane(edge)}\nagent A\n  start 1 at ${at}, facing ${facing}\n  behaviour go\n    move by ${by}\nshow A: dot\nmeasure n = count A`;

cases('moving on a plane', [
  { name: 'bearings: 0 is up', parts: mover('walled', '(5, 5)', '0 deg', '2'), places: [[5, 7]] },
  { name: '90 is to the right', parts: mover('walled', '(5, 5)', '90 deg', '2'), places: [[7, 5]] },
  {
    name: 'a wrapping plane has no edge',
    parts: mover('wrapping', '(9, 5)', '90 deg', '3'),
    places: [[2, 5]],
    directions: [90],
  },
  {
    name: 'a walled plane stops at the edge',
    parts: mover('walled', '(9, 5)', '90 deg', '3'),
    places: [[10, 5]],
    directions: [90],
  },
  {
    name: 'a reflecting plane turns back, the direction too',
    parts: mover('reflecting', '(9, 5)', '90 deg', '3'),
    places: [[8, 5]],
    directions: [270],
  },
  { name: 'a corner turns back both ways', parts: mover('reflecting', '(9, 9)', '45 deg', '4'), directions: [225] },
  { name: 'a way back is a negative distance', parts: mover('walled', '(5, 5)', '0 deg', '-2'), places: [[5, 3]] },
  {
    name: 'facing a place looks towards it',
    parts: mover('walled', '(5, 5)', '(5, 1)', '1'),
    places: [[5, 4]],
    directions: [180],
  },
  {
    name: 'turning adds to the direction, on a circle of 360',
    parts: `${plane('walled')}\nagent A\n  start 1 at (5, 5), facing 350 deg\n  behaviour go\n    turn by 30 deg\nshow A: dot\nmeasure n = count A`,
    directions: [20],
  },
  {
    name: 'turn to a place, the short way over the edge',
    parts: `${plane('wrapping')}\nagent A\n  start 1 at (1, 5), facing 0 deg\n  behaviour go\n    turn to (9, 5)\nshow A: dot\nmeasure n = count A`,
    directions: [270],
  },
  {
    name: 'turn to a direction',
    parts: `${plane('walled')}\nagent A\n  start 1 at (1, 5), facing 0 deg\n  behaviour go\n    turn to 123 deg\nshow A: dot\nmeasure n = count A`,
    directions: [123],
  },
  {
    name: 'move toward goes no further than there',
    parts: `${plane('walled')}\nagent A\n  start 1 at (1, 5)\n  behaviour go\n    move toward (3, 5) by 1.5\nshow A: dot\nmeasure n = count A`,
    steps: 3,
    places: [[3, 5]],
  },
  {
    name: 'move to a place, and to one ahead',
    parts: `${plane('walled')}\nagent A\n  start 1 at (1, 5), facing 0 deg\n  behaviour go\n    move to (4, 4)\n    move to ahead(2, 90 deg)\nshow A: dot\nmeasure n = count A`,
    places: [[6, 4]],
  },
  {
    name: 'distance and bearing take the short way',
    parts: `${plane('wrapping')}\nagent A\n  start 1 at (1, 5)\n  has d = 0\n  has b = 0 deg\n  behaviour go\n    d = distance((9, 5))\n    b = bearing((1, 6), (1, 5))\nshow A: dot\nmeasure n = sum of it.d over A`,
    attributes: [[2], [180]],
  },
]);

cases('grids', [
  {
    name: 'positions are whole cells; ways end in the nearest',
    parts:
      'space S: grid 5 by 5, wrapping\nagent A\n  start 1 at (4, 2), facing 90 deg\n  behaviour go\n    move by 1.4\nshow A: dot\nmeasure n = count A',
    places: [[0, 2]],
  },
  {
    name: 'walls stop',
    parts:
      'space S: grid 5 by 5, walled\nagent A\n  start 1 at (4, 2), facing 90 deg\n  behaviour go\n    move by 3\nshow A: dot\nmeasure n = count A',
    places: [[4, 2]],
  },
  {
    name: 'reflecting walls throw back within the cells',
    parts:
      'space S: grid 5 by 5, reflecting\nagent A\n  start 1 at (3, 2), facing 90 deg\n  behaviour go\n    move by 3\nshow A: dot\nmeasure n = count A',
    places: [[3, 2]],
    directions: [270],
  },
  {
    name: 'next to: four neighbours',
    parts:
      'space S: grid 5 by 5, 4 neighbours, wrapping\nagent A\n  start 1 at (0, 0)\n  start 1 at (1, 0)\n  start 1 at (1, 1)\n  start 1 at (4, 0)\n  has k = 0\n  behaviour look\n    k = count A next to here\nshow A: dot\nmeasure m = sum of it.k over A',
    attributes: [[2, 2, 1, 1]],
  },
  {
    name: 'next to: eight neighbours',
    parts:
      'space S: grid 5 by 5, 8 neighbours, wrapping\nagent A\n  start 1 at (0, 0)\n  start 1 at (1, 0)\n  start 1 at (1, 1)\n  start 1 at (4, 0)\n  has k = 0\n  behaviour look\n    k = count A next to here\nshow A: dot\nmeasure m = sum of it.k over A',
    attributes: [[3, 2, 2, 1]],
  },
  {
    name: 'here: the same cell, the asker left out',
    parts:
      'space S: grid 5 by 5\nagent A\n  start 3 at (2, 2)\n  start 1 at (2, 3)\n  has k = 0\n  behaviour look\n    k = count A here\nshow A: dot\nmeasure m = sum of it.k over A',
    attributes: [[2, 2, 2, 0]],
  },
  {
    name: 'one agent a cell: a move onto a taken one does not happen and is counted',
    parts:
      'space S: grid 5 by 1, one agent a cell\nagent A\n  start 1 at (0, 0), facing 90 deg\n  start 1 at (1, 0), facing 90 deg\n  behaviour go when number is 1\n    move by 1\nshow A: dot\nmeasure n = count A',
    places: [
      [0, 0],
      [1, 0],
    ],
    refused: 1,
  },
  {
    name: 'one agent a cell: a birth onto a taken one does not happen',
    parts:
      'space S: grid 5 by 1, one agent a cell\nagent A\n  start 1 at (0, 0)\n  behaviour go\n    create 1 A here\n    create 1 A at (3, 0)\nshow A: dot\nmeasure n = count A',
    expect: [2],
    refused: 1,
  },
  {
    name: 'one to a cell fills the grid, and says what did not fit',
    parts:
      'space S: grid 3 by 2, one agent a cell\nagent A\n  start 8 one to a cell\n  behaviour go\n    move by 0\nshow A: dot\nmeasure n = count A',
    expect: [6],
    refused: 2,
  },
]);

const crowd = 'agent A\n  start 5\n  has k = 0\n  has v = 0\n';
cases('queries', [
  {
    name: 'count leaves out the asker',
    parts: `${crowd}  behaviour look\n    k = count A\nmeasure n = sum of it.k over A`,
    expect: [20],
  },
  {
    name: 'a condition looks at the candidate',
    parts: `${crowd}  behaviour set\n    v = number\n  behaviour look\n    k = count A where it.v > v\norder\n  set in turn\n  look in turn\nmeasure n = count A`,
    attributes: [
      [4, 3, 2, 1, 0],
      [1, 2, 3, 4, 5],
    ],
  },
  {
    name: 'first takes the lowest number',
    parts: `${crowd}  behaviour look\n    with a = first A where it.number > 2\n      k = a.number\nmeasure n = count A`,
    attributes: [
      [3, 3, 4, 3, 3],
      [0, 0, 0, 0, 0],
    ],
  },
  {
    name: 'with nobody the other branch runs',
    parts: `${crowd}  behaviour look\n    with a = first A where it.number > number\n      k = a.number\n    else\n      k = -1\nmeasure n = count A`,
    attributes: [
      [2, 3, 4, 5, -1],
      [0, 0, 0, 0, 0],
    ],
  },
  {
    name: 'with most and with least',
    parts: `${crowd}  behaviour look\n    with a = A where it.number > 0 with most it.number\n      k = a.number\n    with b = A where it.number > 0 with least it.number\n      v = b.number\nmeasure n = count A`,
    attributes: [
      [5, 5, 5, 5, 4],
      [2, 1, 1, 1, 1],
    ],
  },
  {
    name: 'sums, means, extremes, middles',
    parts: `${crowd}  behaviour set\n    v = number * number\nmeasure a = sum of it.v over A\nmeasure b = mean of it.v over A\nmeasure c = min of it.v over A\nmeasure d = max of it.v over A\nmeasure e = median of it.v over A\nmeasure f = quantile 25 % of it.v over A\nmeasure g = mean of it.v over A where it.v > 99\nmeasure h = sum of it.v over A where it.v > 99\nmeasure i = share of A where it.v > 5`,
    expect: [55, 11, 1, 25, 9, 4, null, 0, 0.6],
  },
  {
    name: 'the standard deviation divides by n - 1',
    parts: `${crowd}  behaviour set\n    v = number\nmeasure s = (sd of it.v over A) ^ 2`,
    expect: [2.5000000000000004],
  },
  {
    name: 'for each goes through all, the asker left out',
    parts: `${crowd}  behaviour give\n    for each a in A\n      a.k += 1\nmeasure n = count A`,
    attributes: [
      [4, 4, 4, 4, 4],
      [0, 0, 0, 0, 0],
    ],
  },
  {
    name: 'within includes its distance, over the edge too',
    parts: `${plane('wrapping')}\nagent A\n  start 1 at (1, 1)\n  start 1 at (9, 1)\n  start 1 at (1, 4)\n  start 1 at (5, 5)\n  has k = 0\n  behaviour look\n    k = count A within 3\nshow A: dot\nmeasure n = count A`,
    attributes: [[2, 1, 1, 0]],
  },
  {
    name: 'within of another place',
    parts: `${plane('walled')}\nagent A\n  start 1 at (1, 1)\n  start 1 at (9, 9)\n  has k = 0\n  behaviour look\n    k = count A within 2 of (8, 9)\nshow A: dot\nmeasure n = count A within 2 of (8, 9)`,
    attributes: [[1, 0]],
    expect: [1],
  },
  {
    name: 'nearest, and equals by luck but never anyone else',
    parts: `${plane('walled')}\nagent A\n  start 1 at (5, 5)\n  start 1 at (5, 6)\n  start 1 at (5, 4)\n  start 1 at (5, 8)\n  has k = 0\n  behaviour look when number is 4\n    with a = nearest A\n      k = a.number\nshow A: dot\nmeasure n = count A`,
    attributes: [[0, 0, 0, 2]],
  },
  {
    name: 'an inner query has its own candidate',
    parts:
      `${crowd}  behaviour set\n    v = number\nmeasure n = count A as outer where any A where it.v > outer.v + 3`.replace(
        'count A as outer where any A where it.v > outer.v + 3',
        'count A as outer where (any A where it.v > outer.v + 3)',
      ),
    expect: [1],
  },
]);

const pair = 'agent A\n  start 2\n  has v = 0\n';
cases('statements and expressions', [
  {
    name: 'arithmetic and precedence',
    parts: `${pair}  behaviour go\n    v = 2 + 3 * 4 ^ 2 / 8 - -1\nmeasure n = count A`,
    attributes: [[9, 9]],
  },
  {
    name: 'if, else if, else',
    parts:
      'agent A\n  start 3\n  has v = 0\n  behaviour go\n    if number is 1\n      v = 10\n    else if number is 2\n      v = 20\n    else\n      v = 30\nmeasure n = count A',
    attributes: [[10, 20, 30]],
  },
  {
    name: 'a conditional value',
    parts: `${pair}  behaviour go\n    v = if number > 1 then 5 else 6\nmeasure n = count A`,
    attributes: [[6, 5]],
  },
  {
    name: 'is one of, and not',
    parts:
      'agent A\n  start 4\n  has v = 0\n  behaviour go\n    if number is one of 1, 3\n      v = 1\n    if not (number is not one of 3, 4)\n      v += 2\nmeasure n = count A',
    attributes: [[1, 0, 3, 2]],
  },
  {
    name: 'functions',
    parts: `${pair}  behaviour go\n    v = abs(-3) + min(4, 2, 3) + max(1, 5) + clip(9, 0, 7) + (clip(5, 8, 2) - clip(9, 8, 2)) + mod(-1, 4) + round(2.5) + floor(-1.5) + ceiling(1.2) + sqrt(16)\nmeasure n = count A`,
    attributes: [[3 + 2 + 5 + 7 + 3 + 3 - 2 + 2 + 4, 25 + 2]],
  },
  {
    name: 'angles',
    parts: `${pair}  behaviour go\n    v = sin(90 deg) + cos(180 deg) * 2 + swing(350 deg, 10 deg) / 1 deg\nmeasure n = count A`,
    attributes: [[19, 19]],
  },
  {
    name: 'units come to one base',
    clock: 'clock\n  step 1 day\n  end after 1 week',
    parts:
      'parameter r = 14 per week\nagent A\n  start 1\n  has v = 0 days\n  has w = 0\n  behaviour go\n    v = 36 h + 1 week\n    w = r * 1 day\nmeasure n = count A',
    attributes: [[8.5], [2]],
  },
  {
    name: 'a let lives to the end of its block',
    parts: `${pair}  behaviour go\n    let a = 2\n    if yes\n      let b = a + 1\n      v = b\n    v += a\nmeasure n = count A`,
    attributes: [[5, 5]],
  },
  {
    name: 'choices and yes or no',
    parts:
      'parameter mood = calm of calm, wild\nagent A\n  start 2\n  has coat = pick(grey, grey)\n  has keen = no\n  has v = 0\n  behaviour go\n    keen = not keen\n    if mood is calm and keen and coat is grey\n      v = 1\nmeasure n = sum of it.v over A'.replace(
        'pick(grey, grey)',
        'grey of grey, brown',
      ),
    expect: [2],
  },
  {
    name: 'create: attributes set in its block are read by the creator',
    parts:
      'agent A\n  start 1\n  has v = 3\n  has w = 1\n  behaviour go when number is 1\n    create 2 A as pup\n      v = v * 2\n    pup.w = 7\nmeasure n = count A',
    expect: [3],
  },
  {
    name: 'create: a later attribute may read an earlier one of the new agent',
    parts:
      'agent A\n  start 1\n  has v = 3\n  has w = v + 1\n  behaviour go when number is 1\n    create 1 A\n      v = 10\nmeasure n = count A',
    attributes: [
      [3, 10],
      [4, 11],
    ],
  },
  {
    name: 'remove self ends the turn',
    parts:
      'agent A\n  start 2\n  has v = 0\n  behaviour go\n    v = 1\n    if number is 1\n      remove self\n    v = 2\nmeasure n = count A',
    attributes: [[2]],
    expect: [1],
  },
  {
    name: 'a behaviour has a condition and a rhythm',
    parts:
      'agent A\n  start 2\n  has v = 0\n  has w = 0\n  behaviour now_and_then every 3 steps\n    v += 1\n  behaviour some when number is 2\n    w += 1\norder\n  now_and_then in turn\n  some in turn\nmeasure n = count A',
    steps: 7,
    attributes: [
      [2, 2],
      [0, 7],
    ],
  },
  {
    name: 'end run ends after the rule, measures are taken',
    parts:
      'agent A\n  start 1\n  has v = 0\n  behaviour go\n    v += 1\n    if v is 3\n      end run\nmeasure n = sum of it.v over A',
    steps: 9,
    rows: [[0, 1, 2, 3]],
  },
]);

cases('variables', [
  {
    name: 'are changed by rules and read by all',
    parts:
      'variable pot = 10\nagent A\n  start 3\n  has seen = 0\n  behaviour take\n    seen = pot\n    pot -= number\norder\n  take in fixed order\nmeasure left_over = pot',
    attributes: [[10, 9, 7]],
    expect: [4],
  },
  {
    name: 'all at once are read as before; sums add up',
    parts:
      'variable pot = 10\nagent A\n  start 3\n  has seen = 0\n  behaviour take\n    pot -= number\n    seen = pot\norder\n  take all at once\nmeasure left_over = pot',
    attributes: [[10, 10, 10]],
    expect: [4],
  },
  {
    name: 'take their first value from parameters and earlier variables',
    parts:
      'parameter p = 3\nvariable a = 2 * p\nvariable b = a + 1\nvariable c = on of on, off\nagent A\n  start 1\n  behaviour go\n    b += 1\n    c = off\nmeasure m = a + b\nmeasure k = c is off',
    rows: [
      [13, 14],
      [0, 1],
    ],
  },
  {
    name: 'are set by the timeline',
    parts: 'variable rain = 1\ntimeline\n  at 2 steps: rain = 5\n  every 3 steps: rain *= 2\nmeasure r = rain',
    steps: 5,
    rows: [[1, 1, 1, 5, 10, 10]],
  },
]);

cases('derived attributes', [
  {
    name: 'are computed when they are read, from what is then',
    parts:
      'agent A\n  start 3\n  has v = 1\n  has seen = 0\n  derive twice = 2 * v\n  derive more = twice + number\n  behaviour go\n    v += 1\n    seen = more\nmeasure s = sum of it.twice over A',
    expect: [12],
    attributes: [
      [2, 2, 2],
      [5, 6, 7],
    ],
  },
  {
    name: 'of another agent are computed for it',
    parts:
      'agent A\n  start 2\n  has v = 1\n  derive own = number * 10 + count A\n  behaviour go\n    with a = first A\n      v = a.own\nmeasure n = count A where it.own > 11',
    expect: [1],
    attributes: [[21, 11]],
  },
  {
    name: 'look around from where their agent stands',
    parts:
      'space S: plane 10 by 10\nagent A\n  start 1 at (1, 1)\n  start 1 at (2, 1)\n  start 1 at (9, 9)\n  derive crowd = count A within 2\n  behaviour go\n    move by 0\nshow A: dot\nmeasure n = sum of it.crowd over A',
    expect: [2],
  },
  {
    name: 'all at once the own ones see own writes, those of others what was',
    parts:
      'agent A\n  start 2\n  has v = 1\n  has seen = 0\n  derive twice = 2 * v\n  behaviour go\n    v = 5\n    seen = 100 * twice + sum of it.twice over A\norder\n  go all at once\nmeasure n = count A',
    attributes: [
      [5, 5],
      [1002, 1002],
    ],
  },
]);

const states = (body: string, more = ''): string =>
  `agent A\n  start 1\n  has log = 0\n${more}  states s\n${body}\nmeasure a = sum of it.log over A`;
cases('state machines', [
  {
    name: 'a duration counts from 0 at the start, later from the due time',
    parts: states('    X\n      after 3 steps: Y\n    Y\n      after 2 steps: X', '').replace(
      'measure a',
      'measure x = count A where it.s is X\nmeasure a',
    ),
    steps: 11,
    rows: [[1, 1, 1, 0, 0, 1, 1, 1, 0, 0, 1, 1], new Array(12).fill(0) as number[]],
  },
  {
    name: 'a duration is due in the first step whose end is not before it',
    parts: states('    X\n      after 2.4 steps: Y\n    Y').replace(
      'measure a',
      'measure x = count A where it.s is X\nmeasure a',
    ),
    steps: 4,
    rows: [
      [1, 1, 1, 0, 0],
      [0, 0, 0, 0, 0],
    ],
  },
  {
    name: 'a duration of nothing takes a step all the same',
    parts: states('    X\n      after 0 steps: Y\n    Y\n      after 0 steps: Z\n    Z').replace(
      'measure a',
      'measure z = count A where it.s is Z\nmeasure a',
    ),
    steps: 3,
    rows: [
      [0, 0, 1, 1],
      [0, 0, 0, 0],
    ],
  },
  {
    name: 'leave, the lines of the transition, enter: in this order',
    parts: states(
      '    X\n      leave\n        log = log * 10 + 1\n      when yes: Y\n        log = log * 10 + 2\n    Y\n      enter\n        log = log * 10 + 3',
    ),
    steps: 2,
    expect: [123],
  },
  {
    name: 'a transition to the same state leaves and enters',
    parts: states('    X\n      leave\n        log += 1\n      enter\n        log += 10\n      when yes: X'),
    steps: 3,
    expect: [33],
  },
  {
    name: 'the first that fires is taken, at most one a step',
    parts: states('    X\n      when log > 5: Z\n      when yes: Y\n    Y\n      when yes: X\n    Z').replace(
      'measure a',
      'measure y = count A where it.s is Y\nmeasure a',
    ),
    steps: 3,
    rows: [
      [0, 1, 0, 1],
      [0, 0, 0, 0],
    ],
  },
  {
    name: 'setting a machine fires leave and enter; to its own state nothing',
    parts: states(
      '    X\n      leave\n        log += 1\n    Y\n      enter\n        log += 10',
      '  behaviour go\n    s = Y\n    s = Y\n',
    ).replace('measure a', 'order\n  go in turn\n  s in turn\nmeasure a'),
    expect: [11],
  },
  {
    name: 'another agent is set from outside, with its own lines',
    parts:
      'agent A\n  start 2\n  has log = 0\n  states s\n    X\n    Y\n      enter\n        log += number\n  behaviour go when number is 1\n    with other_one = first A\n      other_one.s = Y\norder\n  go in turn\n  s in turn\nmeasure a = count A where it.s is Y',
    attributes: [[0, 2]],
    expect: [1],
  },
  {
    name: 'exactly so many begin in a state',
    parts:
      'agent A\n  start 20\n  states s\n    start 3 of Y, rest X\n    X\n    Y\nmeasure y = count A where it.s is Y\nmeasure b = entered Y',
    steps: 2,
    rows: [
      [3, 3, 3],
      [0, 0, 0],
    ],
  },
  {
    name: 'a certain share, and a chance of one',
    parts:
      'agent A\n  start 9\n  states s\n    start 100 % Y, rest X\n    X\n    Y\n      chance 1: Z\n    Z\nmeasure z = count A where it.s is Z',
    expect: [9],
  },
]);

const meeting = (mode: string, body: string, partner = 'within 5', more = ''): string =>
  `${plane('walled')}\nagent A\n  start 1 at (1, 1)\n  start 1 at (2, 1)\n  start 1 at (9, 9)\n  has v = 0\n  has w = 1\n${more}interaction meet: x A, y A\n  ${partner}\n${body}\norder\n  meet ${mode}\nshow A: dot\nmeasure n = count A`;
cases('interactions', [
  {
    name: 'two of one kind meet both ways round',
    parts: meeting('in turn', '  x.v += 1\n  y.v += 10'),
    attributes: [
      [11, 11, 0],
      [1, 1, 1],
    ],
  },
  {
    name: 'each pair once',
    parts: meeting('in fixed order', '  x.v += 1\n  y.v += 10', 'within 5, each pair once'),
    attributes: [
      [1, 10, 0],
      [1, 1, 1],
    ],
  },
  {
    name: 'nobody in reach, nothing happens',
    parts: meeting('in turn', '  x.v += 1', 'within 0.5'),
    attributes: [
      [0, 0, 0],
      [1, 1, 1],
    ],
  },
  {
    name: 'the nearest only',
    parts: meeting('in fixed order', '  y.v += 1', 'nearest within 20'),
    attributes: [
      [1, 2, 0],
      [1, 1, 1],
    ],
  },
  {
    name: 'who is removed is met no more',
    parts: meeting('in fixed order', '  x.v += 1\n  remove y', 'within 20'),
    attributes: [[2], [1]],
    expect: [1],
  },
  {
    name: 'all at once every meeting counts, also with who goes',
    parts: meeting('all at once', '  x.v += 1\n  if y.number is 3\n    remove y', 'within 20'),
    attributes: [
      [2, 2],
      [1, 1],
    ],
    expect: [2],
  },
  {
    name: 'a condition that ceases to hold stops the later meetings',
    parts: meeting('in fixed order', '  where y.w > 0\n  y.w -= 1\n  x.v += 1', 'within 20'),
    attributes: [
      [2, 1, 0],
      [0, 0, 0],
    ],
  },
  {
    name: 'a chance of nothing',
    parts: meeting('in turn', '  chance 0 %\n  x.v += 1'),
    attributes: [
      [0, 0, 0],
      [1, 1, 1],
    ],
  },
]);

cases('modes and order', [
  {
    name: 'all at once: others are read as before, own writes are seen',
    parts:
      'agent A\n  start 3\n  has v = 1\n  has seen = 0\n  behaviour go\n    v = v * 2\n    seen = v * 100 + sum of it.v over A\norder\n  go all at once\nmeasure n = count A',
    attributes: [
      [2, 2, 2],
      [202, 202, 202],
    ],
  },
  {
    name: 'in fixed order: each sees what those before did',
    parts:
      'agent A\n  start 3\n  has v = 1\n  has seen = 0\n  behaviour go\n    v = v * 2\n    seen = v * 100 + sum of it.v over A\norder\n  go in fixed order\nmeasure n = count A',
    attributes: [
      [2, 2, 2],
      [202, 203, 204],
    ],
  },
  {
    name: 'all at once: sums of several add up, own factors act before',
    parts:
      'agent A\n  start 3\n  has v = 10\n  behaviour go\n    v *= 2\n    for each a in A\n      a.v += 1\norder\n  go all at once\nmeasure n = count A',
    attributes: [[22, 22, 22]],
  },
  {
    name: 'all at once: the new and the gone count after the rule',
    parts:
      'agent A\n  start 3\n  has v = 0\n  behaviour go\n    if number is 1\n      remove self\n    if number is 2\n      create 2 A\n    v = count A\norder\n  go all at once\nmeasure n = count A',
    attributes: [[2, 2, 0, 0]],
    expect: [4],
  },
  {
    name: 'in turn they count at once',
    parts:
      'agent A\n  start 3\n  has v = 0\n  behaviour go\n    if number is 1\n      remove self\n    if number is 2\n      create 2 A\n    v = count A\norder\n  go in fixed order\nmeasure n = count A',
    attributes: [[3, 3, 0, 0]],
    expect: [4],
  },
  {
    name: 'rules act in the order that is declared',
    parts:
      'agent A\n  start 1\n  has v = 1\n  behaviour add_one\n    v += 1\n  behaviour double\n    v *= 2\norder\n  double in turn\n  add_one in turn\nmeasure n = sum of it.v over A',
    rows: [[1, 3]],
  },
  {
    name: 'rules on one line share a turn: each does all of its own',
    parts:
      'agent A\n  start 3\n  has v = 0\n  has w = 0\n  behaviour take\n    v = sum of it.w over A\n  behaviour give\n    w = 1\norder\n  take, give in turn\nmeasure n = sum of it.v over A',
    expect: [3],
  },
  {
    name: 'rule after rule gives another sum',
    parts:
      'agent A\n  start 3\n  has v = 0\n  has w = 0\n  behaviour take\n    v = sum of it.w over A\n  behaviour give\n    w = 1\norder\n  take in turn\n  give in turn\nmeasure n = sum of it.v over A',
    expect: [0],
  },
  {
    name: 'the new act from the next rule on',
    parts:
      'agent A\n  start 1\n  has v = 0\n  behaviour go\n    v += 1\n    create 1 A\n  behaviour later\n    v += 10\norder\n  go in turn\n  later in turn\nmeasure n = sum of it.v over A',
    expect: [21],
  },
]);

const meadow = (field: string, rest: string): string =>
  `space S: plane 4 by 4, walled\nfield g on S, cells of 2\n${field}\n${rest}\nshow g: straw to moss`;
cases('fields', [
  {
    name: 'growth per time takes the length of the step',
    clock: 'clock\n  step 2 days\n  end after 10 days',
    parts: meadow('  start 1\n  grow 0.5 per day', 'measure m = mean of g'),
    rows: [[1, 2]],
  },
  {
    name: 'growth without time is an amount a step',
    clock: 'clock\n  step 2 days\n  end after 10 days',
    parts: meadow('  start 1\n  grow 0.5', 'measure m = mean of g'),
    rows: [[1, 1.5]],
  },
  {
    name: 'keep holds growth and every write',
    parts: meadow(
      '  start 1\n  grow 5\n  keep 0 to 3',
      'agent A\n  start 1 at (1, 1)\n  has seen = 0\n  behaviour go\n    g += 9\n    seen = g\nshow A: dot\nmeasure m = max of g\nmeasure s = sum of it.seen over A',
    ),
    expect: [3, 3],
  },
  {
    name: 'a bare field is the value here, at reads elsewhere',
    parts: meadow(
      '  start 1',
      'agent A\n  start 1 at (1, 1)\n  has seen = 0\n  behaviour go\n    g = 5\n    g at (3, 3) += 1\n    seen = 10 * g + g at (3, 3)\nshow A: dot\nmeasure m = sum of g\nmeasure s = sum of it.seen over A',
    ),
    expect: [9, 52],
  },
  {
    name: 'all at once nobody sees the others graze, and all that is taken adds up',
    parts: meadow(
      '  start 8',
      'agent A\n  start 3 at (1, 1)\n  has seen = 0\n  behaviour go\n    seen = g\n    g -= 1\norder\n  go all at once\nshow A: dot\nmeasure m = sum of g\nmeasure s = sum of it.seen over A',
    ),
    expect: [29, 24],
  },
  {
    name: 'in turn each sees what is left',
    parts: meadow(
      '  start 8',
      'agent A\n  start 3 at (1, 1)\n  has seen = 0\n  behaviour go\n    seen = g\n    g -= 1\norder\n  go in turn\nshow A: dot\nmeasure m = sum of g\nmeasure s = sum of it.seen over A',
    ),
    expect: [29, 21],
  },
  {
    name: 'a field may stand in the order',
    parts: meadow(
      '  start 1\n  grow g',
      'agent A\n  start 1 at (1, 1)\n  behaviour go\n    g at (1, 1) = 3\norder\n  g\n  go in turn\nshow A: dot\nmeasure m = sum of g',
    ),
    expect: [9],
  },
  {
    name: 'a field not in the order grows after all rules',
    parts: meadow(
      '  start 1\n  grow g',
      'agent A\n  start 1 at (1, 1)\n  behaviour go\n    g at (1, 1) = 3\nshow A: dot\nmeasure m = sum of g',
    ),
    expect: [12],
  },
]);

const lawn = (space: string, lines: string): string =>
  `${space}\nfield g on S\n  start 0\n${lines}\nagent A\n  start 1 at (2, 2)\n  behaviour sow when now is 0 steps\n    g at (2, 2) = 16\norder\n  sow in turn\n  g\nshow A: dot\nmeasure here_now = sum of it.k over A\nmeasure total = sum of g\nmeasure top = max of g`
    .replace('  behaviour sow', '  has k = 0\n  behaviour sow')
    .replace('= 16\n', '= 16\n  behaviour look\n    k = g\n')
    .replace('  g\nshow', '  g\n  look in turn\nshow');
cases('fields that spread and fade', [
  {
    name: 'a share goes in equal parts to four neighbours',
    parts: lawn('space S: grid 5 by 5, 4 neighbours', '  spread 50 %'),
    expect: [8, 16, 8],
  },
  { name: 'or to eight', parts: lawn('space S: grid 5 by 5, 8 neighbours', '  spread 50 %'), expect: [8, 16, 8] },
  {
    name: 'what would leave over a wall stays',
    parts: lawn('space S: grid 5 by 5, 4 neighbours', '  spread 100 %').replaceAll('(2, 2)', '(0, 0)'),
    expect: [8, 16, 8],
  },
  {
    name: 'on a ring it goes round',
    parts: lawn('space S: grid 5 by 5, 4 neighbours, wrapping', '  spread 100 %').replaceAll('(2, 2)', '(0, 0)'),
    expect: [0, 16, 4],
  },
  {
    name: 'a cell becomes what a median over its neighbours and itself makes of it',
    parts: lawn('space S: grid 5 by 5, 4 neighbours', '  becomes median of (g + g at it) over cells next to here'),
    expect: [16, 16, 16],
  },
  {
    name: 'or the most by which a neighbour has more',
    parts: lawn('space S: grid 5 by 5, 4 neighbours', '  becomes max of (g at it - g) over cells next to here'),
    expect: [-16, 48, 16],
  },
  {
    name: 'or a sum over a circle, its own cell included',
    parts: lawn('space S: grid 5 by 5', '  becomes sum of (g at it) over cells within 1'),
    expect: [16, 80, 16],
  },
  { name: 'a share fades', parts: lawn('space S: grid 5 by 5', '  fade 25 %'), steps: 2, expect: [9, 9, 9] },
  {
    name: 'growing comes first, then spreading, then fading, then the bounds',
    parts: lawn('space S: grid 5 by 5, 4 neighbours', '  grow 4\n  spread 50 %\n  fade 50 %\n  keep 0 to 5'),
    expect: [3.25, (9 + 24 * 4) / 2, 3.25],
  },
]);

describe('a field with rates per time', () => {
  it('fades by 1 - exp(-r d), and spreads like heat: variance 2 D t a dimension, the whole conserved', () => {
    const text = `model H\nclock\n  step 0.5 days\n  end after 40 days\nspace S: grid 81 by 81, 4 neighbours\nfield heat on S\n  start 0\n  spread 0.4 per day\nfield other on S\n  start 1\n  fade 0.2 per day\nagent A\n  start 1 at (40, 40)\n  behaviour begin when now is 0 days\n    heat = 1000\nshow A: dot\nmeasure total = sum of heat\nmeasure left_over = mean of other\n`;
    const plan = planOf(text);
    const { run, executable } = compiledRun(plan);
    run.runTo();
    expect(run.step).toBe(80);
    expect(run.valueAt(80, 0)).toBeCloseTo(1000, 8);
    expect(run.valueAt(80, 1)).toBeCloseTo(Math.exp(-0.2 * 40), 12);
    const heat = executable.view().fields[0]!;
    const share = 1 - Math.exp(-0.4 * 0.5);
    const variance = heat.reduce((sum, value, i) => sum + value * ((i % 81) - 40) ** 2, 0) / 1000;
    // Each step moves half of the share by one cell along an axis: variance grows by share / 2 a step.
    expect(variance).toBeCloseTo((80 * share) / 2, 6);
  });
  it('a share beyond one stops the run with its place', () => {
    const plan = planOf(
      'model B\nclock\n  end after 5 steps\nparameter much = 0.5, from 0 to 2\nspace S: grid 5 by 5\nfield g on S\n  start 1\n  fade much * 3\nmeasure m = mean of g\n',
    );
    for (const make of [compiledRun, interpretedRun])
      expect(() => make(plan, 1).run.runTo()).toThrow(/a share of 1.5 is not between 0 and 1/);
  });
});

cases('bounds that pass one another', [
  {
    name: 'keep to the first, however often they are kept to and by whatever way a value comes',
    parts: [
      'parameter top = 1, from 0 to 9',
      'space S: grid 3 by 3',
      'field a on S',
      '  start 5',
      '  grow 2',
      '  keep 3 to top',
      'field b on S',
      '  start 5',
      '  keep 3 to a - 2',
      'agent A',
      '  start 1 at (0, 0)',
      '  behaviour go',
      '    a += 4',
      '    b -= 4',
      '    b at (1, 1) = 7',
      'order',
      '  go in turn',
      '  a, b',
      'measure all_ = sum of a',
      'measure b_ = sum of b',
    ].join('\n'),
    steps: 3,
    expect: [27, 27],
  },
]);

cases('cells of a plane', [
  {
    name: 'are those of fields with cells as large as they are, the narrower ones at its end too, and no others',
    // Centres lie at 1, 3, 4.5 and 1, 2.5: what stands there by place is 11, 13, 14.5, 26, 28, 29.5, and in whole columns 1, 3, 4 in both rows.
    parts: [
      'parameter side = 2, from 1 to 5',
      'space S: plane 5 by 3, walled, cells of 2',
      'space T: plane 4 by 4, walled, cells of 2',
      'field a on S, cells of 2',
      '  start x + 10 * y',
      'field b on S, cells of side',
      '  start x + 10 * y',
      'field c on S, cells of 1',
      '  start floor(x)',
      'measure all_ = count cells on S',
      'measure more = count cells on S where (a at it) > 13.5',
      'measure same = count cells on S where (b at it) > 13.5',
      'measure part = share of cells on S where (a at it) > 13.5 and (b at it) > 13.5',
      'measure columns_ = sum of (c at it) over cells on S',
      'measure elsewhere = count cells on T',
    ].join('\n'),
    steps: 0,
    expect: [6, 4, 4, 4 / 6, 16, 4],
  },
]);

describe('the calendar in a run', () => {
  it('reads hour, weekday, month, year and day of year of the time of the row', () => {
    check({
      name: '',
      clock: 'clock\n  step 6 h from 2031-12-31\n  end after 3 days',
      steps: 6,
      parts: 'measure h = hour\nmeasure w = weekday\nmeasure m = month\nmeasure y = year\nmeasure d = day of year',
      rows: [
        [0, 6, 12, 18, 0, 6, 12],
        [3, 3, 3, 3, 4, 4, 4],
        [12, 12, 12, 12, 1, 1, 1],
        [2031, 2031, 2031, 2031, 2032, 2032, 2032],
        [365, 365, 365, 365, 1, 1, 1],
      ],
    });
  });
});

describe('sizes that depend on parameters', () => {
  it('are taken at the start of the run', () => {
    const plan = planOf(
      `model P\n${CLOCK}\nparameter side = 10, whole from 1 to 50\nspace S: grid side by side\nfield f on S\n  start 1\nmeasure total = sum of f\n`,
    );
    for (const side of [3, 20]) {
      const values = usualValues(plan);
      values[0] = side;
      expect(compiledRun(plan, 1, undefined, values).run.valueAt(0, 0)).toBe(side * side);
    }
    const values = usualValues(plan);
    values[0] = 0;
    expect(() => compiledRun(plan, 1, undefined, values)).toThrow(ModelError);
  });
});
