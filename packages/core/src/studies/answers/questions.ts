import type { Sensitivity } from './sensitivity.ts';
import type { Bands } from '../statistics/bands.ts';
import type { PairedDifference } from '../statistics/differences.ts';
import type { SummaryEstimate } from '../statistics/intervals.ts';
import type { ObservedPoint, Scores } from '../statistics/scores.ts';

/** What a page asks of the results of a study. Answers are small: they do not grow with the number of runs, but for tables and what is asked for. */
export type Question =
  /** The course of a measure over the runs, of one point or of all of them. */
  | { readonly is: 'fan'; readonly measure: number; readonly point?: string; readonly lines: number }
  /** Each summary over all runs. */
  | { readonly is: 'outcomes' }
  /** Each summary at each of the first points of the design. */
  | { readonly is: 'points'; readonly most: number }
  /** The runs of one point. */
  | { readonly is: 'runs'; readonly point: string }
  /** How one measure agrees with what was observed. */
  | { readonly is: 'scores'; readonly measure: number; readonly observed: readonly ObservedPoint[] }
  /** How the factors of a sampled design act on each summary. */
  | { readonly is: 'sensitivity' }
  /** How the other points differ from one of them, run by run with the same seed. */
  | { readonly is: 'differences'; readonly base: number }
  /** The course of the difference of a measure between two points, run by run with the same seed. */
  | { readonly is: 'difference fan'; readonly measure: number; readonly base: number; readonly other: number }
  /** A table of all runs as CSV. */
  | { readonly is: 'table'; readonly what: ResultTable }
  /** About how many bytes both tables have together. */
  | { readonly is: 'table size' }
  /** A checksum over all results, the same on every machine; empty while runs are missing. */
  | { readonly is: 'digest'; /** A checksum that it will be held against. */ readonly like?: string };

/** Which table of the results: every kept row, or the summaries. */
export type ResultTable = 'rows' | 'summaries';

/** The answer to each kind of question. */
export interface Answers {
  fan: FanAnswer | undefined;
  outcomes: OutcomesAnswer;
  points: readonly PointAnswer[];
  runs: readonly RunKey[];
  scores: Scores | undefined;
  sensitivity: readonly Sensitivity[];
  differences: readonly DifferencesAnswer[];
  'difference fan': Bands | undefined;
  table: string;
  'table size': number;
  digest: string;
}
/** The answer to one question. */
export type AnswerTo<Q extends Question> = Answers[Q['is']];

/** A run that can be opened. */
export interface RunKey {
  readonly seed: number;
  /** Steps it took. */
  readonly steps: number;
}

/** The course of a measure in one run, at the kept steps up to its end. */
export interface RunLine extends RunKey {
  readonly values: Float64Array;
}

/** Bands over runs with some of the runs, at the kept steps. */
export interface FanAnswer {
  readonly bands: Bands;
  /** The first runs, as many as were asked for. */
  readonly lines: readonly RunLine[];
}

/** Each summary over all runs of a study. */
export interface OutcomesAnswer {
  readonly runs: number;
  /** In the order of the text. */
  readonly summaries: readonly OutcomeOfSummary[];
}

export interface OutcomeOfSummary extends SummaryEstimate {
  /** Runs in which a time lies at their very end, so that it was perhaps cut off. */
  readonly atEnd: number;
}

/** Each summary at one point of a design. */
export interface PointAnswer {
  readonly id: string;
  /** One value a factor, in the unit in which it is shown. */
  readonly values: readonly number[];
  /** Runs that came to their end. */
  readonly runs: number;
  /** One a summary; of a point without runs they are of 0 runs. */
  readonly estimates: readonly SummaryEstimate[];
}

/** How a point differs from another one. */
export interface DifferencesAnswer {
  /** Place of the point in the design. */
  readonly place: number;
  /** One a summary, in the order of the text. */
  readonly summaries: readonly PairedDifference[];
}
