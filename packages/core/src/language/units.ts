/** Units of the language. Dimensions are products of powers of these bases; plain numbers have none. */
type Base = 'time' | 'length' | 'angle';

export interface Unit {
  readonly base: Base;
  /** Size as a ratio of whole numbers of the smallest unit of its base (seconds, millimetres, degrees). */
  readonly size: number;
  /** Word shown after a number. */
  readonly label: string;
}

const seconds: Unit = { base: 'time', size: 1, label: 's' };
const minutes: Unit = { base: 'time', size: 60, label: 'minutes' };
const hours: Unit = { base: 'time', size: 3600, label: 'h' };
const days: Unit = { base: 'time', size: 86_400, label: 'days' };
const weeks: Unit = { base: 'time', size: 604_800, label: 'weeks' };
const years: Unit = { base: 'time', size: 31_536_000, label: 'years' };
const degrees: Unit = { base: 'angle', size: 1, label: 'deg' };

const UNITS: ReadonlyMap<string, Unit> = new Map<string, Unit>([
  ['mm', { base: 'length', size: 1, label: 'mm' }],
  ['cm', { base: 'length', size: 10, label: 'cm' }],
  ['m', { base: 'length', size: 1000, label: 'm' }],
  ['km', { base: 'length', size: 1_000_000, label: 'km' }],
  ['s', seconds],
  ['second', seconds],
  ['seconds', seconds],
  ['minute', minutes],
  ['minutes', minutes],
  ['h', hours],
  ['hour', hours],
  ['hours', hours],
  ['day', days],
  ['days', days],
  ['week', weeks],
  ['weeks', weeks],
  ['year', years],
  ['years', years],
  ['deg', degrees],
  ['rad', { base: 'angle', size: 57.29577951308232, label: 'rad' }],
]);

/** A unit that a model declares: its own base, or so many of another. */
export interface OwnUnit {
  readonly base: string;
  readonly size: number;
  readonly label: string;
}

/** Steps have no fixed length; the clock of the model gives it. */
export const STEP_WORDS: ReadonlySet<string> = new Set(['step', 'steps']);

export function isUnitWord(word: string): boolean {
  return UNITS.has(word) || STEP_WORDS.has(word);
}

export function unitOf(word: string): Unit | undefined {
  return UNITS.get(word);
}

/** All words that stand for units, short and long. */
export function unitWords(): string[] {
  return [...UNITS.keys(), ...STEP_WORDS];
}
