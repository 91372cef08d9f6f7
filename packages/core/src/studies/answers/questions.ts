import type { Sensitivity } from './sensitivity.ts';
import type { DesignPoint, StudyJob } from '../design/design.ts';
import type { FactorialEffect } from '../sensitivity/factorial-effects.ts';
import type { Bands } from '../statistics/bands.ts';
import type { Course } from '../statistics/course.ts';
import type { DipTest } from '../statistics/dip.ts';
import type { PairedDifference } from '../statistics/differences.ts';
import type { Estimate, SummaryEstimate } from '../statistics/intervals.ts';
import type { PairFinding, PosteriorBins, UnknownFinding } from '../match/calibration/findings.ts';
import type { BestPoint, Posterior } from '../match/calibration/match-search.ts';
import type { MatchTableRows } from '../match/match-tables.ts';
import type {
  AgreementScores,
  DistributionAgreement,
  PatternAgreement,
  ScoreName,
  SeriesPart,
} from '../match/agreement.ts';
import type { Equations } from '../../mean-field/equations.ts';
import type { ObservedFan } from '../match/observed-fan.ts';
import type { Interval } from '../sensitivity/resample.ts';

/** What a page asks of the results of a study. Answers are small: they do not grow with the number of runs, but for tables and what is asked for. */
export type Question =
  /** A course over the runs, of one point or of all of them. */
  | {
      readonly is: 'fan';
      readonly course: Course;
      readonly point?: string;
      readonly lines: number;
      readonly where?: RunSplit;
    }
  /** Each summary over all runs. */
  | { readonly is: 'outcomes' }
  /** Each summary at each of the first points of the design. */
  | { readonly is: 'points'; readonly most: number }
  /** Each summary over all runs that have the same values of some factors, given by their places. */
  | { readonly is: 'groups'; readonly by: readonly number[] }
  /** Some rows of the table of all runs, filtered as it is typed, in the order of a column by its name. */
  | {
      readonly is: 'run table';
      readonly filter: string;
      readonly sort?: { readonly by: string; readonly down: boolean };
      readonly from: number;
      readonly count: number;
    }
  /** The runs of one point. */
  | { readonly is: 'runs'; readonly point: string }
  /** How the runs of the study, or of one point of it, agree with what they are held against. @see MatchOf */
  | ({ readonly is: 'agreement'; readonly point?: string } & MatchOf)
  /** What the runs give for one series at one time, in base units. */
  | ({ readonly is: 'at a date'; readonly series: number; readonly time: number; readonly point?: string } & MatchOf)
  /** The run that lies nearest to a value of one series at a time. */
  | ({
      readonly is: 'nearest run';
      readonly series: number;
      readonly time: number;
      readonly value: number;
      readonly point?: string;
    } & MatchOf)
  /** The points of the study in the order of a score of one series. */
  | ({
      readonly is: 'ranking';
      readonly series: number;
      readonly part: SeriesPart;
      readonly score: ScoreName;
      /** Points that are told of at most, the best ones. */
      readonly most: number;
      /** Ids of other studies whose points are ranked with those of this one. */
      readonly beside?: readonly string[];
    } & MatchOf)
  /** The well-mixed limit of the model, with the values of a point, as a course. */
  | { readonly is: 'mean field'; readonly course: Course; readonly point?: string }
  /** The same as it would have been observed in a series. */
  | ({ readonly is: 'mean field of a series'; readonly series: number; readonly point?: string } & MatchOf)
  /** What was found to agree, of a study that looks for it. */
  | { readonly is: 'posterior' }
  /** The next runs of such a study, some at a time; none once it is over. */
  | { readonly is: 'next runs' }
  /** The tables of a match, as the command line writes them. */
  | ({ readonly is: 'match tables'; readonly point?: string } & MatchOf)
  /** The values of a summary over all runs. */
  | { readonly is: 'distribution'; readonly summary: number }
  /** How well the mean of a summary is known with more and more seeds. */
  | { readonly is: 'enough'; readonly summary: number }
  /** The most typical run, and those that stand apart, by the course of a measure. */
  | { readonly is: 'apart'; readonly course: Course }
  /** When and how often a course rises to a level, or falls below it. */
  | {
      readonly is: 'crossings';
      readonly course: Course;
      readonly level: number;
      readonly up: boolean;
      readonly point?: string;
    }
  /** In how many runs a condition holds, in the language of checks. */
  | { readonly is: 'outcome'; readonly condition: string }
  /** Main effects and interactions of two factors, of a design of every combination. */
  | { readonly is: 'effects'; readonly summary: number }
  /** How the factors of a sampled design act on a summary. */
  | { readonly is: 'sensitivity'; readonly summary: number }
  /** How the other points differ from one of them, run by run with the same seed. */
  | { readonly is: 'differences'; readonly base: number }
  /** The course of the difference of a measure between two points, run by run with the same seed. */
  | { readonly is: 'difference fan'; readonly course: Course; readonly base: number; readonly other: number }
  /** A table of all runs as CSV. */
  | { readonly is: 'table'; readonly what: ResultTable }
  /** The same as a Parquet file. */
  | { readonly is: 'parquet'; readonly what: ResultTable; readonly facts: Readonly<Record<string, string>> }
  /** About how many bytes both tables have together. */
  | { readonly is: 'table size' }
  /** All finished runs as one block, in bytes. */
  | { readonly is: 'block' }
  /** A checksum over all results, the same on every machine; empty while runs are missing. */
  | {
      readonly is: 'digest';
      /** Of a study that takes as many runs as it needs: it is over, so that runs that are not there were not needed. */
      readonly isOver?: boolean;
      /** A checksum that it will be held against. */
      readonly like?: string;
    };

/** Which text and tables it is held against: the same for the same ones, so that an answer to others is never taken for this one. */
interface MatchOf {
  readonly of: string;
}

/** Some of the runs: those in which a condition of the language holds, or those with a summary below a value; or else the others. Runs of which it cannot be told are in neither. */
export type RunSplit = { readonly holds: boolean } & (
  { readonly condition: string } | { readonly summary: number; readonly below: number }
);

/** Which table of the results: every kept row, or the summaries. */
export type ResultTable = 'rows' | 'summaries';

/** The answer to each kind of question. */
export interface Answers {
  fan: FanAnswer | undefined;
  outcomes: OutcomesAnswer;
  points: readonly PointAnswer[];
  groups: readonly GroupAnswer[];
  'run table': RunTableAnswer;
  runs: readonly RunKey[];
  agreement: AgreementAnswer | undefined;
  'at a date': AtDateAnswer | undefined;
  'nearest run': NearestRunAnswer | undefined;
  ranking: RankingAnswer;
  'mean field': MeanFieldAnswer;
  'mean field of a series': MeanFieldAnswer | undefined;
  posterior: PosteriorAnswer;
  'next runs': readonly StudyJob[];
  'match tables': MatchTableRows | undefined;
  distribution: DistributionAnswer;
  enough: EnoughAnswer;
  apart: ApartAnswer | undefined;
  crossings: CrossingAnswer | undefined;
  outcome: OutcomeAnswer;
  effects: EffectsAnswer | undefined;
  sensitivity: Sensitivity | undefined;
  differences: readonly DifferencesAnswer[];
  'difference fan': Bands | undefined;
  table: string;
  parquet: ArrayBuffer;
  'table size': number;
  block: ArrayBuffer;
  digest: string;
}
/** The answer to one question. */
export type AnswerTo<Q extends Question> = Answers[Q['is']];

/** The well-mixed limit of a model, or the lines of its text that stand in its way. */
export type MeanFieldAnswer =
  MeanFieldLine | { readonly obstacles: readonly { readonly line: number; readonly message: string }[] };

/** A well-mixed limit: its equations, and what is asked of it over time. */
export interface MeanFieldLine extends Equations {
  /** In base units of time; a value each, empty where what is asked has no limit. */
  readonly times: readonly number[];
  readonly values: readonly number[];
  /** Why runs may differ from it. */
  readonly reasons: readonly string[];
  /** Why there are no values. */
  readonly problem?: string;
}

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

/** Each summary over runs that have the same values. */
export interface GroupAnswer {
  /** One a factor by which they are grouped, in the unit in which it is shown. */
  readonly values: readonly number[];
  /** Runs that came to their end. */
  readonly runs: number;
  /** One a summary; of a group without runs they are of 0 runs. */
  readonly estimates: readonly SummaryEstimate[];
}

/** Each summary at one point of a design. */
export type PointAnswer = DesignPoint & GroupAnswer;

/** How much of the variance between the points of a design of every combination each factor, and each pair of them, accounts for. */
export interface EffectsAnswer {
  readonly effects: readonly FactorialEffect[];
  /** Share of the variance over all runs that is luck, NaN with one seed a point. */
  readonly luck: number;
  readonly seeds: number;
}

/** A run in a table. */
export interface RunRow extends RunKey {
  /** Place of its point in the design. */
  readonly place: number;
  /** One a factor. */
  readonly values: readonly number[];
  /** NaN where one is empty. */
  readonly summaries: readonly number[];
}

/** Some rows of the table of all runs. */
export interface RunTableAnswer {
  readonly runs: number;
  /** Runs that pass the filter. */
  readonly matching: number;
  readonly rows: readonly RunRow[];
}

/** How a point differs from another one. */
export interface DifferencesAnswer {
  /** Place of the point in the design. */
  readonly place: number;
  /** One a summary, in the order of the text. */
  readonly summaries: readonly PairedDifference[];
}

/** Values of a summary over runs. */
export interface DistributionAnswer {
  /** In the order of the seeds, empty ones left out. */
  readonly values: readonly number[];
  /** Runs in which it is empty. */
  readonly never: number;
  /** Whether they have one hump; nothing of too few values. */
  readonly dip: DipTest | undefined;
  /** The value between two humps, if there are two. */
  readonly between: number | undefined;
}

/** Half width of the 90 % interval of a mean after so many seeds. */
export interface EnoughAnswer {
  readonly seeds: readonly number[];
  readonly halves: readonly number[];
  /** Of all of them. */
  readonly mean: number;
}

/** A run that lies outside the others for some of its course. */
interface ApartRunAnswer extends RunKey {
  /** Where it first does. */
  readonly step: number;
  readonly isAbove: boolean;
  /** Share of the kept rows in which it does. */
  readonly share: number;
}

/** The most typical run and those that stand apart. */
export interface ApartAnswer {
  readonly typical: RunKey;
  /** Those that are outside longest first. */
  readonly apart: readonly ApartRunAnswer[];
  /** The least typical of the others, with the step at which they lie furthest from the most typical one. */
  readonly unusual: readonly (RunKey & { readonly step: number; readonly isAbove: boolean })[];
  readonly runs: number;
}

/** When and how often a course crosses a level. */
export interface CrossingAnswer {
  /** Time of the first crossing; runs that never cross are counted apart. */
  readonly first: SummaryEstimate;
  /** How often it crosses. */
  readonly times: Estimate;
  /** How long it lies beyond the level. */
  readonly beyond: Estimate;
  readonly runs: number;
  /** The run that crosses first, if any does. */
  readonly earliest: readonly (RunKey & { readonly step: number })[];
}

/** When and how often a course crosses a level. */
export interface CrossingAnswer {
  /** Time of the first crossing; runs that never cross are counted apart. */
  readonly first: SummaryEstimate;
  /** How often it crosses. */
  readonly times: Estimate;
  /** How long it lies beyond the level. */
  readonly beyond: Estimate;
  readonly runs: number;
  /** The run that crosses first, if any does. */
  readonly earliest: readonly (RunKey & { readonly step: number })[];
}

/** In how many runs a condition holds, or why that cannot be told. */
export type OutcomeAnswer =
  | { readonly problem: string }
  | {
      /** Of the runs in which it is yes or no. */
      readonly share: Estimate;
      readonly yes: number;
      /** Runs in which it is empty. */
      readonly never: number;
      /** It was asked of the rows of steps 0, every, 2 every, ... */
      readonly every: number;
      /** The first runs in which it holds. */
      readonly first: readonly RunKey[];
    };

/** An observation, and what the runs give in its place with the error of observing; NaN where none reaches it. */
export interface ObservationAnswer {
  /** In base units. */
  readonly time: number;
  readonly value: number;
  /** Standard deviation of the error of observing; 0 where there is none. */
  readonly error: number;
  readonly isHeldOut: boolean;
  readonly low90: number;
  readonly low50: number;
  readonly median: number;
  readonly high50: number;
  readonly high90: number;
}

/** How one series agrees. */
export interface SeriesAgreement {
  readonly name: string;
  /** What of the model it is compared with, as it is written. */
  readonly expression: string;
  readonly observations: readonly ObservationAnswer[];
  readonly fan: ObservedFan;
  /** Of what is used, if anything is, and of what is held out. */
  readonly used?: AgreementScores;
  readonly heldOut?: AgreementScores;
  readonly patterns: readonly PatternAgreement[];
  readonly distributions: readonly DistributionAgreement[];
}

/** How runs agree with what was observed. */
export interface AgreementAnswer {
  /** Runs that are compared: not more than a thousand, the first of them. */
  readonly runs: number;
  /** Runs that there are. */
  readonly all: number;
  readonly series: readonly SeriesAgreement[];
}

/** What was observed at a time, and what the runs give there with the error of observing. */
export interface AtDateAnswer {
  readonly observed: readonly number[];
  /** Ascending. */
  readonly values: Float64Array;
  readonly runs: number;
}

/** A run with the values that it had, in base units, and what would have been observed of it without an error. */
export interface NearestRunAnswer extends RunKey {
  readonly parameters: readonly number[];
  readonly value: number;
}

/** A point of a study by how well it agrees. */
export interface RankedPoint {
  /** Which study it is of: 0 for the one that was asked, then those beside it. */
  readonly study: number;
  /** Place of the point in its design. */
  readonly place: number;
  readonly runs: number;
  readonly score: Interval;
  /** From the best one, over runs with the same seed; absent for the best one itself. */
  readonly difference?: Interval & { readonly pairs: number };
}

/** Points of one or several studies by how well they agree. */
export interface RankingAnswer {
  /** Points of the studies. */
  readonly all: number;
  /** Those that were ranked: the first of each. */
  readonly ranked: number;
  /** The best ones, the best first. */
  readonly points: readonly RankedPoint[];
}

/** What was found to agree so far. */
export interface PosteriorAnswer {
  /** Runs that are used so far, and most of all. */
  readonly runs: number;
  readonly mostRuns: number;
  /** Whether the search is over and shows what it predicts. */
  readonly isDone: boolean;
  /** Why nothing was found. */
  readonly problem?: string;
  readonly found?: {
    readonly posterior: Posterior;
    /** One an unknown. */
    readonly findings: readonly UnknownFinding[];
    readonly bins: readonly PosteriorBins[];
    readonly pairs: readonly PairFinding[];
  };
  /** Of a search for a best point. */
  readonly best?: BestPoint;
}
