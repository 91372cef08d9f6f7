import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { compilePlan, ModelError, Run, simulate } from '../src/index.ts';
import { Contributions } from '../src/plan/settling.ts';
import { RandomStream } from '../src/engine/random/stream.ts';
import { CONSTRUCT_MODELS } from './construct-models.ts';
import { generateModel } from './model-generator.ts';
import { compiledRun, failureOf, interpretedRun, meanOverSeeds, planOf, stateText, usualValues } from './models.ts';

const MEADOW = readFileSync(new URL('../../../examples/meadow-year.vole', import.meta.url), 'utf8');

describe('a run is a function of text, parameters and seed', () => {
  it('is the same twice, and another with another seed', () => {
    const plan = planOf(MEADOW);
    const state = (seed: number): string => {
      const { run, executable } = compiledRun(plan, seed);
      run.runTo(60);
      return stateText(executable, run);
    };
    expect(state(3)).toBe(state(3));
    expect(state(3)).not.toBe(state(4));
  });

  it('goes on from a snapshot as if it had not been stopped, on the example and on generated models', () => {
    const models = [
      MEADOW,
      ...CONSTRUCT_MODELS.map(([, text]) => text),
      ...Array.from({ length: 60 }, (_, i) => generateModel(i + 1000)),
    ];
    for (const [i, text] of models.entries()) {
      const plan = planOf(text);
      const compiled = compilePlan(plan);
      const whole = compiledRun(plan, i, compiled);
      const stop = 1 + (i % 9);
      whole.run.runTo(stop);
      const snapshot = structuredClone(whole.run.snapshot());
      const rows = whole.run.rowData.slice();
      const failure = failureOf(() => whole.run.runTo(14));
      const other = compiledRun(plan, i + 5000, compiled);
      other.run.runTo(1);
      other.run.restore(snapshot, rows);
      expect(failureOf(() => other.run.runTo(14))).toBe(failure);
      if (failure === undefined)
        expect(stateText(other.executable, other.run), `model ${i} stopped at ${stop}`).toBe(
          stateText(whole.executable, whole.run),
        );
    }
  });

  it('does not change when a rule that nobody feels is added, or a measure taken out', () => {
    const without = planOf(MEADOW.replace(/^measure nests.*\n/m, '').replace('voles, nests', 'voles'));
    const withRule = planOf(
      MEADOW.replace(
        '  behaviour wear',
        '  behaviour idle\n    let a = normal(0, 1)\n    if a > 9\n      energy += 0\n\n  behaviour wear',
      ).replace('  wear    all', '  idle    in turn\n  wear    all'),
    );
    const voles = (plan: ReturnType<typeof planOf>): number[] => {
      const { run } = compiledRun(plan, 5);
      run.runTo(50);
      return Array.from({ length: 51 }, (_, row) => run.valueAt(row, 0));
    };
    expect(voles(without)).toEqual(voles(planOf(MEADOW)));
    expect(voles(withRule)).toEqual(voles(planOf(MEADOW)));
  });

  it('shares luck between scenarios as far as their stories agree', () => {
    const plan = planOf(MEADOW);
    const at = plan.parameters.findIndex((p) => p.name === 'strike');
    const changed = usualValues(plan);
    changed[at] = changed[at]! * 1.5;
    const a = compiledRun(plan, 8);
    const b = compiledRun(plan, 8, undefined, changed);
    expect(JSON.stringify(b.executable.view())).toBe(JSON.stringify(a.executable.view()));
  });
});

const TIMED = (timeline: string): string =>
  `model T\nclock\n  step 1 day from 2031-12-28\n  end after 12 days\nparameter p = 1\nparameter q = 0\nagent A\n  start 1\n  has seen = 0\n  behaviour look\n    seen = p\ntimeline\n${timeline}\nmeasure p_now = sum of it.seen over A\nmeasure steps_left = q\n`;

describe('the timeline acts in the step that holds its time', () => {
  const cases: [string, string, number[]][] = [
    ['at a time', '  at 3 days: p = 2', [0, 1, 1, 1, 2, 2, 2, 2, 2, 2, 2, 2, 2]],
    ['at the start', '  at start: p = 2', [0, 2, 2, 2, 2, 2, 2, 2, 2, 2, 2, 2, 2]],
    ['every period, not at 0', '  every 4 days: p = p_now + 1', [0, 1, 1, 1, 1, 2, 2, 2, 2, 3, 3, 3, 3]],
    ['on a day of the year', '  every year on 01-02: p = 2', [0, 1, 1, 1, 1, 1, 2, 2, 2, 2, 2, 2, 2]],
    ['over a period, and back', '  from 2 days to 5 days: p = 7', [0, 1, 1, 7, 7, 7, 1, 1, 1, 1, 1, 1, 1]],
    [
      'periods lie over one another, the latest on top, acts below',
      '  from 2 days to 8 days: p = 7\n  from 4 days to 6 days: p = 9\n  at 5 days: p = 3',
      [0, 1, 1, 7, 7, 9, 9, 7, 7, 3, 3, 3, 3],
    ],
    [
      'when a condition first holds, once',
      '  at 3 days: q = 1\n  at 6 days: q = 0\n  at 8 days: q = 1\n  when steps_left > 0: p = p_now + 1',
      [0, 1, 1, 1, 1, 2, 2, 2, 2, 2, 2, 2, 2],
    ],
    [
      'whenever it becomes true',
      '  at 3 days: q = 1\n  at 6 days: q = 0\n  at 8 days: q = 1\n  whenever steps_left > 0: p = p_now + 1',
      [0, 1, 1, 1, 1, 2, 2, 2, 2, 2, 3, 3, 3],
    ],
    [
      'while it holds',
      '  at 3 days: q = 1\n  at 6 days: q = 0\n  while steps_left > 0: p = 5',
      [0, 1, 1, 1, 1, 5, 5, 5, 1, 1, 1, 1, 1],
    ],
  ];
  for (const [name, timeline, expected] of cases) {
    it(name, () => {
      const { run } = compiledRun(planOf(TIMED(timeline)));
      run.runTo();
      expect(Array.from({ length: run.rowCount }, (_, row) => run.valueAt(row, 0))).toEqual(expected);
    });
  }
});

const CLOCK = 'clock\n  end after 60 steps\n';
const last =
  (measure: number) =>
  (run: { rowCount: number; valueAt: (row: number, m: number) => number }): number =>
    run.valueAt(run.rowCount - 1, measure);
const z = (found: { mean: number; standardError: number }, theory: number): number =>
  Math.abs(found.mean - theory) / found.standardError;
/** A false alarm in one of 15,000 tests. */
const SURE = 4;

describe('models give what theory says (fixed seeds)', () => {
  it('waits of a drawn duration have its mean: first step whose end is not before the due time', () => {
    const plan = planOf(
      `model W\n${CLOCK}agent A\n  start 400\n  has out = 0\n  states s\n    Inside\n      after exponential(10 steps): Out\n        out = now / 1 step\n    Out\nmeasure m = mean of it.out over A where it.s is Out\nmeasure left_in = count A where it.s is Inside\n`,
    );
    // The chance to be still in after step 20 is that of an exponential wait beyond 20 steps.
    const found = meanOverSeeds(plan, 60, (run) => run.valueAt(20, 1) / 400);
    expect(z(found, Math.exp(-2))).toBeLessThan(SURE);
  });
  it('rates compete in proportion and act with 1 - exp(-rd)', () => {
    const plan = planOf(
      `model R\n${CLOCK}agent A\n  start 500\n  states s\n    X\n      rate 0.3 per step: Y\n      rate 0.1 per step: Z\n    Y\n    Z\nmeasure x = count A where it.s is X\nmeasure y = count A where it.s is Y\n`,
    );
    expect(
      z(
        meanOverSeeds(plan, 60, (run) => run.valueAt(1, 0) / 500),
        Math.exp(-0.4),
      ),
    ).toBeLessThan(SURE);
    expect(
      z(
        meanOverSeeds(plan, 60, (run) => last(1)(run) / 500),
        0.75,
      ),
    ).toBeLessThan(SURE);
  });
  it('a random walk spreads with the square root of time', () => {
    const plan = planOf(
      `model D\n${CLOCK}space S: plane 1000 by 1000, wrapping\nagent A\n  start 200 at (500, 500)\n  behaviour walk\n    turn by uniform(0 deg, 360 deg)\n    move by 2\nmeasure msd = mean of ((it.x - 500) ^ 2 + (it.y - 500) ^ 2) over A\nshow A: dot\n`,
    );
    expect(
      z(
        meanOverSeeds(plan, 40, (run) => last(0)(run)),
        60 * 4,
      ),
    ).toBeLessThan(SURE);
  });
  it('an outbreak among all meets its final size (1 - z = exp(-R z), R = 2)', () => {
    const plan = planOf(
      `model O\nclock\n  end after 400 steps\nparameter n = 600, whole from 2 to 9999\nagent A\n  start n\n  states s\n    start 30 of I, rest S\n    S\n      rate (0.2 * count A where it.s is I) / n * (1 / 1 step): I\n    I\n      rate 0.1 per step: R\n    R\nmeasure ever = count A where it.s is not S\nmeasure ill = count A where it.s is I\n`.replace(
        '(0.2 * count A where it.s is I)',
        '(0.2 * (count A where it.s is I))',
      ),
    );
    const found = meanOverSeeds(plan, 12, (run) => last(0)(run) / 600);
    // With 5 % ill at the start: z = 1 - 0.95 exp(-2 z); z = 0.814 by iteration. Steps of one unit blur it by a few percent.
    expect(Math.abs(found.mean - 0.814)).toBeLessThan(0.03);
  });
  it('the update modes differ as they should: a row of copying neighbours', () => {
    const text = (mode: string): string =>
      `model C\nclock\n  end after 1 steps\nagent A\n  start 5\n  has v = 0\n  behaviour begin\n    v = number\n  behaviour copy\n    if number > 1\n      with w = first A where it.number is number - 1\n        v = w.v\norder\n  begin in turn\n  copy ${mode}\nmeasure total = sum of it.v over A\nmeasure top = max of it.v over A\n`;
    const total = (mode: string): number => {
      const { run } = compiledRun(planOf(text(mode)));
      run.runTo();
      return run.valueAt(1, 0);
    };
    // In fixed order number 1 reaches everybody in one step; all at once everybody takes what the neighbour had.
    expect(total('in fixed order')).toBe(5);
    expect(total('all at once')).toBe(1 + 1 + 2 + 3 + 4);
  });
  it('counts comings and goings so that they add up', () => {
    const plan = planOf(
      MEADOW.replace('measure cover', 'measure came = entered Nesting\nmeasure went = left Nesting\nmeasure cover'),
    );
    const { run } = compiledRun(plan, 2);
    run.runTo(120);
    const index = (name: string): number => plan.measures.findIndex((m) => m.name === name);
    let moved = 0;
    for (let row = 1; row <= 120; row++) {
      const value = (name: string, at = row): number => run.valueAt(at, index(name));
      expect(value('nests')).toBe(value('nests', row - 1) + value('came') - value('went'));
      moved += value('came');
    }
    expect(moved).toBeGreaterThan(50);
  });
});

describe('rivals all at once', () => {
  it('one setting wins by luck, then factors, then sums', () => {
    const winners = new Set<number>();
    for (let i = 0; i < 40; i++) {
      const gathered = new Contributions();
      gathered.add('+=', 5);
      gathered.add('=', 10);
      gathered.add('*=', 3);
      gathered.add('=', 20);
      winners.add(gathered.settle(1, () => RandomStream.of(i, 0, 0)));
    }
    expect([...winners].sort((a, b) => a - b)).toEqual([35, 65]);
    const alone = new Contributions();
    alone.add('*=', 2);
    alone.add('+=', 1);
    expect(alone.settle(4, () => RandomStream.of(0, 0, 0))).toBe(9);
  });
});

describe('what goes wrong in a run says where and why', () => {
  const failing = (body: string): ModelError => {
    const plan = planOf(
      `model F\nclock\n  end after 50 steps\nagent A\n  start 3\n  has k = 0\n  behaviour go\n${body}\nmeasure n = count A\nmeasure s = sum of it.k over A\n`,
    );
    const { run } = compiledRun(plan);
    try {
      run.runTo();
    } catch (error) {
      if (error instanceof ModelError) return error;
      throw error;
    }
    throw new Error('The run did not fail');
  };
  it('a division by zero names step, rule, agent and line', () => {
    const error = failing('    k += 1\n    let z = 1 / (3 - k)\n    k += 0 * z');
    expect(error.diagnostic.code).toBe('run/not-finite');
    expect(error.facts).toMatchObject({ rule: 'A.go' });
    expect(error.diagnostic.message).toMatch(/In step \d+, A\.go: a division came out as .* for A \d/);
  });
  it.each([
    ['run/count', '    create k - 1 A', /-1 cannot be/],
    ['run/endless', '    repeat at most 30000000 times\n      k += 1', /went round 20,000,000 times/],
  ])('stops with %s', (code, body, said) => {
    const { diagnostic } = failing(body);
    expect(diagnostic.code).toBe(code);
    expect(diagnostic.message).toMatch(said);
  });
  it('reading somebody who has just been removed stops with run/nobody', () => {
    const plan = planOf(
      'model F\nclock\n  end after 5 steps\nagent A\n  start 3\n  has k = 1\n  has pal: A = nobody\n  behaviour go\n    pal = random A\n    if pal is not nobody\n      remove pal\n      k = pal.k\nmeasure s = sum of it.k over A\n',
    );
    for (const { run } of [compiledRun(plan), interpretedRun(plan)])
      expect(() => run.runTo()).toThrow(
        expect.objectContaining({ diagnostic: expect.objectContaining({ code: 'run/nobody' }) as unknown }) as Error,
      );
  });
  it.each(['ring, k neighbours', 'preferential, k ties each', 'random, mean degree k'])(
    'a network that is to be made with fewer than no ties stops the start: %s',
    (maker) => {
      const plan = planOf(
        `model N\nclock\n  end after 2 steps\nparameter k = -2, whole\nagent A\n  start 9\nnetwork N ties A to A: ${maker}\nmeasure n = count ties by N\n`,
      );
      for (const begin of [compiledRun, interpretedRun])
        expect(failureOf(() => begin(plan))).toBe('The network “N” cannot be made with -2.');
    },
  );
  it('a share beyond 1 stops what spreads', () => {
    const { run } = compiledRun(
      planOf(
        'model F\nclock\n  end after 5 steps\nparameter p = 0.5\nspace S: grid 5 by 5\nfield f on S\n  start 1\n  spread p\nmeasure m = mean of f\n',
      ),
      1,
      undefined,
      [1.5],
    );
    expect(() => run.runTo()).toThrow(
      expect.objectContaining({ diagnostic: expect.objectContaining({ code: 'run/share' }) as unknown }) as Error,
    );
  });
  it('what a rule that failed would have done to others is forgotten, by the next run and by a way back', () => {
    const plan = planOf(
      'model F\nclock\n  end after 4 steps\nparameter p = 1, from 0 to 1\nagent A\n  start 20\n  has e = 1\n  behaviour go\n    with a = random A\n      a.e *= 2\n      a.e += 1\n    if number > 10 and e > 1\n      e = 1 / p\norder\n  go all at once\nmeasure n = sum of it.e over A\n',
    );
    for (const traces of [false, true]) {
      const compiled = compilePlan(plan, traces);
      const [usual, used] = [compiled.executable(), compiled.executable()];
      new Run(usual, [1], 1).runTo(2);
      expect(failureOf(() => new Run(used, [0], 1).runTo())).toMatch(/beyond all numbers/);
      const run = new Run(used, [1], 1);
      const start = run.snapshot();
      run.runTo(2);
      expect(used.view()).toEqual(usual.view());
      run.restore(start);
      used.context.parameters[0] = 0;
      expect(failureOf(() => run.runTo())).toMatch(/beyond all numbers/);
      run.restore(start);
      run.runTo(2);
      expect(used.view()).toEqual(usual.view());
    }
  });
  it('a mean of nobody stops a rule', () =>
    expect(failing('    k = mean of it.k over A where it.k > 5').diagnostic.code).toBe('run/not-finite'));
  it('an endless population stops at the ceiling', () => {
    const plan = planOf(
      'model E\nclock\n  end after 99 steps\nagent A\n  start 2\n  behaviour split\n    create 3 A\nmeasure n = count A\n',
    );
    const compiled = compilePlan(plan);
    compiled.shared().context.ceiling = 500;
    const outcome = simulate(compiled, { parameters: [], seed: 1, every: 1 });
    expect(outcome && 'failure' in outcome && outcome.failure.code).toBe('run/agent-limit');
    expect(outcome && 'failure' in outcome && outcome.failure.message).toContain('500 agents');
  });
  it('a run that would not fit into memory is refused before it begins, with its numbers', () => {
    const plan = planOf(
      'model E\nclock\n  end after 99 steps\nagent A\n  start 1000000\n  has e = 1\n  behaviour rest\n    e += 1\nmeasure n = count A\n',
    );
    const compiled = compilePlan(plan);
    compiled.shared().context.memory = 10_000_000;
    const outcome = simulate(compiled, { parameters: [], seed: 1, every: 1 });
    expect(outcome && 'failure' in outcome && outcome.failure.code).toBe('run/size');
    expect(outcome && 'failure' in outcome && outcome.failure.message).toMatch(/need about \d+ MB; at most 10 MB/);
    expect(compiled.shared().bytes).toBeLessThan(100_000);
  });
  it('a field of too many cells is refused with its numbers', () => {
    const plan = planOf(
      'model B\nclock\n  end after 2 steps\nspace S: plane 100000 by 100000\nfield f on S, cells of 1\n  start 1\nmeasure m = mean of f\n',
    );
    expect(() => compiledRun(plan)).toThrow(/100000 by 100000 cells/);
  });
});
