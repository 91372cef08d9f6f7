import type { Amount } from '../plan/at-most.ts';
import type * as P from '../plan/plan.ts';
import type { CellsAsked } from './cells-asked.ts';
import type { CircleAsked, ColumnBefore, MaskOf, RoomOf, TurnColumn, TurnNumber } from './turn-reads.ts';

/** What is known of the kernel of a line of the order, beside its code. */

/**
 * A kernel that gives agents their turns, from one slot, or place in the order, up to below another; it is given those two first, then the two keys of
 * luck; where rules share turns, of each rule whether it is due and its keys. It gives -1, or the slot of the agent whose turn failed, or at which turn it has to have more room.
 */
export interface RuleKernel {
  readonly name: string;
  /** The rules whose turns they are: several share the turns of their kinds. */
  readonly rules: readonly P.RulePlan[];
  /** The kinds who have turns, in the order in which their slots follow one another. */
  readonly kinds: readonly number[];
  /** Whether it goes through agents in an order that is made before. */
  readonly isOrdered: boolean;
  /** Whether several threads may do parts of it. */
  readonly maySplit: boolean;
  /** Whether it goes by how many are in each state, or keeps that up. */
  readonly countsStates: boolean;
  /** How much it may note in one turn, and whether it takes notes in memory. */
  readonly notes: Amount;
  readonly takesNotes: boolean;
  /** The kinds that agents come to or leave. */
  readonly joined: readonly number[];
  /** The cells that have to be laid out for it. */
  readonly cells: readonly CellsAsked[];
  /** The kinds whose agents have to be sorted by bucket before. */
  readonly sorted: readonly number[];
  /** Of these the kinds of whom it is kept up meanwhile who is in which. */
  readonly keptUp: readonly number[];
  /** The circles of squares in which it asks for agents. */
  readonly circles: readonly CircleAsked[];
  /** The zones that it asks for. */
  readonly masks: readonly MaskOf[];
  /** The kinds of whom it has to be counted before how many live in each block of slots. */
  readonly inBlocks: readonly number[];
  /** The networks of which it goes through rows, and those of which it reads or writes what ties hold. */
  readonly rows: readonly number[];
  readonly ties: readonly number[];
  /** The columns that it reads as they were before it. */
  readonly before: readonly ColumnBefore[];
  /** The lists that it has to have room for. */
  readonly lists: readonly { readonly is: 'list' | 'weights'; readonly list: number; readonly of: RoomOf }[];
  /** Kernels for what becomes of agents whose machines it sets all at once. */
  readonly changes: readonly ChangeKernel[];
  readonly columns: readonly TurnColumn[];
  readonly numbers: readonly TurnNumber[];
}

/** The kernel for what becomes of agents of which others have set a machine all at once. */
export interface ChangeKernel {
  readonly kind: number;
  readonly machine: number;
  /** It goes through slots as turns in fixed order do. */
  readonly turns: RuleKernel;
}
