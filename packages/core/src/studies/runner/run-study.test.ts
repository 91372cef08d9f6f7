import { describe, expect, it } from 'vitest';
import type { StudyJob } from '../design/design.ts';
import type { Executor, FinishedRun, Proposer, StudyParts } from './run-study.ts';
import { failureWords, runStudy, WorkerLost } from './run-study.ts';
import type { RunJob, RunOutcome } from './simulate.ts';

const job = (seed: number, point = ''): StudyJob => ({ point, seed, parameters: [], every: 1 });
const done = (seed: number): RunOutcome => ({
  result: { seed, steps: 1, rows: Float64Array.of(seed), every: 1, summaries: new Float64Array(0), refused: 0 },
});
const failed = (seed: number): RunOutcome => ({
  seed,
  failure: {
    severity: 'error',
    code: 'run/not-finite',
    message: `Seed ${seed} broke.`,
    hint: 'Mend it.',
    span: { start: 0, end: 0 },
  },
});
const proposing = (jobs: readonly StudyJob[]): Proposer => {
  const left = [...jobs];
  return { next: () => left.shift() };
};

/** An executor whose runs are answered by hand. */
class ByHand implements Executor {
  readonly waiting: {
    job: RunJob;
    attempt: number;
    resolve: (outcome: RunOutcome) => void;
    reject: (error: Error) => void;
  }[] = [];
  isClosed = false;
  constructor(readonly width: number) {}
  run(job: RunJob, attempt: number): Promise<RunOutcome> {
    return new Promise((resolve, reject) => this.waiting.push({ job, attempt, resolve, reject }));
  }
  close(): void {
    this.isClosed = true;
  }
  get seeds(): number[] {
    return this.waiting.map(({ job }) => job.seed);
  }
  /** Answers the run of a seed, and lets the study go on. */
  async answer(seed: number, outcome: RunOutcome | Error = done(seed)): Promise<void> {
    const [run] = this.waiting.splice(this.seeds.indexOf(seed), 1);
    if (outcome instanceof Error) run!.reject(outcome);
    else run!.resolve(outcome);
    await new Promise((resolve) => setImmediate(resolve));
  }
}

function begin(parts: Partial<StudyParts> & Pick<StudyParts, 'proposer'>, width = 2) {
  const taken: FinishedRun[] = [];
  const executor = new ByHand(width);
  const flushed: number[] = [];
  const sink = {
    take: (run: FinishedRun) => void taken.push(run),
    flush: () => Promise.resolve(void flushed.push(taken.length)),
  };
  const end = runStudy({ executor, sink, ...parts });
  return { executor, taken, flushed, end, seeds: () => taken.map(({ seed }) => seed) };
}

describe('a study', () => {
  it('gives the executor as many runs as it takes, takes what comes in whatever order, and ends when all are done', async () => {
    const { executor, taken, flushed, end, seeds } = begin({
      proposer: proposing([1, 2, 3].map((seed) => job(seed, `p${seed}`))),
    });
    expect(executor.seeds).toEqual([1, 2]);
    await executor.answer(2);
    expect(executor.seeds).toEqual([1, 3]);
    await executor.answer(3);
    expect(executor.isClosed).toBe(false);
    await executor.answer(1);
    expect(await end).toEqual({ status: 'done' });
    expect(seeds()).toEqual([2, 3, 1]);
    expect(taken[0]).toEqual({ point: 'p2', seed: 2, outcome: done(2) });
    expect([executor.isClosed, flushed]).toEqual([true, [3]]);
  });

  it('without runs is done at once', async () => {
    const { executor, end, flushed } = begin({ proposer: proposing([]) });
    expect(await end).toEqual({ status: 'done' });
    expect([executor.isClosed, flushed]).toEqual([true, [0]]);
  });

  it('whose proposer waits for results asks it again after each of them', async () => {
    let known = 0;
    let asked = 0;
    // Two at first, then one more for each that is known, four in all.
    const proposer: Proposer = {
      next: () => (asked < Math.min(4, 2 + known) ? job(++asked) : undefined),
      took: () => known++,
    };
    const { executor, end } = begin({ proposer }, 5);
    expect(executor.seeds).toEqual([1, 2]);
    await executor.answer(1);
    expect(executor.seeds).toEqual([2, 3]);
    for (const seed of [2, 3, 4]) await executor.answer(seed);
    expect(await end).toEqual({ status: 'done' });
  });

  it('asks for more once nothing runs, until there is none, and ends with what goes wrong there', async () => {
    const batches = [[job(1), job(2), job(3)], [job(4)], []];
    let jobs: StudyJob[] = [];
    let came = 0;
    const asked: number[] = [];
    const proposer: Proposer = {
      next: () => jobs.shift(),
      more: () => {
        asked.push(came);
        jobs = [...batches.shift()!];
        return Promise.resolve(jobs.length > 0);
      },
    };
    const { executor, end } = begin({ proposer: { ...proposer, took: () => void came++ } });
    await new Promise((resolve) => setImmediate(resolve));
    for (const seed of [1, 2, 3, 4]) await executor.answer(seed);
    expect(await end).toEqual({ status: 'done' });
    expect(asked).toEqual([0, 3, 4]);
    const broken = begin({ proposer: { next: () => undefined, more: () => Promise.reject(new Error('lost')) } });
    await expect(broken.end).rejects.toThrow('lost');
  });

  it('that is stopped keeps what is finished and hears no more of the rest', async () => {
    const stopping = new AbortController();
    const { executor, seeds, end } = begin({
      proposer: proposing([1, 2, 3].map((seed) => job(seed))),
      signal: stopping.signal,
    });
    await executor.answer(1);
    stopping.abort();
    expect(await end).toEqual({ status: 'stopped' });
    await executor.answer(2);
    expect([seeds(), executor.isClosed]).toEqual([[1], true]);
    const never = begin({ proposer: proposing([job(1)]), signal: stopping.signal });
    expect(await never.end).toEqual({ status: 'stopped' });
    expect(never.executor.seeds).toEqual([]);
  });

  it('goes on past runs that fail; does a run again whose worker was lost, and counts it as failed the second time', async () => {
    const { executor, taken, end } = begin({ proposer: proposing([job(1), job(2), job(3)]) }, 1);
    await executor.answer(1, failed(1));
    await executor.answer(2, new WorkerLost('gone'));
    expect(executor.waiting).toMatchObject([{ job: { seed: 2 }, attempt: 1 }]);
    await executor.answer(2, new WorkerLost('gone again'));
    await executor.answer(3);
    expect(await end).toEqual({ status: 'done' });
    expect(taken.map(({ outcome }) => outcome)).toMatchObject([
      { failure: { code: 'run/not-finite' } },
      { failure: { code: 'run/worker-lost', message: 'gone again' } },
      { result: { seed: 3 } },
    ]);
  });

  it('stops where its model cannot be run at all, and says why', async () => {
    const { executor, end, seeds } = begin({ proposer: proposing([job(1), job(2)]) }, 1);
    await executor.answer(1, new Error('The model has errors.'));
    expect(await end).toEqual({ status: 'stopped', problem: 'The model has errors.' });
    expect(seeds()).toEqual([]);
  });

  it.each([
    ['waits where more than a fifth of ten or more have failed', {}, 'stopped'],
    ['counts those from before', { before: { done: 40, failed: 2 } }, 'done'],
    ['goes on all the same if that is wanted', { toleratesFailures: true }, 'done'],
  ] as const)('%s', async (_, more, status) => {
    const { executor, end } = begin({ proposer: proposing(Array.from({ length: 12 }, (__, i) => job(i))), ...more }, 1);
    for (let seed = 0; seed < 12 && !executor.isClosed; seed++)
      await executor.answer(seed, seed < 3 ? failed(seed) : done(seed));
    const { status: found, problem } = await end;
    expect(found).toBe(status);
    if (status === 'stopped')
      expect(problem).toBe(
        '3 of 10 runs stopped before their end, so the study waits. The first of them: Seed 0 broke. Mend it.',
      );
  });

  it('takes no run any more once its sink has thrown: those that are broken off then have not failed', async () => {
    const taken: FinishedRun[] = [];
    const { executor, end } = begin(
      {
        proposer: proposing([1, 2, 3, 4, 5].map((seed) => job(seed))),
        sink: {
          take: (run) => {
            taken.push(run);
            if (run.seed === 2) throw new Error('no room left');
          },
          flush: () => Promise.resolve(),
        },
      },
      3,
    );
    const thrown = expect(end).rejects.toThrow('no room left');
    await executor.answer(2);
    for (const seed of [1, 3]) await executor.answer(seed, new WorkerLost('the threads are gone'));
    await thrown;
    expect(executor.seeds).toEqual([]);
    expect(taken.map(({ seed }) => seed)).toEqual([2]);
  });

  it('passes on what a sink throws, and closes its executor', async () => {
    const executor = new ByHand(1);
    const sink = {
      take: () => {
        throw new Error('The disk is full.');
      },
      flush: () => Promise.resolve(),
    };
    const end = runStudy({ proposer: proposing([job(1)]), executor, sink });
    const said = expect(end).rejects.toThrow('The disk is full.');
    await executor.answer(1);
    await said;
    expect(executor.isClosed).toBe(true);
  });
});

it('a failure is told with what to do', () => {
  const { failure } = failed(7) as Extract<RunOutcome, { failure: unknown }>;
  expect(failureWords(failure)).toBe('Seed 7 broke. Mend it.');
  expect(failureWords({ ...failure, hint: undefined })).toBe('Seed 7 broke.');
});
