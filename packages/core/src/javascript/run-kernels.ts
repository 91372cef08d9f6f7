import type { FieldKernels } from '../kernel/field-kernels.ts';
import { fieldKernels } from '../kernel/field-kernels.ts';
import type { Called, Kernel, KernelEngine, ReadyKernels } from '../kernel/kernels.ts';
import { Kernels } from '../kernel/kernels.ts';
import type { RuleKernel } from '../kernel/rule-kernels.ts';
import { ruleKernels } from '../kernel/rule-kernels.ts';
import type * as P from '../plan/plan.ts';
import type { RunMemory } from '../engine/memory/run-memory.ts';

/** The kernels of a plan, compiled once for all its runs. */
export class CompiledKernels {
  readonly fields: FieldKernels;
  /** Of each line of the order, where the turns of it are a kernel. */
  readonly entries: readonly (RuleKernel | undefined)[];
  readonly compiled: Kernels;

  /** @param hasTurns whether turns are kernels as well; those that are told of are not */
  constructor(plan: P.Plan, hasTurns: boolean, engine?: KernelEngine) {
    this.fields = fieldKernels(plan);
    const rules = hasTurns ? ruleKernels(plan) : { functions: [], entries: [] };
    this.entries = rules.entries;
    this.compiled = new Kernels([...this.fields.functions, ...rules.functions], engine);
  }
}

/** The kernels of a plan over the memory of one run. */
export class RunKernels {
  private ready: (ReadyKernels & { readonly shared: object | undefined }) | undefined;

  constructor(
    private readonly compiled: Kernels,
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
