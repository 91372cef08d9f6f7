import type { CheckedModel, ParameterSymbol } from './checked.ts';
import { parse } from './parser.ts';
import { constantOf } from './scales.ts';
import { partsOf } from './syntax.ts';
import { isPlain, PLAIN, sameDimension, sayDimension, sayType } from './types.ts';

/** A value in base units, or why what was typed is none. */
export type ParameterReading = { readonly value: number } | { readonly problem: string };

/**
 * Reads a parameter's value as a modeler types it: a number in the parameter's own unit, a number with a unit, yes or no, or a choice.
 * @returns the value in base units, or what is wrong with it
 */
export function readParameter(model: CheckedModel, parameter: ParameterSymbol, text: string): ParameterReading {
  const { type, name } = parameter;
  const word = text.trim().toLowerCase();
  if (type.is === 'yesno') {
    if (word === 'yes' || word === 'no') return { value: word === 'yes' ? 1 : 0 };
    return { problem: `“${name}” is yes or no, not “${text.trim()}”.` };
  }
  if (type.is === 'choice') {
    const value = type.options.findIndex((option) => option.toLowerCase() === word);
    return value >= 0
      ? { value }
      : { problem: `“${name}” is one of ${type.options.join(', ')}, not “${text.trim()}”.` };
  }
  if (type.is !== 'number') return { problem: `“${name}” is ${sayType(type)}.` };
  const read = readNumber(model, text);
  if (!read) return { problem: `“${text.trim()}” is no number for “${name}”.` };
  const dim = read.dim ?? PLAIN;
  const wanted = type.dim ?? PLAIN;
  const value = isPlain(dim) && !isPlain(wanted) ? read.value * parameter.unit.factor : read.value;
  if (!isPlain(dim) && !sameDimension(dim, wanted))
    return { problem: `“${name}” is ${sayDimension(wanted)}, but “${text.trim()}” is ${sayDimension(dim)}.` };
  return withinBounds(parameter, value);
}

/** Checks a value in base units against wholeness and bounds. */
export function withinBounds(parameter: ParameterSymbol, value: number): ParameterReading {
  const { name, min, max, whole, unit } = parameter;
  const shown = (v: number): string =>
    `${Number((v / unit.factor).toPrecision(12))}${unit.label ? ` ${unit.label}` : ''}`;
  if (!Number.isFinite(value)) return { problem: `“${name}” must be a number.` };
  if (whole && !Number.isInteger(value)) return { problem: `“${name}” is a whole number, not ${shown(value)}.` };
  const slack = 1e-9 * Math.max(Math.abs(min ?? 0), Math.abs(max ?? 0));
  if ((min !== undefined && value < min - slack) || (max !== undefined && value > max + slack)) {
    return { problem: `“${name}” goes from ${shown(min!)} to ${shown(max!)}; ${shown(value)} lies outside.` };
  }
  return { value };
}

function readNumber(model: CheckedModel, text: string) {
  const { tree, diagnostics } = parse(`parameter value = ${text}`);
  const part = partsOf(tree, 'parameter')[0];
  if (!part || part.bound || part.whole || diagnostics.length > 0 || text.includes('\n')) return undefined;
  return constantOf(part.value, model.scales);
}
