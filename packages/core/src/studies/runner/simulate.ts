import type { CompiledPlan } from '../../javascript/compiled-plan.ts';
import { summariesOf } from '../../runs/summarise.ts';
import type { Diagnostic } from '../../diagnostics.ts';
import { ModelError } from '../../diagnostics.ts';
import { Run } from '../../engine/run.ts';
import type { Note } from '../../engine/run-context.ts';
import type { RecordedRows } from '../records/record-table.ts';

/** What one run needs: the same job gives the same result everywhere, to the bit. */
export interface RunJob {
  /** One value a parameter, in base units, in the order of the text. */
  readonly parameters: readonly number[];
  readonly seed: number;
  /** Ends the run after so many steps, if it does not end by itself before. */
  readonly steps?: number;
  /** Keeps the rows of steps 0, every, 2 every, ... */
  readonly every: number;
  /** Timeline lines that are laid over the model, for whoever compiles it. */
  readonly timeline?: string;
  /** Keeps the records of the model; off if absent, as they can be large. */
  readonly records?: boolean;
  /** Keeps what `log` lines wrote; off if absent. */
  readonly notes?: boolean;
}

/** What is kept of a run. */
export interface RunResult {
  readonly seed: number;
  /** Steps the run took. */
  readonly steps: number;
  /** Kept rows one after another, measures within; row i is of step i * every. */
  readonly rows: Float64Array;
  readonly every: number;
  readonly summaries: Float64Array;
  readonly refused: number;
  /** Rows of each record of the model, if they were asked for. */
  readonly records?: readonly RecordedRows[];
  /** What `log` lines wrote, if it was asked for: the first 10,000. */
  readonly notes?: readonly Note[];
}

/** A run that came to its end, or why it did not. */
export type RunOutcome =
  | { readonly result: RunResult }
  | { readonly failure: Diagnostic; readonly seed: number; readonly notes?: readonly Note[] };

const STEPS_BETWEEN_LOOKS = 16;

/**
 * One run from start to summary.
 * @param goesOn asked now and then; a no abandons the run, and nothing is returned
 */
export function simulate(
  compiled: CompiledPlan,
  job: RunJob,
  goesOn: () => boolean = () => true,
): RunOutcome | undefined {
  if (!Number.isInteger(job.every) || job.every < 1)
    throw new RangeError(`Rows are kept every 1, 2, 3 ... steps, not every ${job.every}`);
  let run: Run | undefined;
  try {
    const executable = compiled.shared();
    executable.recording = job.records === true;
    run = new Run(executable, job.parameters, job.seed);
    const limit = job.steps ?? Infinity;
    while (!run.hasEnded && run.step < limit) {
      run.runTo(Math.min(limit, run.step + STEPS_BETWEEN_LOOKS));
      if (!goesOn()) return undefined;
    }
    return {
      result: {
        seed: job.seed,
        steps: run.step,
        rows: keptRows(run, job.every),
        every: job.every,
        summaries: summariesOf(compiled.plan, run),
        refused: run.context.refused,
        ...(job.records
          ? { records: executable.records.map(({ width, data }) => ({ width, data: Float64Array.from(data) })) }
          : {}),
        ...(job.notes ? { notes: [...run.context.notes] } : {}),
      },
    };
  } catch (error) {
    if (error instanceof ModelError) {
      const notes = job.notes ? { notes: [...(run?.context.notes ?? [])] } : {};
      return { failure: error.diagnostic, seed: job.seed, ...notes };
    }
    throw error;
  }
}

function keptRows(run: Run, every: number): Float64Array {
  const width = run.measureCount;
  const count = Math.floor((run.rowCount - 1) / every) + 1;
  const kept = new Float64Array(count * width);
  for (let i = 0; i < count; i++) kept.set(run.rowData.subarray(i * every * width, (i * every + 1) * width), i * width);
  return kept;
}
