import type { GeneratedScript } from '@vole/core';
import type { StateFlows } from './protocol.ts';

const MOST_STAYS = 4000;

/** Counts how the agents of a kind go from state to state in a machine, and how long they stay. */
export class StateFollower {
  private states: Uint8Array | number[] = [];
  private numbers: Int32Array | number[] = [];
  private readonly since = new Map<number, number>();
  private flows: number[] = [];
  private stays: number[][] = [];

  constructor(
    private readonly kind: number,
    private readonly machine: number,
  ) {}

  /** Forgets stays under way: the run stands elsewhere now. */
  begin(script: GeneratedScript): void {
    this.since.clear();
    this.flows = [];
    this.stays = this.statesOf(script).map(() => []);
  }

  private statesOf(script: GeneratedScript): readonly string[] {
    return script.plan.kinds[this.kind]?.machines[this.machine]?.states ?? [];
  }

  before(script: GeneratedScript): void {
    const population = script.populations[this.kind];
    const states = population?.states[this.machine];
    if (!population || !states) return;
    this.states = Uint8Array.from(states.subarray(0, population.used));
    this.numbers = population.number.slice(0, population.used);
  }

  after(script: GeneratedScript, step: number): void {
    const population = script.populations[this.kind];
    const states = population?.states[this.machine];
    if (!population || !states) return;
    const size = this.statesOf(script).length;
    if (this.stays.length !== size) this.begin(script);
    this.flows = new Array<number>(size * size).fill(0);
    // Both lists rise with the numbers of the agents.
    let old = 0;
    for (let slot = 0; slot < population.used; slot++) {
      if (!(population.alive[slot]! & 1)) continue;
      const number = population.number[slot]!;
      while (old < this.numbers.length && this.numbers[old]! < number) old++;
      if (this.numbers[old] !== number) {
        this.since.set(number, step);
        continue;
      }
      const [from, to] = [this.states[old]!, states[slot]!];
      if (from === to) continue;
      this.flows[from * size + to]!++;
      const began = this.since.get(number);
      if (began !== undefined) {
        const list = this.stays[from]!;
        if (list.length >= MOST_STAYS) list.shift();
        list.push((step - began) * script.world.clock.stepLength);
      }
      this.since.set(number, step);
    }
  }

  frame(script: GeneratedScript): StateFlows | undefined {
    const population = script.populations[this.kind];
    const states = population?.states[this.machine];
    if (!population || !states) return undefined;
    const counts = this.statesOf(script).map(() => 0);
    for (let slot = 0; slot < population.used; slot++) if (population.alive[slot]! & 1) counts[states[slot]!]!++;
    return {
      kind: this.kind,
      machine: this.machine,
      counts,
      flows: [...this.flows],
      stays: this.stays.map((list) => Float32Array.from(list)),
    };
  }
}
