import { describe, expect, it } from 'vitest';
import { checkModel } from '../src/language/checker.ts';

/** Units and types through expressions, parameters, attributes and functions (T1 to T8 of the grammar). */

const model = (behaviour: string, more = ''): string => `model T
clock
  step 1 day from 2031-03-01
  end after 9 days
parameter reach = 5 m, from 0 to 20
parameter speed = 3 km per day, from 0 to 9
parameter loss = 0.1 per day, from 0 to 1
parameter term = 3 days, from 1 to 9
parameter mood = calm of calm, wild
parameter on = yes
space S: plane 50 m by 50 m, wrapping
field grass on S, cells of 2 m
  start 1
agent A
  start 5 anywhere
  has plain = 1
  has span = 0 days
  has far = 1 m
  has heading = 10 deg
  has coat = pick(brown, grey)
  has keen = yes
  has open = 0
  states life
    Young
    Old
  behaviour go
    ${behaviour}
${more}measure used = count A where it.plain + it.span / term + it.far / reach + it.heading / 1 deg + loss * it.span > speed / (1 m per day) and it.coat is brown and it.keen and on and mood is calm and it.open is 0
show A: leaf
`;

const errors = (text: string): string[] =>
  checkModel(text)
    .diagnostics.filter((d) => d.severity === 'error')
    .map((d) => d.code);

const FINE: string[] = [
  'plain = far / reach',
  'plain = span / term',
  'plain = loss * term',
  'far = speed * term',
  'far = reach + 20 cm',
  'span = reach / speed',
  'span = now + step + 07:30',
  'far = sqrt(far * reach)',
  'far = (far ^ 2 + reach ^ 2) ^ 0.5',
  'heading = heading + 0.5 rad',
  'plain = sin(heading)',
  'span = gamma(mean = term, shape = 2)',
  'far = normal(0 m, reach)',
  'far = min(far, reach, 1 km)',
  'far = distance(somewhere)',
  'heading = bearing((1 m, 2 m))',
  'far = x',
  'move by speed * step',
  'turn by swing(direction, 90 deg)',
  'coat = grey',
  'coat = pick(30 % brown, rest grey)',
  'life = if keen then Old else Young',
  'keen = plain > 1 or far < reach',
  'open = 3 days\n    span = open + term',
  'plain = count A within reach',
  'plain = mean of it.far over A / 1 m'.replace('mean of it.far over A / 1 m', '(mean of it.far over A) / 1 m'),
  'plain = 3 m per m',
  'create 2 A here\n      far = reach',
  'create poisson(loss * term) A within reach of here',
  'plain = if date > 2031-05-01 then month else weekday',
];

describe('what fits is accepted', () => {
  for (const line of FINE)
    it(line.split('\n')[0]!, () =>
      expect(
        errors(line.startsWith('open =') ? model(line).replace('it.open is 0', 'it.open is 0 days') : model(line)),
      ).toEqual([]),
    );
});

const WRONG: [string, string][] = [
  ['plain = far', 'type/unit-mismatch'],
  ['far = span', 'type/unit-mismatch'],
  ['far += 1', 'type/unit-mismatch'],
  ['plain = far + span', 'type/unit-mismatch'],
  ['if far > term\n      plain = 1', 'type/unit-mismatch'],
  ['plain = exp(far)', 'type/expected'],
  ['plain = sin(plain)', 'type/angle'],
  ['far = normal(0 m, 3 days)', 'type/unit-mismatch'],
  ['move by term', 'type/expected'],
  ['move by heading', 'type/expected'],
  ['turn by far', 'type/expected'],
  ['plain = far ^ plain', 'type/constant'],
  ['plain = 2 ^ far', 'type/expected'],
  ['keen = 1', 'type/expected'],
  ['plain = keen', 'type/expected'],
  ['plain = yes + 1', 'type/expected'],
  ['coat = green', 'name/choice'],
  ['coat = Young', 'name/choice'],
  ['life = brown', 'name/state'],
  ['if life is brown\n      plain = 1', 'name/state'],
  ['if mood is gloomy\n      plain = 1', 'name/choice'],
  ['if keen is 1\n      plain = 1', 'type/compare'],
  ['if plain\n      plain = 1', 'type/expected'],
  ['keen = not 3', 'type/expected'],
  ['plain = if keen then 1 else 2 days', 'type/unit-mismatch'],
  ['plain = if keen then 1 else yes', 'type/compare'],
  ['create 2.5 A here', 'type/whole'],
  ['create reach A here', 'type/expected'],
  ['plain = binomial(2.5, 0.5)', 'type/whole'],
  ['plain = normal(1)', 'type/arguments'],
  ['plain = gamma(1, form = 2)', 'type/arguments'],
  ['plain = pick(20 % 1, 2)', 'type/arguments'],
  ['plain = norml(0, 1)', 'name/function'],
  ['plain = count A within term', 'type/expected'],
  ['far *= reach', 'type/unit-mismatch'],
  ['remove plain', 'type/expected'],
  ['move to plain', 'type/expected'],
  ['turn to keen', 'type/expected'],
  ['plain = A', 'type/expected'],
  ['plain = it.plain', 'name/no-self'],
  ['x = 3 m', 'name/cannot-set'],
  ['now = 3 days', 'name/cannot-set'],
  ['reach.far = 3 m', 'name/not-agent'],
  ['with a = plain\n      plain = 2', 'type/expected'],
  ['plain = max of used', 'type/arguments'],
  ['plain = mean of plain over A', 'query/over-no-it'],
  ['plain = share of A', 'type/arguments'],
];

describe('what does not fit is refused, once', () => {
  for (const [line, code] of WRONG)
    it(`${line.split('\n')[0]}: ${code}`, () => expect(errors(model(line))).toEqual([code]));
});

describe('other places', () => {
  const cases: [string, string, string][] = [
    [
      'a parameter whose bounds do not fit',
      model('plain = 2').replace('term = 3 days, from 1 to 9', 'term = 3 days, from 1 m to 9 m'),
      'type/unit-mismatch',
    ],
    ['bounds the wrong way round', model('plain = 2').replace('from 1 to 9', 'from 9 to 1'), 'type/bounds'],
    ['a parameter that is no fixed number', model('plain = 2').replace('= 3 days,', '= reach,'), 'type/constant'],
    [
      'a clock in metres',
      'model C\nclock\n  step 1 m\n  end after 3 steps\nparameter p = 1\nmeasure m = p\n',
      'type/time',
    ],
    ['days without a clock', 'model C\nclock\n  end after 3 days\nparameter p = 1\nmeasure m = p\n', 'type/no-clock'],
    [
      'a day that does not exist',
      'model C\nclock\n  step 1 day from 2031-02-30\n  end after 3 days\nparameter p = 1\nmeasure m = p\n',
      'syntax/date',
    ],
    [
      'a day of the year without a calendar',
      'model C\nclock\n  step 1 day\n  end after 3 days\nparameter p = 1\ntimeline\n  every year on 10-01: p = 2\nmeasure m = p\n',
      'type/expected',
    ],
    [
      'a period that sets an attribute',
      model('plain = 2', 'timeline\n  from 1 day to 2 days: grass at (1 m, 1 m) = 0\n'),
      'name/cannot-set',
    ],
    [
      'a timeline that sets a parameter to another kind of thing',
      model('plain = 2', 'timeline\n  at 1 day: on = 3\n'),
      'type/expected',
    ],
    [
      'an agent without a space, placed',
      'model N\nclock\n  end after 3 steps\nagent A\n  start 3 anywhere\nmeasure m = count A\n',
      'model/no-space',
    ],
    [
      'a field on a space that is not there',
      model('plain = 2').replace('field grass on S', 'field grass on T'),
      'name/space',
    ],
    [
      'one agent a cell on a plane',
      model('plain = 2').replace('wrapping', 'wrapping, one agent a cell'),
      'type/expected',
    ],
    [
      'a grid of broken size',
      'model G\nclock\n  end after 3 steps\nspace S: grid 2.5 by 3\nfield f on S\n  start 1\nmeasure m = sum of f\n',
      'type/whole',
    ],
    ['a chart of what is no measure', model('plain = 2', 'chart Wrong: plain\n'), 'name/unknown'],
    ['a show of what is not there', model('plain = 2', 'show B: leaf\n'), 'name/shown'],
    ['a shape that is none', model('plain = 2').replace('show A: leaf', 'show A: leav'), 'name/look'],
    [
      'a check that sets what is no parameter',
      model('plain = 2', 'check Wrong\n  with plain = 1, over 3 seeds for 9 days\n  expect last of used > 0\n'),
      'name/unknown',
    ],
    ['a question about the run in a measure', model('plain = 2', 'measure top = max of used\n'), 'type/arguments'],
    [
      'a rule in the order twice',
      model('plain = 2', 'order\n  go in turn\n  go in turn\n  life in turn\n'),
      'order/twice',
    ],
    ['a rule without its mode', model('plain = 2', 'order\n  go\n  life in turn\n'), 'order/mode'],
    ['a mode on a field', model('plain = 2', 'order\n  go in turn\n  life in turn\n  grass in turn\n'), 'order/mode'],
    [
      'a rule that is nowhere',
      model('plain = 2', 'order\n  gone in turn\n  go in turn\n  life in turn\n'),
      'name/rule',
    ],
    ['a second clock', `${model('plain = 2')}clock\n  end after 2 days\n`, 'model/twice'],
    ['a kind named twice', `${model('plain = 2')}agent A\n  start 1 anywhere\n`, 'name/taken'],
    ['two states of one name', model('plain = 2').replace('    Old\n', '    Old\n    young\n'), 'name/taken'],
    ['an attribute with the name of a parameter', model('plain = 2').replace('has open', 'has reach'), 'name/taken'],
    [
      'an attribute read before it is given',
      model('plain = 2').replace('has plain = 1', 'has plain = 1\n  has early = open'),
      'name/unknown',
    ],
    [
      'a derived attribute computed from itself',
      model('plain = first_one').replace(
        '  states life',
        '  derive first_one = second_one + 1\n  derive second_one = first_one * 2\n  states life',
      ),
      'name/circle',
    ],
    [
      'a derived attribute that is set',
      model('double = 3').replace('  states life', '  derive double = 2 * plain\n  states life'),
      'name/cannot-set',
    ],
    [
      'luck in a derived attribute',
      model('plain = luck').replace('  states life', '  derive luck = normal(0, 1)\n  states life'),
      'type/draw',
    ],
    [
      'a variable set to another unit',
      `${model('rain = 3 days')}variable rain = 2 mm\nmeasure wet = rain > 1 mm\n`,
      'type/unit-mismatch',
    ],
    ['a variable that nobody reads', `${model('plain = 2')}variable rain = reach + 3\n`, 'type/unit-mismatch'],
    ['luck in the first value of a variable', `${model('plain = rain')}variable rain = normal(0, 1)\n`, 'type/draw'],
    ['no title', 'clock\n  end after 3 steps\nparameter p = 1\nmeasure m = p\n', 'model/no-title'],
    ['a clock without an end', 'model M\nclock\n  step 1 day\nparameter p = 1\nmeasure m = p\n', 'model/no-end'],
    ['a behaviour at the margin', `${model('plain = 2')}behaviour lost\n  plain = 1\n`, 'name/unknown'],
    ['a block that is empty', model('if keen'), 'syntax/empty-block'],
    ['a line too deep', model('plain = 2\n        plain = 3'), 'layout/deeper'],
    [
      'a sentence below its line',
      model('plain = 2').replace('measure', 'parameter q = 1\n  "How many."\nmeasure'),
      'layout/deeper',
    ],
    ['a wrong column', model('if keen\n      plain = 2\n     plain = 3'), 'layout/indent'],
    ['a title in quotes left open', model('plain = 2', 'measure other = 1 "half\n'), 'text/open-quote'],
  ];
  for (const [name, text, code] of cases) {
    it(name, () => {
      const found = checkModel(text).diagnostics.filter((d) => d.severity === 'error');
      expect(found.map((d) => d.code)).toContain(code);
      const first = found.find((d) => d.code === code)!;
      expect(first.span.start).toBeGreaterThanOrEqual(0);
      expect(first.span.end).toBeLessThanOrEqual(text.length);
    });
  }
});
