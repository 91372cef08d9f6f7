import type { Plan } from '../../plan/plan.ts';
import type { RunJob } from '../runner/simulate.ts';
import type { Factor } from './factors.ts';
import { combinationAt, combinationCount } from './factors.ts';

/** What every kind of design has. */
interface DesignParts {
  /** What is varied, and in which values where they are listed; none for a study that only repeats. */
  readonly factors: readonly Factor[];
  /** Of the first point; the same for every point, so that points share their luck, unless each has its own. */
  readonly seeds: readonly number[];
  /** Each point has seeds of its own, that follow those of the point before. */
  readonly ownSeeds?: boolean;
}

/** Every combination of the values of all factors. */
interface FullFactorial extends DesignParts {
  readonly is: 'every combination';
}

/** Points that are listed one by one: how they were chosen is told by `method`. */
export interface ListedDesign extends DesignParts {
  readonly is: 'listed';
  readonly method: DesignMethod;
  /** One value a factor for each point, each point once. */
  readonly points: readonly (readonly number[])[];
  /** Of sampled designs, whose rows have an order and may come twice: the place among `points` of each row. */
  readonly rows?: readonly number[];
  /** Of sampled designs: their number of points, paths or rows, and the seed by which they were drawn. */
  readonly sample?: { readonly count: number; readonly luck: number };
  /** Names of the points, where they have some. */
  readonly names?: readonly string[];
  /** Timeline lines that are laid over the model at each point, empty where there are none. */
  readonly timelines?: readonly string[];
}

/** How the points of a listed design were chosen. */
export type DesignMethod =
  | 'every combination'
  | 'one at a time'
  | 'random'
  | 'latin hypercube'
  | 'sobol sequence'
  | 'elementary effects'
  | 'sobol indices'
  | 'scenarios';

const NOT_SAMPLED: readonly DesignMethod[] = ['every combination', 'one at a time', 'scenarios'];

/** Whether points are drawn from how the factors are spread, so that indices tell what matters. */
export function isSampled(method: DesignMethod): boolean {
  return !NOT_SAMPLED.includes(method);
}

/** Which runs a study has, told apart by `is`. */
export type Design = FullFactorial | ListedDesign;

/** Values at which a model is run, with every seed of the design. */
export interface DesignPoint {
  /** The same wherever the point stands in a design: results are found by it. */
  readonly id: string;
  /** One value a factor, in the unit in which it is shown. */
  readonly values: readonly number[];
  /** Timeline lines that are laid over the model. */
  readonly timeline?: string;
}

/** How many points a design has. */
export function pointCount(design: Design): number {
  return design.is === 'listed' ? design.points.length : combinationCount(design.factors);
}

/** How many runs a design has in all. */
export function runCount(design: Design): number {
  return pointCount(design) * design.seeds.length;
}

/** A point of a design by its place; made when it is asked for, as there may be very many. */
export function pointAt(design: Design, place: number): DesignPoint {
  const { factors } = design;
  const values = design.is === 'listed' ? design.points[place]! : combinationAt(factors, place);
  const id = factors.map(({ parameter }, f) => `${parameter}=${values[f]}`).join(';');
  const timeline = design.is === 'listed' ? design.timelines?.[place] : undefined;
  return timeline ? { id: `${id};${timeline}`, values, timeline } : { id, values };
}

/** The seeds of a point by its place. */
export function seedsAt({ seeds, ownSeeds }: Design, place: number): readonly number[] {
  return ownSeeds ? seeds.map((seed) => seed + place * seeds.length) : seeds;
}

/** What every run of a study has in common. */
export interface StudySetting {
  readonly design: Design;
  /** Values of parameters by name, in base units; those of the text where none is given. */
  readonly parameters: Readonly<Record<string, number>>;
  readonly steps?: number;
  /** Keeps the rows of steps 0, every, 2 every, ... */
  readonly every: number;
  /** Keeps the records of the model too. */
  readonly records?: boolean;
}

/** One run of a study. */
export interface StudyJob extends RunJob {
  readonly point: string;
}

/** The run of a point with a seed. Factors that the text has no more are left out. */
export function jobOf(
  { design, parameters: given, steps, every, records }: StudySetting,
  plan: Plan,
  point: DesignPoint,
  seed: number,
): StudyJob {
  const parameters = plan.parameters.map(({ name, value, unitFactor }) => {
    const factor = design.factors.findIndex(({ parameter }) => parameter === name);
    if (factor >= 0) return point.values[factor]! * unitFactor;
    return Object.hasOwn(given, name) ? given[name]! : value;
  });
  return {
    point: point.id,
    parameters,
    seed,
    steps,
    every,
    ...(point.timeline ? { timeline: point.timeline } : {}),
    ...(records ? { records } : {}),
  };
}

/** The runs of a design in its order, points one after another, seeds within. */
export function* jobsOf(setting: StudySetting, plan: Plan): Generator<StudyJob, undefined> {
  const { design } = setting;
  for (let place = 0; place < pointCount(design); place++) {
    const point = pointAt(design, place);
    for (const seed of seedsAt(design, place)) yield jobOf(setting, plan, point, seed);
  }
}
