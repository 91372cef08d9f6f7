import type { ModelFile } from '../maps/map-file.ts';
import type { Diagnostic } from '../diagnostics.ts';
import { loadModel } from '../load.ts';
import type { LoadedModel } from '../load.ts';
import type { Plan } from '../plan/plan.ts';
import { textWithTimeline } from './scenario-text.ts';
import type { Piece } from './text/pieces.ts';

/** A condition over a run that a study asks for beside the summaries of its model. */
export interface Outcome {
  readonly name: string;
  /** In the language, as a check has it: it may read measures and summaries. */
  readonly condition: string;
}

const TITLE = 'what a study asks of its runs';

/**
 * A model with the outcomes of a study as further summaries that are yes or no, after its own: whatever is told of summaries is told of them too.
 * @returns absent where a condition has an error
 */
export function withOutcomes(
  text: string,
  files: ReadonlyMap<string, ModelFile> | undefined,
  outcomes: readonly Outcome[],
): LoadedModel | undefined {
  const { loaded } = loadModel(
    textWith(
      text,
      outcomes.map(({ condition }) => condition),
    ),
    files,
  );
  return loaded && { ...loaded, plan: planWith(loaded.plan, outcomes) };
}

function textWith(text: string, conditions: readonly string[]): string {
  return conditions.length === 0
    ? text
    : `${text.trimEnd()}\n\ncheck ${TITLE}\n  over 1 seeds\n${conditions.map((c) => `  expect ${c} in every run\n`).join('')}`;
}

function planWith(plan: Plan, outcomes: readonly Outcome[]): Plan {
  if (outcomes.length === 0) return plan;
  const { expectations } = plan.checks.at(-1)!;
  const asked = outcomes.map(({ name }, i) => ({
    name,
    about: expectations[i]!.text,
    unitLabel: '',
    yesNo: true,
    timeUnit: undefined,
    value: expectations[i]!.value,
  }));
  return { ...plan, checks: plan.checks.slice(0, -1), summaries: [...plan.summaries, ...asked] };
}

/** What is wrong with a condition over runs, with places in the text that it was taken from. */
export function outcomeFindings(
  text: string,
  files: ReadonlyMap<string, ModelFile> | undefined,
  condition: Piece,
): Diagnostic[] {
  return findingsIn(textWith(text, [condition.text]), files, condition).map((found) =>
    found.code === 'name/unknown' ? { ...found, hint: namesOf(text, files) } : found,
  );
}

/** What is wrong with a timeline line of a scenario, with places in the text that it was taken from. */
export function timelineFindings(
  text: string,
  files: ReadonlyMap<string, ModelFile> | undefined,
  line: Piece,
): Diagnostic[] {
  return findingsIn(textWithTimeline(text, line.text), files, line);
}

/** Errors in the last piece of a text, told at the places where it was taken from. */
export function findingsIn(
  whole: string,
  files: ReadonlyMap<string, ModelFile> | undefined,
  { text, span }: Piece,
): Diagnostic[] {
  const start = whole.lastIndexOf(text);
  return errorsOf(whole, files)
    .filter((found) => found.span.end > start - 2)
    .map((found): Diagnostic => {
      const at = span.start + Math.max(0, Math.min(text.length - 1, found.span.start - start));
      const end = Math.max(at + 1, Math.min(span.end, span.start + found.span.end - start));
      return { ...found, fixes: undefined, span: { start: at, end } };
    });
}

/** Texts of which the errors are kept, so that a line is not looked at again while others are written. */
const MOST_TEXTS = 64;
const LONGEST_KEPT = 100_000;
const kept = new Map<string, readonly Diagnostic[]>();
let keptFor: ReadonlyMap<string, ModelFile> | undefined;

function errorsOf(text: string, files: ReadonlyMap<string, ModelFile> | undefined): readonly Diagnostic[] {
  if (files !== keptFor) kept.clear();
  keptFor = files;
  const known = kept.get(text);
  if (known) return known;
  const errors = loadModel(text, files).diagnostics.filter(({ severity }) => severity === 'error');
  if (text.length > LONGEST_KEPT) return errors;
  kept.set(text, errors);
  if (kept.size > MOST_TEXTS) kept.delete(kept.keys().next().value!);
  return errors;
}

/** What a condition over runs can ask of. */
function namesOf(text: string, files: ReadonlyMap<string, ModelFile> | undefined): string | undefined {
  const plan = loadModel(text, files).loaded?.plan;
  if (!plan) return undefined;
  const names = [...plan.summaries, ...plan.measures].map(({ name }) => name);
  return names.length > 0 ? `It can ask of ${names.join(', ')}.` : 'The model has no measure or summary to ask of.';
}
