import { describe, expect, it } from 'vitest';
import type { CurveWishes } from './formula-curves.ts';
import { curvesOf, knownFormulas } from './formula-curves.ts';

const TEXT = `model Fears
parameter fear = 2, from 0 to 5
parameter reach = 4 m
define risk(owls, out) = 1 - exp(-fear * owls * out)
agent Vole
  start 5
  has energy = 3
  derive danger = fear * energy
measure n = count Vole
`;
const USUAL: CurveWishes = { values: {}, over: undefined, range: ['0', '10'], family: '', familyValues: '1, 2, 4' };
const curves = (expression: string, wishes: Partial<CurveWishes> = {}) =>
  curvesOf(TEXT, expression, { ...USUAL, ...wishes });

describe('the curves of a formula', () => {
  it('are of what the text defines and derives, each with its inputs', () => {
    expect(knownFormulas(TEXT).map(({ name, expression }) => [name, expression])).toEqual([
      ['risk', 'risk(owls, out)'],
      ['danger of Vole', 'fear * energy'],
    ]);
    const [risk] = knownFormulas(TEXT);
    expect(TEXT.slice(risk!.start, risk!.end)).toBe('define risk(owls, out) = 1 - exp(-fear * owls * out)');
  });

  it('run along the first name over the range, with the others at what is set by hand or usual', () => {
    const { axis, rest, at, curves: drawn } = curves('risk(owls, out)', { range: ['0', '6'], values: { out: '0.5' } });
    expect([axis, rest, at[0], at[60], at.length]).toEqual(['owls', ['out', 'fear'], 0, 6, 61]);
    expect(drawn.map(({ label }) => label)).toEqual(['value']);
    at.forEach((owls, i) => expect(drawn[0]!.values[i]).toBeCloseTo(1 - Math.exp(-2 * owls * 0.5), 12));
  });

  it('follow a parameter that is set by hand as well as an input', () => {
    const { curves: drawn } = curves('risk(owls, out)', { over: 'owls', range: ['1', '1'], values: { fear: '0' } });
    expect(drawn[0]!.values[0]).toBe(0);
    expect(curves('fear * energy', { over: 'fear', values: { energy: '5' } }).curves[0]!.values[60]).toBe(50);
  });

  it('are one for each value of another name, at most six', () => {
    const family = curves('risk(owls, out)', { family: 'fear', familyValues: '0, 1, 2, 3, 4, 5, 6, 7' });
    expect(family.rest).toEqual(['out']);
    expect(family.curves.map(({ label }) => label)).toEqual(['0', '1', '2', '3', '4', '5'].map((n) => `fear ${n}`));
    expect(family.curves[1]!.values[6]).toBeCloseTo(1 - Math.exp(-1), 12);
    // What runs along the axis cannot differ from curve to curve too.
    expect(curves('risk(owls, out)', { family: 'owls' }).curves).toHaveLength(1);
  });

  it('take units from the range, the curves and the values', () => {
    expect(curves('far + reach').problem).toMatch(/unit|together|plain/);
    expect(curves('far + reach', { range: ['0 m', '8 m'] }).curves[0]!.values[60]).toBe(12);
    expect(curves('far / reach', { range: ['0 m', '8 m'] }).curves[0]!.values[60]).toBe(2);
    expect(
      curves('far / reach', { over: 'reach', family: 'far', familyValues: '8 m', range: ['1', '4'] }).curves,
    ).toEqual([{ label: 'far 8', values: expect.arrayContaining([8, 2]) as number[] }]);
    expect(curves('x * far / reach', { values: { far: '2 m' }, range: ['0', '2'] }).curves[0]!.values[60]).toBe(1);
  });

  it('say what keeps them from being drawn, and what could be varied stays on offer', () => {
    const wrong = curves('risk(owls, out)', { range: ['0', 'ten'] });
    expect([wrong.problem, wrong.names.length, wrong.curves]).toEqual([
      'The range of owls ends at “ten”: write a number.',
      3,
      [],
    ]);
    expect(curves('risk(owls, out)', { range: ['', '1'] }).problem).toMatch(/ends at “”/);
    expect(curves('risk(owls, out)', { range: ['0', '1e999'] }).problem).toMatch(/1e999/);
    expect(curves('risk(owls, out)', { values: { fear: 'much' } }).problem).toMatch(/^fear is “much”/);
    expect(curves('risk(owls, out)', { family: 'out', familyValues: '1,,2' }).problem).toMatch(
      /for each out of “1,,2”/,
    );
    expect(curves('exp(').problem).toBeDefined();
    expect(curves('1 + 2').problem).toBe('It is 3: nothing in it can be varied.');
    expect(curves('constructor + 1', { values: {} }).axis).toBe('constructor');
  });
});
