import type { ModelFile } from '../../maps/map-file.ts';
import type { Diagnostic } from '../../diagnostics.ts';
import type * as Ast from '../../language/syntax.ts';
import { loadModel } from '../../load.ts';
import type { RowExpr } from '../../plan/plan.ts';
import { rowExpression } from '../../runs/row-expression.ts';
import { summarise } from '../../runs/summarise.ts';
import type { RunResult } from '../runner/simulate.ts';
import { findingsIn } from '../outcomes.ts';
import type { Piece } from '../text/pieces.ts';
import type { Observation } from './observations.ts';

/** How an observer reads a course: at the time, or over the interval since the time before. */
export type Reading = 'at' | 'mean' | 'total' | 'last';

/** An expression over measures and parameters that stands for what was observed; its finals are the parameters of the run, in base units. */
export interface TiedExpression {
  readonly value: RowExpr;
  /** Base units in one unit in which it is written. */
  readonly factor: number;
}

/** What is needed of a run to observe it. */
export interface ObservedRun {
  readonly result: Pick<RunResult, 'rows' | 'every' | 'steps'>;
  /** In base units, in the order of the text. */
  readonly parameters: readonly number[];
}

/** An expression of measures and parameters, ready to be read in the rows of runs, or what is wrong with it. */
export function tieTo(
  text: string,
  files: ReadonlyMap<string, ModelFile> | undefined,
  expression: Piece,
): TiedExpression | { readonly diagnostics: readonly Diagnostic[] } {
  const name = freeName(text);
  const whole = `${text.trimEnd()}\n\nsummary ${name} = last of (${expression.text})\n`;
  const { loaded } = loadModel(whole, files);
  if (!loaded) return { diagnostics: findingsIn(whole, files, expression) };
  const summary = loaded.checked.summaries.find((each) => each.name === name)!;
  const { of } = summary.part.value as Ast.ExprOf<'last of'>;
  const wrong = (message: string, hint: string): { diagnostics: Diagnostic[] } => ({
    diagnostics: [{ severity: 'error', code: 'study/condition', span: expression.span, message, hint }],
  });
  if (loaded.checked.types.get(of)?.is !== 'number' && loaded.checked.types.get(of)?.is !== 'yesno')
    return wrong('What was observed is compared with a number.', 'Write “voles” or “voles * catch_rate”.');
  const value = rowExpression(loaded, of);
  return value
    ? { value, factor: 1 }
    : wrong(
        'It asks the agents themselves, who are gone when a run is over.',
        'Give the model a measure of it, “measure nests = count Vole in Nesting”, and write “nests”.',
      );
}

function freeName(text: string): string {
  for (let i = 1; ; i++) if (!text.toLowerCase().includes(`observed_${i}`)) return `observed_${i}`;
}

/**
 * What an observer would have written of a run, without errors of observing: one number an observation, empty where the run does not reach.
 * A run that ended by itself keeps its last row.
 * @param clock length of a step, and the steps that the runs had time for
 */
export function observedIn(
  { result: { rows, every }, parameters }: ObservedRun,
  { value, factor }: TiedExpression,
  reading: Reading,
  observations: readonly Observation[],
  { measures, stepLength, steps }: { readonly measures: number; readonly stepLength: number; readonly steps: number },
): Float64Array {
  const count = rows.length / measures;
  const step = stepLength * every;
  const table = { count, measures, data: rows, stepLength: step, finals: parameters };
  const course = Float64Array.from({ length: count }, (_, row) => summarise(value, table, row) / factor);
  const rowAt = (time: number): number => Math.round(time / step);
  const lastRow = Math.floor(steps / every);
  return Float64Array.from(observations, ({ time, since }) => {
    const row = rowAt(time);
    if (row < 0 || row > lastRow) return NaN;
    if (reading === 'at' || reading === 'last') return course[Math.min(row, count - 1)]!;
    // The row at the time before belongs to the interval before; the first one begins with the run.
    const first = Math.min(row, since > 0 ? rowAt(since) + 1 : 0);
    let [sum, present] = [0, 0];
    for (let i = first; i <= row; i++) {
      const each = course[Math.min(i, count - 1)]!;
      if (Number.isNaN(each)) continue;
      sum += each;
      present++;
    }
    if (present === 0) return NaN;
    return reading === 'mean' ? sum / present : sum;
  });
}
