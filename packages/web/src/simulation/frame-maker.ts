import type { LineCourse, Plan, Zones } from '@vole/core';
import { fieldFrame, kindFrame, openedAgent, placeOf, tableFrame, tiesFrame, zoneFrame } from './frames.ts';
import { layersOf } from './layers.ts';
import { NetworkLayout } from './network-layout.ts';
import type { Frame } from './protocol.ts';
import type { RunChapter } from './run-chapter.ts';
import { StateFollower } from './state-follower.ts';

/** More courses of lines than a picture can show. */
const MOST_COURSES = 300;
/** Agents that the bars of a distribution are made of. */
const MOST_IN_BARS = 20_000;

/** Makes the frames that the page gets of a run: what there is to see of a step, and what the page does not have yet. */
export class FrameMaker {
  /** The states that are counted, the kind of the table, the agent whose card is open, and those whose trails are drawn. */
  private follower: StateFollower | undefined;
  private listed: number | undefined;
  private agent: { readonly kind: number; readonly number: number } | undefined;
  private trailed: readonly { readonly kind: number; readonly number: number }[] = [];
  /** Places of agents where the model has none: only a network is drawn. */
  private layout: NetworkLayout | undefined;
  private sentZones: Zones | undefined;
  private areCoursesSent = false;
  private sentRows = 0;
  private sentNotes = 0;

  constructor(private readonly now: () => number) {}

  /** Another stretch of the run is on show: the page has nothing of it. */
  begin({ plan, executable }: RunChapter): void {
    this.layout = plan.spaces.length > 0 || plan.networks.length === 0 ? undefined : new NetworkLayout();
    this.follower?.begin(executable);
    this.sentRows = 0;
    this.sentNotes = 0;
    this.sentZones = undefined;
    this.areCoursesSent = false;
  }

  /** The run was taken back: states are counted from there. */
  takenBack({ executable }: RunChapter): void {
    this.follower?.begin(executable);
  }

  /** Takes a step of the run between two counts of its states. */
  around({ executable, run }: RunChapter, step: () => void): void {
    this.follower?.before(executable);
    step();
    this.follower?.after(executable, run.step);
  }

  /** What came after the step on show is forgotten: it is sent as it will come about now. */
  forgotten({ furthest, notes }: RunChapter): void {
    this.sentRows = Math.min(this.sentRows, furthest + 1);
    this.sentNotes = Math.min(this.sentNotes, notes.length);
  }

  followStates(of: { readonly kind: number; readonly machine: number } | undefined): void {
    this.follower = of && new StateFollower(of.kind, of.machine);
  }

  list(kind: number | undefined): void {
    this.listed = kind;
  }

  open(agent: { readonly kind: number; readonly number: number } | undefined): void {
    this.agent = agent;
  }

  get opened(): { readonly kind: number; readonly number: number } | undefined {
    return this.agent;
  }

  trail(agents: readonly { readonly kind: number; readonly number: number }[]): void {
    this.trailed = agents;
  }

  /** Whether the picture changes while the run stands still. */
  get isSettling(): boolean {
    return this.layout !== undefined && !this.layout.isAtRest;
  }

  make(
    chapter: RunChapter,
    { playing, stepsPerSecond }: Pick<Frame, 'playing' | 'stepsPerSecond'>,
  ): { readonly frame: Frame; readonly transfer: Transferable[] } {
    const { run, executable, plan, furthest } = chapter;
    const { state } = executable;
    const layerCount = layersOf(plan).length;
    const rows = Float64Array.from(chapter.rowData.slice(this.sentRows * run.measureCount));
    const layers = Float32Array.from(chapter.layers.slice(this.sentRows * layerCount));
    this.layout?.settle(executable, this.now);
    const hasMoved = this.sentZones !== state.zones;
    this.sentZones = state.zones;
    const frame: Frame = {
      step: run.step,
      furthest,
      ended: run.hasEnded,
      playing,
      spaces: this.layout
        ? [{ width: this.layout.side, height: this.layout.side }]
        : state.grounds.map(({ space: { width, height } }) => ({ width, height })),
      kinds: plan.kinds.map((_, k) => kindFrame(executable, k, this.layout)),
      fields: state.fields.map((field, i) => fieldFrame(field, boundsOf(plan, i))),
      distributions: plan.charts.map((_, i) => executable.distributionOf(i, MOST_IN_BARS)),
      parameters: run.context.parameters.slice(),
      ties: plan.networks.map((_, n) => tiesFrame(executable, n, this.layout)),
      zones: hasMoved ? state.zones.masks.map(zoneFrame) : undefined,
      courses: this.areCoursesSent ? undefined : coursesOf(chapter),
      states: this.follower?.frame(executable),
      table: this.listed === undefined ? undefined : tableFrame(executable, this.listed),
      off: [...executable.off],
      agent: this.agent && openedAgent(executable, this.agent, this.layout),
      trailed: this.trailed.flatMap((agent) => placeOf(executable, agent, this.layout)),
      refused: run.context.refused,
      stepsPerSecond,
      fromRow: this.sentRows,
      rows,
      layers,
      fromNote: this.sentNotes,
      notes: chapter.notes.slice(this.sentNotes),
    };
    this.areCoursesSent = true;
    this.sentNotes = chapter.notes.length;
    this.sentRows = furthest + 1;
    const transfer = [
      ...frame.kinds.flatMap((kind) => [
        kind.numbers,
        kind.x,
        kind.y,
        kind.direction,
        kind.sizes,
        kind.colours,
        kind.riders,
      ]),
      ...frame.fields.map((field) => field.levels),
      ...frame.ties,
      rows,
      layers,
    ].map((view) => view.buffer as ArrayBuffer);
    return { frame, transfer };
  }
}

function boundsOf(plan: Plan, field: number): { low: number; high: number } | undefined {
  const { bounds, options } = plan.fields[field]!;
  if (options) return { low: 0, high: options.length - 1 };
  const low = bounds?.min.value;
  const high = bounds?.max.value;
  return low?.op === 'number' && high?.op === 'number' ? { low: low.value, high: high.value } : undefined;
}

/** Where the lines of a run go, as many as a picture can show. */
function coursesOf({ executable }: RunChapter): LineCourse[] {
  return executable.state.grounds.flatMap(({ journeys }) => journeys?.courses(MOST_COURSES) ?? []);
}
