import { drawGamma, drawNormal, drawPoisson } from '../../engine/random/laws.ts';
import { RandomStream } from '../../engine/random/stream.ts';

/** How far what an observer writes is from what is there. */
export type ObservingError =
  | { readonly is: 'none' }
  | { readonly is: 'normal'; readonly sd: number }
  /** A normal error with a standard deviation that is a share of what is there. */
  | { readonly is: 'percent'; readonly share: number }
  | { readonly is: 'poisson' }
  /** Counts with more spread than Poisson: variance mean + mean * mean / size. */
  | { readonly is: 'negative binomial'; readonly size: number }
  /** A normal error whose standard deviation stands in the table. */
  | { readonly is: 'column' };

/** Which draw of an error it is; the same gives the same number on every machine. */
export interface ErrorKey {
  readonly seed: number;
  /** Of the series. */
  readonly series: number;
  readonly observation: number;
  readonly draw: number;
}

/**
 * What an observer writes of a value.
 * @param sd of the row, for errors that stand in a column; where it is absent there is none
 */
export function written(value: number, error: ObservingError, sd: number | undefined, key: ErrorKey): number {
  if (Number.isNaN(value) || error.is === 'none') return value;
  const luck = RandomStream.of(key.seed, key.draw, OBSERVER + key.series, key.observation);
  const [a, b] = [luck.word(), luck.word()];
  switch (error.is) {
    case 'normal':
      return drawNormal(value, error.sd, a, b);
    case 'percent':
      return drawNormal(value, error.share * Math.abs(value), a, b);
    case 'column':
      return sd === undefined ? value : drawNormal(value, sd, a, b);
    case 'poisson':
      return value > 0 ? drawPoisson(value, a, b) : 0;
    case 'negative binomial': {
      if (!(value > 0)) return 0;
      const mean = drawGamma(value, error.size, a, b);
      return mean > 0 ? drawPoisson(mean, luck.word(), luck.word()) : 0;
    }
  }
}

/** Standard deviation of what an observer writes, at a value; 0 where there is no error. @param sd of the row, for errors that stand in a column */
export function errorAt(value: number, error: ObservingError, sd: number | undefined): number {
  switch (error.is) {
    case 'none':
      return 0;
    case 'normal':
      return error.sd;
    case 'percent':
      return error.share * Math.abs(value);
    case 'column':
      return sd ?? 0;
    case 'poisson':
      return Math.sqrt(Math.max(0, value));
    case 'negative binomial':
      return Math.sqrt(Math.max(0, value) + (value * value) / error.size);
  }
}

/** Keeps the luck of observers apart from that of any rule. */
const OBSERVER = 0x4f627376;
