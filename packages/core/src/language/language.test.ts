import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { generateModel } from '../../test/model-generator.ts';
import { applyEdits } from '../diagnostics.ts';
import { loadModel } from '../load.ts';
import { checkModel } from './checker.ts';
import { formatModel } from './format.ts';
import { lex, MAX_TEXT_LENGTH } from './lexer.ts';
import { editDistance, nearestWord } from './near-names.ts';
import { parse } from './parser.ts';

const EXAMPLE = readFileSync(new URL('../../../../examples/meadow-year.vole', import.meta.url), 'utf8');

const words = (text: string): string[] =>
  lex(text).tokens.map((token) =>
    ['indent', 'dedent', 'newline', 'end'].includes(token.type) ? `<${token.type}>` : `${token.type}:${token.text}`,
  );

describe('lexer', () => {
  const cases: { name: string; text: string; expect: string[] }[] = [
    {
      name: 'indentation opens and closes blocks',
      text: 'a\n  b\nc',
      expect: ['name:a', '<newline>', '<indent>', 'name:b', '<newline>', '<dedent>', 'name:c', '<newline>', '<end>'],
    },
    {
      name: 'a tab goes to the next multiple of four',
      text: 'a\n\tb\n    c',
      expect: ['name:a', '<newline>', '<indent>', 'name:b', '<newline>', 'name:c', '<newline>', '<dedent>', '<end>'],
    },
    {
      name: 'a line goes on after a comma, an operator or in brackets',
      text: 'a +\n  b, \n c (\n d)',
      expect: ['name:a', 'op:+', 'name:b', 'op:,', 'name:c', 'op:(', 'name:d', 'op:)', '<newline>', '<end>'],
    },
    {
      name: 'percent belongs to the number',
      text: '40 % 5%',
      expect: ['percent:40 %', 'percent:5%', '<newline>', '<end>'],
    },
    {
      name: 'dates, days of the year after on, times, subtractions',
      text: '2031-03-01 on 10-01 07:30 10-01',
      expect: [
        'date:2031-03-01',
        'name:on',
        'monthday:10-01',
        'time:07:30',
        'number:10',
        'op:-',
        'number:01',
        '<newline>',
        '<end>',
      ],
    },
    {
      name: 'prose under model is taken as it stands',
      text: 'model A: b\n  prose # no comment\nx',
      expect: [
        'name:model',
        'text:A: b',
        '<newline>',
        '<indent>',
        'text:prose # no comment',
        '<newline>',
        '<dedent>',
        'name:x',
        '<newline>',
        '<end>',
      ],
    },
    {
      name: 'a word of the language may be assigned to',
      text: 'note = 1',
      expect: ['name:note', 'op:=', 'number:1', '<newline>', '<end>'],
    },
    {
      name: 'comments are left out',
      text: 'a # b\n# c\nd',
      expect: ['name:a', '<newline>', 'name:d', '<newline>', '<end>'],
    },
    {
      name: 'strings with escapes and curly quotes',
      text: '"a\\"b" \u201cc\u201d',
      expect: ['string:"a\\"b"', 'string:\u201cc\u201d', '<newline>', '<end>'],
    },
  ];
  for (const { name, text, expect: wanted } of cases) it(name, () => expect(words(text)).toEqual(wanted));

  it('never throws, and its tokens lie in order within the text', () => {
    for (let seed = 1; seed <= 60; seed++) {
      const model = generateModel(seed);
      const cut = model.slice(0, (seed * 7919) % model.length);
      let at = 0;
      for (const token of lex(cut).tokens) {
        expect(token.span.start).toBeGreaterThanOrEqual(at);
        expect(token.span.end).toBeLessThanOrEqual(cut.length);
        at = token.span.start;
      }
      expect(() => checkModel(cut)).not.toThrow();
    }
  });

  it('refuses a text of five megabytes at once, with one clear message', () => {
    const { diagnostics } = loadModel('x '.repeat(2_500_000));
    expect(diagnostics.map((d) => d.code)).toEqual(['text/too-long']);
    expect(MAX_TEXT_LENGTH).toBeLessThan(5_000_000);
  });

  it('survives brackets and blocks nested beyond reason', () => {
    const brackets = `model M\nmeasure a = ${'('.repeat(5000)}1${')'.repeat(5000)}\n`;
    const blocks = `model M\nagent A\n  behaviour b\n${Array.from({ length: 300 }, (_, i) => `${' '.repeat(4 + i)}if yes`).join('\n')}\n`;
    for (const text of [brackets, blocks])
      expect(checkModel(text).diagnostics.map((d) => d.code)).toContain('text/too-deep');
  });
});

describe('parser', () => {
  const value = (text: string): unknown => {
    const part = parse(`measure m = ${text}`).tree.parts[0];
    return part?.is === 'measure' ? shape(part.value) : undefined;
  };
  /** An expression as nested lists, for comparing. */
  function shape(expr: unknown): unknown {
    const e = expr as Record<string, unknown> & { is: string };
    switch (e.is) {
      case 'number':
        return e.unit ? [e.value, (e.unit as { text: string }).text] : e.value;
      case 'path':
        return (e.names as { text: string }[]).map((n) => n.text).join('.');
      case 'binary':
        return [e.op, shape(e.left), shape(e.right)];
      case 'unary':
        return [e.op, shape(e.value)];
      case 'per':
        return ['per', shape(e.value), (e.unit as { text: string }).text];
      case 'brackets':
        return shape(e.value);
      default:
        return e.is;
    }
  }
  const cases: [string, unknown][] = [
    ['-x ^ 2 per day', ['per', ['-', ['^', 'x', 2]], 'day']],
    ['0.04 per day * grass', ['*', ['per', 0.04, 'day'], 'grass']],
    ['a - b - c', ['-', ['-', 'a', 'b'], 'c']],
    ['2 ^ 3 ^ 2', ['^', 2, ['^', 3, 2]]],
    ['a or b and not c', ['or', 'a', ['and', 'b', ['not', 'c']]]],
    ['x is not y', ['is not', 'x', 'y']],
    ['3 m + v.x', ['+', [3, 'm'], 'v.x']],
  ];
  for (const [text, wanted] of cases) it(`reads ${text}`, () => expect(value(text)).toEqual(wanted));

  it('goes on after a line it cannot read: one mistake, one finding', () => {
    const text = 'model M\nclock\n  end after 3 steps\nparameter a 3\nparameter b = 2\nmeasure m = b\n';
    expect(
      checkModel(text)
        .diagnostics.filter((d) => d.severity === 'error')
        .map((d) => d.code),
    ).toEqual(['syntax/missing']);
  });
});

describe('formatter', () => {
  it('keeps the meaning and is settled after one pass, on the example and on generated models', () => {
    const meaning = (text: string): string =>
      JSON.stringify(loadModel(text).loaded?.plan, (key, v: unknown) =>
        ['sites', 'site', 'label'].includes(key) ? undefined : v,
      );
    for (const text of [EXAMPLE, ...Array.from({ length: 60 }, (_, i) => generateModel(i + 1))]) {
      const once = formatModel(text, checkModel(text).uses);
      expect(formatModel(once, checkModel(once).uses)).toBe(once);
      expect(meaning(once)).toBe(meaning(text));
      expect(meaning(text)).toBeDefined();
    }
  });

  it('writes names as declared, sets off signs, indents by two and keeps comments', () => {
    const text =
      'model M\n# why\nclock\n    end after 3 steps\nparameter Bite=1,from 0 to 3   # here\nmeasure m=BITE-1*(-2)\n';
    expect(formatModel(text, checkModel(text).uses)).toBe(
      'model M\n# why\nclock\n  end after 3 steps\nparameter Bite = 1, from 0 to 3  # here\nmeasure m = Bite - 1 * (-2)\n',
    );
  });
});

describe('near names', () => {
  it('counts insertions, deletions, substitutions and swaps', () => {
    expect(editDistance('grass', 'gras')).toBe(1);
    expect(editDistance('vole', 'vloe')).toBe(1);
    expect(editDistance('', 'abc')).toBe(3);
  });
  it('offers only what is close', () => {
    expect(nearestWord('gras', ['energy', 'grass'])).toBe('grass');
    expect(nearestWord('sun', ['energy', 'grass'])).toBeUndefined();
    expect(nearestWord('kest', ['energy', 'kestrels'])).toBe('kestrels');
    expect(nearestWord('gra', ['grass', 'gravel'])).toBeUndefined();
  });
});

const HEAD = 'model M\nclock\n  step 1 day from 2031-03-01\n  end after 9 days\n';
const MEADOW = `${HEAD}parameter sight = 5 m, from 0 to 20\nspace S: plane 50 m by 50 m, wrapping\nfield grass on S, cells of 2 m\n  start 1\n`;
const vole = (lines: string): string =>
  `${MEADOW}agent Vole\n  start 5 anywhere\n  has energy = 1\n  has age = 0 days\n  behaviour go\n${lines
    .split('\n')
    .map((line) => `    ${line}`)
    .join('\n')}\nmeasure n = count Vole where it.energy > sight / 1 m and it.age >= 0\nshow Vole: leaf\n`;

/** Wrong models: what is said, on which piece of the text, and what the first fix makes of it. */
const MISTAKES: { name: string; text: string; code: string; piece: string; fixed?: boolean }[] = [
  { name: 'a name that is nearly one', text: vole('energy += gras'), code: 'name/unknown', piece: 'gras', fixed: true },
  {
    name: 'another precision of a field',
    text: MEADOW.replace('cells of 2 m', 'double precision, cells of 2 m'),
    code: 'syntax/line',
    piece: 'double precision',
    fixed: true,
  },
  {
    name: 'half of a precision',
    text: MEADOW.replace('cells of 2 m', 'cells of 2 m, single'),
    code: 'syntax/line',
    piece: 'single',
    fixed: true,
  },
  {
    name: 'an edge that is nearly one',
    text: MEADOW.replace('wrapping', 'wraping'),
    code: 'syntax/line',
    piece: 'wraping',
    fixed: true,
  },
  {
    name: 'a comma that nothing follows',
    text: MEADOW.replace('cells of 2 m', 'cells of 2 m,'),
    code: 'syntax/line',
    piece: ',',
  },
  {
    name: 'two edges',
    text: MEADOW.replace('wrapping', 'wrapping, walled'),
    code: 'syntax/line',
    piece: ', walled',
    fixed: true,
  },
  {
    name: 'two sizes of cells',
    text: MEADOW.replace('cells of 2 m', 'cells of 2 m, single precision, cells of 3 m'),
    code: 'syntax/line',
    piece: ', cells of 3 m',
    fixed: true,
  },
  {
    name: 'a name that nobody knows',
    text: vole('energy += sunshine'),
    code: 'name/unknown',
    piece: 'sunshine',
    fixed: true,
  },
  {
    name: 'an attribute that only another kind has',
    text: vole('with v = nearest Vole\n  v.taken = 1').replace(
      'agent Vole',
      'agent Owl\n  start 1 anywhere\n  has taken = 0\nshow Owl: wing\nagent Vole',
    ),
    code: 'name/attribute',
    piece: 'taken',
  },
  {
    name: 'a kind that is nearly one',
    text: vole('energy = count Voles within sight'),
    code: 'name/kind',
    piece: 'Voles',
    fixed: true,
  },
  {
    name: 'a chance above one',
    text: vole('if chance(40)\n  energy = 0'),
    code: 'type/chance',
    piece: '40',
    fixed: true,
  },
  { name: 'an angle without unit', text: vole('turn by 40'), code: 'type/angle', piece: '40', fixed: true },
  { name: 'a distance without unit', text: vole('move by 3'), code: 'type/length', piece: '3', fixed: true },
  { name: 'a time added to a plain number', text: vole('age += 1'), code: 'type/unit-mismatch', piece: 'age += 1' },
  {
    name: 'a condition of a query that forgets the candidate',
    text: vole('energy = count Vole within sight where energy > 1'),
    code: 'query/no-it',
    piece: 'energy > 1',
  },
  {
    name: 'a part of a condition that forgets the candidate',
    text: vole('if any Vole within sight where it.energy > 1 and energy > 2\n  energy = 0'),
    code: 'query/part-no-it',
    piece: 'energy > 2',
    fixed: true,
  },
  {
    name: 'a sign after a distance',
    text: vole('energy = count Vole within sight + 1'),
    code: 'syntax/distance-sign',
    piece: '+',
  },
  {
    name: 'an equals sign that compares',
    text: vole('if energy = 1\n  energy = 0'),
    code: 'syntax/equals',
    piece: '=',
    fixed: true,
  },
  { name: 'a chain of comparisons', text: vole('if 0 < energy < 1\n  energy = 0'), code: 'syntax/chain', piece: '<' },
  {
    name: 'a picker that may find nobody',
    text: vole('let v = nearest Vole\nenergy = v.energy'),
    code: 'type/maybe-nobody',
    piece: 'v',
  },
  {
    name: 'a field read where nobody stands',
    text: `${MEADOW}measure m = grass\nmeasure s = sight / 1 m\n`,
    code: 'name/field-place',
    piece: 'grass',
    fixed: true,
  },
  { name: 'a rule that reads a measure', text: vole('energy = n'), code: 'name/measure', piece: 'n' },
  {
    name: 'luck in a measure',
    text: `${MEADOW}measure m = normal(0, 1)\nmeasure s = sight / 1 m\n`,
    code: 'type/draw',
    piece: 'normal(0, 1)',
  },
  { name: 'a parameter set by a rule', text: vole('sight = 3 m'), code: 'name/cannot-set', piece: 'sight' },
  { name: 'a name taken twice', text: vole('let energy = 3'), code: 'name/taken', piece: 'energy', fixed: true },
  { name: 'a reserved word as a name', text: `${HEAD}parameter count = 3\n`, code: 'syntax/reserved', piece: 'count' },
  {
    name: 'a name that begins with two underscores',
    text: `${HEAD}parameter __proto__ = 3\nmeasure m = 1\n`,
    code: 'syntax/reserved',
    piece: '__proto__',
    fixed: true,
  },
  {
    name: 'a rate without time',
    text: vole('energy = 2').replace(
      '  behaviour go',
      '  states life\n    Young\n      rate 0.2: Old\n    Old\n  behaviour go',
    ),
    code: 'type/rate',
    piece: '0.2',
    fixed: true,
  },
  {
    name: 'a duration without unit',
    text: vole('energy = 2').replace(
      '  behaviour go',
      '  states life\n    Young\n      after 3: Old\n    Old\n  behaviour go',
    ),
    code: 'type/time',
    piece: '3',
    fixed: true,
  },
  {
    name: 'a state that does not exist',
    text: vole('energy = 2').replace(
      '  behaviour go',
      '  states life\n    Young\n      after 3 days: Odl\n    Old\n      after 1 day: Young\n  behaviour go',
    ),
    code: 'name/state',
    piece: 'Odl',
    fixed: true,
  },
  {
    name: 'a clock that never ends',
    text: 'model M\nclock\n  step 1 day\nparameter p = 1\nmeasure m = p\n',
    code: 'model/no-end',
    piece: 'clock',
    fixed: true,
  },
  {
    name: 'a statement that is nearly one',
    text: vole('trun by 4 deg'),
    code: 'syntax/statement',
    piece: 'trun',
    fixed: true,
  },
  {
    name: 'a bracket that stays open',
    text: vole('energy = (energy + 1'),
    code: 'syntax/missing',
    piece: '1',
    fixed: true,
  },
  { name: 'a semicolon', text: vole('energy = 1;'), code: 'text/character', piece: ';', fixed: true },
  {
    name: 'a rule that stands in no order',
    text: `${vole('energy = 2')}order\n  grass\n`,
    code: 'order/missing',
    piece: 'go',
    fixed: true,
  },
  { name: 'a birth without a place', text: vole('create 1 Vole'), code: 'model/no-place', piece: 'Vole', fixed: true },
  {
    name: 'a number that is not whole where one is needed',
    text: vole('create energy * 1.5 Vole here'),
    code: 'type/whole',
    piece: 'energy * 1.5',
    fixed: true,
  },
  {
    name: 'bounds that leave out the usual value',
    text: `${HEAD}parameter p = 3, from 0 to 1\nmeasure m = p\n`,
    code: 'type/bounds',
    piece: '3',
  },
  { name: 'a unit after a name', text: vole('move by sight m'), code: 'type/unit-after-name', piece: 'sight m' },
  {
    name: 'a chance in a condition without its brackets',
    text: vole('if chance 0.2\n      energy += 1'),
    code: 'syntax/rest',
    piece: 'chance 0.2',
    fixed: true,
  },
  {
    name: 'a chance without its brackets before a further condition',
    text: vole('if chance clip(energy, 0, 1) and energy > 1\n      energy += 1'),
    code: 'syntax/rest',
    piece: 'chance clip(energy, 0, 1)',
    fixed: true,
  },
  {
    name: 'a way to gather values that there is not',
    text: `${vole('move by 1')}measure uneven = gini of it.energy over Vole\n`,
    code: 'syntax/rest',
    piece: 'gini',
  },
  {
    name: 'whether there is anybody in place of somebody',
    text: vole('with other = any Vole within 3 m\n      energy += 1'),
    code: 'type/expected',
    piece: 'any Vole within 3 m',
    fixed: true,
  },
  { name: 'a line that goes on after its end', text: vole('move by sight 3'), code: 'syntax/rest', piece: '3' },
];

describe('mistakes are caught with place, reason and repair', () => {
  for (const { name, text, code, piece, fixed } of MISTAKES) {
    it(name, () => {
      const found = checkModel(text).diagnostics.find((d) => d.code === code);
      expect(checkModel(text).diagnostics.map((d) => d.code)).toContain(code);
      expect(text.slice(found!.span.start, found!.span.end)).toBe(piece);
      expect(found!.message.length + (found!.hint?.length ?? 0)).toBeGreaterThan(20);
      if (!fixed) return;
      const repaired = applyEdits(text, found!.fixes![0]!.edits);
      expect(
        checkModel(repaired).diagnostics.filter((d) => d.code === code && d.span.start === found!.span.start),
      ).toEqual([]);
      expect(checkModel(repaired).diagnostics.filter((d) => d.severity === 'error').length).toBe(
        checkModel(text).diagnostics.filter((d) => d.severity === 'error').length - 1,
      );
    });
  }

  it('has nothing to say about the example', () => expect(checkModel(EXAMPLE).diagnostics).toEqual([]));

  it('doubts an unread parameter, a state never reached, a kind never drawn', () => {
    const text = `${vole('energy = 2').replace('  behaviour go', '  states life\n    Young\n      chance 0.1: Young\n    Old\n  behaviour go').replace('show Vole: leaf\n', '')}agent Owl\n  start 2 anywhere\nshow Owl: wing\nparameter spare = 1\norder\n  go in turn\n`;
    const codes = checkModel(text).diagnostics.map((d) => d.code);
    for (const code of ['doubt/unused', 'doubt/unreachable', 'doubt/not-shown', 'order/machine'])
      expect(codes).toContain(code);
  });
});

describe('the levels of a chart', () => {
  const charted = (chart: string) => {
    const { loaded, diagnostics } = loadModel(
      `model L\nparameter capacity = 20\nagent A\n  start 3\nmeasure many = count A\nmeasure level = 2 * many\nchart Many: ${chart}\n`,
    );
    const { charts, measures } = loaded!.plan;
    return {
      errors: diagnostics.filter(({ severity }) => severity === 'error').map(({ code }) => code),
      measures: charts[0]!.measures.map((m) => measures[m]!.name),
      levels: charts[0]!.levels.map((m) => measures[m]!.name),
    };
  };
  it('are measured like its values, parameters too, and stand apart from them', () => {
    expect(charted('many, level capacity, level 5 + many')).toEqual({
      errors: [],
      measures: ['many'],
      levels: ['level capacity', 'level 5 + many'],
    });
  });
  it('leave a measure of that name what it is', () => {
    expect(charted('many, level')).toEqual({ errors: [], measures: ['many', 'level'], levels: [] });
    expect(charted('level, level / 2, level level')).toEqual({
      errors: [],
      measures: ['level', 'level / 2'],
      levels: ['level level'],
    });
  });
});
