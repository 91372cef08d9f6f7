import type { RunContext } from '../engine/run-context.ts';
import type { KernelEngine } from '../kernel/kernels.ts';
import type * as P from '../plan/plan.ts';
import { emitPlan } from './emit.ts';
import { ENGINE } from './engine-functions.ts';
import { GeneratedRun } from './generated-run.ts';
import type { Binder, Bound, GeneratedState } from './generated-state.ts';
import { CompiledKernels } from './run-kernels.ts';

/** A plan as compiled JavaScript, ready to be bound to any number of runs. Needs `new Function`: workers and Node only. */
export class CompiledPlan {
  readonly source: string;
  /** How fields change by themselves and what agents do in their turns, as far as kernels can, for all runs of the plan. */
  private readonly kernels: CompiledKernels;
  private readonly binder: Binder;

  /**
   * @param traces whether runs tell, to their `trace`, what one agent goes through; slower
   * @param engine what kernels run in; WebAssembly where it is to be had
   */
  constructor(
    readonly plan: P.Plan,
    traces = false,
    engine?: KernelEngine,
  ) {
    this.kernels = new CompiledKernels(plan, !traces, engine);
    this.source = emitPlan(plan, traces, this.kernels.entries);
    this.binder = new Function('W', 'S', 'E', this.source) as Binder;
  }

  executable(): GeneratedRun {
    return new GeneratedRun(this.plan, this.binder, this.kernels);
  }

  bindTo(context: RunContext, state: GeneratedState): Bound {
    return this.binder(context, state, ENGINE);
  }

  private reused: GeneratedRun | undefined;

  /** One executable for runs that follow one another: its arrays and its machine code are warm. A run on it ends when the next begins. */
  shared(): GeneratedRun {
    return (this.reused ??= this.executable());
  }
}
