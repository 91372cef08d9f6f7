import type { RunMemory } from '../engine/memory/run-memory.ts';
import type { Crew } from '../kernel/crew.ts';
import type { Called, Kernel, KernelEngine, KernelPart, ReadyKernels } from '../kernel/kernels.ts';
import type { CompiledKernels, PlanKernels } from '../kernel/plan-kernels.ts';
import type * as P from '../plan/plan.ts';
import type { RunState } from '../state/run-state.ts';
import type { Seam, TurnsByKernel } from './turns-by-kernel.ts';

/** The kernels of a plan, with what has turns by them in a run; absent where there are none. */
export interface RunnableKernels extends PlanKernels {
  readonly turnsOf?: (state: RunState, ready: RunKernels, seam: Seam) => TurnsByKernel;
}

/** @param hasTurns whether turns are kernels as well; those that are told of are not */
export type MakeKernels = (plan: P.Plan, hasTurns: boolean, engine?: KernelEngine) => RunnableKernels;

/** A plan whose kernels have not come yet: all is left to its code. */
export const NO_KERNELS: RunnableKernels = {
  fields: { growth: [], becomes: [], spread: [], fade: [] },
  entries: [],
  areInWebAssembly: false,
  over: () => ({ engine: 'JavaScript', byName: {} }),
};

/** The kernels of a plan over the memory of one run. */
export class RunKernels {
  private ready: (ReadyKernels & { readonly shared: object | undefined }) | undefined;

  constructor(
    private readonly compiled: CompiledKernels,
    private readonly memory: RunMemory,
    private readonly called: Called,
    private readonly crew: Crew | undefined,
  ) {}

  private now(): ReadyKernels {
    const { shared } = this.memory;
    if (!this.ready || this.ready.shared !== shared)
      this.ready = { shared, ...this.compiled.over(this.memory, this.called) };
    return this.ready;
  }

  named(name: string): Kernel {
    return this.now().byName[name]!;
  }

  /** Those who help with so many agents or cells; nobody where there are too few of them, or no other thread sees the memory. */
  crewFor(many: number): Crew | undefined {
    const { crew } = this;
    if (!crew || many < crew.least || !this.now().together) return undefined;
    crew.call();
    return crew.helpers > 0 ? crew : undefined;
  }

  /** Has a crew do parts of a kernel. @returns what each gave */
  together(crew: Crew, name: string, parts: readonly KernelPart[]): readonly number[] {
    return this.now().together!(crew, name, parts);
  }

  /** What the kernels that were called last run in. */
  get engine(): KernelEngine | undefined {
    return this.ready?.engine;
  }
}
