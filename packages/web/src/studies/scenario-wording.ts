import type { ParameterPlan, Plan } from '@vole/core';
import { valueWords } from '@vole/core';

/** A study with the model as it stands, to which scenarios are added. */
export const SCENARIOS_BEGIN = 'study Scenarios\n  20 seeds each\n\nscenario As it is\n';

/** Whether the text of a study has scenarios. */
export function hasScenarios(text: string): boolean {
  return /^\s*scenario\b/im.test(text);
}

/** Whether scenarios can be added to the text of a study: to one that has some, or to none. */
export function takesScenarios(text: string): boolean {
  return text.trim() === '' || hasScenarios(text);
}

/** A text with a further scenario. @param values in base units, by parameter */
export function withScenario(text: string, plan: Plan, name: string, values: Readonly<Record<string, number>>): string {
  const lines = plan.parameters.flatMap((parameter) =>
    Object.hasOwn(values, parameter.name)
      ? [`  ${parameter.name} = ${written(parameter, values[parameter.name]!)}`]
      : [],
  );
  return `${text.trimEnd()}\n\nscenario ${name}\n${lines.join('\n')}\n`;
}

/** As it is read again: a number with all its digits, not as it is shown. */
function written(parameter: ParameterPlan, value: number): string {
  const isNumber = !parameter.options && parameter.type !== 'yes or no';
  return isNumber ? String(Number((value / parameter.unitFactor).toPrecision(12))) : valueWords(parameter, value);
}
