import type { CheckedTrip, NamedPlace } from './checked.ts';
import type { SheetRow } from './sheet.ts';

/** In seconds. */
const DAY = 24 * 3600;
/** Times of a timetable lie within two days, so that a trip may go on after midnight. */
const LATEST = 2 * DAY;

interface Problem {
  /** The line of the file; its head without one. */
  readonly line?: number;
  readonly what: string;
}

/**
 * The trips of a timetable, in the order in which they begin: rows with a column `trip`, one for each stop in the order of the file, and times of day in `arrives` and `leaves`,
 * of which one may be left out.
 * @param places of the rows
 */
export function tripsOf(
  header: readonly string[],
  rows: readonly SheetRow[],
  places: readonly NamedPlace[],
): { readonly trips: readonly CheckedTrip[]; readonly problem?: Problem } {
  const column = (name: string): number => header.findIndex((cell) => cell.toLowerCase() === name);
  const [trip, arrives, leaves] = [column('trip'), column('arrives'), column('leaves')];
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
    const draft = found.get(name) ?? { name, line, stops: [], arrives: [], leaves: [] };
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

/** A trip that begins after midnight is one of the next day, as all days are alike. */
function onItsDay({ name, stops, arrives, leaves }: CheckedTrip): CheckedTrip {
  const days = Math.floor(arrives[0]! / DAY);
  const shifted = (times: readonly number[]): number[] => times.map((time) => time - days * DAY);
  return { name, stops, arrives: shifted(arrives), leaves: shifted(leaves) };
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
