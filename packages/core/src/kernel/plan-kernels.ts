import type * as P from '../plan/plan.ts';
import type { FieldKernels } from './field-kernels.ts';
import { fieldKernels } from './field-kernels.ts';
import type { Called, KernelEngine, ReadyKernels } from './kernels.ts';
import { Kernels } from './kernels.ts';
import type { RuleKernel } from './rule-kernel.ts';
import { ruleKernels } from './rule-kernels.ts';
import type { RunMemory } from '../engine/memory/run-memory.ts';

/** All kernels of a plan, compiled once for all its runs. */
export interface PlanKernels {
  readonly fields: Omit<FieldKernels, 'functions'>;
  /** Of each line of the order, where the turns of it are a kernel. */
  readonly entries: readonly (RuleKernel | undefined)[];
  /** Whether a run of them is to have its columns in a memory of WebAssembly. */
  readonly areInWebAssembly: boolean;
  /** The kernels over the memory of a run. @param called what they call that is not in their own form */
  over(memory: RunMemory, called: Called): ReadyKernels;
}

/** Makes the kernels of a plan. @param hasTurns whether turns are kernels as well; those that are told of are not */
export function planKernels(plan: P.Plan, hasTurns: boolean, engine?: KernelEngine): PlanKernels {
  const { functions, ...fields } = fieldKernels(plan);
  const rules = hasTurns ? ruleKernels(plan) : { functions: [], entries: [] };
  const compiled = new Kernels([...functions, ...rules.functions], engine);
  return {
    fields,
    entries: rules.entries,
    areInWebAssembly: compiled.areInWebAssembly,
    over: (memory, called) => compiled.over(memory, called),
  };
}
