import type { SheetRow } from '../../language/sheet.ts';
import { cellNumber, isEmptyCell } from '../../language/sheet.ts';
import type { Plan } from '../../plan/plan.ts';
import { secondsOfMoment } from '../../calendar/civil.ts';
import type { DateOrder } from '../../calendar/dates.ts';
import { ordersOf, secondsOfDate } from '../../calendar/dates.ts';

/** A table of what was observed, as it stands in a file. */
export interface ObservedTable {
  readonly header: readonly string[];
  readonly rows: readonly SheetRow[];
}

/** What a column of times holds. */
export interface TimeColumn {
  /** The first of the table if absent. */
  readonly column?: string;
  readonly is:
    | { readonly date: DateOrder | undefined }
    /** A number of lengths of time; one in base units of time. */
    | { readonly every: number };
}

/** One value that was observed, and the stretch of time that it is of. */
export interface Observation {
  /** In base units of time from the start of the run. */
  readonly time: number;
  /** The time before in the same series, from which on it was counted; the start of the run for the first. */
  readonly since: number;
  /** In the unit in which the observer wrote it. */
  readonly value: number;
  /** Standard deviation of its error, where a column gives one. */
  readonly sd?: number;
}

/** Which cells of a table make up a series. */
export interface SeriesColumns {
  /** Several are replicates. */
  readonly columns: readonly string[];
  /** The column that holds the standard deviation of each value. */
  readonly errorColumn?: string;
  /** Of a long table: only rows in which a column holds a word. */
  readonly where?: { readonly column: string; readonly is: string };
}

export interface ObservedReading {
  /** In the order of time; replicates one after another. */
  readonly observations: readonly Observation[];
  /** Cells without a value. */
  readonly gaps: number;
  /** What could not be read, with its lines. */
  readonly problems: readonly string[];
}

const MAX_PROBLEMS = 8;
/** Observations of a series at most. */
const MOST_OBSERVATIONS = 5000;

/** Reads one series out of a table. */
export function readSeries(
  { header, rows }: ObservedTable,
  time: TimeColumn,
  { columns, errorColumn, where }: SeriesColumns,
  plan: Pick<Plan, 'clock'>,
): ObservedReading {
  const problems: string[] = [];
  const placeOf = (name: string | undefined, otherwise: number): number => {
    if (name === undefined) return otherwise;
    const place = header.findIndex((each) => each.trim().toLowerCase() === name.trim().toLowerCase());
    if (place < 0) problems.push(`There is no column “${name}”. The columns are ${header.join(', ')}.`);
    return place;
  };
  const timeAt = placeOf(time.column, 0);
  const valuesAt = columns.map((column) => placeOf(column, -1));
  const errorAt = placeOf(errorColumn, -1);
  const whereAt = placeOf(where?.column, -1);
  if (problems.length > 0) return { observations: [], gaps: 0, problems };
  const wanted = where ? rows.filter(({ cells }) => sameWord(cells[whereAt], where.is)) : rows;
  if (where && wanted.length === 0)
    return { observations: [], gaps: 0, problems: [`No row has “${where.is}” in column “${where.column}”.`] };
  const read = timeReader(time, wanted, timeAt, plan);
  if (typeof read === 'string') return { observations: [], gaps: 0, problems: [read] };
  const found: { time: number; value: number; sd?: number }[] = [];
  let gaps = 0;
  for (const { cells, line } of wanted) {
    const at = read(cells[timeAt] ?? '');
    if (at === undefined) {
      problems.push(
        `Line ${line}, column “${header[timeAt]}”: “${shownCell(cells[timeAt] ?? '')}” is no ${'date' in time.is ? 'date' : 'number'}.`,
      );
      continue;
    }
    for (const valueAt of valuesAt) {
      const text = cells[valueAt] ?? '';
      if (isEmptyCell(text)) {
        gaps++;
        continue;
      }
      const value = writtenNumber(text);
      const sd = errorAt < 0 || isEmptyCell(cells[errorAt] ?? '') ? undefined : writtenNumber(cells[errorAt]!);
      if (value === undefined)
        problems.push(`Line ${line}, column “${header[valueAt]}”: “${shownCell(text)}” is no number.`);
      else if (errorAt >= 0 && !(sd !== undefined && sd >= 0))
        problems.push(
          `Line ${line}, column “${header[errorAt]}”: “${shownCell(cells[errorAt] ?? '')}” is no error of 0 or more.`,
        );
      else found.push({ time: at, value, ...(sd === undefined ? {} : { sd }) });
    }
  }
  if (found.length > MOST_OBSERVATIONS)
    problems.unshift(
      `There are ${found.length.toLocaleString('en-GB')} values; at most ${MOST_OBSERVATIONS.toLocaleString('en-GB')} are compared. Take means or totals over longer intervals.`,
    );
  if (problems.length > MAX_PROBLEMS)
    problems.splice(MAX_PROBLEMS, Infinity, `... and ${problems.length - MAX_PROBLEMS} more.`);
  return { observations: withSince(found), gaps, problems };
}

const MOST_SHOWN = 60;

/** A cell as messages show it: in one line, which is cut where it is long. */
function shownCell(cell: string): string {
  const line = cell.replace(/\s+/g, ' ').trim();
  return line.length > MOST_SHOWN ? `${line.slice(0, MOST_SHOWN - 1)}…` : line;
}

/** In the order of time, each with the time before it that is not its own. */
function withSince(found: { time: number; value: number; sd?: number }[]): Observation[] {
  let [before, last] = [0, 0];
  return [...found]
    .sort((a, b) => a.time - b.time)
    .map((each) => {
      if (each.time !== last) [before, last] = [last, each.time];
      return { ...each, since: Math.min(before, each.time) };
    });
}

function sameWord(cell: string | undefined, word: string): boolean {
  return cell?.trim().toLowerCase() === word.trim().toLowerCase();
}

/**
 * A number as observers write it: with a decimal point or a decimal comma, thousands parted by spaces, points or commas.
 * One comma or point with three digits behind it alone parts no thousands: it is decimal, as `0,125` is.
 */
export function writtenNumber(cell: string): number | undefined {
  const bare = cell.trim().replace(/(?<=\d)[\s\u00a0\u2009'](?=\d{3})/g, '');
  const plain = cellNumber(bare);
  if (plain !== undefined) return plain;
  if (/^[+-]?\d{1,3}(\.\d{3})+,\d+$/.test(bare)) return cellNumber(bare.replace(/\./g, '').replace(',', '.'));
  if (/^[+-]?\d{1,3}(,\d{3})+(\.\d+)?$/.test(bare) && (bare.match(/[,.]/g)?.length ?? 0) > 1)
    return cellNumber(bare.replace(/,/g, ''));
  return cellNumber(bare.replace(',', '.'));
}

/** How the times of a table are read, or why they cannot be. */
function timeReader(
  { is }: TimeColumn,
  rows: readonly SheetRow[],
  column: number,
  { clock }: Pick<Plan, 'clock'>,
): string | ((cell: string) => number | undefined) {
  if ('every' in is)
    return (cell) => {
      const number = writtenNumber(cell);
      return number === undefined ? undefined : number * is.every;
    };
  if (!clock.start)
    return 'The model has no calendar: give its clock a starting date (“step 1 day from 2031-03-01”), or write “time is days”.';
  const dates = rows.map(({ cells }) => cells[column] ?? '').filter((cell) => !isEmptyCell(cell));
  const readable = is.date ? [is.date] : ordersOf(dates);
  if (
    readable.length > 1 &&
    dates.some((date) => secondsOfDate(date, readable[0]!) !== secondsOfDate(date, readable[1]!))
  )
    return `The dates can be read as ${readable.map((order) => order.replace(/ /g, ', ')).join(' or as ')}: write which, “time is date, written ${readable[0]!.replace(/ /g, '.')}”.`;
  const order = readable[0] ?? 'year month day';
  return (cell) => {
    const seconds = secondsOfDate(cell, order);
    return seconds === undefined ? undefined : timeOfSeconds(seconds, { clock });
  };
}

/** The time of a run in base units at which a day written as year-month-day begins, or at a time of such a day; nothing where that is no date, or the model has no calendar. */
export function timeOfDate(text: string, plan: Pick<Plan, 'clock'>): number | undefined {
  const seconds = secondsOfDate(text, 'year month day');
  return seconds === undefined ? undefined : timeOfSeconds(seconds, plan);
}

/** The time of a run in base units at a moment; nothing where the model has no calendar. @param seconds from the beginning of 1970 */
function timeOfSeconds(seconds: number, { clock: { start, unitSeconds } }: Pick<Plan, 'clock'>): number | undefined {
  return start && (seconds - secondsOfMoment(start)) / unitSeconds;
}
