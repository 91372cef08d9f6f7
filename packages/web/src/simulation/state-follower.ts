import type { GeneratedRun } from '@vole/core';
import type { StateFlows } from './protocol.ts';

const MOST_STAYS = 4000;

/** Counts how the agents of a kind go from state to state in a machine, and how long they stay. */
export class StateFollower {
  private states: Uint8Array = new Uint8Array(0);
  private numbers: Int32Array = new Int32Array(0);
  private readonly since = new Map<number, number>();
  private flows: number[] = [];
  private stays: number[][] = [];

  constructor(
    private readonly kind: number,
    private readonly machine: number,
  ) {}

  /** Forgets stays under way: the run stands elsewhere now. */
  begin(executable: GeneratedRun): void {
    this.since.clear();
    this.flows = [];
    this.stays = this.statesOf(executable).map(() => []);
  }

  private statesOf(executable: GeneratedRun): readonly string[] {
    return executable.plan.kinds[this.kind]?.machines[this.machine]?.states ?? [];
  }

  /** Whether the run has what is followed: an edit of the text may have taken it away. */
  private isIn(executable: GeneratedRun): boolean {
    return executable.plan.kinds[this.kind]?.machines[this.machine] !== undefined;
  }

  before(executable: GeneratedRun): void {
    if (!this.isIn(executable)) return;
    const agents = executable.state.agents(this.kind);
    this.states = agents.states(this.machine);
    this.numbers = agents.numbers();
  }

  after(executable: GeneratedRun, step: number): void {
    if (!this.isIn(executable)) return;
    const agents = executable.state.agents(this.kind);
    const states = agents.states(this.machine);
    const size = this.statesOf(executable).length;
    if (this.stays.length !== size) this.begin(executable);
    this.flows = new Array<number>(size * size).fill(0);
    // Both lists rise with the numbers of the agents.
    let old = 0;
    for (const [i, number] of agents.numbers().entries()) {
      while (old < this.numbers.length && this.numbers[old]! < number) old++;
      if (this.numbers[old] !== number) {
        this.since.set(number, step);
        continue;
      }
      const [from, to] = [this.states[old]!, states[i]!];
      if (from === to) continue;
      this.flows[from * size + to]!++;
      const began = this.since.get(number);
      if (began !== undefined) {
        const list = this.stays[from]!;
        if (list.length >= MOST_STAYS) list.shift();
        list.push((step - began) * executable.context.clock.stepLength);
      }
      this.since.set(number, step);
    }
  }

  frame(executable: GeneratedRun): StateFlows | undefined {
    if (!this.isIn(executable)) return undefined;
    const counts = this.statesOf(executable).map(() => 0);
    for (const state of executable.state.agents(this.kind).states(this.machine)) counts[state]!++;
    return {
      kind: this.kind,
      machine: this.machine,
      counts,
      flows: [...this.flows],
      stays: this.stays.map((list) => Float32Array.from(list)),
    };
  }
}
