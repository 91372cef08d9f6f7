import type { CompiledPlan } from '../javascript/compiled-plan.ts';
import type { CheckPlan } from '../plan/plan.ts';
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
  /** Seeds of the runs in which it did not hold, to look at. */
  readonly against: readonly number[];
}

/** What came of a check of the model. */
export interface CheckOutcome {
  readonly title: string;
  readonly holds: boolean;
  readonly seeds: number;
  readonly expectations: readonly ExpectationOutcome[];
  /** Set if a run failed; then nothing holds. */
  readonly failure?: { readonly seed: number; readonly diagnostic: Diagnostic };
}

const SHOWN_SEEDS = 8;

/** What was found of an expectation, with the first seeds to look at where it does not hold. */
export function expectationWords({ text, found, holds, against }: ExpectationOutcome): string {
  if (holds || against.length === 0) return `${text}: ${found}`;
  return `${text}: ${found}; not with seed ${against.slice(0, SHOWN_SEEDS).join(', ')}${against.length > SHOWN_SEEDS ? ' ...' : ''}`;
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
  let limits: Limits[] = [];
  for (let seed = 1; seed <= check.seeds; seed++) {
    const executable = compiled.shared();
    const parameters = plan.parameters.map((parameter) => parameter.value);
    try {
      for (const { parameter, value } of check.settings) parameters[parameter] = executable.valueOf(value);
      const run = new Run(executable, parameters, seed);
      run.runTo(check.duration ? Math.round(executable.valueOf(check.duration) / plan.clock.stepLength) : Infinity);
      const rows = rowsOf(plan, run);
      check.expectations.forEach((expectation, i) =>
        values[i]!.push(summarise(expectation.value, rows, rows.count - 1)),
      );
      limits = check.expectations.map(({ bounds, runs }) => ({
        low: bounds ? executable.valueOf(bounds.low) : -Infinity,
        high: bounds ? executable.valueOf(bounds.high) : Infinity,
        share: runs && executable.valueOf(runs),
      }));
    } catch (error) {
      if (!(error instanceof ModelError)) throw error;
      return {
        title: check.title,
        holds: false,
        seeds: check.seeds,
        expectations: [],
        failure: { seed, diagnostic: error.diagnostic },
      };
    }
  }
  const expectations = check.expectations.map((expectation, i) =>
    judge(expectation.text, values[i]!, limits[i]!, expectation.bounds !== undefined),
  );
  return { title: check.title, holds: expectations.every((e) => e.holds), seeds: check.seeds, expectations };
}

function judge(
  text: string,
  values: readonly number[],
  { low, high, share }: Limits,
  isNumber: boolean,
): ExpectationOutcome {
  const holdsIn = (value: number): boolean =>
    isNumber ? value >= low && value <= high : value !== 0 && !Number.isNaN(value);
  const against = values.flatMap((value, i) => (holdsIn(value) ? [] : [i + 1]));
  if (share === undefined) {
    const present = values.filter((value) => !Number.isNaN(value));
    const mean = present.reduce((a, b) => a + b, 0) / present.length;
    const without = values.length - present.length;
    const found =
      present.length === 0
        ? `no value in ${values.length} runs`
        : `mean ${Number(mean.toPrecision(6))} of ${present.length} runs${without > 0 ? `; ${without} without a value` : ''}`;
    return { text, holds: mean >= low && mean <= high, found, against };
  }
  const yes = values.length - against.length;
  return { text, holds: yes >= share * values.length - 1e-9, found: `${yes} of ${values.length} runs`, against };
}
