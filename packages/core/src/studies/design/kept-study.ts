import type { Outcome } from '../outcomes.ts';
import type { StoppingRule } from '../runner/seeds-until.ts';
import type { StudyDefinition } from '../text/read-study.ts';
import type { Design, StudySetting } from './design.ts';
import type { ListedPoints } from './design-schema.ts';
import type { Factor } from './factors.ts';

/** A study as it is kept, in a browser or in a bundle: what makes its runs, beside the text of its model. */
export interface KeptStudy {
  readonly seeds: readonly number[];
  /** Varied parameters, values in the shown unit. */
  readonly factors: readonly Factor[];
  /** Its points, where they are not every combination of the factors. */
  readonly listed?: ListedPoints | undefined;
  /** Base values of parameters by name, in base units. */
  readonly parameters: Readonly<Record<string, number>>;
  /** Keeps the rows of steps 0, every, 2 every, ... */
  readonly every: number;
  readonly steps?: number | undefined;
  /** Whether the records of the model are kept. */
  readonly records?: boolean | undefined;
  /** Conditions over its runs beside the summaries of the model. */
  readonly outcomes?: readonly Outcome[] | undefined;
  /** Points get seeds until the mean of a summary is known well enough. */
  readonly until?: StoppingRule | undefined;
}

/** The points of a study and their seeds. */
export function designOf({ factors, seeds, listed }: Pick<KeptStudy, 'factors' | 'seeds' | 'listed'>): Design {
  return listed ? { is: 'listed', ...listed, factors, seeds } : { is: 'every combination', factors, seeds };
}

/** All that makes the runs of a study. */
export function settingOf(study: KeptStudy): StudySetting {
  const { parameters, steps, every, records } = study;
  return { design: designOf(study), parameters, steps, every, ...(records ? { records } : {}) };
}

/** A study as its text says it, as it is kept. @param parameters of its model, with their values */
export function keptDefinition(
  { name, note, setting, outcomes, until }: StudyDefinition,
  parameters: readonly { readonly name: string; readonly value: number }[],
) {
  const { design, every, steps, records } = setting;
  return {
    name,
    kind: variesNothing(design) ? ('repeat' as const) : ('vary' as const),
    ...keptDesign(design),
    seeds: [...design.seeds],
    every,
    ...(steps === undefined ? {} : { steps }),
    ...(records ? { records: true } : {}),
    ...(until ? { until } : {}),
    ...(note ? { notes: note } : {}),
    ...(outcomes.length > 0 ? { outcomes: [...outcomes] } : {}),
    parameters: Object.fromEntries(
      parameters.map(({ name: of, value }) => [
        of,
        Object.hasOwn(setting.parameters, of) ? setting.parameters[of]! : value,
      ]),
    ),
  };
}

/** Whether all runs of a design are of the same values. */
export function variesNothing(design: Design): boolean {
  return design.factors.length === 0 && !(design.is === 'listed' && design.names);
}

/** The points of a study as they are kept; `designOf` makes them again with its seeds. */
function keptDesign(design: Design): {
  readonly factors: { parameter: string; values: number[] }[];
  readonly listed?: ListedPoints;
} {
  const factors = design.factors.map(({ parameter, values }) => ({ parameter, values: [...values] }));
  if (design.is !== 'listed') return { factors };
  const { method, points, rows, sample, names, timelines, ownSeeds } = design;
  const listed: ListedPoints = {
    method,
    points: points.map((point) => [...point]),
    ...(rows ? { rows: [...rows] } : {}),
    ...(sample ? { sample } : {}),
    ...(names ? { names: [...names] } : {}),
    ...(timelines ? { timelines: [...timelines] } : {}),
    ...(ownSeeds ? { ownSeeds } : {}),
  };
  return { factors, listed };
}
