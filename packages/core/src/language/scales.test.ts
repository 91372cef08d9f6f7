import { describe, expect, it } from 'vitest';
import { checkModel } from './checker.ts';

/** A model whose base units are days and metres, with units of its own, and parameters as given. */
function parameters(lines: readonly string[], clock = '  step 1 day\n  end after 9 days', size = '20 m') {
  const text = `model Units\nclock\n${clock}\nunit sack\nunit crate = 4 sack\nunit fortnight = 14 days\nunit pace = 75 cm\nunit turn = 360 deg\nspace Field: plane ${size} by ${size}, wrapping\n${lines.join('\n')}\nmeasure m = 1\n`;
  const { model, diagnostics } = checkModel(text);
  return { model, errors: diagnostics.filter((d) => d.severity === 'error').map((d) => d.message) };
}
function read(value: string, ...setting: string[]) {
  const { model, errors } = parameters([`parameter p = ${value}`], ...setting);
  if (!model) throw new Error(errors.join('\n'));
  const [{ value: inside, unit, type }] = model.parameters as [(typeof model.parameters)[0]];
  return { inside, label: unit.label, factor: unit.factor, dim: type.is === 'number' ? type.dim : undefined };
}

describe('values with units', () => {
  it.each<[string, number, string, number]>([
    ['3', 3, '', 1],
    ['3 days', 3, 'days', 1],
    ['2 weeks', 14, 'weeks', 7],
    ['1 year', 365, 'year', 365],
    ['36 h', 1.5, 'h', 1 / 24],
    ['90 minutes', 1 / 16, 'minutes', 1 / 1440],
    ['5 steps', 5, 'steps', 1],
    ['2 km', 2000, 'km', 1000],
    ['30 cm', 0.3, 'cm', 0.01],
    ['180 deg', 180, 'deg', 1],
    ['1 rad', 57.29577951308232, 'rad', 57.29577951308232],
    ['40 %', 0.4, '', 1],
    ['3 sack', 3, 'sack', 1],
    ['3 crate', 12, 'crate', 4],
    ['2 fortnight', 28, 'fortnight', 14],
    ['4 pace', 3, 'pace', 0.75],
    ['0.5 turn', 180, 'turn', 360],
    ['3 per week', 3 / 7, 'per week', 1 / 7],
    ['6 m per h', 144, 'm per h', 24],
    ['3 per 2 weeks', 3 / 14, 'per 2 weeks', 1 / 14],
    ['(2 + 1) days', 3, 'days', 1],
    ['2 * 3 m', 6, 'm', 1],
    ['-4 m', -4, 'm', 1],
    ['2 ^ 3', 8, '', 1],
    ['2 ^ -1', 0.5, '', 1],
    ['1 km + 20 m', 1020, 'm', 1],
  ])('%s is %d inside a run, and shown in its unit', (text, inside, label, factor) => {
    const found = read(text);
    expect(found.inside).toBeCloseTo(inside, 12);
    if (!/[+*^]/.test(text)) expect(found.label).toBe(label);
    if (!/[+*^]/.test(text)) expect(found.factor).toBeCloseTo(factor, 12);
  });

  it('have the base units of the clock and of the space, whatever these are', () => {
    expect(read('2 h', '  step 15 minutes\n  end after 9 h')).toMatchObject({ inside: 120, factor: 60 });
    expect(read('1 step', '  step 15 minutes\n  end after 9 h')).toMatchObject({ inside: 15 });
    expect(read('50 m', '  step 1 day\n  end after 9 days', '2 km')).toMatchObject({ inside: 0.05, factor: 0.001 });
  });

  it('multiply and divide their dimensions', () => {
    expect(read('6 m * 2 m').dim).toEqual({ length: 2 });
    expect(read('6 sack / 2 days').dim).toEqual({ sack: 1, time: -1 });
    expect(read('(3 m) ^ 2')).toMatchObject({ inside: 9, dim: { length: 2 } });
  });

  it.each<[string, RegExp]>([
    ['3 m + 2 days', /constant|fit|length|number/i],
    ['3 bushels', /bushels/],
    ['2 ^ 0.5 m', /./],
    ['log(0)', /./],
  ])('that do not fit are refused: %s', (value, said) => {
    const { errors } = parameters([`parameter p = ${value}`]);
    expect(errors.join('\n')).toMatch(said);
  });

  it('bounds take the unit of the value unless they have their own, and must hold it', () => {
    const { model } = parameters([
      'parameter a = 2 weeks, from 1 to 4',
      'parameter b = 2 weeks, from 1 day to 4 weeks',
    ]);
    expect(model!.parameters.map(({ min, max }) => [min, max])).toEqual([
      [7, 28],
      [1, 28],
    ]);
    expect(parameters(['parameter a = 2 weeks, from 3 to 4']).errors.join()).toMatch(/lies outside its bounds/);
    expect(parameters(['parameter a = 2 weeks, from 4 to 1']).errors.join()).toMatch(/below/);
    expect(parameters(['parameter a = 2 weeks, from 1 m to 4 m']).errors.join()).toMatch(/time|weeks|length/);
  });

  it('of time need a clock that has one', () => {
    const { diagnostics } = checkModel('model Bare\nclock\n  end after 9 steps\nparameter p = 3 days\nmeasure m = p\n');
    expect(diagnostics.filter((d) => d.severity === 'error').length).toBeGreaterThan(0);
  });

  it('that a model declares may not be units of the language, nor made of what is none', () => {
    const errors = (unit: string): string =>
      checkModel(`model Own\n${unit}\nparameter p = 1\nmeasure m = p\n`)
        .diagnostics.filter((d) => d.severity === 'error')
        .map((d) => d.message)
        .join();
    expect(errors('unit day')).toMatch(/“day” is already the name of a unit of the language/);
    expect(errors('unit heap = 3 pinches')).toMatch(/pinches/);
  });
});
