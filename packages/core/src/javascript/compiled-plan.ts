import type { RunContext } from '../engine/run-context.ts';
import type { Crew } from '../kernel/crew.ts';
import type { KernelEngine } from '../kernel/kernels.ts';
import type * as P from '../plan/plan.ts';
import { emitPlan } from './emit.ts';
import { ENGINE } from './engine-functions.ts';
import { GeneratedRun } from './generated-run.ts';
import type { Binder, Bound, GeneratedState } from './generated-state.ts';
import type { MakeKernels, RunnableKernels } from './run-kernels.ts';
import { NO_KERNELS } from './run-kernels.ts';

/** The code of a plan, and the kernels that it leaves work to. */
export interface PlanCode {
  readonly source: string;
  readonly binder: Binder;
  /** How fields change by themselves and what agents do in their turns, as far as kernels can, for all runs of the plan. */
  readonly kernels: RunnableKernels;
}

/** A plan as compiled JavaScript, ready to be bound to any number of runs. Needs `new Function`: workers and Node only. */
export class CompiledPlan {
  /** Replaced when kernels come later; runs under way take it up, to the same bits. */
  code: PlanCode;

  /**
   * @param traces whether runs tell, to their `trace`, what one agent goes through; slower, and without kernels of turns
   * @param engine what kernels run in; WebAssembly where it is to be had
   * @param makeKernels what makes kernels; may come later
   */
  constructor(
    readonly plan: P.Plan,
    private readonly traces = false,
    private readonly engine?: KernelEngine,
    private makeKernels?: MakeKernels,
  ) {
    this.code = this.makeCode();
  }

  private makeCode(): PlanCode {
    const kernels = this.makeKernels?.(this.plan, !this.traces, this.engine) ?? NO_KERNELS;
    const source = emitPlan(this.plan, this.traces, kernels.entries);
    return { source, binder: new Function('W', 'S', 'E', source) as Binder, kernels };
  }

  get source(): string {
    return this.code.source;
  }

  /** Whether runs are to have a memory for kernels. */
  get hasKernelMemory(): boolean {
    return this.code.kernels.areInWebAssembly || !this.makeKernels;
  }

  /** Makes kernels, if there are none yet. */
  takeUp(makeKernels: MakeKernels): void {
    if (this.makeKernels) return;
    this.makeKernels = makeKernels;
    this.code = this.makeCode();
  }

  /** Threads that help runs of it where there is much to do, unless others are named for one; it is for those that are made after it was set. */
  crew: Crew | undefined;

  executable(crew = this.crew): GeneratedRun {
    return new GeneratedRun(this, crew);
  }

  bindTo(context: RunContext, state: GeneratedState): Bound {
    return this.code.binder(context, state, ENGINE);
  }

  private reused: GeneratedRun | undefined;

  /** One executable for runs that follow one another: its arrays and its machine code are warm. A run on it ends when the next begins. */
  shared(): GeneratedRun {
    return (this.reused ??= this.executable());
  }
}
