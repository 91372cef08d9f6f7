import type { Plan, Posterior } from '@vole/core';
import { evenDraws } from '@vole/core';
import { SCENARIOS_BEGIN, withScenario } from '../studies/scenario-wording.ts';

/** Draws that are saved as scenarios. */
export const SAVED_DRAWS = 10;

/** The text of a study with the best point of a posterior and some of its draws as scenarios, spread evenly over the weights; those of the same names are replaced. */
export function withDraws(text: string, plan: Plan, name: string, posterior: Posterior): string {
  const bare = text.trim() === '' ? SCENARIOS_BEGIN : withoutScenarios(text, name);
  const points: (readonly [string, readonly number[]])[] = [
    [`Best of ${name}`, posterior.best],
    ...[...new Set(evenDraws(posterior.weights, Math.min(SAVED_DRAWS, posterior.draws.length)))].map(
      (draw, i) => [`Draw ${i + 1} of ${name}`, posterior.draws[draw]!] as const,
    ),
  ];
  return points.reduce(
    (written, [called, values]) => withScenario(written, plan, called, baseValues(plan, posterior.parameters, values)),
    bare,
  );
}

/** Values in base units, by parameter. */
export function baseValues(
  plan: Plan,
  parameters: readonly string[],
  values: readonly number[],
): Record<string, number> {
  return Object.fromEntries(
    parameters.map((name, i) => [
      name,
      values[i]! * (plan.parameters.find((parameter) => parameter.name === name)?.unitFactor ?? 1),
    ]),
  );
}

function withoutScenarios(text: string, name: string): string {
  const isOurs = (line: string): boolean => {
    const called = /^\s*scenario\s+(.+?)\s*$/i.exec(line)?.[1];
    return (
      called !== undefined &&
      (called === `Best of ${name}` || new RegExp(`^Draw \\d+ of `).test(called)) &&
      called.endsWith(` of ${name}`)
    );
  };
  const kept: string[] = [];
  let isLeftOut = false;
  for (const line of text.split('\n')) {
    if (/^\s*scenario\s/i.test(line)) isLeftOut = isOurs(line);
    else if (/^\S/.test(line)) isLeftOut = false;
    if (!isLeftOut) kept.push(line);
  }
  return kept.join('\n');
}
