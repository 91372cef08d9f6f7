import type { CellValues } from '../forms/space.ts';
import type { CellList } from '../engine/cells.ts';
import type { MessageQueue } from '../engine/message-queue.ts';
import type { Population } from '../engine/population.ts';
import type { FieldGrid } from '../forms/space.ts';
import type { CellCounts } from '../engine/spaces/cell-counts.ts';
import type { Network } from '../engine/spaces/network.ts';
import type { Tally } from '../engine/tallies.ts';
import type { Trace } from '../engine/trace.ts';
import type { RunContext } from '../engine/run-context.ts';
import type { NetworkMeasure } from '../measures/network-measures.ts';
import type * as P from '../plan/plan.ts';
import type { SpaceOfRun, Zones } from '../plan/start-space.ts';
import type { WriteLog } from './write-log.ts';

/** What generated code is bound to, and what it gives: the two sides of the seam between its text and the executable that runs it. */
export type Binder = (context: RunContext, state: GeneratedState, engine: object) => Bound;

export interface Bound {
  readonly values: readonly (() => number)[];
  readonly fieldStarts: readonly (((out: CellValues, key0: number, key1: number) => void) | null)[];
  readonly fieldGrows: readonly (((out: CellValues, key0: number, key1: number) => void) | null)[];
  /** What a cell keeps of a value, where bounds look at the cell. */
  readonly fieldKeeps: readonly (((value: number, cell: number) => number) | null)[];
  readonly fieldBecomes: readonly (((out: CellValues, key0: number, key1: number) => void) | null)[];
  readonly cellLists: readonly (readonly (((cells: Int32Array) => number) | null)[])[];
  readonly changes: readonly (readonly ((slot: number, state: number, key0: number, key1: number) => void)[])[];
  readonly reactions: readonly ((slot: number, row: number, key0: number, key1: number) => void)[];
  readonly tieFirsts: readonly (readonly ((tie: number, key0: number, key1: number) => number)[])[];
  readonly tieAgents: readonly (((slot: number) => number) | null)[];
  /** What an agent has of what a chart shows the distribution of. */
  readonly distributions: readonly (((slot: number) => number) | null)[];
  readonly recordWhens: readonly (((slot: number) => number) | null)[];
  readonly records: readonly (readonly ((slot: number) => number)[] | null)[];
  readonly starts: readonly (readonly ((count: number, key0: number, key1: number) => void)[])[];
  readonly exacts: readonly (readonly (readonly ((slot: number, key0: number, key1: number) => void)[])[])[];
  readonly entries: readonly ((() => void) | null)[];
  readonly acts: readonly (() => void)[];
  readonly sizes: readonly (((out: Float64Array) => void) | null)[];
  readonly colours: readonly (((out: Float64Array) => void) | null)[];
}

/** Scratch lists, one a query. */
export class Lists {
  private readonly slots: Int32Array[] = [];
  private readonly numbers: Float64Array[] = [];

  get(id: number, size: number): Int32Array {
    const list = this.slots[id];
    if (list && list.length >= size) return list;
    return (this.slots[id] = new Int32Array(Math.max(64, size * 2)));
  }

  values(id: number, size: number): Float64Array {
    const list = this.numbers[id];
    if (list && list.length >= size) return list;
    return (this.numbers[id] = new Float64Array(Math.max(64, size * 2)));
  }
}

/** Of kernels for changes of machines, by kind and machine (`0:1`), what they are given beside their keys. */
export type GivenToChanges = Readonly<Record<string, () => readonly number[]>>;

/** What generated code sees of a run besides its context. */
export interface GeneratedState {
  readonly populations: readonly Population[];
  readonly fields: readonly FieldGrid[];
  readonly lists: Lists;
  readonly log: WriteLog;
  readonly grounds: readonly SpaceOfRun[];
  readonly networks: readonly Network[];
  readonly tallies: readonly Tally[];
  readonly tables: P.Plan['tables'];
  readonly mail: MessageQueue;
  readonly zones: Zones;
  readonly cellList: CellList;
  /** What waits for the end of a rule that acts all at once. */
  readonly later: (() => void)[];
  readonly recording: boolean;
  /** How many stand on each cell of the space, obstacles counted as one; empty where it does not matter. */
  readonly occupied: readonly Int32Array[];
  /** How many agents are in each state, by counter, of kinds that nobody joins or leaves; to be counted anew while open. */
  readonly inState: Float64Array;
  readonly areStatesOpen: boolean;
  readonly countStates: () => void;
  readonly trace: Trace;
  readonly turnCount: number;
  readonly turns: (kinds: readonly Pick<Population, 'alive' | 'used'>[], key: number, shuffled: boolean) => Int32Array;
  /** Whose turns come before that of the agent which failed and have not been had, the agents having been gone through in another order. */
  readonly turnsBefore: (
    kind: Population,
    began: Uint8Array,
    key: number | undefined,
    order: Int32Array | undefined,
    at: number,
  ) => Int32Array;
  /**
   * Gives the agents of a line of the order their turns by its kernel.
   * @param drawn the key by which the order of the turns is drawn, if it is
   * @returns whether it did: kernels that go through cells need one agent at most on each, and reaches that do not meet themselves round the edge
   */
  readonly turnsByKernel: (entry: number, given: readonly number[], drawn: number | undefined) => boolean;
  readonly total: () => number;
  /** How many of a kind, in states of a machine or all of it (-1), stand on each cell; by a name of its own. */
  readonly cellCounts: (name: string, kind: number, machine: number, states: readonly number[]) => CellCounts;
  readonly removeAt: (kind: number, slot: number) => void;
  readonly settle: (rule: number) => void;
  readonly settleMoves: (kind: number, rule: number) => void;
  /** @param byKernel what kernels for changes are given beside their keys, by kind and machine */
  readonly settleChanges: (rule: number, byKernel: GivenToChanges) => void;
  readonly runLater: () => void;
  readonly countCells: () => void;
  readonly holdField: (field: number) => CellValues;
  /** Brings all values of a field within its bounds, wherever they lie by then. */
  readonly keepInBounds: (field: number) => void;
  readonly tie: (network: number, a: number, b: number, values: readonly number[]) => void;
  readonly untie: (network: number, a: number, b: number) => void;
  readonly isolate: (network: number, side: number, slot: number) => void;
  readonly networkMeasure: (which: NetworkMeasure, network: number) => number;
  readonly note: (site: number, numbers: readonly number[], kind: number, slot: number) => void;
  readonly recordRow: (record: number, values: readonly number[]) => void;
  readonly endOfRule: () => void;
  readonly failAboard: (site: number, kind: number, slot: number) => never;
  readonly failNoWay: (site: number, kind: number, slot: number) => never;
  readonly failNobody: (site: number, kind: number, slot: number) => never;
  readonly fail: (site: number, value: number, kind: number, slot: number) => never;
  readonly failCount: (site: number, value: number, kind: number, slot: number) => never;
  readonly failCeiling: (site: number) => never;
  readonly failRounds: (site: number, kind: number, slot: number) => never;
}
