import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { sensitivityOf } from '../src/studies/answers/sensitivity.ts';
import {
  blockOf,
  compilePlan,
  jobsOf,
  loadModel,
  readCsv,
  readMatch,
  readStudy,
  runCheck,
  sheetRows,
  simulate,
  StudyResults,
  withOutcomes,
} from '../src/index.ts';
import { EXAMPLE_MAPS } from './example-maps.ts';
import { compiledRun, firstDifference, planOf } from './models.ts';

const EXAMPLES = new URL('../../../examples/', import.meta.url);
const FILES = readdirSync(EXAMPLES).filter((name) => name.endsWith('.vole'));
const textOf = (file: string): string => readFileSync(new URL(file, EXAMPLES), 'utf8');

/** Smaller worlds, in which the reference, which asks everybody about everything, is quick enough. */
const SMALLER: Readonly<Record<string, readonly (readonly [string, string])[]>> = {
  'alarm-relay.vole': [
    ['colony   = 400', 'colony   = 60'],
    ['120 m by 80 m', '40 m by 40 m'],
    ['0.02 per h', '0.5 per h'],
  ],
  'dusk.vole': [
    ['40 by 40', '12 by 12'],
    ['voles    = 800', 'voles    = 80'],
    ['owls     = 100', 'owls     = 8'],
    ['sight    = 12', 'sight    = 4'],
  ],
  'grooming-circle.vole': [['voles    = 40', 'voles    = 15']],
  'hedgerows.vole': [['voles   = 300', 'voles   = 25']],
  'meadow-year.vole': [],
  'parade-day.vole': [['voles       = 500', 'voles       = 40']],
  'runways.vole': [
    ['voles   = 20000', 'voles   = 100'],
    ['256 m by 256 m', '24 m by 24 m'],
  ],
  'whistle-craze.vole': [['colony    = 1000', 'colony    = 90']],
};

describe.each(FILES)('the example %s', (file) => {
  it('is right, says what it leaves out and that it is made up, and shows and charts something', () => {
    const { diagnostics, loaded } = loadModel(textOf(file), EXAMPLE_MAPS);
    expect(diagnostics).toEqual([]);
    const { plan, checked } = loaded!;
    expect(checked.prose.join(' ')).toMatch(/made up\..* Left out: .+/);
    expect(plan.charts.length).toBeGreaterThan(0);
    expect(checked.shows.length).toBeGreaterThan(0);
    expect(plan.kinds.some((kind) => kind.show)).toBe(true);
    if (file !== 'meadow-year.vole') expect(plan.checks.length).toBeGreaterThanOrEqual(2);
  });

  it('moves: what is measured differs after eighty steps', () => {
    const { run } = compiledRun(planOf(textOf(file), EXAMPLE_MAPS), 3);
    run.runTo(80);
    expect(run.step).toBeGreaterThan(20);
    const row = (i: number): number[] => Array.from({ length: run.measureCount }, (_, m) => run.valueAt(i, m));
    expect(row(run.step)).not.toEqual(row(0));
  });

  it('has a study beside it that asks something and says what came out, with an interval', () => {
    const text = textOf(file);
    const { study, diagnostics } = readStudy(textOf(file.replace('.vole', '.study')), {
      text,
      files: EXAMPLE_MAPS,
      loaded: loadModel(text, EXAMPLE_MAPS).loaded!,
    });
    expect(diagnostics).toEqual([]);
    expect(study!.note).toMatch(/\? What came out: .+90 % interval \S+ to \d/);
  });

  it('passes its checks', () => {
    const compiled = compilePlan(planOf(textOf(file), EXAMPLE_MAPS));
    const red = compiled.plan.checks.map((check) => runCheck(compiled, check)).filter((outcome) => !outcome.holds);
    expect(red).toEqual([]);
  }, 300_000);

  it('gives the same bits in both engines', () => {
    const smaller = SMALLER[file]!.reduce((text, [from, to]) => {
      expect(text).toContain(from);
      return text.replace(from, to);
    }, textOf(file));
    expect(firstDifference(planOf(smaller, EXAMPLE_MAPS), 7, 25)).toBe(-1);
  }, 300_000);
});

describe('the match of the Whistle craze', () => {
  it('reads two series out of one table without a finding: counts of Poisson, a share with its errors and gaps', () => {
    const text = textOf('whistle-craze.vole');
    const name = 'whistle-craze-counts.csv';
    const { match, diagnostics } = readMatch(
      textOf('whistle-craze.match'),
      { text, loaded: loadModel(text).loaded! },
      new Map([[name, readCsv(textOf(name))]]),
    );
    expect(diagnostics).toEqual([]);
    expect(
      match!.series.map(({ name, observations, gaps, error }) => [name, observations.length, gaps, error.is]),
    ).toEqual([
      ['heard', 28, 0, 'poisson'],
      ['never sang', 7, 21, 'column'],
    ]);
    expect(match!.series[1]!.observations.every(({ sd }) => sd! > 0)).toBe(true);
    expect(match!.unknowns.map(({ parameter }) => parameter)).toEqual(['meetings', 'catching']);
  });
});

describe('the match of the Meadow year', () => {
  it('reads its table without a finding: used and held out, with the error of counting', () => {
    const text = textOf('meadow-year.vole');
    const name = 'meadow-year-trap-counts.csv';
    const [header, ...rows] = sheetRows(textOf(name));
    const tables = new Map([[name, { header: header!.cells, rows }]]);
    const { match, diagnostics } = readMatch(
      textOf('meadow-year.match'),
      { text, loaded: loadModel(text).loaded! },
      tables,
    );
    expect(diagnostics).toEqual([]);
    expect(match!.series.map(({ observations, gaps }) => [observations.length, gaps])).toEqual([[23, 1]]);
    expect(match!.series[0]!.observations.filter(({ time }) => time >= match!.heldOutFrom!)).toHaveLength(9);
    expect(match!.unknowns.map(({ parameter }) => parameter)).toEqual(['strike', 'bite']);
  });
});

describe('what the studies of the examples say', () => {
  it('came out: the numbers in the note of the Whistle craze are those of its runs', () => {
    const text = textOf('whistle-craze.vole');
    const { study } = readStudy(textOf('whistle-craze.study'), { text, loaded: loadModel(text).loaded! });
    const compiled = compilePlan(withOutcomes(text, undefined, study!.outcomes)!.plan);
    const results = new StudyResults();
    results.add(
      blockOf(
        [...jobsOf(study!.setting, compiled.plan)].map((job) => ({
          point: job.point,
          seed: job.seed,
          outcome: simulate(compiled, job)!,
        })),
      ),
    );
    const reached = compiled.plan.summaries.findIndex(({ name }) => name === 'reached');
    const { indices } = sensitivityOf(compiled.plan, study!.setting.design, results)[reached]!;
    for (const { value, low, high } of indices.filter(({ index }) => index === 'partial rank correlation'))
      expect(study!.note).toMatch(
        new RegExp(`${value.toFixed(2)}, (?:90 % interval )?${low.toFixed(2)} to ${high.toFixed(2)}`),
      );
  }, 300_000);
});
