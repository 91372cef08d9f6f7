import type { Population } from '../engine/population.ts';
import { RandomStream, shuffleInPlace } from '../engine/random/stream.ts';
import type { RunState } from '../state/run-state.ts';

/** What of a kind is asked for the order of its turns. */
type Turns = Pick<Population, 'alive' | 'used'>;

/** In which order agents have their turns, in lists that are used again and again. */
export class TurnOrder {
  /** How many turns the list has that was given last. */
  count = 0;
  private list = new Int32Array(64);

  /** @param shuffle puts so many of a list that kernels reach in the order that a key draws, if it can */
  constructor(
    private readonly state: Pick<RunState, 'context' | 'room'>,
    private readonly shuffle: (list: Int32Array, many: number, key: number) => boolean,
  ) {}

  /** Who has a turn, in which order; with several kinds, slots follow one another kind by kind. */
  of(kinds: readonly Turns[], key: number, shuffled: boolean): Int32Array {
    const { seed, step } = this.state.context;
    let room = 0;
    for (const population of kinds) room += population.used;
    const list = this.room(room);
    let n = 0;
    let from = 0;
    for (const { alive, used } of kinds) {
      for (let slot = 0; slot < used; slot++) if (alive[slot]! & 1) list[n++] = from + slot;
      from += used;
    }
    if (shuffled && n > 1) {
      const isInReach = list === this.state.room?.turnOrder.column;
      if (!isInReach || !this.shuffle(list, n, key)) shuffleInPlace(list, n, RandomStream.of(seed, step, key));
    }
    this.count = n;
    return list;
  }

  /** A list with so much room; where kernels go through drawn orders, it is one that they reach. */
  private room(room: number): Int32Array {
    const inReach = this.state.room?.turnOrder.column;
    if (inReach && inReach.length >= room) return inReach;
    if (this.list.length < room) this.list = new Int32Array(room * 2);
    return this.list;
  }

  /** Whose turns come before that of the agent which failed and have not been had, the agents having been gone through in another order. */
  before(
    { used }: Turns,
    began: Uint8Array,
    key: number | undefined,
    order: Int32Array | undefined,
    at: number,
  ): Int32Array {
    const had = new Uint8Array(used);
    for (let i = 0; i < at; i++) had[order ? order[i]! : i] = 1;
    const failed = order ? order[at]! : at;
    const turns = this.of([{ alive: began, used }], key ?? 0, key !== undefined).slice(0, this.count);
    const before = turns.subarray(0, turns.indexOf(failed)).filter((slot) => !had[slot]);
    this.count = before.length;
    return before;
  }
}
