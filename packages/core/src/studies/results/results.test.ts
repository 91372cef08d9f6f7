import { describe, expect, it } from 'vitest';
import { planOf } from '../../../test/models.ts';
import { answerTo } from '../answers/answer.ts';
import type { Question } from '../answers/questions.ts';
import type { Design } from '../design/design.ts';
import { pointAt } from '../design/design.ts';
import type { FinishedRun } from '../runner/run-study.ts';
import type { RunOutcome } from '../runner/simulate.ts';
import { blockOf, runsIn } from './block.ts';
import { BlockError, decodeBlock, encodeBlock } from './block-bytes.ts';
import { digestOf, textDigest } from '../../digest.ts';
import { plainCourse } from '../statistics/course.ts';
import { StudyResults } from './study-results.ts';

const finished = (
  seed: number,
  rows: readonly number[],
  summaries: readonly number[] = [],
  point = '',
): FinishedRun => ({
  point,
  seed,
  outcome: {
    result: {
      seed,
      steps: rows.length * 3,
      rows: Float64Array.from(rows),
      every: 3,
      summaries: Float64Array.from(summaries),
      refused: seed,
    },
  },
});
const broken = (seed: number, point = ''): FinishedRun => {
  const outcome: RunOutcome = {
    seed,
    failure: {
      severity: 'error',
      code: 'run/earlier',
      message: 'Ärger “hier”: −1 Wühlmäuse 🐁',
      span: { start: 2, end: 5 },
    },
  };
  return { point, seed, outcome };
};

describe('a block of results', () => {
  const runs = [
    finished(9, [1, NaN, -0], [Infinity, 0.1], 'b=1;c=2'),
    broken(1, 'b=1;c=2'),
    finished(2 ** 53 - 1, [], [NaN, 5e-324], 'constructor=0'),
    finished(4, [7, 8, 9, 10], [1, 2], 'b=1;c=2'),
  ];
  it('gives its runs back to the bit, failed ones too, also as bytes', () => {
    const { block, model } = decodeBlock(encodeBlock(blockOf(runs), textDigest('model M')));
    expect(runsIn(block)).toEqual(runs);
    expect(Object.is((runsIn(block)[0]!.outcome as Extract<RunOutcome, { result: unknown }>).result.rows[2], -0)).toBe(
      true,
    );
    expect(model).toBe(textDigest('model M'));
    expect(model).not.toBe(textDigest('model m'));
    expect(block.points).toEqual(['b=1;c=2', 'constructor=0']);
  });
  it('may be empty, or of failed runs alone', () => {
    for (const some of [[], [broken(3)]])
      expect(runsIn(decodeBlock(encodeBlock(blockOf(some), '')).block)).toEqual(some);
  });
  it('that is cut off, damaged, of a later version or something else is refused with the reason', () => {
    const bytes = encodeBlock(blockOf(runs), 'x');
    const changed = (at: number, value: number): ArrayBuffer => {
      const copy = bytes.slice(0);
      new Uint8Array(copy)[at] = value;
      return copy;
    };
    for (const [wrong, said] of [
      [new ArrayBuffer(0), /no results/],
      [changed(0, 1), /no results/],
      [changed(4, 9), /version 9.*reads version 1/],
      [changed(12, 1), /damaged/],
      [changed(8, 255), /damaged/],
      [bytes.slice(0, bytes.byteLength - 8), /cut off/],
      [bytes.slice(0, 40), /damaged/],
    ] as const)
      expect(() => decodeBlock(wrong)).toThrow(said);
    expect(() => decodeBlock(new ArrayBuffer(3))).toThrow(BlockError);
  });
});

const TEXT = `model Two values
clock
  step 1 day
  end after 9 days
parameter n = 1, whole from 1 to 9
parameter on = yes
agent A
  start 1
measure a = 1
measure b = 2
summary s = last of a
summary some = last of b > 1
summary late = time of max of a
`;
const plan = planOf(TEXT);
const design: Design = { is: 'every combination', factors: [{ parameter: 'n', values: [1, 3] }], seeds: [5, 6] };
const [first, second] = [pointAt(design, 0).id, pointAt(design, 1).id];

/** Whatever order they came in. */
function studyOf(...blocks: readonly (readonly FinishedRun[])[]) {
  const results = new StudyResults();
  for (const runs of blocks) results.add(blockOf(runs));
  return { plan, design, results };
}
const all = [
  [finished(6, [5, 50, 6, 60], [20, 1, 6], second)],
  [finished(5, [1, 10, 2, 20], [10, 0, NaN], first), finished(5, [3, 30], [30, 1, 1], second)],
  [broken(6, first)],
];
const ask = (question: Question, blocks = all) => answerTo(studyOf(...blocks), question);

describe('the answers to questions about a study', () => {
  it('tell which runs are finished', () => {
    expect(studyOf(...all).results.finished()).toMatchObject({
      points: [second, second, first, first],
      seeds: [6, 5, 5, 6],
      failed: 1,
    });
  });
  it('count a run once that was done twice, as by two tabs', () => {
    const twice = [...all, ...all];
    expect(studyOf(...twice).results.finished()).toEqual(studyOf(...all).results.finished());
    for (const question of [{ is: 'outcomes' }, { is: 'table', what: 'rows' }] as const)
      expect(ask(question, twice)).toEqual(ask(question));
  });
  it('give the course of a measure, over all runs and of one point, in the order of the design', () => {
    expect(ask({ is: 'fan', course: plainCourse(1), lines: 2 })).toMatchObject({
      bands: { runs: 3, endedEarly: 1, median: Float64Array.of(30, 30) },
      lines: [
        { seed: 5, values: Float64Array.of(10, 20) },
        { seed: 5, values: Float64Array.of(30) },
      ],
    });
    expect(ask({ is: 'fan', course: plainCourse(0), lines: 9, point: second })).toMatchObject({
      bands: { runs: 2 },
      lines: [
        { seed: 5, steps: 6 },
        { seed: 6, steps: 12, values: Float64Array.of(5, 6) },
      ],
    });
    expect(ask({ is: 'fan', course: plainCourse(2), lines: 9 })).toBeUndefined();
    expect(ask({ is: 'fan', course: plainCourse(0), lines: 9 }, [])).toBeUndefined();
  });
  it('estimate every summary, over all runs and at each point; what never happened is counted apart', () => {
    expect(ask({ is: 'outcomes' })).toMatchObject({
      runs: 3,
      summaries: [
        { value: 20, runs: 3 },
        { yes: 2, runs: 3 },
        { value: 3.5, runs: 2, never: 1, atEnd: 0 },
      ],
    });
    expect(ask({ is: 'points', most: 1 })).toMatchObject([
      { id: first, values: [1], runs: 1, estimates: [{ value: 10 }, { yes: 0 }, { never: 1 }] },
    ]);
    expect(ask({ is: 'points', most: 9 })).toMatchObject([
      {},
      { id: second, runs: 2, estimates: [{ value: 25 }, { yes: 2 }, { never: 0 }] },
    ]);
    expect(ask({ is: 'runs', point: second })).toEqual([
      { seed: 5, steps: 6 },
      { seed: 6, steps: 12 },
    ]);
  });
  it('say of times at the very end of a run that they were perhaps cut off', () => {
    const cut = finished(5, [1, 10, 2, 20], [1, 0, 12], first);
    expect(ask({ is: 'outcomes' }, [[cut]])).toMatchObject({ summaries: [{}, {}, { atEnd: 1 }] });
  });
  it('write both tables, runs numbered by their place, whichever are missing', () => {
    expect(ask({ is: 'table', what: 'summaries' })).toBe(
      'run,seed,n,steps,s,some,late [days]\n1,5,1,12,10,0,\n3,5,3,6,30,1,1\n4,6,3,12,20,1,6\n',
    );
    expect(ask({ is: 'table', what: 'rows' })).toBe(
      'run,seed,n,step,time [days],a,b\n1,5,1,0,0,1,10\n1,5,1,3,3,2,20\n3,5,3,0,0,3,30\n4,6,3,0,0,5,50\n4,6,3,3,3,6,60\n',
    );
    const sizes = ['rows', 'summaries'].map((what) => (ask({ is: 'table', what: what as 'rows' }) as string).length);
    expect(ask({ is: 'table size' })).toBeGreaterThan(sizes[0]! + sizes[1]!);
    expect(ask({ is: 'table size' }, [])).toBe(0);
  });
  it('give a checksum once all runs are there, the same in whatever order they came', () => {
    expect(ask({ is: 'digest' }, all.slice(0, 2))).toBe('');
    // One that failed is finished; of a study that takes as many as it needs, one that is not there was not needed.
    expect(ask({ is: 'digest' })).toMatch(/^[0-9a-f]{32}$/);
    expect(ask({ is: 'digest', isOver: true }, all.slice(0, 2))).toMatch(/^[0-9a-f]{32}$/);
    const whole = [...all.slice(0, 2), [finished(6, [1, 1], [1, 1, 1], first)]];
    const digest = ask({ is: 'digest' }, whole);
    expect(digest).toMatch(/^[0-9a-f]{32}$/);
    // Bundles of earlier versions have another sum over the same numbers; this one was computed by the earlier code.
    expect(digestOf([Float64Array.of(1, 2), Float64Array.of(-0.5)], 'x'.repeat(16))).toBe('1ca643d554dc3910');
    expect(ask({ is: 'digest', like: '0123456789abcdef' }, whole)).toMatch(/^[0-9a-f]{16}$/);
    expect(
      ask(
        { is: 'digest' },
        [...whole].reverse().map((runs) => [...runs].reverse()),
      ),
    ).toBe(digest);
    expect(digest).toBe(
      digestOf([
        ...[
          [1, 10, 2, 20],
          [10, 0, NaN],
          [1, 1],
          [1, 1, 1],
          [3, 30],
          [30, 1, 1],
          [5, 50, 6, 60],
          [20, 1, 6],
        ].map((numbers) => Float64Array.from(numbers)),
      ]),
    );
  });
});
