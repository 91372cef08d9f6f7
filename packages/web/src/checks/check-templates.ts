import type { ParameterPlan, Plan } from '@vole/core';

/** Simple cases whose answer is known, as texts of checks to begin with. */

export interface CheckTemplate {
  readonly name: string;
  readonly text: string;
}

/** Templates in the words of a model: its first measure, its first parameter that is a number. What they expect is to be thought over. */
export function checkTemplates(plan: Plan): CheckTemplate[] {
  const measures = plan.measures.filter(({ yesNo }) => !yesNo).map(({ name }) => name);
  const [first, second = first] = measures;
  if (!first) return [];
  const parameter = plan.parameters.find(({ type, options }) => type === 'number' && !options);
  const withValue = (value: number | undefined): string =>
    parameter && value !== undefined ? `with ${parameter.name} = ${shown(parameter, value)}, ` : '';
  return [
    {
      name: 'nothing in, nothing out',
      text: `check Nothing in, nothing out\n  ${withValue(0)}over 5 seeds\n  expect max of ${first} is (min of ${first}) in every run\n`,
    },
    {
      name: 'conservation',
      text: `check Nobody is lost or made\n  over 5 seeds\n  expect max of ${first} - min of ${first} is 0 in every run\n`,
    },
    {
      name: 'symmetry',
      text: `check Both sides are alike\n  over 20 seeds\n  expect mean of ${first} - mean of ${second} from -1 to 1\n`,
    },
    {
      name: 'a theory’s mean',
      text: `check As the theory says\n  over 30 seeds\n  expect last of ${first} from 0 to 100\n`,
    },
    {
      name: 'an extreme value',
      text: `check At the extreme\n  ${withValue(parameter?.max)}over 5 seeds\n  expect ever ${first} is 0 in every run\n`,
    },
  ];
}

function shown({ unitFactor, unitLabel, min, max }: ParameterPlan, value: number): string {
  const within = Math.min(max ?? Infinity, Math.max(min ?? -Infinity, value));
  return `${Number((within / unitFactor).toPrecision(12))} ${unitLabel}`.trim();
}

/** A text with a check at its end. */
export function withCheck(text: string, check: string): string {
  return `${text.trimEnd()}\n\n${check}`;
}
