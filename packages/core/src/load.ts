import type { Diagnostic, Progress } from './diagnostics.ts';
import { checkModel, unforeseen } from './language/checker.ts';
import type { CheckedModel, CheckResult } from './language/checked.ts';
import { CompiledPlan } from './javascript/compiled-plan.ts';
import type { KernelEngine } from './kernel/kernels.ts';
import { makeKernels } from './javascript/make-kernels.ts';
import type { ModelFile } from './maps/map-file.ts';
import { lowerModel } from './lower/lower.ts';
import type { Plan } from './plan/plan.ts';

/** A text that is right, checked and lowered. */
export interface LoadedModel {
  readonly checked: CheckedModel;
  readonly plan: Plan;
}

/** What a text gives: findings always, a model that can run only where none of them is an error. */
export interface LoadResult {
  readonly check: CheckResult;
  readonly diagnostics: readonly Diagnostic[];
  /** Absent if there are errors. */
  readonly loaded?: LoadedModel;
}

/**
 * From text to plan. Never throws on the text: also what was not foreseen is a finding with its place.
 * @param files the files beside the model, by name
 */
export function loadModel(text: string, files?: ReadonlyMap<string, ModelFile>): LoadResult {
  const check = checkModel(text, files);
  const progress: Progress = { at: { start: 0, end: text.length } };
  try {
    const loaded = check.model && { checked: check.model, plan: lowerModel(check.model, undefined, progress) };
    return { check, diagnostics: check.diagnostics, loaded };
  } catch (error) {
    return { check, diagnostics: [...check.diagnostics, unforeseen(error, progress)] };
  }
}

/** From plan to code that runs; needs `new Function`. */
export function compilePlan(plan: Plan, traces = false, engine?: KernelEngine): CompiledPlan {
  return new CompiledPlan(plan, traces, engine, makeKernels);
}

/** The same without what makes kernels, for those who take that up later (`CompiledPlan.takeUp`). */
export function compileLightly(plan: Plan, traces = false): CompiledPlan {
  return new CompiledPlan(plan, traces);
}
