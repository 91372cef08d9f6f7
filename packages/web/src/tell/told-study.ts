import type { NamedBands, Plan, StudyTold } from '@vole/core';
import {
  combinationWords,
  designOf,
  measureColours,
  nameOfPoint,
  plainCourse,
  pointCount,
  provenanceOf,
  seriesColour,
  timeTicks,
} from '@vole/core';
import { askStudy, finishedRuns, lookInto } from '../studies/answers.ts';
import { runsOfStudy } from '../studies/study-design.ts';
import { planOfStudy } from '../studies/use-study-plan.ts';
import type { StudyRow } from '../storage/schema.ts';

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

/**
 * What a report tells of a study.
 * @param drawn names of the measures that are drawn, where they are not the usual ones
 * @returns nothing where its text cannot be read any more
 */
export async function toldStudy(
  study: StudyRow,
  text: string,
  drawn?: readonly string[],
): Promise<StudyTold | undefined> {
  const plan = planOfStudy(study.text, study.outcomes);
  return plan && lookInto(study, () => told(study, plan, text, drawn ?? usualMeasures(plan)));
}

async function told(study: StudyRow, plan: Plan, text: string, drawn: readonly string[]): Promise<StudyTold> {
  const { id, name, notes, kind } = study;
  const { words, stale } = provenanceOf(study, plan, text);
  const finished = await finishedRuns(id);
  const done = finished.seeds.length;
  const facts = {
    id,
    name,
    plan,
    of: words,
    runs: done - finished.failed,
    failed: finished.failed,
    missing: kind === 'match' || study.until ? 0 : Math.max(0, runsOfStudy(study) - done),
    ...(notes ? { notes } : {}),
    ...(stale === undefined ? {} : { stale }),
  };
  if (facts.runs === 0) return { ...facts, fans: [], times: [] };
  if (kind === 'match') {
    const agreement = await askStudy(id, { is: 'agreement', of: '' });
    return {
      ...facts,
      fans: [],
      times: [],
      posterior: await askStudy(id, { is: 'posterior' }),
      ...(agreement ? { agreement } : {}),
    };
  }
  const measures = drawn.flatMap((wanted) => {
    const place = plan.measures.findIndex((measure) => measure.name === wanted);
    return place < 0 ? [] : [place];
  });
  const isOfPoints = pointCount(designOf(study)) > 1;
  const answers = isOfPoints ? await askStudy(id, { is: 'points', most: TOLD_POINTS }) : [];
  const settings = answers.map((point) => combinationWords(plan, study, point.values));
  const names = answers.map((_, i) => nameOfPoint(designOf(study), i) ?? settings[i]!);
  // More points than can be told apart are told in a table only.
  const shown = isOfPoints ? (answers.length <= DRAWN_POINTS ? answers.map((point) => point.id) : []) : [undefined];
  const colours = measureColours(plan, 'paper');
  const fans = [];
  for (const measure of measures) {
    const points: NamedBands[] = [];
    for (const [i, point] of shown.entries()) {
      const fan = await askStudy(id, {
        is: 'fan',
        course: plainCourse(measure),
        lines: 0,
        ...(point === undefined ? {} : { point }),
      });
      if (fan)
        points.push({
          name: names[i] ?? name,
          bands: fan.bands,
          colour: isOfPoints ? seriesColour(i, 'paper') : colours[measure]!,
        });
    }
    if (points.length > 0) fans.push({ measure, points });
  }
  const last = Math.max(1, ...fans.flatMap(({ points }) => points.map(({ bands }) => bands.steps.at(-1) ?? 0)));
  const times = timeTicks(plan, last, WANTED_TICKS).map(({ step, label, year }) => ({
    step,
    label: year === undefined ? label : `${label} ${year}`,
  }));
  if (!isOfPoints) return { ...facts, fans, times, outcomes: await askStudy(id, { is: 'outcomes' }) };
  const isNamed = study.listed?.names !== undefined;
  return {
    ...facts,
    fans,
    times,
    points: {
      called: isNamed ? 'scenario' : 'point',
      names,
      ...(isNamed ? { settings } : {}),
      answers,
      all: pointCount(designOf(study)),
    },
    ...(isNamed ? { differences: await askStudy(id, { is: 'differences', base: 0 }) } : {}),
  };
}
