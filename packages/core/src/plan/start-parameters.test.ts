import { describe, expect, it } from 'vitest';
import { loadModel } from '../load.ts';
import { startOnlyParameters } from './start-parameters.ts';

function early(text: string): string[] {
  const { loaded, diagnostics } = loadModel(text);
  expect(diagnostics.filter(({ severity }) => severity === 'error')).toEqual([]);
  const { plan } = loaded!;
  const found = startOnlyParameters(plan);
  return plan.parameters.filter((_, i) => found.has(i)).map((parameter) => parameter.name);
}

const BASE = `model Early
parameter crowd = 20, whole from 0 to 90
parameter gap = 4, from 0 to 9
parameter stride = 1, from 0 to 9
parameter fed = 3, from 0 to 9
parameter unread = 3, from 0 to 9
space Field: plane 20 by 20, walled
obstacle Hedge on Field
  line (10, 0) to (10, 20 - gap)
agent Vole
  start crowd anywhere
  has food = fed
  behaviour roam
    move by stride
`;

describe('parameters that are read only at the start', () => {
  it('are those of numbers at the start, first values and walls, and not those that rules or nobody read', () => {
    expect(early(BASE)).toEqual(['crowd', 'gap', 'fed']);
  });

  it('are none that a measure, a rule that makes agents, a field in time or the look reads', () => {
    expect(early(`${BASE}measure full = count Vole / crowd\n`)).toEqual(['gap', 'fed']);
    expect(early(BASE.replace('    move by stride', '    move by stride\n    create 1 Vole here'))).toEqual([
      'crowd',
      'gap',
    ]);
    expect(early(`${BASE}field grass on Field, cells of 1\n  start fed\n  fade gap / 10\n`)).toEqual(['crowd', 'fed']);
    expect(early(`${BASE}show Vole: dot, size 1 + gap / 9\n`)).toEqual(['crowd', 'fed']);
  });
});
