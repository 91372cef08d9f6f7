import type { InputSeries } from './input-series.ts';
import type { MessageQueueView } from './message-queue.ts';
import type { RunContext } from './run-context.ts';

/** A value that the run asks for: a measure, a condition, a time. */
type Ask = () => number;

type ExecutableWhen =
  | { readonly is: 'at'; readonly time: Ask }
  | { readonly is: 'from'; readonly from: Ask; readonly to: Ask }
  | { readonly is: 'every'; readonly period: Ask }
  | { readonly is: 'every year on'; readonly month: number; readonly day: number }
  | { readonly is: 'every day'; readonly weekday: number; readonly hours: number }
  | { readonly is: 'when' | 'whenever' | 'each time' | 'while'; readonly condition: Ask };

export interface ExecutableTimelineLine {
  readonly when: ExecutableWhen;
  readonly overrides: readonly { readonly parameter: number; readonly value: Ask }[];
  readonly act: () => void;
}

/** A population as others may see it, for comparing engines and for tables. */
export interface PopulationView {
  readonly numbers: readonly number[];
  readonly x: readonly number[];
  readonly y: readonly number[];
  readonly direction: readonly number[];
  readonly attributes: readonly (readonly number[])[];
  readonly states: readonly (readonly number[])[];
  readonly due: readonly (readonly number[])[];
}

/** A whole state as plain lists: agents in order of number, places in the units of the text, times in those of the clock. */
export interface StateView {
  readonly populations: readonly PopulationView[];
  readonly fields: readonly (readonly number[])[];
  /** Ties in the order of their making: numbers of the agents at both ends, and values by attribute. */
  readonly networks: readonly {
    readonly a: readonly number[];
    readonly b: readonly number[];
    readonly values: readonly (readonly number[])[];
  }[];
  readonly tallies: readonly (readonly number[])[];
  readonly mail: MessageQueueView;
}

/** Rows that a record has kept so far: step, then for a kind the number of the agent, then its values. */
export interface RecordRows {
  readonly width: number;
  readonly data: readonly number[];
}

/** The living part of a model, made from its plan by the interpreter or by generated code; the run calls it step by step. */
export interface Executable {
  readonly context: RunContext;
  /** Makes fields and agents for the seed and parameters in `context`. */
  start(): void;
  /** Empties what lasts for a step only. */
  beginStep(): void;
  /** A round of messages: 0 as the step begins, i + 1 after entry i. */
  deliver(round: number): void;
  /** Whether records are kept; off at first, as they can be large. */
  recording: boolean;
  /** Takes the records of kinds that are due in this step. */
  record(): void;
  readonly records: readonly RecordRows[];
  readonly entries: readonly (() => void)[];
  readonly timeline: readonly ExecutableTimelineLine[];
  /** Variables whose values tables give. */
  readonly inputs: readonly InputSeries[];
  readonly measures: readonly Ask[];
  /** The order in which they are taken: each after those that it reads. */
  readonly measureOrder: readonly number[];
  readonly endAfter: Ask;
  readonly endWhen: readonly Ask[];
  readonly finals: readonly Ask[];
  /** How many agents of a kind there are. */
  living(kind: number): number;
  snapshot(): ArrayBuffer[];
  restore(parts: readonly ArrayBuffer[]): void;
  view(): StateView;
}
