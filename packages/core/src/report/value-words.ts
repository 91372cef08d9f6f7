import type { Plan } from '../plan/plan.ts';
import type { KeptStudy } from '../studies/design/kept-study.ts';
import { wordsOfParameter } from '../studies/results/table.ts';
import { shownNumber } from './numbers.ts';

/** Values in the words of the modeler. */

interface Valued {
  readonly type: string;
  readonly options?: readonly string[];
  /** Of an attribute that points at agents: their kind. */
  readonly of?: string;
  readonly unitFactor: number;
  readonly unitLabel: string;
}

/** A value of a parameter or attribute as the modeler reads it. */
export function valueWords({ type, options, of, unitFactor, unitLabel }: Valued, value: number): string {
  if (options) return options[value] ?? '';
  if (type === 'yes or no') return value ? 'yes' : 'no';
  if (type === 'agent') return value === 0 ? 'nobody' : `${of ?? ''} ${value}`.trim();
  return `${shownNumber(value / unitFactor)} ${unitLabel}`.trim();
}

/** The words of a parameter that has no numbers, by their place. */
export function categoriesOf(plan: Pick<Plan, 'parameters'>, parameter: string): readonly string[] | undefined {
  const found = plan.parameters.find((p) => p.name === parameter);
  return found && wordsOfParameter(found);
}

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
export function combinationWords(
  plan: Plan,
  study: Pick<KeptStudy, 'factors'>,
  combination: readonly number[],
): string {
  return study.factors
    .map((factor, f) => `${factor.parameter} ${factorWords(plan, factor.parameter, combination[f]!, true)}`)
    .join(', ');
}
