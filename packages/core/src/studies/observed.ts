import { daysFromCivil } from '../engine/calendar.ts';
import { calendarDate } from '../language/declare.ts';
import type { SheetRow } from '../language/sheet.ts';
import { cellNumber } from '../language/sheet.ts';
import type { Plan } from '../plan/plan.ts';
import type { ObservedPoint } from './statistics/scores.ts';

/** Which columns of a table hold what. */
export interface ObservedMapping {
  readonly timeColumn: string;
  /** Dates are matched with the calendar, times counted from the start in the clock's unit. */
  readonly timeIs: 'date' | 'time';
  readonly columns: readonly { readonly column: string; readonly measure: string }[];
}

/** A column of observed values that is compared with a measure. */
export interface ObservedSeries {
  readonly measure: string;
  readonly column: string;
  readonly points: readonly ObservedPoint[];
  /** Rows with no value. */
  readonly gaps: number;
}

/** What a table of observed data gives: series, and what could not be read, with its lines. */
export interface ObservedReading {
  readonly series: readonly ObservedSeries[];
  readonly problems: readonly string[];
}

const MAX_PROBLEMS = 8;

/**
 * Reads observed series out of a table.
 * @param header names of the columns
 * @param rows cells as text, with the lines of the file that problems name
 */
export function readObserved(
  header: readonly string[],
  rows: readonly SheetRow[],
  mapping: ObservedMapping,
  plan: Plan,
): ObservedReading {
  const problems: string[] = [];
  const timeAt = header.indexOf(mapping.timeColumn);
  if (timeAt < 0) problems.push(`There is no column “${mapping.timeColumn}”. The columns are ${header.join(', ')}.`);
  if (mapping.timeIs === 'date' && !plan.clock.start)
    problems.push(
      'The model has no calendar: give its clock a starting date (“step 1 day from 2031-03-01”), or choose a column of times.',
    );
  // A column for which no measure is chosen yet is compared with nothing.
  const columns = mapping.columns
    .filter(({ measure }) => measure !== '')
    .flatMap(({ column, measure }) => {
      const at = header.indexOf(column);
      if (at < 0) problems.push(`There is no column “${column}”.`);
      if (!plan.measures.some((m) => m.name === measure)) problems.push(`The model has no measure “${measure}”.`);
      return at < 0 ? [] : [{ at, column, measure, points: [] as ObservedPoint[], gaps: 0 }];
    });
  if (problems.length > 0) return { series: [], problems };
  rows.forEach(({ cells: row, line }) => {
    const time = readTime(row[timeAt] ?? '', mapping.timeIs, plan);
    if (time === undefined) {
      problems.push(
        `Line ${line}, column “${mapping.timeColumn}”: “${row[timeAt] ?? ''}” is no ${mapping.timeIs === 'date' ? 'date (write 2031-03-31)' : 'number'}.`,
      );
      return;
    }
    for (const target of columns) {
      const text = (row[target.at] ?? '').trim();
      if (text === '' || text.toUpperCase() === 'NA') {
        target.gaps++;
        continue;
      }
      const value = cellNumber(text);
      if (value !== undefined) target.points.push({ time, value });
      else problems.push(`Line ${line}, column “${target.column}”: “${text}” is no number.`);
    }
  });
  const shown =
    problems.length > MAX_PROBLEMS
      ? [...problems.slice(0, MAX_PROBLEMS), `... and ${problems.length - MAX_PROBLEMS} more.`]
      : problems;
  return {
    series: columns.map(({ measure, column, points, gaps }) => ({ measure, column, points, gaps })),
    problems: shown,
  };
}

function readTime(text: string, timeIs: 'date' | 'time', plan: Plan): number | undefined {
  return timeIs === 'time' ? cellNumber(text.trim()) : timeOfDate(text, plan);
}

/** The time of a run, in the unit of its clock, at which a day written as year-month-day begins; nothing where that is no date, or the clock has none. */
export function timeOfDate(text: string, { clock: { start, unitSeconds } }: Pick<Plan, 'clock'>): number | undefined {
  const trimmed = text.trim();
  const date = /^\d{4}-\d{2}-\d{2}$/.test(trimmed) ? calendarDate(trimmed) : undefined;
  if (!date || !start) return undefined;
  return (
    ((daysFromCivil(date.year, date.month, date.day) - daysFromCivil(start.year, start.month, start.day)) * 86400) /
    unitSeconds
  );
}
