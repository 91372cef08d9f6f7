import type { CompiledPlan } from '../javascript/compiled-plan.ts';
import type { CheckPlan, RowExpr } from '../plan/plan.ts';
import type { Rows } from '../runs/summarise.ts';
import { rowsOf, summarise } from '../runs/summarise.ts';
import type { Diagnostic } from '../diagnostics.ts';
import { ModelError } from '../diagnostics.ts';
import { Run } from '../engine/run.ts';

/** What came of one line of a check. */
export interface ExpectationOutcome {
  readonly text: string;
  readonly holds: boolean;
  /** What was found, in words: how many runs, or which mean. */
  readonly found: string;
  /** What it came to in each run, seed by seed: a number, 1 or 0 for yes or no, NaN where it has no value. */
  readonly values: readonly number[];
  /** Where a number must lie; ends that are open are endless. */
  readonly bounds?: { readonly low: number; readonly high: number };
  /** The runs in which it did not hold, to look at. */
  readonly against: readonly FailedRun[];
}

/** A run in which an expectation did not hold. */
export interface FailedRun {
  readonly seed: number;
  /** From which step on it did not, up to the end; told of the first few. */
  readonly step?: number;
}

/** What came of a check of the model. */
export interface CheckOutcome {
  readonly title: string;
  readonly holds: boolean;
  readonly seeds: number;
  /** Values of its runs in base units, in the order of the text. */
  readonly parameters: readonly number[];
  readonly expectations: readonly ExpectationOutcome[];
  /** Set if a run failed; then nothing holds. */
  readonly failure?: { readonly seed: number; readonly diagnostic: Diagnostic };
}

const SHOWN_SEEDS = 8;

/** What was found of an expectation, with the first seeds to look at where it does not hold. */
export function expectationWords({ text, found, holds, against }: ExpectationOutcome): string {
  if (holds || against.length === 0) return `${text}: ${found}`;
  return `${text}: ${found}; not with seed ${against
    .slice(0, SHOWN_SEEDS)
    .map(({ seed }) => seed)
    .join(', ')}${against.length > SHOWN_SEEDS ? ' ...' : ''}`;
}

interface Limits {
  readonly low: number;
  readonly high: number;
  readonly share: number | undefined;
}

/**
 * Runs a check of a model over its seeds, 1 to so many. An expectation without `runs` holds if the mean over the runs lies within its bounds, else
 * if it holds in the wanted share of the runs.
 */
export function runCheck(compiled: CompiledPlan, check: CheckPlan): CheckOutcome {
  const { plan } = compiled;
  const values: number[][] = check.expectations.map(() => []);
  const against: FailedRun[][] = check.expectations.map(() => []);
  const parameters = plan.parameters.map((parameter) => parameter.value);
  let limits: Limits[] = [];
  for (let seed = 1; seed <= check.seeds; seed++) {
    const executable = compiled.shared();
    try {
      for (const { parameter, value } of check.settings) parameters[parameter] = executable.valueOf(value);
      const run = new Run(executable, parameters, seed);
      run.runTo(check.duration ? Math.round(executable.valueOf(check.duration) / plan.clock.stepLength) : Infinity);
      const rows = rowsOf(plan, run);
      limits = check.expectations.map(({ bounds, runs }) => ({
        low: bounds ? executable.valueOf(bounds.low) : -Infinity,
        high: bounds ? executable.valueOf(bounds.high) : Infinity,
        share: runs && executable.valueOf(runs),
      }));
      check.expectations.forEach(({ value, bounds }, i) => {
        const came = summarise(value, rows, rows.count - 1);
        values[i]!.push(came);
        if (holdsIn(came, limits[i]!, bounds !== undefined)) return;
        const step =
          against[i]!.length < SHOWN_SEEDS ? failedFrom(rows, value, limits[i]!, bounds !== undefined) : undefined;
        against[i]!.push({ seed, ...(step === undefined ? {} : { step }) });
      });
    } catch (error) {
      if (!(error instanceof ModelError)) throw error;
      return {
        title: check.title,
        holds: false,
        seeds: check.seeds,
        parameters,
        expectations: [],
        failure: { seed, diagnostic: error.diagnostic },
      };
    }
  }
  const expectations = check.expectations.map((expectation, i) =>
    judge(
      {
        text: expectation.text,
        values: values[i]!,
        against: against[i]!,
        ...(expectation.bounds ? { bounds: { low: limits[i]!.low, high: limits[i]!.high } } : {}),
      },
      limits[i]!,
    ),
  );
  const holds = expectations.every((expectation) => expectation.holds);
  return { title: check.title, holds, seeds: check.seeds, parameters, expectations };
}

function holdsIn(value: number, { low, high }: Limits, isNumber: boolean): boolean {
  return isNumber ? value >= low && value <= high : value !== 0 && !Number.isNaN(value);
}

/** The first step of the stretch at the end of a run in which an expectation does not hold of what was so far. */
function failedFrom(rows: Rows, value: RowExpr, limits: Limits, isNumber: boolean): number {
  let row = rows.count - 1;
  while (row > 0 && !holdsIn(summarise(value, { ...rows, count: row }, row - 1), limits, isNumber)) row--;
  return row;
}

function judge(came: Omit<ExpectationOutcome, 'holds' | 'found'>, { low, high, share }: Limits): ExpectationOutcome {
  const { values, against } = came;
  if (share === undefined) {
    const present = values.filter((value) => !Number.isNaN(value));
    const mean = present.reduce((a, b) => a + b, 0) / present.length;
    const without = values.length - present.length;
    const found =
      present.length === 0
        ? `no value in ${values.length} runs`
        : `mean ${Number(mean.toPrecision(6))} of ${present.length} runs${without > 0 ? `; ${without} without a value` : ''}`;
    return { ...came, holds: mean >= low && mean <= high, found };
  }
  const yes = values.length - against.length;
  return { ...came, holds: yes >= share * values.length - 1e-9, found: `${yes} of ${values.length} runs` };
}
