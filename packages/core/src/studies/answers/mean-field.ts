import type { Course } from '../statistics/course.ts';
import { courseIn } from '../statistics/course.ts';
import { placeOf } from '../../diagnostics.ts';
import { loadModel } from '../../load.ts';
import { meanFieldCourse } from '../../mean-field/course.ts';
import type { MeanField } from '../../mean-field/derive.ts';
import { deriveMeanField } from '../../mean-field/derive.ts';
import { equationsOf } from '../../mean-field/equations.ts';
import { NotDerived } from '../../mean-field/terms.ts';
import { jobOf, pointAt, pointCount } from '../design/design.ts';
import { limitOf, observedOf } from '../match/match-runs.ts';
import { wishedObservations } from '../match/observed-fan.ts';
import { textWithTimeline } from '../scenario-text.ts';
import type { AskedStudy } from './answer.ts';
import { runsOf } from './asked-runs.ts';
import type { MeanFieldAnswer, MeanFieldLine, Question } from './questions.ts';

/** Answers about the well-mixed limit of the model of a study. */

/** The limit as a course of measures. */
export function meanFieldOf(
  study: AskedStudy,
  { course, point }: Extract<Question, { is: 'mean field' }>,
): MeanFieldAnswer {
  return answerOf(study, point, (rows, _, every) => {
    const values = courseIn(rows, study.plan.measures.length, course satisfies Course, every);
    const { stepLength } = study.plan.clock;
    return { times: Array.from(values, (_value, row) => row * every * stepLength), values: [...values] };
  });
}

/** The limit as it would have been observed in a series, without errors of observing. */
export function meanFieldOfSeries(
  study: AskedStudy,
  { series, point }: Extract<Question, { is: 'mean field of a series' }>,
): MeanFieldAnswer | undefined {
  const { plan, match, search } = study;
  const tied = match?.series[series];
  // Runs of a search have values of their own each, and no limit in common.
  if (!tied || search) return undefined;
  return answerOf(study, point, (rows, steps, every, parameters) => {
    const result = { seed: 0, steps, rows, every, summaries: new Float64Array(0), refused: 0 };
    const observations = wishedObservations(tied, plan.clock.stepLength, steps);
    const values = observedOf({ result, parameters }, { ...tied, observations }, plan, steps);
    return { times: observations.map(({ time }) => time), values: [...values] };
  });
}

type LineOf = (
  rows: Float64Array,
  steps: number,
  every: number,
  parameters: readonly number[],
) => Pick<MeanFieldLine, 'times' | 'values'>;

function answerOf(study: AskedStudy, id: string | undefined, lineOf: LineOf): MeanFieldAnswer {
  const { plan, design, parameters: values = {} } = study;
  const runs = runsOf(study, id);
  const place = Array.from({ length: pointCount(design) }, (_, i) => i).find((i) => pointAt(design, i).id === id) ?? 0;
  const point = pointAt(design, place);
  const text = textWithTimeline(study.text ?? '', point.timeline ?? '');
  const { loaded } = loadModel(text);
  if (!loaded) return { obstacles: [] };
  const limit = deriveMeanField(loaded.checked);
  if ('obstacles' in limit) return { obstacles: told(limit.obstacles, text) };
  const every = runs[0]?.every ?? 1;
  const steps = limitOf(
    undefined,
    runs.map((result) => ({ result, parameters: [] })),
  );
  const { parameters } = jobOf({ design, parameters: values, every }, plan, point, 0);
  return { ...equationsOf(limit), ...lineAt(limit, parameters, { steps, every }, lineOf, text) };
}

function lineAt(
  limit: MeanField,
  parameters: readonly number[],
  { steps, every }: { readonly steps: number; readonly every: number },
  lineOf: LineOf,
  text: string,
): Pick<MeanFieldLine, 'times' | 'values' | 'reasons' | 'problem'> {
  try {
    const { rows, reasons } = meanFieldCourse(limit, parameters, steps, every);
    return { ...lineOf(rows, steps, every, parameters), reasons };
  } catch (error) {
    const problem =
      error instanceof NotDerived
        ? `line ${placeOf(text, error.span.start).line}: ${error.message}`
        : (error as Error).message;
    return { times: [], values: [], reasons: limit.reasons, problem };
  }
}

function told(
  obstacles: readonly { readonly span: { readonly start: number }; readonly message: string }[],
  text: string,
): { readonly line: number; readonly message: string }[] {
  const lines = obstacles.map(({ span, message }) => ({ line: placeOf(text, span.start).line, message }));
  return lines
    .filter(({ line, message }, i) => lines.findIndex((each) => each.line === line && each.message === message) === i)
    .sort((a, b) => a.line - b.line);
}
