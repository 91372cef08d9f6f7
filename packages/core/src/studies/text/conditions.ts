import type { Diagnostic } from '../../diagnostics.ts';
import { Run } from '../../engine/run.ts';
import type { CheckedModel } from '../../language/checked.ts';
import { interpretPlan } from '../../interpret/interpret.ts';
import { loadModel } from '../../load.ts';
import type { Piece } from './pieces.ts';

const VALUE = 'value_of_the_condition';

/** Tells at which values of parameters a condition holds; or what is wrong with it. */
export type ParameterCondition =
  | { readonly holds: (values: Readonly<Record<string, number>>) => boolean }
  | { readonly diagnostics: readonly Diagnostic[] };

/**
 * A condition over the parameters of a model, such as `strike > 0.3 per day and kestrels is 12`, made ready to be asked of many points:
 * a model of the units, parameters and constants alone, whose one measure it is.
 * @param text of the model
 */
export function parameterCondition(
  model: CheckedModel,
  text: string,
  { text: condition, span }: Piece,
): ParameterCondition {
  const { parts } = model.tree;
  const pieceOf = (i: number): string =>
    text.slice(parts[i]!.span.start, parts[i + 1]?.span.start ?? text.length).trimEnd();
  const kept = parts.flatMap(({ is }, i) => (is === 'parameter' || is === 'unit' ? [pieceOf(i)] : []));
  // The length of a step gives units of time their meaning.
  const clock = parts.flatMap(({ is }, i) => (is === 'clock' ? [pieceOf(i)] : [])).join('\n');
  const step = clock.split('\n').filter((line) => /^\s+step\s/i.test(line));
  const head = `model Conditions\nclock\n${step.join('\n')}\n  end after 1 step\n${kept.join('\n')}\nmeasure ${VALUE} = if `;
  const { loaded, diagnostics } = loadModel(`${head}${condition} then 1 else 0\n`);
  if (!loaded) {
    const wrong = diagnostics.filter(({ severity, span: at }) => severity === 'error' && at.end > head.length - 1);
    return {
      diagnostics: wrong.slice(0, 1).map((found): Diagnostic => {
        const start = span.start + Math.max(0, Math.min(condition.length - 1, found.span.start - head.length));
        const end = Math.max(start + 1, Math.min(span.end, span.start + found.span.end - head.length));
        return { ...found, fixes: undefined, span: { start, end } };
      }),
    };
  }
  // The page may not make functions of texts.
  const executable = interpretPlan(loaded.plan);
  return {
    holds: (values) => {
      const parameters = loaded.plan.parameters.map(({ name, value }) =>
        Object.hasOwn(values, name) ? values[name]! : value,
      );
      return new Run(executable, parameters, 0).valueAt(0, 0) !== 0;
    },
  };
}
