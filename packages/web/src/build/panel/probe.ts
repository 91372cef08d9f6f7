import type { Diagnostic } from '@vole/core';
import { interpretPlan, loadModel, Run, treeOf } from '@vole/core';

/**
 * Formulas and draws of a model tried out apart from its run: a little model is made of its clock, units, parameters, variables and
 * formulas, with what is asked for added, and the reference interpreter computes it in the page.
 */

const KEPT = new Set(['clock', 'unit', 'parameter', 'variable', 'define', 'data']);
const MOST_INPUTS = 12;

/** The parts of a text that formulas and draws can need, each as it stands; of the clock only its step. What needs more than these is left out. */
function keptParts(text: string): string {
  const { parts } = treeOf(text);
  let kept = parts.flatMap((part, i) => {
    if (!KEPT.has(part.is)) return [];
    const own = text.slice(part.span.start, parts[i + 1]?.span.start ?? text.length).trimEnd();
    if (part.is !== 'clock') return [own];
    return [['clock', ...own.split('\n').filter((line) => /^\s+step\s/.test(line)), '  end after 1 step'].join('\n')];
  });
  if (!kept.some((part) => part.startsWith('clock'))) kept = ['clock\n  end after 1 step', ...kept];
  for (;;) {
    const joined = kept.join('\n');
    const wrong = loadModel(`model Parts\n${joined}\n`).diagnostics.find((d) => d.severity === 'error');
    if (!wrong) return joined;
    let end = 'model Parts\n'.length;
    const at = kept.findIndex((part) => (end += part.length + 1) > wrong.span.start);
    if (at < 0) return joined;
    kept = kept.filter((_, i) => i !== at);
  }
}

export interface Input {
  readonly name: string;
  /** As it is written in the text: `3`, `2 m`. */
  readonly value: string;
}

export interface Formula {
  readonly inputs: readonly string[];
  /** Parameters of the model that the expression may read, with their usual values in their units. */
  readonly parameters: readonly { readonly name: string; readonly value: number; readonly unit: string }[];
  readonly problem?: string;
  /** The value for inputs and parameters by name, as plain numbers in the units of their declaration. */
  readonly at: (values: Readonly<Record<string, number>>) => number;
}

const NO_VALUE = (): number => NaN;
const VALUE = 'value_of_the_formula';

/**
 * An expression of the model as a function of what it leaves open: names that nothing declares become its inputs.
 * @param inputs first values of the inputs, which also give their units
 */
export function formulaOf(text: string, expression: string, inputs: readonly Input[]): Formula {
  const kept = keptParts(text);
  const names: string[] = [];
  for (let i = 0; i <= MOST_INPUTS; i++) {
    const written = names.map(
      (name) => `parameter ${name} = ${inputs.find((input) => input.name === name)?.value ?? '1'}`,
    );
    const little = `model Formula\n${kept}\n${written.join('\n')}\nmeasure ${VALUE} = ${expression}\n`;
    const { loaded, diagnostics } = loadModel(little);
    if (loaded) return { inputs: names, parameters: parametersOf(loaded.plan, names), at: evaluator(loaded.plan) };
    const unknown = diagnostics.find(
      (d) => d.code === 'name/unknown' && d.span.start >= little.lastIndexOf(`measure ${VALUE}`),
    );
    const name = unknown && little.slice(unknown.span.start, unknown.span.end);
    if (!name || !/^[\p{L}_][\p{L}\p{N}_]*$/u.test(name) || names.includes(name))
      return { inputs: names, parameters: [], problem: problemOf(diagnostics), at: NO_VALUE };
    names.push(name);
  }
  return { inputs: names, parameters: [], problem: `More than ${MOST_INPUTS} names are open.`, at: NO_VALUE };
}

function problemOf(diagnostics: readonly Diagnostic[]): string {
  const found = diagnostics.find((d) => d.severity === 'error');
  return found ? `${found.message} ${found.hint ?? ''}`.trim() : 'This cannot be computed.';
}

type Plan = NonNullable<ReturnType<typeof loadModel>['loaded']>['plan'];

/** The parameters that the expression reads, itself or through formulas. */
function parametersOf({ parameters, measures }: Plan, inputs: readonly string[]): Formula['parameters'] {
  const body = JSON.stringify(measures.find(({ name }) => name === VALUE)!.body);
  const isRead = (index: number): boolean => body.includes(`{"op":"parameter","index":${index}}`);
  return parameters
    .filter((p, i) => p.type === 'number' && !inputs.includes(p.name) && isRead(i))
    .map((p) => ({ name: p.name, value: p.value / p.unitFactor, unit: p.unitLabel }));
}

function evaluator(plan: Plan): Formula['at'] {
  const measure = plan.measures.findIndex(({ name }) => name === VALUE);
  return (values) => {
    const numbers = plan.parameters.map((p) =>
      Object.hasOwn(values, p.name) ? values[p.name]! * p.unitFactor : p.value,
    );
    try {
      return new Run(interpretPlan(plan), numbers, 1).valueAt(0, measure);
    } catch {
      return NaN;
    }
  };
}

export interface Draws {
  readonly values: readonly number[];
  readonly options?: readonly string[];
  readonly unit: string;
  readonly problem?: string;
}

const DRAWS = 4000;

/** Many draws of an expression, as an attribute would be started with it. */
export function drawsOf(text: string, expression: string): Draws {
  const little = `model Draws\n${keptParts(text)}\nagent Drawn\n  start ${DRAWS}\n  has value_drawn = ${expression}\nmeasure seen = count Drawn where it.value_drawn is not it.value_drawn\n`;
  const { loaded, diagnostics } = loadModel(little);
  if (!loaded) return { values: [], unit: '', problem: problemOf(diagnostics) };
  const column = loaded.plan.kinds[0]!.columns[0]!;
  try {
    const executable = interpretPlan(loaded.plan);
    new Run(
      executable,
      loaded.plan.parameters.map((p) => p.value),
      1,
    );
    const values = executable.view().populations[0]!.attributes[0]!.map((value) => value / column.unitFactor);
    return {
      values,
      options: column.options ?? (column.type === 'yes or no' ? ['no', 'yes'] : undefined),
      unit: column.unitLabel,
    };
  } catch (error) {
    return { values: [], unit: '', problem: (error as Error).message };
  }
}
