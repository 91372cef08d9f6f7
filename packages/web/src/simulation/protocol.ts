import type { LineCourse, Diagnostic, FailureFacts, HandAct, Plan, TraceEvent, Leg } from '@vole/core';

/** Messages between the page and its workers. All are plain and can be cloned. */

export type WatchRequest =
  | {
      readonly is: 'load';
      readonly text: string;
      readonly version: number;
      readonly seed: number;
      readonly parameters: Readonly<Record<string, number>>;
      readonly step?: number;
      /** With a text that means something else, who is there is carried over. */ readonly goesOn?: boolean;
    }
  | {
      readonly is: 'restart';
      readonly seed: number;
      readonly parameters: Readonly<Record<string, number>>;
      readonly step?: number;
    }
  /** Runs again from the start, up to a step: the run on show with its acts and changes of the text, or one that was noted elsewhere. */
  | {
      readonly is: 'run again';
      readonly step?: number;
      readonly seed?: number;
      readonly chapters?: readonly ChapterNote[];
    }
  /** Asks for all that is needed to run the run on show again. */
  | { readonly is: 'note chapters' }
  | { readonly is: 'play'; readonly playing: boolean }
  | { readonly is: 'pace'; readonly stepsPerSecond: number }
  | { readonly is: 'step' }
  | { readonly is: 'go to'; readonly step: number }
  /** Goes on until a condition in the model language holds. */
  | { readonly is: 'run until'; readonly condition: string }
  | { readonly is: 'act'; readonly act: HandAct }
  | { readonly is: 'forget act'; readonly index: number }
  | { readonly is: 'follow states'; readonly of: { readonly kind: number; readonly machine: number } | undefined }
  | { readonly is: 'open agent'; readonly kind: number; readonly number: number }
  | { readonly is: 'close agent' }
  /** Agents whose places come with every frame, for their trails. */
  | { readonly is: 'trail agents'; readonly agents: readonly { readonly kind: number; readonly number: number }[] }
  /** Gives a block of memory that both sides see: see `PULSE`. */
  | { readonly is: 'pulse'; readonly pulse: Int32Array }
  /** Sends all agents of a kind with every frame, or with none no more. */
  | { readonly is: 'list agents'; readonly kind: number | undefined }
  | ({ readonly is: 'take' } & TakeWish)
  /** Tells what the opened agent went through in the step on show, and how it came to be so. */
  | { readonly is: 'why' }
  /** Makes a network of the text as it is made at the start of a run with a seed. */
  | { readonly is: 'draft network'; readonly network: number; readonly seed: number }
  | { readonly is: 'frame drawn' };

/**
 * Places in the block by which the page sees where the watch worker is while it does not answer: the step; which entry of the order acts in it
 * (-1 before them, -2 in the start); turns of its work so far; whether it is at work; the version of the text it took up last.
 */
export const PULSE = { step: 0, entry: 1, turns: 2, busy: 3, version: 4, length: 5 } as const;

/** A field or a network as it stands, to be written as a file. */
export interface TakeWish {
  readonly what: 'field' | 'network';
  /** Its place in the plan. */
  readonly index: number;
  /** What it is of, a line each. */
  readonly about: readonly string[];
}

export interface KindFrame {
  readonly count: number;
  readonly numbers: Int32Array;
  readonly x: Float32Array;
  readonly y: Float32Array;
  /** Empty if they are drawn as something that looks the same when turned. */
  readonly direction: Float32Array;
  /** Empty if all have size 1. */
  readonly sizes: Float32Array;
  /** Class index, or a number on a scale; empty if the kind has one colour. */
  readonly colours: Float32Array;
  /** How many ride in each; empty if the kind is none of vehicles. */
  readonly riders: Int32Array;
}

export interface FieldFrame {
  readonly columns: number;
  readonly rows: number;
  /** 0 to 255 over the range from `low` to `high`. */
  readonly levels: Uint8Array;
  readonly low: number;
  readonly high: number;
  /** Whether a few values lie outside of the range. */
  readonly isCut: boolean;
  readonly mean: number;
}

export interface OpenedAgent {
  readonly kind: number;
  readonly number: number;
  readonly gone: boolean;
  readonly x: number;
  readonly y: number;
  readonly direction: number;
  readonly attributes: readonly number[];
  readonly states: readonly { readonly state: number; readonly due: number | undefined }[];
  /** Of each network that the kind is in: how many ties, and to whom the first of them lead. */
  readonly ties: readonly {
    readonly network: number;
    readonly count: number;
    readonly others: readonly { readonly kind: number; readonly number: number }[];
  }[];
  /** Where it is bound with lines, part by part. */
  readonly journey?: readonly Leg[];
}

/** What an agent went through in a step, and its last steps before it. */
export interface Story {
  readonly kind: number;
  readonly number: number;
  readonly step: number;
  readonly events: readonly TraceEvent[];
  readonly history: readonly {
    readonly step: number;
    readonly attributes: readonly number[];
    readonly states: readonly number[];
  }[];
}

/** All agents of a kind with what they are, at most so many as a table holds. */
export interface AgentTable {
  readonly kind: number;
  readonly numbers: Int32Array;
  /** One list for each attribute, then one for each state machine, then x and y in a space. */
  readonly columns: readonly Float64Array[];
  /** Of vehicles how many ride in them, of riders the number of the vehicle, 0 without one; under names of their own. */
  readonly riding: readonly { readonly name: string; readonly values: Float64Array }[];
}

/** An act by hand, before a step was taken. */
export interface ActNote {
  readonly step: number;
  readonly act: HandAct;
  /** Of a parameter or attribute: what it was before. */
  readonly from?: number;
}

export interface ZoneFrame {
  readonly columns: number;
  readonly rows: number;
  readonly cell: number;
  readonly inside: Uint8Array;
}

/** How agents of one kind go from state to state in a machine. */
export interface StateFlows {
  readonly kind: number;
  readonly machine: number;
  readonly counts: readonly number[];
  /** Changes in the last step, from state i to state j at `i * states + j`. */
  readonly flows: readonly number[];
  /** Lengths of finished stays in base units of time, by state, since the run was begun or taken back; the newest 4,000 each. */
  readonly stays: readonly Float32Array[];
}

/** A network before any step: measured, and laid out to be drawn unless there are too many agents. */
export interface NetworkDraft {
  readonly network: number;
  readonly seed: number;
  readonly ties: number;
  /** Of each agent to how many it is tied. */
  readonly degrees: Int32Array;
  readonly components: number;
  /** Agents in the largest component. */
  readonly largest: number;
  readonly clustering: number;
  /** Mean over all that can be reached, from a part of the agents. */
  readonly pathLength: number;
  /** Places from 0 to 1. */
  readonly x: Float32Array;
  readonly y: Float32Array;
  /** The two ends of each tie, as places in the lists. */
  readonly ends: Int32Array;
}

/** A stretch of a run under one text, as it can be run again. */
export interface ChapterNote {
  readonly text: string;
  /** The step at which the text was taken up. */
  readonly from: number;
  /** Values of the parameters at the start; those of later chapters follow from the texts. */
  readonly values: Readonly<Record<string, number>>;
  readonly acts: readonly ActNote[];
}

/** The stretch of the run that is on show. */
export interface ShownChapter {
  readonly plan: Plan;
  readonly text: string;
  /** Since when this text runs, if the run went on with it from another one. */
  readonly wentOn: WentOn | undefined;
  /** The step at which the text changed, if it is not the newest one. */
  readonly until: number | undefined;
  readonly stepLimit: number;
  readonly layerNames: readonly string[];
  readonly seed: number;
}

/** What a `log` line of the text wrote. */
export interface NoteRow {
  readonly step: number;
  /** As it is named, such as `Vole 7`; empty where nobody acted. */
  readonly agent: string;
  /** The line of the text as it was then, from 1. */
  readonly line: number;
  readonly text: string;
}

/** What became of those who were there when the text changed. */
export interface WentOn {
  readonly step: number;
  readonly carried: readonly string[];
  readonly anew: readonly string[];
}

export interface Frame {
  readonly step: number;
  /** The furthest step that was ever reached with these acts; the ribbon goes up to it. */
  readonly furthest: number;
  readonly ended: boolean;
  readonly playing: boolean;
  /** Sizes of the spaces; without any, of the picture in which ties are laid out. */
  readonly spaces: readonly { readonly width: number; readonly height: number }[];
  readonly kinds: readonly KindFrame[];
  readonly fields: readonly FieldFrame[];
  /** By chart of the plan, what agents have of what it shows the distribution of. */
  readonly distributions: readonly { readonly values: Float64Array; readonly of: number }[];
  readonly parameters: Float64Array;
  /** Ends of the ties of each network, as x, y, x, y; at most so many as can be told apart. */
  readonly ties: readonly Float32Array[];
  /** Sent when they have changed. */
  readonly zones?: readonly ZoneFrame[];
  /** Where lines run; sent once. */
  readonly courses?: readonly LineCourse[];
  readonly states?: StateFlows;
  readonly table?: AgentTable;
  /** Lines of the order that are switched off. */
  readonly off: readonly number[];
  readonly agent?: OpenedAgent;
  /** Where those are whose trails are drawn, as far as they are there. */
  readonly trailed: readonly {
    readonly kind: number;
    readonly number: number;
    readonly x: number;
    readonly y: number;
  }[];
  readonly refused: number;
  readonly stepsPerSecond: number;
  /** Rows from `fromRow` on, that the page does not have yet. */
  readonly fromRow: number;
  readonly rows: Float64Array;
  readonly layers: Float32Array;
  /** Notes from `fromNote` on, that the page does not have yet. */
  readonly fromNote: number;
  readonly notes: readonly NoteRow[];
}

export type WatchReply =
  | {
      readonly is: 'checked';
      readonly version: number;
      readonly diagnostics: readonly Diagnostic[];
      /** Whether the text is free of errors; else the last good run stays. */
      readonly hasPlan: boolean;
      /** Whether the run was started anew, because what the text means has changed. */
      readonly restarted: boolean;
      /** Absent as long as no text was right. */
      readonly shown: ShownChapter | undefined;
    }
  /** Another stretch of the run is on show, from the next frame on. */
  | { readonly is: 'shown'; readonly shown: ShownChapter }
  | { readonly is: 'chapters'; readonly chapters: readonly ChapterNote[]; readonly step: number }
  | {
      readonly is: 'frame';
      readonly frame: Frame;
      readonly marks: readonly { readonly step: number; readonly label: string }[];
      readonly acts: readonly ActNote[];
    }
  /** The field or network that was asked for, as the text of a file; nothing as long as there is no run. */
  | { readonly is: 'taken'; readonly text: string | undefined }
  | { readonly is: 'refused'; readonly why: string }
  | { readonly is: 'story'; readonly story: Story }
  /** A long story is on its way. */
  | { readonly is: 'telling'; readonly stepsLeft: number }
  | { readonly is: 'draft'; readonly draft: NetworkDraft }
  | { readonly is: 'failed'; readonly diagnostic: Diagnostic; readonly facts: FailureFacts; readonly step: number };
