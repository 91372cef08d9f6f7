/** Names of the months, January first. */
export const MONTHS = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
] as const;

/** The civil calendar without a clock. Source: H. Hinnant, chrono-compatible low-level date algorithms (2013). */

export interface CivilDate {
  readonly year: number;
  readonly month: number;
  readonly day: number;
}

/** A time of a day. */
export interface CivilMoment extends CivilDate {
  /** From midnight; 0 if it is not said. */
  readonly seconds?: number;
}

/** Seconds from the beginning of 1970 to a moment. */
export function secondsOfMoment({ year, month, day, seconds = 0 }: CivilMoment): number {
  return daysFromCivil(year, month, day) * 86_400 + seconds;
}

/** Days from 1970-01-01 to a date. */
export function daysFromCivil(year: number, month: number, day: number): number {
  const y = month <= 2 ? year - 1 : year;
  const era = Math.floor(y / 400);
  const yearOfEra = y - era * 400;
  const dayOfYear = Math.floor((153 * (month + (month > 2 ? -3 : 9)) + 2) / 5) + day - 1;
  return era * 146097 + yearOfEra * 365 + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100) + dayOfYear - 719468;
}

/** The date so many days after 1970-01-01. */
export function civilFromDays(days: number): CivilDate {
  const z = days + 719468;
  const era = Math.floor(z / 146097);
  const dayOfEra = z - era * 146097;
  const yearOfEra = Math.floor(
    (dayOfEra - Math.floor(dayOfEra / 1460) + Math.floor(dayOfEra / 36524) - Math.floor(dayOfEra / 146096)) / 365,
  );
  const dayOfYear = dayOfEra - (365 * yearOfEra + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100));
  const monthFromMarch = Math.floor((5 * dayOfYear + 2) / 153);
  const day = dayOfYear - Math.floor((153 * monthFromMarch + 2) / 5) + 1;
  const month = monthFromMarch < 10 ? monthFromMarch + 3 : monthFromMarch - 9;
  return { year: yearOfEra + era * 400 + (month <= 2 ? 1 : 0), month, day };
}

/** Monday is 1, Sunday 7. */
export function weekdayOf(days: number): number {
  return ((((days + 3) % 7) + 7) % 7) + 1;
}

export function dayOfYearOf(days: number): number {
  return days - daysFromCivil(civilFromDays(days).year, 1, 1) + 1;
}
