import type { AnyPart } from '@vole/core';
import { treeOf } from '@vole/core';
import { ownValue } from '../../store/own-value.ts';
import { shownNumber } from '../../words/numbers.ts';
import type { Formula, Input } from './probe.ts';
import { formulaOf } from './probe.ts';

const POINTS = 61;
const MOST_CURVES = 6;

export interface KnownFormula {
  readonly name: string;
  readonly expression: string;
  /** Where it stands in the text. */
  readonly start: number;
  readonly end: number;
}

/** What can be plotted of a text without writing anything: its formulas and what its agents derive. */
export function knownFormulas(text: string): KnownFormula[] {
  return treeOf(text).parts.flatMap((part) => {
    if (part.is === 'define') return [ofDefine(text, part)];
    if (part.is !== 'agent') return [];
    return part.derives.map(({ name, value, span: { start, end } }) => ({
      name: `${name.text} of ${part.name.text}`,
      expression: text.slice(value.span.start, value.span.end),
      start,
      end,
    }));
  });
}

function ofDefine(
  text: string,
  { name: { text: name }, span: { start, end } }: Extract<AnyPart, { is: 'define' }>,
): KnownFormula {
  const inputs = /\(([^)]*)\)/.exec(text.slice(start, end).split('=')[0]!)?.[1];
  return { name, expression: inputs === undefined ? name : `${name}(${inputs})`, start, end };
}

/** How the modeler wants a formula drawn: each as it was typed. */
export interface CurveWishes {
  /** Values of inputs and parameters. */
  readonly values: Readonly<Record<string, string>>;
  /** What runs along the axis; the first name of the formula if it has no such. */
  readonly over: string | undefined;
  readonly range: readonly [string, string];
  /** What differs from curve to curve. */
  readonly family: string;
  readonly familyValues: string;
}

interface Curve {
  readonly label: string;
  readonly values: readonly number[];
}

export interface Curves {
  readonly formula: Formula;
  /** All that the formula leaves open, and the parameters that it reads. */
  readonly names: readonly string[];
  readonly axis: string | undefined;
  readonly family: string | undefined;
  /** Names with one value in all curves. */
  readonly rest: readonly string[];
  /** Places along the axis. */
  readonly at: readonly number[];
  readonly curves: readonly Curve[];
  readonly problem?: string;
}

/** The value of a name as it was typed, with its unit; else the usual one. */
export function valueOf(formula: Formula, values: CurveWishes['values'], name: string): string {
  return ownValue(values, name) ?? `${formula.parameters.find((parameter) => parameter.name === name)?.value ?? 1}`;
}

/** An expression of the model over a range of one of its names, as a curve for each value of another. */
export function curvesOf(text: string, expression: string, wishes: CurveWishes): Curves {
  const inputs = Object.entries(wishes.values).map(([name, value]) => ({ name, value }));
  const first = formulaOf(text, expression, inputs);
  const { axis, family } = choiceOf(first, wishes);
  // What runs along the axis or from curve to curve has its unit from there.
  const withUnits = [...inputs, ...unitOf(axis, wishes.range[1]), ...unitOf(family, wishes.familyValues)];
  const formula = withUnits.length === inputs.length ? first : formulaOf(text, expression, withUnits.reverse());
  const choice = choiceOf(formula, wishes);
  return { ...choice, formula, ...drawn(formula, choice, wishes) };
}

type Choice = Pick<Curves, 'names' | 'axis' | 'family' | 'rest'>;

function choiceOf({ inputs, parameters }: Formula, { over, family }: CurveWishes): Choice {
  const names = [...inputs, ...parameters.map(({ name }) => name)];
  const axis = over !== undefined && names.includes(over) ? over : names[0];
  const second = names.includes(family) && family !== axis ? family : undefined;
  return { names, axis, family: second, rest: names.filter((name) => name !== axis && name !== second) };
}

function unitOf(name: string | undefined, typed: string): Input[] {
  const value = typed.split(',')[0]!;
  return name !== undefined && quantityOf(value)?.unit !== undefined ? [{ name, value }] : [];
}

function drawn(
  formula: Formula,
  { axis, family, rest }: Choice,
  { values, range, familyValues }: CurveWishes,
): Pick<Curves, 'at' | 'curves' | 'problem'> {
  const none = (problem: string): Pick<Curves, 'at' | 'curves' | 'problem'> => ({ at: [], curves: [], problem });
  if (formula.problem !== undefined) return none(formula.problem);
  if (axis === undefined) return none(`It is ${shownNumber(formula.at({}))}: nothing in it can be varied.`);
  const [low, high] = range.map(numberOf) as [number | undefined, number | undefined];
  if (low === undefined || high === undefined)
    return none(`The range of ${axis} ends at “${range[low === undefined ? 0 : 1]}”: write a number.`);
  const noNumber = rest.find((name) => numberOf(valueOf(formula, values, name)) === undefined);
  if (noNumber !== undefined)
    return none(`${noNumber} is “${valueOf(formula, values, noNumber)}”: write a number, with its unit if it has one.`);
  const members = family === undefined ? [undefined] : familyValues.split(',').slice(0, MOST_CURVES).map(numberOf);
  if (family !== undefined && members.includes(undefined))
    return none(`A curve for each ${family} of “${familyValues}”: write numbers with commas between them.`);

  const settings = Object.fromEntries(rest.map((name) => [name, numberOf(valueOf(formula, values, name))!]));
  const at = Array.from({ length: POINTS }, (_, i) => low + ((high - low) * i) / (POINTS - 1));
  const curves = members.map((member) => ({
    label: member === undefined ? 'value' : `${family} ${shownNumber(member)}`,
    values: at.map((x) =>
      formula.at({ ...settings, ...(member === undefined ? {} : { [family!]: member }), [axis]: x }),
    ),
  }));
  return { at, curves };
}

interface Quantity {
  readonly number: number;
  readonly unit: string | undefined;
}

/** A number as it is written, with a unit behind it or none. */
function quantityOf(typed: string): Quantity | undefined {
  const [, digits, unit] = /^\s*([-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?)\s*([\p{L}%].*)?$/iu.exec(typed) ?? [];
  const number = Number(digits ?? NaN);
  return Number.isFinite(number) ? { number, unit } : undefined;
}

function numberOf(typed: string): number | undefined {
  return quantityOf(typed)?.number;
}
