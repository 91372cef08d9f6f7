import type { CheckedTrip, NamedPlace } from './checked.ts';
import type { SheetRow } from './sheet.ts';
import { WEEKDAYS } from './words.ts';

/** In seconds. */
const DAY = 24 * 3600;
/** Times of a timetable lie within two days, so that a trip may go on after midnight. */
const LATEST = 2 * DAY;
const WEEK = 7;

interface Problem {
  /** The line of the file; its head without one. */
  readonly line?: number;
  readonly what: string;
}

/**
 * The trips of a timetable, in the order in which they begin: rows with a column `trip`, one for each stop in the order of the file, and times of day in `arrives` and `leaves`,
 * of which one may be left out. A column `days` says on which a trip runs: `Mon Wed`, `Mon-Fri`, `weekdays`, `weekends`; those of the first row of a trip count.
 * @param places of the rows
 */
export function tripsOf(
  header: readonly string[],
  rows: readonly SheetRow[],
  places: readonly NamedPlace[],
): { readonly trips: readonly CheckedTrip[]; readonly problem?: Problem } {
  const column = (name: string): number => header.findIndex((cell) => cell.toLowerCase() === name);
  const [trip, arrives, leaves] = [column('trip'), column('arrives'), column('leaves')];
  const runs = column('days');
  const fails = (what: string, line?: number) => ({ trips: [], problem: { line, what } });
  if (trip < 0) return fails('a column “trip” is needed: a name for each trip, the same in all of its rows.');
  if (arrives < 0 && leaves < 0)
    return fails('a column “arrives” or “leaves” is needed: times of day such as 7:05 or 25:10:30.');
  const found = new Map<string, TripDraft>();
  for (const [r, { cells, line }] of rows.entries()) {
    const name = (cells[trip] ?? '').trim();
    if (name === '') return fails('the trip has no name.', line);
    const said = [arrives, leaves].map((at) => (at < 0 ? '' : (cells[at] ?? '').trim()));
    if (said.every((cell) => cell === '')) return fails('a time is missing.', line);
    const times = said.map((cell, i) => timeOfDay(cell || said[1 - i]!));
    const wrong = times.findIndex((time) => time === undefined);
    if (wrong >= 0)
      return fails(
        `“${said[wrong]! || said[1 - wrong]!}” is no time of day, such as 7:05 or 25:10:30, before 48:00.`,
        line,
      );
    const [arrival, departure] = times as [number, number];
    const days = found.has(name) ? undefined : daysOf(runs < 0 ? '' : (cells[runs] ?? ''));
    if (days === 'wrong')
      return fails(`“${cells[runs]!}” names no days, such as Mon-Fri, Sat Sun, weekdays or weekends.`, line);
    const draft = found.get(name) ?? { name, line, stops: [], arrives: [], leaves: [], days };
    found.set(name, draft);
    const before = draft.leaves.at(-1);
    if (departure < arrival) return fails('it leaves before it arrives.', line);
    if (before !== undefined && arrival < before)
      return fails(
        `trip “${name}” arrives before it has left the stop before; rows stand in the order of stops.`,
        line,
      );
    draft.stops.push(places[r]!);
    draft.arrives.push(arrival);
    draft.leaves.push(departure);
  }
  const trips = [...found.values()];
  if (trips.length === 0) return fails('it holds no trip of this line.');
  const alone = trips.find(({ stops }) => stops.length < 2);
  if (alone) return fails(`trip “${alone.name}” has one stop, and needs two or more.`, alone.line);
  return { trips: trips.map(onItsDay).sort((a, b) => a.arrives[0]! - b.arrives[0]!) };
}

/** A trip that begins after midnight is one of the next day. */
function onItsDay({ name, stops, arrives, leaves, days }: CheckedTrip): CheckedTrip {
  const later = Math.floor(arrives[0]! / DAY);
  const shifted = (times: readonly number[]): number[] => times.map((time) => time - later * DAY);
  const on = days?.map((day) => (day + later) % WEEK);
  return { name, stops, arrives: shifted(arrives), leaves: shifted(leaves), ...(on && { days: on }) };
}

/** The days of the week that a cell names, Monday 0; undefined where it names none, which is every day. */
function daysOf(cell: string): readonly number[] | undefined | 'wrong' {
  const said = cell.trim().toLowerCase();
  if (said === '' || said === 'daily' || said === 'every day') return undefined;
  const found = new Set<number>();
  for (const word of said.split(/[\s,;]+/).filter(Boolean)) {
    const [from, to] = word === 'weekdays' ? [0, 4] : word === 'weekends' ? [5, 6] : rangeOf(word);
    if (from === undefined || to === undefined) return 'wrong';
    for (let day = from; ; day = (day + 1) % WEEK) {
      found.add(day);
      if (day === to) break;
    }
  }
  return [...found].sort((a, b) => a - b);
}

/** `mon`, `monday` or `mon-fri`. */
function rangeOf(word: string): (number | undefined)[] {
  const parts = word.split(/[-\u2013]/);
  const days = parts.map((part) => {
    const day = WEEKDAYS.findIndex((name) => part.length >= 3 && name.startsWith(part));
    return day < 0 ? undefined : day;
  });
  return days.length === 1 ? [days[0], days[0]] : days.length === 2 ? days : [undefined];
}

/** The trips of a week, from the day with which a run begins on. @param start that day, Monday 0 */
export function tripsOfWeek(trips: readonly CheckedTrip[], start: number): CheckedTrip[] {
  const week = trips.flatMap(({ name, stops, arrives, leaves, days = [0, 1, 2, 3, 4, 5, 6] }) =>
    days.map((day): CheckedTrip => {
      const shift = ((day - start + WEEK) % WEEK) * DAY;
      return { name, stops, arrives: arrives.map((at) => at + shift), leaves: leaves.map((at) => at + shift) };
    }),
  );
  return week.sort((a, b) => a.arrives[0]! - b.arrives[0]!);
}

interface TripDraft extends CheckedTrip {
  readonly line: number;
  readonly stops: NamedPlace[];
  readonly arrives: number[];
  readonly leaves: number[];
}

/** Seconds from midnight; undefined for what is no time of day. */
function timeOfDay(cell: string): number | undefined {
  const [, hours, minutes, seconds] = /^(\d{1,2}):([0-5]\d)(?::([0-5]\d))?$/.exec(cell) ?? [];
  if (hours === undefined) return undefined;
  const time = Number(hours) * 3600 + Number(minutes) * 60 + Number(seconds ?? 0);
  return time < LATEST ? time : undefined;
}
