import type { LineCourse, Plan } from '@vole/core';
import type { ActNote, Frame, NetworkDraft, NoteRow, Story, WentOn, ZoneFrame } from './protocol.ts';

/** The live run as the page has it. */
export interface LiveState {
  readonly plan: Plan | undefined;
  /** The text of the plan. */
  readonly text: string;
  readonly frame: Frame | undefined;
  /** Rows of measures, one after another, up to the furthest step. */
  readonly rows: Float64Array;
  readonly layers: Float32Array;
  readonly layerNames: readonly string[];
  readonly marks: readonly { readonly step: number; readonly label: string }[];
  readonly acts: readonly ActNote[];
  /** What `log` lines wrote, up to the furthest step: the first of it, if there is very much. */
  readonly notes: readonly NoteRow[];
  readonly zones: readonly ZoneFrame[];
  /** Where lines run. */
  readonly courses: readonly LineCourse[];
  readonly story: Story | undefined;
  /** While a long story is on its way: how many steps it still has to go. */
  readonly tellingLeft: number | undefined;
  readonly draft: NetworkDraft | undefined;
  /** Agents whose trails are drawn. */
  readonly trailed: readonly { readonly kind: number; readonly number: number }[];
  readonly stepLimit: number;
  readonly seed: number;
  /** What was carried over when the run went on with a new text; absent if this text ran from the start. */
  readonly wentOn: WentOn | undefined;
  /** The step at which this text gave way to a newer one, if the run is on show as it was before. */
  readonly until: number | undefined;
  /** Step the run is on its way to, by a wish of the modeler. */
  readonly target: number | undefined;
}

/** Before there is a run. */
export const EMPTY: LiveState = {
  plan: undefined,
  text: '',
  frame: undefined,
  rows: new Float64Array(0),
  layers: new Float32Array(0),
  layerNames: [],
  marks: [],
  acts: [],
  notes: [],
  zones: [],
  courses: [],
  story: undefined,
  tellingLeft: undefined,
  draft: undefined,
  trailed: [],
  stepLimit: 0,
  seed: 1,
  wentOn: undefined,
  until: undefined,
  target: undefined,
};
