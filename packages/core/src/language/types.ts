/** Types of the language, T1 to T6 of the grammar. */

export interface Dimension {
  readonly time: number;
  readonly length: number;
  readonly angle: number;
}

export const PLAIN: Dimension = { time: 0, length: 0, angle: 0 };
export const TIME: Dimension = { time: 1, length: 0, angle: 0 };
export const LENGTH: Dimension = { time: 0, length: 1, angle: 0 };
export const ANGLE: Dimension = { time: 0, length: 0, angle: 1 };

export interface NumberType {
  readonly is: 'number';
  /** Undefined for a literal 0, which fits every dimension. */
  readonly dim: Dimension | undefined;
  readonly whole: boolean;
}
/** A choice out of named words; the states of a machine are one. Two choices are the same type if they are the same object. */
export interface ChoiceType {
  readonly is: 'choice';
  readonly options: readonly string[];
  /** The machine whose states these are. */
  readonly machine?: string;
}
export type Type =
  | NumberType
  | ChoiceType
  | { readonly is: 'yesno' }
  | { readonly is: 'agent'; readonly kind: string }
  | { readonly is: 'place' }
  | { readonly is: 'date' }
  | { readonly is: 'text' }
  | { readonly is: 'unknown' };

export const UNKNOWN: Type = { is: 'unknown' };
export const YESNO: Type = { is: 'yesno' };
export const PLACE: Type = { is: 'place' };

export function number(dim: Dimension | undefined, whole = false): NumberType {
  return { is: 'number', dim, whole };
}
export const PLAIN_NUMBER = number(PLAIN);
export const WHOLE_NUMBER = number(PLAIN, true);

export function sameDimension(a: Dimension, b: Dimension): boolean {
  return a.time === b.time && a.length === b.length && a.angle === b.angle;
}

export function isPlain(dim: Dimension): boolean {
  return sameDimension(dim, PLAIN);
}

export function combine(a: Dimension, b: Dimension, sign: 1 | -1): Dimension {
  return { time: a.time + sign * b.time, length: a.length + sign * b.length, angle: a.angle + sign * b.angle };
}

export function power(a: Dimension, exponent: number): Dimension {
  return { time: a.time * exponent, length: a.length * exponent, angle: a.angle * exponent };
}

/** A dimension in the modeler's words. */
export function sayDimension(dim: Dimension): string {
  if (isPlain(dim)) return 'a plain number';
  if (sameDimension(dim, TIME)) return 'a time';
  if (sameDimension(dim, LENGTH)) return 'a length';
  if (sameDimension(dim, ANGLE)) return 'an angle';
  const over = (['length', 'time', 'angle'] as const).flatMap((base) => (dim[base] > 0 ? [powerText(base, dim[base])] : []));
  const under = (['length', 'time', 'angle'] as const).flatMap((base) => (dim[base] < 0 ? [powerText(base, -dim[base])] : []));
  return `${over.join(' times ') || 'an amount'}${under.length ? ` per ${under.join(' per ')}` : ''}`;
}

function powerText(base: string, exponent: number): string {
  return exponent === 1 ? base : exponent === 2 ? `square ${base}` : `${base} to the ${exponent}`;
}

export function sayType(type: Type): string {
  switch (type.is) {
    case 'number':
      return sayDimension(type.dim ?? PLAIN);
    case 'choice':
      return type.machine ? `a state of “${type.machine}”` : `a choice of ${type.options.join(', ')}`;
    case 'yesno':
      return 'yes or no';
    case 'agent':
      return `a ${type.kind}`;
    case 'place':
      return 'a place';
    case 'date':
      return 'a date';
    case 'text':
      return 'a text';
    case 'unknown':
      return 'unknown';
  }
}
