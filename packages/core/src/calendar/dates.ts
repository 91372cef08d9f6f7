import { daysFromCivil } from './civil.ts';

/** The order in which the numbers of a date are written. */
export const DATE_ORDERS = ['year month day', 'day month year', 'month day year'] as const;
/** One of them. */
export type DateOrder = (typeof DATE_ORDERS)[number];

const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];
const DAY_SECONDS = 86_400;
const CLOCK = /[T\s]+(\d{1,2}):(\d{2})(?::(\d{2})(?:\.\d+)?)?\s*(?:Z|UTC)?$/i;

/**
 * Seconds from the beginning of 1970 to a date and time of the usual written forms: `2031-03-01`, `1.3.2031`, `03/01/2031`, `1 March 2031`,
 * `2031-03-01 14:30`. No places on earth: a time is that of the clock of the model.
 * @returns nothing where it is no date, or none in this order
 */
export function secondsOfDate(text: string, order: DateOrder): number | undefined {
  const clock = CLOCK.exec(text.trim());
  const date = (clock ? text.trim().slice(0, clock.index) : text.trim()).trim();
  const [hour, minute, second] = clock ? [clock[1], clock[2], clock[3] ?? '0'].map(Number) : [0, 0, 0];
  if (!(hour! <= 24 && minute! < 60 && second! < 60 && hour! * 3600 + minute! * 60 + second! <= DAY_SECONDS))
    return undefined;
  const civil = namedMonth(date) ?? inOrder(date, order);
  if (!civil) return undefined;
  const [year, month, day] = civil;
  if (!(month >= 1 && month <= 12 && day >= 1 && day <= daysOf(year, month))) return undefined;
  return daysFromCivil(year, month, day) * DAY_SECONDS + hour! * 3600 + minute! * 60 + second!;
}

/** The orders in which all of some dates can be read; a date with a month by its name says nothing of the order. */
export function ordersOf(dates: readonly string[]): DateOrder[] {
  return DATE_ORDERS.filter((order) => dates.every((date) => secondsOfDate(date, order) !== undefined));
}

function namedMonth(date: string): [number, number, number] | undefined {
  const words = /^(?:(\d{1,2})\.?[\s-]+([a-z]{3,9})\.?,?[\s-]+(\d{4})|([a-z]{3,9})\.?\s+(\d{1,2}),?\s+(\d{4}))$/i.exec(
    date,
  );
  if (!words) return undefined;
  const [, day1, name1, year1, name2, day2, year2] = words;
  const month = MONTHS.indexOf((name1 ?? name2)!.slice(0, 3).toLowerCase()) + 1;
  return [Number(year1 ?? year2), month, Number(day1 ?? day2)];
}

function inOrder(date: string, order: DateOrder): [number, number, number] | undefined {
  const packed = /^(\d{4})(\d{2})(\d{2})$/.exec(date);
  const parts = packed ?? /^(\d{1,4})([-./])(\d{1,2})\2(\d{1,4})$/.exec(date);
  if (!parts) return undefined;
  const [first, second, third] = packed ? packed.slice(1) : [parts[1]!, parts[3]!, parts[4]!];
  const [year, month, day] =
    order === 'year month day'
      ? [first, second, third]
      : order === 'day month year'
        ? [third, second, first]
        : [third, first, second];
  return year?.length === 4 && day!.length <= 2 && month!.length <= 2
    ? [Number(year), Number(month), Number(day)]
    : undefined;
}

function daysOf(year: number, month: number): number {
  const [nextYear, nextMonth] = month === 12 ? [year + 1, 1] : [year, month + 1];
  return daysFromCivil(nextYear, nextMonth, 1) - daysFromCivil(year, month, 1);
}
