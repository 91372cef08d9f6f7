import { describe, expect, it, vi } from 'vitest';
import { interpretPlan } from '../interpret/interpret.ts';
import { compilePlan, Run } from '../index.ts';
import { failureOf, firstDifference, planOf } from '../../test/models.ts';
import { CompiledPlan } from '../javascript/compiled-plan.ts';
import { fieldKernels } from './field-kernels.ts';
import type { F64, KernelFunction, Statement, Test } from './kernel.ts';
import { column, compare, f64, i32, load, number, plus, product, set, store, sum, when, whole } from './kernel.ts';
import type { KernelEngine } from './kernels.ts';
import { Kernels } from './kernels.ts';
import { planKernels } from './plan-kernels.ts';
import { RunMemory } from '../engine/memory/run-memory.ts';

const ENGINES: readonly KernelEngine[] = ['WebAssembly', 'JavaScript'];

/** Runs a kernel over columns that begin with given values; what it gives, and the columns after it. */
function run(
  engine: KernelEngine,
  made: KernelFunction,
  columns: readonly (readonly number[])[],
  ...given: number[]
): { readonly gives: number; readonly columns: readonly (readonly number[])[] } {
  const memory = new RunMemory(engine === 'WebAssembly');
  const blocks = columns.map(({ length }) => memory.take(length * 8));
  const laid = blocks.map((block, c) => {
    const { buffer, at } = memory.renewed(block);
    return new Float64Array(buffer, at, columns[c]!.length);
  });
  laid.forEach((one, c) => one.set(columns[c]!));
  const kernels = new Kernels([made], engine).over(memory, {});
  expect(kernels.engine).toBe(engine);
  const gives = kernels.byName[made.name]!(laid)(...given);
  return { gives, columns: laid.map((one) => [...one]) };
}

const [from, to, n, i, p] = [column('from'), column('to'), i32('n'), i32('i'), f64('p')];

/** A stream that puts something made of each number into another column, and ends where that is no finite number. */
function each(value: F64): KernelFunction {
  return {
    name: 'each',
    columns: [from, to],
    given: [n],
    locals: [i, p],
    body: [
      {
        is: 'stream',
        index: i,
        from: whole(0),
        to: n,
        body: [set(p, value), { is: 'unless finite', value: p, at: i }, store(to, i, p)],
      },
    ],
  };
}

const SPACES = [
  ...['wrapping', 'walled'].flatMap((edge) =>
    [4, 8].flatMap((neighbours) =>
      ['1 by 1', '1 by 6', '6 by 1', '2 by 2', '3 by 3', '4 by 5', '7 by 4'].map(
        (size) => `grid ${size}, ${neighbours} neighbours, ${edge}`,
      ),
    ),
  ),
  'plane 7 by 5, wrapping',
  'plane 7 by 5, reflecting',
  'plane 7.3 by 5.5',
  'plane 8 by 6, walled',
  ...['1 by 2', '2 by 2', '3 by 4', '6 by 6'].map((size) => `grid ${size}, 6 neighbours, wrapping`),
  ...['1 by 1', '5 by 1', '2 by 3', '6 by 5'].map((size) => `grid ${size}, 6 neighbours`),
];

const CHANGES = [
  '  grow 0.25\n  keep 0 to 1',
  '  grow rain * (1 - light) - light / 3\n  spread 0.3\n  fade 10 %\n  keep 0 to limit',
  '  grow -rain\n  fade 20 %',
  '  spread 0.7',
  '  spread 0.4\n  fade 30 %\n  keep 0.1 to 0.6',
  '  fade 50 %\n  keep 0.2 to 2',
  '  grow 0.1\n  keep -0 to 0',
  '  becomes fog + rain when (count cells next to here where fog at it > 0.5) > 2\n  becomes 0 when any cells next to here where fog at it < 0 and light at it > 0.5',
  '  spread 0.2\n  becomes if (count cells next to here where not (fog at it > limit)) < 3 then -fog else fog * 0.5\n  keep -0.2 to limit',
  '  becomes fog + 1 when (count cells next to here where fog at it > 0) is 3 or fog is not 0 and not (light > limit)\n  keep limit to 0.3',
  '  becomes (count cells next to here) / 8 + 0.1 * (count cells next to here where light at it > fog)',
  '  becomes 1 / (fog - fog)',
  '  becomes light / fog when fog > 0.1\n  becomes fog / light when chance(0.5) and light / limit > rain / light\n  keep 0 to 3',
  '  becomes if fog > 0.1 then light / fog else 0.2\n  keep 0 to 3',
  '  becomes fog + 1 when fog < 0 and chance(0.4)\n  becomes light when chance(rain)\n  becomes if chance(0.5) then 0 else fog / 2 when (count cells next to here where fog at it > 0.5) > 1 and chance(limit)',
  '  becomes fog when chance(0.3) and chance(0.3) or chance(0.2)\n  becomes 1 / (fog - fog) when chance(0.01)\n  keep 0 to 1',
  '  grow 0.1\n  keep limit to 0.3',
  '  spread 0.5\n  keep limit to 0.3',
  '  grow 0.1\n  fade 0.5\n  keep limit to 0.3',
  '  grow 0.1\n  spread 0.5\n  keep limit to 0.3\n  becomes fog + 0.1',
  '  grow exp(-light) - 0.5\n  spread 0.5',
  '  grow max(0.1, min(light, 0.3)) + abs(fog) * 0.1 - floor(light * 3) * 0.01 + round(fog) / 8\n  fade 10 %',
  '  grow (if light > 0.5 then exp(fog) else log(light + 0.1)) / 10\n  keep -2 to 2',
  '  becomes sin(fog * 90 deg) + fog ^ 2 - sqrt(abs(light)) + mod(fog, 0.3)',
  '  becomes log(abs(fog) + 0.1) when light > 0.5\n  becomes 1 / (1 + exp(-fog)) when (count cells next to here where fog at it > 0.5) > 2',
  '  becomes clip(normal(fog, 0.25), 0, 1) when light > 0.3\n  becomes fog / 2 when chance(light)',
  '  becomes fog + uniform(-0.1, 0.1) when chance(light * rain)\n  becomes exponential(0.25) + binomial(3, 0.5) + poisson(light) when fog > 0.5\n  keep -1 to 4',
  '  becomes gamma(mean = light, shape = 2) + lognormal(0.5, light) - whole(0, 3) when chance(0.5)',
  '  becomes log(fog)',
  '  becomes if fog > 0.1 then log(fog) + light / fog else sqrt(0.1 - fog)\n  keep -2 to 2',
  '  becomes if fog > 0.1 then sqrt(fog) else if light > 0.3 then sqrt(light) else fog',
  '  becomes sqrt(fog - 0.2) when fog > 0.2\n  keep 0 to 1',
  '  becomes normal(0, fog)',
  '  becomes uniform(0, 1) / (fog - fog) when chance(fog / 0)',
  '  spread 0.5\n  becomes light + 0.1 * fog',
  '  becomes mean of (fog at it) over cells next to here',
  '  becomes 0.5 * fog + 0.1 * (sum of (light at it - fog at it / 3) over cells next to here where fog at it < light at it)\n  keep -1 to 1',
  '  becomes max of (fog at it) over cells within 1.5 where light at it > 0.2',
  '  becomes (min of (fog at it * light at it) over cells in a square of 1) + (mean of (fog at it) over cells in a cross of 1) / 8',
  '  grow (mean of (light at it) over cells in a square of 1) - fog / 8\n  spread 0.1\n  keep -1 to limit',
  '  grow 0.01 * (count cells within 1 where fog at it > 0.25)\n  fade 0.1',
  '  becomes (count cells in a square of 0) + (if any cells within 1 where exp(light at it) > 2 then 1 else 0)',
  '  becomes (count cells within (rain * 12) where fog at it > 0.5) / 8 + light / 9',
  '  grow 0.01 * (sum of (exp(light at it)) over cells in a square of (rain * 8)) - fog\n  spread 0.1\n  becomes max of (fog at it) over cells in a cross of (rain * 8) when chance(0.3)',
  '  becomes mean of (exp(fog at it)) over cells within 1 where light at it > 0.1\n  keep -3 to 3',
  '  becomes mean of (light at it / fog at it) over cells within 1 where fog at it > 0.1\n  becomes fog / 2 when chance(0.3)\n  keep -3 to 3',
];

function fieldModel(space: string, change: string, precision = ''): string {
  return `model Fields
clock
  step 1 hour
  end after 6 steps
parameter rain = 0.125
variable limit = 0.75
space Field: ${space}
field light on Field${space.startsWith('plane') ? ', cells of 1' : ''}${precision}
  start uniform(0, 1)
  grow 0.01
field fog on Field${space.startsWith('plane') ? ', cells of 1' : ''}${precision}
  start uniform(-0.5, 1)
${change}
agent Vole
  start 1 anywhere
order
  fog, light
measure all_fog = sum of fog
`;
}

/** Leaves where tests of several parts lead, of all places that two columns name. */
function deciding(test: Test): KernelFunction {
  const end = (value: number): Statement => store(to, plus(i, n), sum(load(to, plus(i, n)), number(value)));
  return {
    name: 'deciding',
    columns: [from, to],
    given: [n],
    locals: [i],
    body: [
      {
        is: 'loop',
        index: i,
        from: whole(0),
        to: n,
        body: [
          {
            is: 'block',
            name: 'turn',
            body: [
              when(test, [end(1)]),
              when({ is: 'not', test }, [end(10)], [end(100)]),
              when(test, [], [{ is: 'leave', block: 'turn' }]),
              when(test, [end(1000), { is: 'leave', block: 'turn' }], [end(10000)]),
              end(100000),
            ],
          },
        ],
      },
    ],
  };
}

describe('kernels', () => {
  it('go where tests of several parts lead, part by part', () => {
    const [a, b, c] = [-1, 0, 1].map((than) => compare(load(from, i), '>', number(than))) as [Test, Test, Test];
    const both = (left: Test, right: Test): Test => ({ is: 'and then', left, right });
    const either = (left: Test, right: Test): Test => ({ is: 'or else', left, right });
    const not = (test: Test): Test => ({ is: 'not', test });
    const tests: [Test, (x: number) => boolean][] = [
      [both(a, not(c)), (x) => x > -1 && !(x > 1)],
      [either(not(a), c), (x) => !(x > -1) || x > 1],
      [both(both(a, not(c)), not(b)), (x) => x > -1 && !(x > 1) && !(x > 0)],
      [either(both(a, not(b)), c), (x) => (x > -1 && !(x > 0)) || x > 1],
      [not(both(either(not(a), b), not(c))), (x) => !((!(x > -1) || x > 0) && !(x > 1))],
      [not(either(both(a, not(b)), not(not(c)))), (x) => !((x > -1 && !(x > 0)) || x > 1)],
      [
        { is: 'and', left: either(not(b), c), right: not(both(a, not(b))) },
        (x) => (!(x > 0) || x > 1) && !(x > -1 && !(x > 0)),
      ],
    ];
    const places = [-2, -0.5, 0.5, 2, NaN];
    for (const [test, holds] of tests)
      for (const engine of ENGINES) {
        const { columns } = run(engine, deciding(test), [places, Array<number>(10).fill(0)], 5);
        expect(columns[1]!.slice(5)).toEqual(places.map((x) => (holds(x) ? 1101 : 10)));
      }
  });

  it.each(ENGINES)('go through streams of any length, two at a time or not: %s', (engine) => {
    for (const length of [0, 1, 2, 3, 4, 7]) {
      const numbers = Array.from({ length }, (_, at) => at * 1.5 - 2);
      const { gives, columns } = run(
        engine,
        each(sum(product(load(from, i), number(0.1)), number(3))),
        [numbers, numbers],
        length,
      );
      expect(gives).toBe(-1);
      expect(columns[1]).toEqual(numbers.map((value) => value * 0.1 + 3));
    }
  });

  it.each(ENGINES)('end at the first number that is not finite, and leave those from it on: %s', (engine) => {
    for (const bad of [NaN, Infinity, -Infinity])
      for (let at = 0; at < 5; at++) {
        const numbers = [1, 2, 3, 4, 5];
        numbers[at] = bad;
        const { gives, columns } = run(engine, each(load(from, i)), [numbers, [0, 0, 0, 0, 0]], 5);
        expect(gives).toBe(at);
        expect(columns[1]!.slice(0, at - (at % 2))).toEqual(numbers.slice(0, at - (at % 2)));
        expect(columns[1]!.slice(at)).toEqual([0, 0, 0, 0, 0].slice(at));
      }
  });

  it.each(ENGINES)('keep zeros of two signs apart at bounds that are zero: %s', (engine) => {
    const kept = (is: 'at most' | 'at least', bound: number): KernelFunction =>
      each({ is, value: load(from, i), bound: number(bound) });
    const numbers = [-0, 0, 1, -1, -0];
    for (const bound of [0, -0]) {
      expect(run(engine, kept('at most', bound), [numbers, numbers], 5).columns[1]).toEqual([-0, 0, bound, -1, -0]);
      expect(run(engine, kept('at least', bound), [numbers, numbers], 5).columns[1]).toEqual([-0, 0, 1, bound, -0]);
    }
  });

  it('do not take a column of another memory', () => {
    const memory = new RunMemory(true);
    const { buffer, at } = memory.take(32);
    const { byName } = new Kernels([each(load(from, plus(i, whole(0))))]).over(memory, {});
    expect(() => byName.each!([new Float64Array(buffer, at, 4), new Float64Array(4)])).toThrow('another memory');
  });
});

describe('fields that change by kernels', () => {
  it.each(SPACES)('are those of the interpreter, however they change: %s', (space) => {
    for (const change of CHANGES) {
      const plan = planOf(fieldModel(space, change));
      expect([change, firstDifference(plan, 4, 6)]).toEqual([change, -1]);
    }
  });

  it.each(['grid 7 by 4, wrapping', 'plane 7.3 by 5.5', 'grid 6 by 5, 6 neighbours'])(
    'are those of the interpreter in single precision, however they change: %s',
    (space) => {
      for (const change of CHANGES) {
        const plan = planOf(fieldModel(space, change, ', single precision'));
        expect([change, firstDifference(plan, 4, 6)]).toEqual([change, -1]);
      }
    },
  );

  it.each(ENGINES)('round each value that goes into a cell, where they are of single precision: %s', (engine) => {
    const lines = '  grow 0.1\n  spread 1 / 3\n  fade 10 %\n  keep 0 to 0.7';
    const [single, double] = [', single precision', ''].map((precision) => {
      const plan = planOf(fieldModel('grid 5 by 5, wrapping', lines, precision));
      const executable = compilePlan(plan, false, engine).executable();
      const run = new Run(executable, [0.125], 1);
      run.next();
      return executable.state.fields[1]!.values;
    });
    expect([...single!]).toEqual([...single!].map(Math.fround));
    expect([...single!]).not.toEqual([...double!].map(Math.fround));
    single!.forEach((value, cell) => expect(value).toBeCloseTo(double![cell]!, 6));
    expect(single!.byteLength * 2).toBe(double!.byteLength);
  });

  it('tell where a value is beyond what single precision holds', () => {
    for (const line of ['  grow 1e39', '  becomes fog + 1e39', '  grow 1e39\n  fade 0.1']) {
      const plan = planOf(fieldModel('grid 5 by 5', line, ', single precision'));
      const runs = [compilePlan(plan).executable(), interpretPlan(plan)].map(
        (executable) => new Run(executable, [0.125], 1),
      );
      for (const one of runs) expect(() => one.next()).toThrow(/fog/);
    }
  });

  it.each(['grid 5 by 5, 8 neighbours', 'grid 6 by 6, 6 neighbours, wrapping', 'plane 7.3 by 5.5', 'plane 8 by 6'])(
    'grow, spread, fade and become by kernels, wherever these can do what their lines say: %s',
    (space) => {
      for (const change of CHANGES) {
        const { growth, spread, fade, becomes } = fieldKernels(planOf(fieldModel(space, change)), [0.125]);
        const has = (word: string): boolean => change.includes(`  ${word} `);
        // The last column and row of that plane are narrower.
        const isLeft = space.startsWith('plane 7') && change.includes('within');
        expect([change, growth[1] !== undefined]).toEqual([change, has('grow') && !isLeft]);
        expect([change, spread[1] !== undefined]).toEqual([change, has('spread')]);
        expect([change, fade[1] !== undefined]).toEqual([change, has('fade') && !has('spread')]);
        expect([change, becomes[1] !== undefined]).toEqual([change, has('becomes') && !isLeft]);
      }
    },
  );

  it.each([
    'grid 7 by 4, wrapping',
    'plane 8 by 6',
    'grid 6 by 6, 6 neighbours, wrapping',
    'grid 6 by 5, 4 neighbours',
  ])('change to the same bits by the code that runs until there are kernels: %s', (space) => {
    for (const change of CHANGES) {
      const plan = planOf(fieldModel(space, change));
      const [early, late] = [new CompiledPlan(plan), compilePlan(plan)].map((compiled) => {
        const executable = compiled.executable();
        const run = new Run(executable, [0.125], 4);
        const failure = failureOf(() => run.runTo(6));
        return [executable.kernelEngine, failure, ...executable.state.fields[1]!.values];
      });
      expect([change, early![0]]).toEqual([change, undefined]);
      expect([change, late![0]]).toEqual([change, 'WebAssembly']);
      expect([change, ...early!.slice(1)]).toEqual([change, ...late!.slice(1)]);
    }
  });

  it('are made for the values of the parameters by which reaches go, of which the last are kept', () => {
    const change = '  becomes (count cells within (rain * 8) where fog at it > 0.5) / 8 + light / 9';
    const { fields, byReach } = planKernels(planOf(fieldModel('grid 12 by 11, wrapping', change)), true);
    expect([fields.becomes[1], byReach?.parameters]).toEqual([undefined, [0]]);
    const becomingFor = (rain: number): unknown => byReach!.kernelsFor([rain]).fields.becomes[1];
    expect(becomingFor(-1)).toBeUndefined();
    const made = [1, 2, 3, 4, 5, 6, 7].map((eighths) => becomingFor(eighths / 8));
    expect(made.every((kernel) => kernel !== undefined)).toBe(true);
    expect(becomingFor(0.125)).toBe(made[0]);
    becomingFor(1);
    becomingFor(1.125);
    expect(becomingFor(0.125)).not.toBe(made[0]);
    expect(becomingFor(0.875)).toBe(made[6]);
  });

  it.each([
    '  becomes (count cells within (rain * 8) where fog at it > 0.5) / 8 + light / 9',
    '  grow 0.1 * (mean of (light at it) over cells in a square of (rain * 8)) - fog / 3\n  spread 0.1\n  keep -1 to 1',
  ])('are there for large fields whose reaches go by a parameter that changes: %s', (change) => {
    const plan = planOf(
      fieldModel('grid 180 by 170, wrapping', change)
        .replace('  keep -1', '  becomes max of (fog at it) over cells within (rain * 12) when chance(0.3)\n  keep -1')
        .replace('agent', 'timeline\n  at 2 hours: rain = 0.25\nagent'),
    );
    const [early, late] = [new CompiledPlan(plan), compilePlan(plan)].map((compiled) => {
      const executable = compiled.executable();
      new Run(executable, [0.125], 4).runTo(4);
      return executable.state.fields[1]!.values;
    });
    expect(late).toEqual(early);
  });

  it('are made for a value of a parameter once so many cells have changed with it', () => {
    const change = '  becomes (count cells within (rain * 8) where fog at it > 0.5) / 8 + light / 9';
    const byCode = ['grid 180 by 170', 'grid 120 by 110'].map((space) => {
      const plan = planOf(fieldModel(space, change));
      const executable = compilePlan(plan).executable();
      const run = new Run(executable, [0.125], 1);
      const byCell = executable.code.fieldBecomes as unknown as Record<number, () => void>;
      const becoming = vi.spyOn(byCell, 1);
      run.runTo(5);
      return becoming.mock.calls.length;
    });
    expect(byCode).toEqual([0, 2]);
  });

  it('tell the same failure where growth leaves the numbers', () => {
    const plan = planOf(fieldModel('grid 5 by 5', '  grow 1 / (light - light)'));
    expect(firstDifference(plan, 1, 3)).toBe(-1);
    const runs = [compilePlan(plan).executable(), interpretPlan(plan)].map(
      (executable) => new Run(executable, [0.125], 1),
    );
    for (const one of runs) expect(() => one.next()).toThrow(/fog/);
  });

  it('say what they ran in', () => {
    const plan = planOf(fieldModel('grid 5 by 5', '  spread 0.5'));
    for (const engine of ENGINES) {
      const executable = compilePlan(plan, false, engine).executable();
      new Run(executable, [0.125], 1).next();
      expect(executable.kernelEngine).toBe(engine);
    }
  });
});
