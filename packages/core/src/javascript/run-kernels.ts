import type { RunMemory } from '../engine/memory/run-memory.ts';
import type { Called, Kernel, KernelEngine, ReadyKernels } from '../kernel/kernels.ts';
import type { PlanKernels } from '../kernel/plan-kernels.ts';

/** A plan whose kernels have not come yet: all is left to its code. */
export const NO_KERNELS: PlanKernels = {
  fields: { growth: [], becomes: [], spread: [], fade: [] },
  entries: [],
  areInWebAssembly: false,
  over: () => ({ engine: 'JavaScript', byName: {} }),
};

/** The kernels of a plan over the memory of one run. */
export class RunKernels {
  private ready: (ReadyKernels & { readonly shared: object | undefined }) | undefined;

  constructor(
    private readonly compiled: PlanKernels,
    private readonly memory: RunMemory,
    private readonly called: Called,
  ) {}

  named(name: string): Kernel {
    const { shared } = this.memory;
    if (!this.ready || this.ready.shared !== shared)
      this.ready = { shared, ...this.compiled.over(this.memory, this.called) };
    return this.ready.byName[name]!;
  }

  /** What the kernels that were called last run in. */
  get engine(): KernelEngine | undefined {
    return this.ready?.engine;
  }
}
