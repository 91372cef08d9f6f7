import type { Diagnostic } from '../diagnostics.ts';
import { checkModel } from '../language/checker.ts';
import type { CheckedModel, CheckResult } from '../language/checked.ts';
import { CompiledPlan } from './generated-script.ts';
import { lowerModel } from './lower.ts';
import type { Plan } from './plan.ts';

export interface LoadedModel {
  readonly checked: CheckedModel;
  readonly plan: Plan;
}

export interface LoadResult {
  readonly check: CheckResult;
  readonly diagnostics: readonly Diagnostic[];
  /** Absent if there are errors. */
  readonly loaded?: LoadedModel;
}

/**
 * From text to plan. Never throws on the text.
 * @param files texts of the files beside the model, by name
 */
export function loadModel(text: string, files?: ReadonlyMap<string, string>): LoadResult {
  const check = checkModel(text, files);
  const loaded = check.model && { checked: check.model, plan: lowerModel(check.model) };
  return { check, diagnostics: check.diagnostics, loaded };
}

/** From plan to code that runs; needs `new Function`. */
export function compilePlan(plan: Plan, traces = false): CompiledPlan {
  return new CompiledPlan(plan, traces);
}
