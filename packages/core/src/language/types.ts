import type { Span } from '../diagnostics.ts';

/** Types of the language, T1 to T6 of the grammar. */

/** Powers of the bases `time`, `length`, `angle` and of the model's own units; a base that is not named has the power 0. */
export type Dimension = Readonly<Record<string, number>>;

export const PLAIN: Dimension = {};
export const TIME: Dimension = { time: 1 };
export const LENGTH: Dimension = { length: 1 };
export const ANGLE: Dimension = { angle: 1 };
export const PER_TIME: Dimension = { time: -1 };

export interface NumberType {
  readonly is: 'number';
  /** Undefined for a literal 0, which fits every dimension. */
  readonly dim: Dimension | undefined;
  readonly whole: boolean;
  /** A compass direction: its mean is that of the vectors. */
  readonly direction?: boolean;
  /** What of the clock it is, so that times of day and names of weekdays can be compared with it. */
  readonly reads?: 'hour' | 'weekday';
}
/** A choice out of named words; the states of a machine are one. Two choices are the same type if they are the same object. */
export interface ChoiceType {
  readonly is: 'choice';
  readonly options: readonly string[];
  /** Where each of the words is declared. */
  readonly spans: readonly Span[];
  /** The machine whose states these are. */
  readonly machine?: string;
  /** States with states inside; a value is never one of them, but can be compared with them. */
  readonly groups?: readonly { readonly name: string; readonly span: Span; readonly members: readonly number[] }[];
}
export type Type =
  | NumberType
  | ChoiceType
  | { readonly is: 'yesno' }
  /** `maybe`: may be nobody. */
  | { readonly is: 'agent'; readonly kind: string; readonly maybe?: boolean }
  | { readonly is: 'nobody' }
  /** `maybe`: may be nowhere; a cell is a place. Without the name of a space it fits every one. */
  | { readonly is: 'place'; readonly space?: string; readonly maybe?: boolean }
  | { readonly is: 'tie'; readonly network: string; readonly maybe?: boolean }
  | { readonly is: 'message'; readonly message: string }
  | {
      readonly is: 'list';
      readonly of: 'agents' | 'numbers' | 'places';
      readonly kind?: string;
      readonly space?: string;
      readonly dim?: Dimension;
    }
  | { readonly is: 'date' }
  | { readonly is: 'unknown' };

/** A choice out of words as they stand in the text. */
/** The words of a choice, or of no and yes; nothing of what is told in numbers. */
export function wordsOf(type: Type): readonly string[] | undefined {
  return type.is === 'choice' ? type.options : type.is === 'yesno' ? ['no', 'yes'] : undefined;
}

export function choiceOf(words: readonly { readonly text: string; readonly span: Span }[]): ChoiceType {
  return { is: 'choice', options: words.map((word) => word.text), spans: words.map((word) => word.span) };
}

export const UNKNOWN: Type = { is: 'unknown' };
export const YESNO: Type = { is: 'yesno' };

/** A place on a space, or on any where none is given. */
export function placeOn(space: { readonly name: string } | undefined): Type {
  return { is: 'place', space: space?.name };
}

export function number(dim: Dimension | undefined, whole = false): NumberType {
  return { is: 'number', dim, whole };
}
export const PLAIN_NUMBER = number(PLAIN);
export const WHOLE_NUMBER = number(PLAIN, true);

export const DIRECTION: NumberType = { is: 'number', dim: ANGLE, whole: false, direction: true };

function basesOf(...dims: Dimension[]): Set<string> {
  return new Set(dims.flatMap((dim) => Object.keys(dim)));
}

export function sameDimension(a: Dimension, b: Dimension): boolean {
  for (const base of basesOf(a, b)) if ((a[base] ?? 0) !== (b[base] ?? 0)) return false;
  return true;
}

export function isPlain(dim: Dimension): boolean {
  return Object.values(dim).every((power) => power === 0);
}

export function combine(a: Dimension, b: Dimension, sign: 1 | -1): Dimension {
  return Object.fromEntries([...basesOf(a, b)].map((base) => [base, (a[base] ?? 0) + sign * (b[base] ?? 0)]));
}

export function power(a: Dimension, exponent: number): Dimension {
  return Object.fromEntries(Object.entries(a).map(([base, n]) => [base, n * exponent]));
}

/** A dimension in the modeler's words. */
export function sayDimension(dim: Dimension): string {
  if (isPlain(dim)) return 'a plain number';
  if (sameDimension(dim, TIME)) return 'a time';
  if (sameDimension(dim, LENGTH)) return 'a length';
  if (sameDimension(dim, ANGLE)) return 'an angle';
  const over = Object.keys(dim).flatMap((base) => (dim[base]! > 0 ? [powerText(base, dim[base]!)] : []));
  const under = Object.keys(dim).flatMap((base) => (dim[base]! < 0 ? [powerText(base, -dim[base]!)] : []));
  return `${over.join(' times ') || 'an amount'}${under.length ? ` per ${under.join(' per ')}` : ''}`;
}

function powerText(base: string, exponent: number): string {
  return exponent === 1 ? base : exponent === 2 ? `square ${base}` : `${base} to the ${exponent}`;
}

/** “a Vole”, “an Owl” */
export function withArticle(word: string): string {
  return `${/^[aeiou]/i.test(word) ? 'an' : 'a'} ${word}`;
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
      return `${withArticle(type.kind)}${type.maybe ? ' or nobody' : ''}`;
    case 'nobody':
      return 'nobody';
    case 'place':
      return type.maybe ? 'a place or nowhere' : 'a place';
    case 'tie':
      return `a tie of ${type.network}${type.maybe ? ' or none' : ''}`;
    case 'message':
      return `a message ${type.message}`;
    case 'list':
      return 'a list';
    case 'date':
      return 'a date';
    case 'unknown':
      return 'unknown';
  }
}
