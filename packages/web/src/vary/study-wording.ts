import type { ParameterPlan, Plan } from '@vole/core';
import { factorWords, valueWords } from '@vole/core';
import { sliderRange } from '../simulation/slider-range.ts';
import type { StudyRow } from '../storage/schema.ts';
import { usualValues } from './responses.ts';

/** Texts of studies to begin with, and what is written into them by clicks. */

/** Designs that a text is offered for, by what they answer. */
export const BEGINNINGS = [
  'every combination',
  'latin hypercube',
  'elementary effects',
  'sobol indices',
  'scenarios',
] as const;
export type Beginning = (typeof BEGINNINGS)[number];

const ENDINGS: Record<Exclude<Beginning, 'scenarios' | 'every combination'>, string> = {
  'latin hypercube': 'latin hypercube of 60\n  5 seeds each',
  'elementary effects': 'elementary effects, 10 paths\n  4 seeds each',
  'sobol indices': 'sobol indices of 64\n  4 seeds each',
};

/** The text of a study of a model for one of the designs; parameters are varied within their bounds. */
export function beginningOf(plan: Plan, beginning: Beginning): string {
  const { parameters } = plan;
  if (beginning === 'every combination') {
    const lines = parameters.slice(0, 2).map((p) => `  vary ${p.name}  ${usualValues(p)}`);
    return `study ${titleOf(parameters.slice(0, 2))}\n${lines.join('\n')}\n  every combination\n  10 seeds each\n`;
  }
  if (beginning === 'scenarios') {
    const changed = parameters.find((p) => p.type === 'number') ?? parameters[0]!;
    return `study Two scenarios\n  20 seeds each\n\nscenario As it is\n\nscenario Otherwise\n  ${changed.name} = ${otherValue(changed)}\n`;
  }
  const lines = parameters.map((p) => `  vary ${p.name}  ${rangeWords(p)}`);
  return `study What matters\n${lines.join('\n')}\n  ${ENDINGS[beginning]}\n`;
}

function titleOf(parameters: readonly ParameterPlan[]): string {
  return parameters.map(({ name }) => name).join(' and ');
}

function rangeWords(parameter: ParameterPlan): string {
  if (parameter.type !== 'number') return usualValues(parameter);
  const { min, max } = sliderRange(parameter);
  return `${Number(min.toPrecision(4))} to ${Number(max.toPrecision(4))}`;
}

/** Another value than that of the text, within bounds. */
function otherValue(parameter: ParameterPlan): string {
  if (parameter.type !== 'number')
    return usualValues(parameter)
      .split(', ')
      .find((word) => word !== valueWords(parameter, parameter.value))!;
  const { min, max } = sliderRange(parameter);
  const usual = parameter.value / parameter.unitFactor;
  const doubled = Math.min(max, usual === 0 ? max : 2 * usual);
  const other = doubled === usual ? min + (usual - min) / 2 : doubled;
  return String(parameter.whole ? Math.round(other) : Number(other.toPrecision(4)));
}

/** The text of a study that was put together as a sentence. */
export function wordingOf(plan: Plan, study: Pick<StudyRow, 'name' | 'factors' | 'seeds'>): string {
  const lines = study.factors.map(
    ({ parameter, values }) =>
      `  vary ${parameter}  ${values.map((value) => factorWords(plan, parameter, value)).join(', ')}`,
  );
  return `study ${study.name}\n${lines.join('\n')}\n  every combination\n  ${study.seeds.length} seeds each\n`;
}

/** The text with which a study on show is gone on with as a text: its own, or what its sentence says; else one to begin with. */
export function firstWording(plan: Plan, study: StudyRow | undefined): string {
  if (study?.wording) return study.wording;
  const isListed =
    study !== undefined && study.factors.length > 0 && study.factors.every(({ values }) => values.length > 0);
  return isListed ? wordingOf(plan, study) : beginningOf(plan, 'every combination');
}
