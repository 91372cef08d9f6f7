import type { ParameterPlan, Plan } from '@vole/core';
import { valueWords } from '../simulation/act-words.ts';

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
