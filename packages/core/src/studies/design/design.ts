import type { Plan } from '../../plan/plan.ts';
import type { RunJob } from '../runner/simulate.ts';
import type { Factor } from './factors.ts';
import { combinationAt, combinationCount } from './factors.ts';

/** Which runs a study has. Every kind of design is a member of this union with a file of its own. */
interface FullFactorial {
  readonly is: 'every combination';
  /** None for a study that only repeats. */
  readonly factors: readonly Factor[];
  /** The same for every point, so that points share their luck. */
  readonly seeds: readonly number[];
}
/** Which runs a study has, told apart by `is`. */
export type Design = FullFactorial;

/** Values at which a model is run, with every seed of the design. */
export interface DesignPoint {
  /** The same wherever the point stands in a design: results are found by it. */
  readonly id: string;
  /** One value a factor, in the unit in which it is shown. */
  readonly values: readonly number[];
}

/** How many points a design has. */
export function pointCount({ factors }: Design): number {
  return combinationCount(factors);
}

/** How many runs a design has in all. */
export function runCount(design: Design): number {
  return pointCount(design) * design.seeds.length;
}

/** A point of a design by its place; made when it is asked for, as there may be very many. */
export function pointAt({ factors }: Design, place: number): DesignPoint {
  const values = combinationAt(factors, place);
  return { id: factors.map(({ parameter }, f) => `${parameter}=${values[f]}`).join(';'), values };
}

/** What every run of a study has in common. */
export interface StudySetting {
  readonly design: Design;
  /** Values of parameters by name, in base units; those of the text where none is given. */
  readonly parameters: Readonly<Record<string, number>>;
  readonly steps?: number;
  /** Keeps the rows of steps 0, every, 2 every, ... */
  readonly every: number;
}

/** One run of a study. */
export interface StudyJob extends RunJob {
  readonly point: string;
}

/** The run of a point with a seed. Factors that the text has no more are left out. */
function jobOf(
  { design, parameters: given, steps, every }: StudySetting,
  plan: Plan,
  point: DesignPoint,
  seed: number,
): StudyJob {
  const parameters = plan.parameters.map(({ name, value, unitFactor }) => {
    const factor = design.factors.findIndex(({ parameter }) => parameter === name);
    if (factor >= 0) return point.values[factor]! * unitFactor;
    return Object.hasOwn(given, name) ? given[name]! : value;
  });
  return { point: point.id, parameters, seed, steps, every };
}

/** The runs of a design in its order, points one after another, seeds within. */
export function* jobsOf(setting: StudySetting, plan: Plan): Generator<StudyJob, undefined> {
  const { design } = setting;
  for (let place = 0; place < pointCount(design); place++) {
    const point = pointAt(design, place);
    for (const seed of design.seeds) yield jobOf(setting, plan, point, seed);
  }
}
