import { planKernels } from '../kernel/plan-kernels.ts';
import type { MakeKernels } from './run-kernels.ts';
import { TurnsByKernel } from './turns-by-kernel.ts';

/** Makes the kernels of a plan, with what has turns by them. Apart from all else, so that it can come later. */
export const makeKernels: MakeKernels = (plan, hasTurns, engine) => {
  const kernels = planKernels(plan, hasTurns, engine);
  return { ...kernels, turnsOf: (state, ready, seam) => new TurnsByKernel(state, kernels.entries, ready, seam) };
};
