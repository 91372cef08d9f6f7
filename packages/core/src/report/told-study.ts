import type { Plan } from '../plan/plan.ts';
import { ENGINE_VERSION } from '../engine/version.ts';
import { designOf } from '../studies/design/kept-study.ts';
import { isSampled, pointCount } from '../studies/design/design.ts';
import type { AnswerTo, PosteriorAnswer, Question, SeriesAgreement } from '../studies/answers/questions.ts';
import { PILOTS } from '../studies/match/calibration/match-search.ts';
import { matchLines } from '../studies/match/match-lines.ts';
import { unitOfParameter } from '../studies/results/table.ts';
import { nameOfPoint } from '../studies/results/study-tables.ts';
import { plainCourse } from '../studies/statistics/course.ts';
import type { NamedBands, ResultTime } from './fan-picture.ts';
import { paperParagraph, posteriorSentences } from './match-words.ts';
import { measureColours, seriesColour } from './palette.ts';
import type { ModelOfNow, ReportedStudy } from './provenance.ts';
import { provenanceOf } from './provenance.ts';
import type { StudyTold } from './results.ts';
import { timeTicks } from './time-axis.ts';
import { combinationWords } from './value-words.ts';

/** Points whose courses are drawn together, and points of which a table tells. */
const DRAWN_POINTS = 6;
const TOLD_POINTS = 40;
const DRAWN_FIGURES = 3;
const WANTED_TICKS = 8;

/** Measures that a report draws of itself: the first of each chart, or else the first one. */
export function usualMeasures({ charts, measures }: Pick<Plan, 'charts' | 'measures'>): string[] {
  const firsts = charts.flatMap(({ measures: [first] }) => (first === undefined ? [] : [first]));
  const chosen = [...new Set(firsts.length > 0 ? firsts : [0])].slice(0, DRAWN_FIGURES);
  return chosen.flatMap((measure) => measures[measure]?.name ?? []);
}

/** The results of a study, wherever they are held. */
export interface StudyResultsAsked {
  readonly ask: <Q extends Question>(question: Q) => Promise<AnswerTo<Q>>;
  /** Finished runs, and how many of them failed. */
  readonly finished: () => Promise<{ readonly done: number; readonly failed: number }>;
  /** All runs that it is to have, if that is known. */
  readonly planned: number | undefined;
}

/**
 * What a report tells of a study.
 * @param now the model as it is now
 * @param drawn names of the measures that are drawn, where they are not the usual ones
 */
export async function toldStudy(
  study: ReportedStudy,
  plan: Plan,
  now: ModelOfNow,
  drawn: readonly string[] | undefined,
  results: StudyResultsAsked,
): Promise<StudyTold> {
  const { id, name, notes, kind } = study;
  const { words, stale } = provenanceOf(study, plan, now);
  const { done, failed } = await results.finished();
  const facts = {
    id,
    name,
    plan,
    stepLength: plan.clock.stepLength,
    of: words,
    runs: done - failed,
    failed,
    missing: results.planned === undefined ? 0 : Math.max(0, results.planned - done),
    ...(notes ? { notes } : {}),
    ...(stale === undefined ? {} : { stale }),
  };
  if (facts.runs === 0) return { ...facts, fans: [], times: [] };
  if (kind === 'match') return { ...facts, fans: [], ...(await toldSearch(study, plan, results)) };
  return { ...facts, ...(await toldRuns(study, plan, drawn ?? usualMeasures(plan), results, facts.missing === 0)) };
}

type Told<K extends keyof StudyTold> = Pick<StudyTold, K>;

async function toldSearch(
  study: ReportedStudy,
  plan: Plan,
  { ask }: StudyResultsAsked,
): Promise<Told<'times' | 'posterior' | 'agreement' | 'search'>> {
  const posterior = await ask({ is: 'posterior' });
  const agreement = await ask({ is: 'agreement', of: '' });
  const series = agreement?.series ?? [];
  const times = series.flatMap(({ fan, observations }) => [fan.times.at(-1) ?? 0, observations.at(-1)?.time ?? 0]);
  return {
    posterior,
    times: timesOf(plan, Math.max(1, ...times) / plan.clock.stepLength),
    ...(agreement ? { agreement } : {}),
    ...(posterior.found ? { search: searchTold(study, plan, posterior, posterior.found, series) } : {}),
  };
}

function searchTold(
  { wording = '', engine = ENGINE_VERSION }: ReportedStudy,
  plan: Plan,
  { runs }: PosteriorAnswer,
  found: NonNullable<PosteriorAnswer['found']>,
  series: readonly SeriesAgreement[],
): NonNullable<StudyTold['search']> {
  const { lines } = matchLines(wording);
  const units = found.posterior.parameters.map((name) => unitOfParameter(plan, name));
  return {
    paragraph: paperParagraph(found, {
      model: plan.title,
      engine,
      runs,
      priors: lines.flatMap((line) => (line.is === 'find' ? [line.value.text] : [])),
      series: series.map(seriesFact),
      heldOut: lines.find((line) => line.is === 'hold out')?.value.text,
      units,
      pilots: PILOTS,
    }),
    sentences: posteriorSentences(found, units, 'The observations').map((sentence) => sentence.text),
  };
}

/** A series with how many of its observations were used. */
export function seriesFact({ name, observations }: SeriesAgreement): string {
  const used = observations.filter(({ isHeldOut }) => !isHeldOut).length;
  return `${name} (${used} ${used === 1 ? 'observation' : 'observations'})`;
}

async function toldRuns(
  study: ReportedStudy,
  plan: Plan,
  drawn: readonly string[],
  results: StudyResultsAsked,
  isOver: boolean,
): Promise<Told<'fans' | 'times' | 'outcomes' | 'points' | 'differences' | 'sensitivities'>> {
  const { ask } = results;
  const design = designOf(study);
  const isOfPoints = pointCount(design) > 1;
  const answers = isOfPoints ? await ask({ is: 'points', most: TOLD_POINTS }) : [];
  const settings = answers.map((point) => combinationWords(plan, study, point.values));
  const names = answers.map((_, i) => nameOfPoint(design, i) ?? settings[i]!);
  // More points than can be told apart are told in a table only.
  const shown: readonly DrawnPoint[] = isOfPoints
    ? answers.length <= DRAWN_POINTS
      ? answers.map(({ id }, i) => ({ id, name: names[i]!, colour: seriesColour(i, 'paper') }))
      : []
    : [{ id: undefined, name: study.name, colour: undefined }];
  const fans = [];
  for (const wanted of drawn) {
    const measure = plan.measures.findIndex(({ name }) => name === wanted);
    const fan = measure < 0 ? undefined : await fanOf(plan, measure, shown, results, isOver);
    if (fan) fans.push(fan);
  }
  const last = fans.flatMap(({ points }) => points.map(({ bands }) => bands.steps.at(-1) ?? 0));
  const times = timesOf(plan, Math.max(1, ...last));
  if (!isOfPoints) return { fans, times, outcomes: await ask({ is: 'outcomes' }) };
  const isNamed = design.is === 'listed' && design.names !== undefined;
  const isOfMany = design.is === 'listed' && isSampled(design.method);
  const sensitivities = [];
  for (const summary of isOfMany ? plan.summaries.keys() : []) {
    const sensitivity = await ask({ is: 'sensitivity', summary });
    if (sensitivity) sensitivities.push(sensitivity);
  }
  return {
    fans,
    times,
    points: {
      called: isNamed ? 'scenario' : 'point',
      names,
      ...(isNamed ? { settings } : {}),
      answers,
      all: pointCount(design),
    },
    ...(isNamed ? { differences: await ask({ is: 'differences', base: 0 }) } : {}),
    ...(sensitivities.length > 0 ? { sensitivities } : {}),
  };
}

/** A point whose courses are drawn; one alone has no id, and the colour of its measure. */
interface DrawnPoint {
  readonly id: string | undefined;
  readonly name: string;
  readonly colour: string | undefined;
}

async function fanOf(
  plan: Plan,
  measure: number,
  shown: readonly DrawnPoint[],
  { ask }: StudyResultsAsked,
  isOver: boolean,
): Promise<StudyTold['fans'][number] | undefined> {
  const course = plainCourse(measure);
  const points: NamedBands[] = [];
  for (const { id, name, colour } of shown) {
    const fan = await ask({ is: 'fan', course, lines: 0, ...(id === undefined ? {} : { point: id }) });
    if (fan) points.push({ name, bands: fan.bands, colour: colour ?? measureColours(plan, 'paper')[measure]! });
  }
  if (points.length === 0) return undefined;
  // A model has one limit, of several points it would be one each; while runs come in it would be worked out again and again.
  const limit = shown.length === 1 && isOver ? await ask({ is: 'mean field', course }) : undefined;
  const reference = limit && 'values' in limit && limit.values.some(Number.isFinite) ? limit.values : undefined;
  return { measure, points, ...(reference ? { reference } : {}) };
}

function timesOf(plan: Plan, last: number): ResultTime[] {
  return timeTicks(plan, last, WANTED_TICKS).map(({ step, label, year }) => ({
    step,
    label: year === undefined ? label : `${label} ${year}`,
  }));
}
