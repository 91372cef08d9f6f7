import type { Plan } from '@vole/core';
import { valueWords } from '../simulation/act-words.ts';
import type { StudyRow } from '../storage/schema.ts';
import { shownNumber } from '../words/numbers.ts';

/** What is varied, in the words of the modeler. */

/** A parameter for an axis: `strike, per day`. */
export function nameWithUnit(plan: Plan, parameter: string): string {
  const unit = plan.parameters.find((p) => p.name === parameter)?.unitLabel;
  return unit ? `${parameter}, ${unit}` : parameter;
}

/** A value of a factor as the modeler reads it, with its unit on wish. */
export function factorWords(plan: Plan, parameter: string, value: number, withUnit = false): string {
  const found = plan.parameters.find((p) => p.name === parameter);
  if (!found) return shownNumber(value);
  return valueWords(withUnit ? found : { ...found, unitLabel: '' }, value * found.unitFactor);
}

/** A point of the design in words, with units. */
export function combinationWords(plan: Plan, study: StudyRow, combination: readonly number[]): string {
  return study.factors
    .map((factor, f) => `${factor.parameter} ${factorWords(plan, factor.parameter, combination[f]!, true)}`)
    .join(', ');
}
