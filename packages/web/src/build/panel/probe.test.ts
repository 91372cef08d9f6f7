import { describe, expect, it } from 'vitest';
import { binsOf, momentsOf } from '../../charts/bins.ts';
import { drawsOf, formulaOf } from './probe.ts';

const TEXT = `model Probe
clock
  step 1 day
  end after 9 days
  end when count Vole is 0
parameter fear = 2, from 0 to 9
parameter reach = 4 m
variable crowd = count Vole
define risk(owls, out) = 1 - exp(-fear * owls / (1 + out))
space S: plane 9 m by 9 m
agent Vole
  start 1000000 anywhere
  has energy = 1
  derive danger = fear * energy
measure n = count Vole
`;

describe('formulas and draws tried out', () => {
  it('finds the inputs of an expression, and computes it for values of inputs and parameters', () => {
    const risk = formulaOf(TEXT, 'risk(owls, out)', []);
    expect([risk.inputs, risk.problem]).toEqual([['owls', 'out'], undefined]);
    expect(risk.at({ owls: 3, out: 1 })).toBeCloseTo(1 - Math.exp(-3), 12);
    expect(risk.at({ owls: 3, out: 1, fear: 0 })).toBe(0);
    expect(risk.parameters).toEqual([{ name: 'fear', value: 2, unit: '' }]);
    expect(formulaOf(TEXT, 'far / reach', [{ name: 'far', value: '8 m' }]).parameters).toEqual([
      { name: 'reach', value: 4, unit: 'm' },
    ]);
    expect(formulaOf(TEXT, 'fear * energy', []).at({ energy: 5 })).toBe(10);
  });

  it('takes the unit of an input from its value, and says what is wrong', () => {
    expect(formulaOf(TEXT, 'far / reach', [{ name: 'far', value: '8 m' }]).at({ far: 8, reach: 2 })).toBe(4);
    expect(formulaOf(TEXT, 'far + reach', []).problem).toMatch(/fit together|unit/);
    expect(formulaOf(TEXT, 'risk(1', []).problem).toBeDefined();
  });

  it('draws what an attribute would be started with', () => {
    const { values, unit } = drawsOf(TEXT, 'gamma(mean = 20 days, shape = 8)');
    const { mean, sd } = momentsOf(values);
    expect(unit).toMatch(/day/);
    expect(Math.abs(mean - 20)).toBeLessThan((4 * (20 / Math.sqrt(8))) / Math.sqrt(4000));
    expect(sd).toBeCloseTo(20 / Math.sqrt(8), 0);
    expect(drawsOf(TEXT, 'pick(brown, grey)').options).toEqual(['brown', 'grey']);
    expect(drawsOf(TEXT, 'normal(0').problem).toBeDefined();
  });

  it('puts values in bars, whole numbers in their own', () => {
    expect(binsOf([1, 1, 3]).map((bin) => bin.count)).toEqual([2, 0, 1]);
    const bins = binsOf([0, 0.25, 0.5, 1], 4);
    expect(bins.map((bin) => bin.count)).toEqual([1, 1, 1, 1]);
    expect(binsOf([])).toEqual([]);
  });
});
