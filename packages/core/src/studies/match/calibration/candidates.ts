import { keyOfName, RandomStream } from '../../../engine/random/stream.ts';
import { drawNormal } from '../../../engine/random/laws.ts';
import type { Spread } from '../../design/spread.ts';
import { spreadQuantile } from '../../design/spread.ts';
import { normalLevel } from '../../statistics/quantiles.ts';

/**
 * A place in the space of the unknowns, one number each: the normal quantile of the level that its value has in its prior. There every prior is the
 * standard normal distribution, has no ends, and kernels need not know of bounds.
 */
export type Place = readonly number[];

/** Values at which a model is run to see whether they agree. */
export interface Candidate {
  readonly place: Place;
  /** Of its run; every candidate has luck of its own. */
  readonly seed: number;
}

/** A candidate whose run is there. */
export interface Tried extends Candidate {
  /** How far its run lies from what was observed; endless where it failed or did not reach. */
  readonly distance: number;
  /** What an observer might have written of it, in the order of the targets. */
  readonly written: readonly number[];
}

/** Values of a place, in the units in which the parameters are shown. */
export function valuesAt(place: Place, priors: readonly Spread[]): number[] {
  return priors.map((prior, i) => spreadQuantile(prior, normalLevel(place[i]!)));
}

/** A place drawn from the priors. @param number of the draw */
export function drawnFromPrior(dimensions: number, luck: number, number: number): Place {
  const stream = RandomStream.of(luck, 0, PRIOR, number);
  return Array.from({ length: dimensions }, () => drawNormal(0, 1, stream.word(), stream.word()));
}

const PRIOR = keyOfName('prior of a match');
