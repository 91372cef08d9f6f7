import { secondsOfDate, ordersOf } from '../calendar/dates.ts';
import type { CheckedSeries } from './checked.ts';
import type { SheetRow } from './sheet.ts';
import { cellNumber, isEmptyCell } from './sheet.ts';
import { unitOf } from './units.ts';

/** How the times of a table are to be understood. */
export interface SeriesClock {
  /** Seconds of a unit of the model's time; without it time is counted in steps. */
  readonly unitSeconds?: number;
  /** In units of the model's time. */
  readonly stepLength: number;
  /** The first day of the calendar, as written. */
  readonly start?: string;
  /** Hours of that day at which a run begins. */
  readonly hours?: number | undefined;
}

interface Problem {
  /** The line of the file; its head without one. */
  readonly line?: number;
  readonly what: string;
}

/**
 * The course of a quantity that a table gives: a time and a value in each row, in the order of time.
 * @param column the name of the column of values; where there is just one beside the times, that is it
 * @param valueOf what a cell comes to, nothing if it is no such value
 */
export function seriesOf(
  header: readonly string[],
  rows: readonly SheetRow[],
  column: string,
  clock: SeriesClock,
  valueOf: (cell: string) => number | undefined,
): { readonly series?: CheckedSeries; readonly problem?: Problem } {
  const fails = (what: string, line?: number) => ({ problem: { line, what } });
  const keys = header.map((name) => name.toLowerCase());
  const times = keys.findIndex((key) => isTimeColumn(key, clock));
  if (times < 0)
    return fails('a column of times is needed: “date”, “step”, “time”, or “day”, “hour” and so on since the start.');
  const others = keys.flatMap((_, i) => (i === times ? [] : [i]));
  const named = keys.indexOf(column.toLowerCase());
  const values = named >= 0 ? named : others.length === 1 ? others[0]! : -1;
  if (values < 0) return fails(`there is no column “${column}”; there are ${header.join(', ')}.`);
  const read = timeReader(
    keys[times]!,
    rows.map(({ cells }) => (cells[times] ?? '').trim()),
    clock,
  );
  if (typeof read === 'string') return fails(read);
  const found: { times: number[]; values: number[] } = { times: [], values: [] };
  for (const { cells, line } of rows) {
    const cell = (cells[values] ?? '').trim();
    if (isEmptyCell(cell)) continue;
    const written = (cells[times] ?? '').trim();
    const time = read(written);
    if (time === undefined) return fails(`“${written}” is no ${keys[times] === 'date' ? 'date' : 'time'}.`, line);
    const value = valueOf(cell);
    if (value === undefined) return fails(`“${cell}” is no value for ${column}.`, line);
    if (time <= (found.times.at(-1) ?? -Infinity))
      return fails('rows stand in the order of time, each time once.', line);
    found.times.push(time);
    found.values.push(value);
  }
  const [first] = found.times;
  if (first === undefined) return fails(`the column ${header[values]!} has no values.`);
  if (first > 1e-9 * clock.stepLength)
    return fails('it begins after the start of the run; the first row holds the value at the start, or one before.');
  return { series: found };
}

function isTimeColumn(key: string, { unitSeconds }: SeriesClock): boolean {
  return ['date', 'step', 'time'].includes(key) || (unitSeconds !== undefined && unitOf(key)?.base === 'time');
}

/** Reads times of a column in units of the model's time since the start, or says what stands against it. */
function timeReader(
  key: string,
  cells: readonly string[],
  { unitSeconds, stepLength, start, hours = 0 }: SeriesClock,
): ((cell: string) => number | undefined) | string {
  if (key !== 'date') {
    const size = key === 'step' ? stepLength : key === 'time' ? 1 : unitOf(key)!.size / unitSeconds!;
    return (cell) => {
      const value = cellNumber(cell);
      return value === undefined ? undefined : value * size;
    };
  }
  if (start === undefined || unitSeconds === undefined)
    return 'its rows have dates, but the clock does not say from which date it starts.';
  const dates = cells.filter((cell) => cell !== '');
  const [order, another] = ordersOf(dates);
  if (another && dates.length > 0)
    return 'it is not clear whether the day or the month comes first; write dates like 2031-05-16.';
  const begins = secondsOfDate(start, 'year month day')! + hours * 3600;
  return (cell) => {
    const seconds = secondsOfDate(cell, order ?? 'year month day');
    return seconds === undefined ? undefined : (seconds - begins) / unitSeconds;
  };
}
