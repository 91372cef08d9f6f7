import type { Plan } from '@vole/core';
import { valueWords } from '../simulation/act-words.ts';

/** A text with a further scenario. @param values in base units, by parameter */
export function withScenario(text: string, plan: Plan, name: string, values: Readonly<Record<string, number>>): string {
  const lines = plan.parameters.flatMap((parameter) =>
    Object.hasOwn(values, parameter.name)
      ? [`  ${parameter.name} = ${valueWords({ ...parameter, unitLabel: '' }, values[parameter.name]!)}`]
      : [],
  );
  return `${text.trimEnd()}\n\nscenario ${name}\n${lines.join('\n')}\n`;
}
