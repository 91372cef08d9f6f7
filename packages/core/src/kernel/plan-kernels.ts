import type * as P from '../plan/plan.ts';
import type { FieldKernels } from './field-kernels.ts';
import { fieldKernels } from './field-kernels.ts';
import { reachParameters } from './field-reaches.ts';
import type { Called, KernelEngine, ReadyKernels } from './kernels.ts';
import { Kernels } from './kernels.ts';
import type { RuleKernel } from './rule-kernel.ts';
import { ruleKernels } from './rule-kernels.ts';
import type { RunMemory } from '../engine/memory/run-memory.ts';

/** Kernels that are compiled once for all runs. */
export interface CompiledKernels {
  /** The kernels over the memory of a run. @param called what they call that is not in their own form */
  over(memory: RunMemory, called: Called): ReadyKernels;
}

/** Kernels of fields whose reaches go by parameters, for values of these. */
export type KernelsOfReaches = CompiledKernels & { readonly fields: Pick<FieldKernels, 'growth' | 'becomes'> };

/** Of fields whose reaches go by parameters. */
interface ByReach {
  readonly parameters: readonly number[];
  /** @param values of all parameters */
  kernelsFor(values: ArrayLike<number>): KernelsOfReaches;
}

/** All kernels of a plan. */
export interface PlanKernels extends CompiledKernels {
  readonly fields: Omit<FieldKernels, 'functions'>;
  /** Absent where no field has any. */
  readonly byReach?: ByReach | undefined;
  /** Of each line of the order, where the turns of it are a kernel. */
  readonly entries: readonly (RuleKernel | undefined)[];
  /** Whether a run of them is to have its columns in a memory of WebAssembly. */
  readonly areInWebAssembly: boolean;
}

/** For so many values of the parameters by which reaches go kernels are kept. */
const MOST_VALUES = 8;

/** Makes the kernels of a plan. @param hasTurns whether turns are kernels as well; those that are told of are not */
export function planKernels(plan: P.Plan, hasTurns: boolean, engine?: KernelEngine): PlanKernels {
  const { functions, ...fields } = fieldKernels(plan);
  const rules = hasTurns ? ruleKernels(plan) : { functions: [], entries: [] };
  const compiled = new Kernels([...functions, ...rules.functions], engine);
  const byReach = kernelsByReach(plan, fields, engine);
  return {
    fields,
    byReach,
    entries: rules.entries,
    areInWebAssembly: compiled.areInWebAssembly || (byReach !== undefined && engine !== 'JavaScript'),
    over: (memory, called) => compiled.over(memory, called),
  };
}

function kernelsByReach(plan: P.Plan, fields: PlanKernels['fields'], engine?: KernelEngine): ByReach | undefined {
  const parameters = reachParameters(plan);
  if (parameters.length === 0) return undefined;
  const known = new Map<string, KernelsOfReaches>();
  return {
    parameters,
    kernelsFor: (values) => {
      const key = parameters.map((at) => values[at]).join();
      let made = known.get(key);
      if (!made) {
        const [oldest] = known.keys();
        if (known.size >= MOST_VALUES) known.delete(oldest!);
        const all = fieldKernels(plan, values);
        const growth = all.growth.map((kernel, g) => (fields.growth[g] ? undefined : kernel));
        const becomes = all.becomes.map((kernel, g) => (fields.becomes[g] ? undefined : kernel));
        const names = new Set([...growth, ...becomes].map((kernel) => kernel?.name));
        const compiled = new Kernels(
          all.functions.filter(({ name }) => names.has(name)),
          engine,
        );
        made = { fields: { growth, becomes }, over: (memory, called) => compiled.over(memory, called) };
        known.set(key, made);
      }
      return made;
    },
  };
}
