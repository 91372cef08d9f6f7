import type { Population } from '../engine/population.ts';
import type { Network } from '../engine/spaces/network.ts';

/** How those outside of a run read it: by agents and ties, never by the columns they are kept in. Nothing read here may be kept beyond a step. */

type Numbers = Float32Array | Float64Array | Int32Array | Uint8Array;

/** Something that each agent of a kind has a number of. */
export type AgentColumn =
  | { readonly is: 'number' | 'x' | 'y' | 'direction' }
  | { readonly is: 'attribute'; readonly column: number }
  | { readonly is: 'state'; readonly machine: number };

/** One agent. */
export interface AgentReading {
  readonly x: number;
  readonly y: number;
  readonly direction: number;
  attribute(column: number): number;
  state(machine: number): number;
  /** When a duration ends, in time of the run; of one that is over, some time before now. */
  due(column: number): number;
}

/** The living agents of a kind, in order of number. */
export class AgentsReader {
  constructor(private readonly population: Population) {}

  get count(): number {
    return this.population.living;
  }

  /** Of the latest agent of whom there is still a trace; 0 if there never was one. */
  get lastNumber(): number {
    const { number, used } = this.population;
    return number[used - 1] ?? 0;
  }

  /** Writes a column, one number an agent, as far as `out` reaches. */
  into<T extends Numbers>(of: AgentColumn, out: T): T {
    const { alive, used, living } = this.population;
    const column = this.columnOf(of);
    if (living === used) out.set(column.subarray(0, Math.min(used, out.length)));
    else
      for (let slot = 0, n = 0; slot < used && n < out.length; slot++) if (alive[slot]! & 1) out[n++] = column[slot]!;
    return out;
  }

  numbers(): Int32Array {
    return this.into({ is: 'number' }, new Int32Array(this.count));
  }

  states(machine: number): Uint8Array {
    return this.into({ is: 'state', machine }, new Uint8Array(this.count));
  }

  /** The agent with a number, if it is there. */
  one(number: number): AgentReading | undefined {
    const { population } = this;
    const slot = population.slotOf(number);
    if (slot < 0) return undefined;
    return {
      x: population.x[slot]!,
      y: population.y[slot]!,
      direction: population.direction[slot]!,
      attribute: (column) => population.attributes[column]![slot]!,
      state: (machine) => population.states[machine]![slot]!,
      due: (column) => population.due[column]![slot]!,
    };
  }

  private columnOf(of: AgentColumn): Numbers {
    const { population } = this;
    if (of.is === 'attribute') return population.attributes[of.column]!;
    return of.is === 'state' ? population.states[of.machine]! : population[of.is];
  }
}

/** An agent, by its kind and number. */
export interface AgentKey {
  readonly kind: number;
  readonly number: number;
}

/** The ties of a network, in the order in which they were made. */
export class TiesReader {
  constructor(
    private readonly network: Network,
    private readonly fromAgents: Population,
    private readonly toAgents: Population,
  ) {}

  /** Kind of those at the first end. */
  get from(): number {
    return this.network.from;
  }

  get to(): number {
    return this.network.to;
  }

  get count(): number {
    return this.network.living;
  }

  /** Ties that were ever made. */
  get made(): number {
    return this.network.nextSerial;
  }

  /** Numbers of the agents at both ends of each tie, one after another. @param most ties that are given */
  ends(most = Infinity): Int32Array {
    const { network, fromAgents, toAgents } = this;
    const out = new Int32Array(2 * Math.min(network.living, most));
    for (let tie = 0, n = 0; n < out.length; tie++) {
      if (!network.there[tie]) continue;
      out[n++] = fromAgents.number[network.a[tie]!]!;
      out[n++] = toAgents.number[network.b[tie]!]!;
    }
    return out;
  }

  /** Values that ties have in a column, in the same order. */
  column(column: number): Float64Array {
    const values = this.network.columns[column]!;
    return Float64Array.from(this.network.list, (tie) => values[tie]!);
  }

  /** Places of both ends of each tie: x and y of the first, x and y of the second. @param most ties that are given */
  places(most: number): Float32Array {
    const { network, fromAgents, toAgents } = this;
    const out = new Float32Array(4 * Math.min(network.living, most));
    for (let tie = 0, n = 0; n < out.length; tie++) {
      if (!network.there[tie]) continue;
      const [a, b] = [network.a[tie]!, network.b[tie]!];
      out[n++] = fromAgents.x[a]!;
      out[n++] = fromAgents.y[a]!;
      out[n++] = toAgents.x[b]!;
      out[n++] = toAgents.y[b]!;
    }
    return out;
  }

  /** Whom an agent is tied to, whichever way; nothing if its kind has no part in the network, or it is not there. */
  partnersOf({ kind, number }: AgentKey): AgentKey[] | undefined {
    const { from, to, rows } = this.network;
    if (kind !== from && kind !== to) return undefined;
    const slot = (kind === from ? this.fromAgents : this.toAgents).slotOf(number);
    if (slot < 0) return undefined;
    // A network of one kind without a direction keeps all in one side; else who ties has the first, who is tied the second.
    const sides = rows
      .map((row, side) => ({
        row,
        other: side === 0 ? to : from,
        agents: side === 0 ? this.toAgents : this.fromAgents,
      }))
      .filter((_, side) => rows.length === 1 || (side === 0 ? kind === from : kind === to));
    return sides.flatMap(({ row, other, agents }) =>
      Array.from({ length: row.length[slot] ?? 0 }, (_, i) => ({
        kind: other,
        number: agents.number[row.other[row.start[slot]! + i]!]!,
      })),
    );
  }
}
