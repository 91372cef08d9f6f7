import type { ColumnLook, DateOrder, Plan, TableLook } from '@vole/core';
import { quotedName } from '@vole/core';
import { columnsWords } from './match-edits.ts';

/** What a column of a table is taken for. */
export type ColumnRole = 'time' | 'values' | 'error' | 'tells series apart' | 'not used';
export const COLUMN_ROLES: readonly ColumnRole[] = ['time', 'values', 'error', 'tells series apart', 'not used'];

interface ColumnChoice {
  readonly role: ColumnRole;
  /** Of values: what of the model they are compared with; empty as long as it is not chosen. */
  readonly expression: string;
}

/** How a table is to be read: chosen in its preview, written as lines of the text of a match. */
export interface TableChoices {
  /** One a column. */
  readonly columns: readonly ColumnChoice[];
  /** What the column of times holds: dates, or so many of a unit. */
  readonly timeIs: string;
  /** Of dates that can be read in two ways. */
  readonly written: DateOrder | undefined;
  readonly reading: string;
  /** Error of observing as it is written, empty for none. */
  readonly error: string;
}

export const READINGS = ['at the time', 'mean over the interval', 'total over the interval', 'last in the interval'];
const TIME_NAMES = /^(date|time|day|days|week|weeks|month|months|year|years|hour|hours|step|steps|t)$/i;
const ERROR_NAMES = /^(sd|se|std|stderr|sem|error|err|sigma)$|[_\s](sd|se|err|error)$/i;

/** A first guess at what the columns of a table hold. A column of numbers that bears the name of no measure is compared with nothing yet. */
export function guessChoices({ columns }: TableLook, plan: Plan): TableChoices {
  const dates = plan.clock.start ? columns.findIndex(({ holds }) => holds === 'dates') : -1;
  const named = columns.findIndex(({ name, holds }) => holds === 'numbers' && TIME_NAMES.test(name));
  const numbers = columns.findIndex(({ holds }) => holds === 'numbers');
  const timeAt = [dates, named, numbers].find((at) => at >= 0) ?? 0;
  const measures = new Map(plan.measures.map(({ name }) => [name.toLowerCase(), name]));
  const isLong = columns.some(({ holds, words }) => holds === 'words' && words.length > 1);
  const choices = columns.map(({ name, holds, words }, at): ColumnChoice => {
    if (at === timeAt) return { role: 'time', expression: '' };
    if (holds === 'words' && words.length > 1) return { role: 'tells series apart', expression: '' };
    if (holds !== 'numbers') return { role: 'not used', expression: '' };
    if (ERROR_NAMES.test(name)) return { role: 'error', expression: '' };
    return { role: 'values', expression: measures.get(name.toLowerCase()) ?? '' };
  });
  // Where some columns bear the names of measures, the others are probably something else.
  const isTied = choices.some(({ expression }) => expression !== '') && !isLong;
  const kept = choices.map((choice): ColumnChoice =>
    isTied && choice.role === 'values' && choice.expression === '' ? { role: 'not used', expression: '' } : choice,
  );
  const time = columns[timeAt];
  return {
    columns: onlyFirst(kept, 'tells series apart'),
    timeIs: time?.holds === 'dates' ? 'date' : timeWord(time?.name ?? ''),
    written: time && time.orders.length > 1 ? time.orders[0] : undefined,
    reading: READINGS[0]!,
    error: '',
  };
}

/** One column can tell series apart, no more. */
function onlyFirst(choices: readonly ColumnChoice[], role: ColumnRole): ColumnChoice[] {
  const first = choices.findIndex((choice) => choice.role === role);
  return choices.map((choice, at) =>
    choice.role === role && at !== first ? { role: 'not used', expression: '' } : choice,
  );
}

/** The unit that the name of a column of times tells. */
function timeWord(name: string): string {
  const word = name.toLowerCase().replace(/s$/, '');
  return ['hour', 'day', 'week', 'year', 'step'].includes(word) ? `${word}s` : 'time';
}

/** Another choice for a column: a second column of times takes the place of the first. */
export function withRole(choices: TableChoices, at: number, role: ColumnRole, look: TableLook): TableChoices {
  const isOne = role === 'time' || role === 'tells series apart' || role === 'error';
  const columns = choices.columns.map((choice, i): ColumnChoice => {
    if (i === at) return { role, expression: role === 'values' ? choice.expression : '' };
    return isOne && choice.role === role ? { role: 'not used', expression: '' } : choice;
  });
  if (role !== 'time') return { ...choices, columns };
  const { holds, orders, name } = look.columns[at]!;
  return {
    ...choices,
    columns,
    timeIs: holds === 'dates' ? 'date' : timeWord(name),
    written: orders.length > 1 ? orders[0] : undefined,
  };
}

const WRITTEN: Readonly<Record<DateOrder, string>> = {
  'year month day': 'year-month-day',
  'day month year': 'day.month.year',
  'month day year': 'month/day/year',
};

/** The lines that say how a table is read, one a series. Columns that are compared with the same thing are replicates. */
export function linesOfChoices({ columns, timeIs, written, reading, error }: TableChoices, look: TableLook): string[] {
  const nameOf = (at: number): string => look.columns[at]!.name;
  const timeAt = columns.findIndex(({ role }) => role === 'time');
  const errorAt = columns.findIndex(({ role }) => role === 'error');
  const apart = look.columns.find((_, at) => columns[at]!.role === 'tells series apart');
  const order = timeIs === 'date' && written ? `, written ${WRITTEN[written]}` : '';
  const time = timeAt < 0 ? [] : [`time is ${timeIs} in column ${quotedName(nameOf(timeAt))}${order}`];
  const parts = [
    ...(reading === READINGS[0] ? [] : [reading]),
    ...(errorAt >= 0
      ? [`error from column ${quotedName(nameOf(errorAt))}`]
      : error.trim() === ''
        ? []
        : [errorWords(error)]),
  ];
  const tied = new Map<string, string[]>();
  columns.forEach(({ role, expression }, at) => {
    if (role !== 'values' || expression.trim() === '') return;
    tied.set(expression.trim(), [...(tied.get(expression.trim()) ?? []), nameOf(at)]);
  });
  const ties = [...tied].flatMap(([expression, names]) =>
    seriesWords(apart).map((where) => [`${expression} from ${columnsWords(names)}`, ...where, ...parts].join(', ')),
  );
  return [...time, ...ties];
}

/** A series each for the words of a column that tells them apart. */
function seriesWords(apart: ColumnLook | undefined): string[][] {
  if (!apart || apart.words.length === 0) return [[]];
  return apart.words.map((word) => [
    `where ${quotedName(apart.name)} is ${quotedName(word)}`,
    `called ${quotedName(word)}`,
  ]);
}

/** “12 %” and “error 12 %” are the same; “none” is none. */
export function errorWords(typed: string): string {
  const bare = typed.trim().replace(/^error\s+/i, '');
  return /^(no error|none|no)?$/i.test(bare) ? 'no error' : `error ${bare}`;
}
