import { strFromU8, unzipSync } from 'fflate';
import Papa from 'papaparse';
import { csvOf } from '../csv.ts';
import { civilFromDays, daysFromCivil, weekdayOf } from '../calendar/civil.ts';
import { MapProblem } from '../maps/map-file.ts';

/**
 * Transit feeds in the open form GTFS: tables of stops, routes, trips and stop times, as a zip or a folder. The trips of one day become a timetable that a line reads: a row for each stop.
 * Source: the open specification, General Transit Feed Specification reference, files stops, routes, trips, stop_times, calendar, calendar_dates, frequencies.
 */

/** What is asked of a feed. */
export interface FeedWish {
  /** As 2031-05-16; without it the first of the days on which most trips run, or in the first of the weeks in which most do. */
  readonly date?: string;
  /** Names or ids of routes; all without it. */
  readonly routes?: readonly string[];
  /** The trips of the whole week in which the day lies, with the days on which each runs. */
  readonly week?: boolean;
}

export interface FeedTrips {
  /** CSV with columns trip, route, stop, lon, lat, arrives, leaves, and days where they are those of a week. */
  readonly table: string;
  readonly date: string;
  /** Whether they are those of the week of that day. */
  readonly isOfWeek: boolean;
  readonly trips: number;
  readonly stops: number;
  readonly routes: readonly string[];
  /** Trips of the day that are left out, as they have fewer than two stops with place and time. */
  readonly leftOut: number;
}

const FILES = ['stops', 'routes', 'trips', 'stop_times', 'calendar', 'calendar_dates', 'frequencies'] as const;
type FeedFile = (typeof FILES)[number];
type Row = Readonly<Record<string, string>>;

const WEEKDAYS = ['monday', 'tuesday', 'wednesday', 'thursday', 'friday', 'saturday', 'sunday'];
/** In seconds; a timetable takes none from here on. */
const LATEST = 48 * 3600;
/** Days of a calendar that are looked at, so that a feed that never ends comes to an end. */
const MOST_DAYS = 3700;

/** Whether a file is a table of a feed, wherever it lies. */
export function isFeedFile(path: string): boolean {
  return FILES.some((name) => path === `${name}.txt` || path.endsWith(`/${name}.txt`));
}

/**
 * The tables of a zipped feed.
 * @throws {MapProblem} where it is no zip, or one without them
 */
export function feedOfZip(bytes: Uint8Array): ReadonlyMap<string, string> {
  try {
    const found = unzipSync(bytes, { filter: ({ name }) => isFeedFile(name) });
    return new Map(Object.entries(found).map(([name, content]) => [name, strFromU8(content)]));
  } catch {
    throw new MapProblem(
      'This is no zip that can be read.',
      'A transit feed is a zip or a folder with stop_times.txt.',
    );
  }
}

/**
 * The trips of one day of a feed as a timetable.
 * @param files texts by name or path
 * @throws {MapProblem} that says what is missing or wrong, and where
 */
export function tripsOfFeed(files: ReadonlyMap<string, string>, wish: FeedWish = {}): FeedTrips {
  return new Feed(files).trips(wish);
}

class Feed {
  constructor(private readonly files: ReadonlyMap<string, string>) {}

  private rows(name: FeedFile, needs: readonly string[]): readonly Row[] {
    const text = [...this.files].find(([path]) => path === `${name}.txt` || path.endsWith(`/${name}.txt`))?.[1];
    if (text === undefined) {
      if (needs.length === 0) return [];
      throw new MapProblem(
        `The feed has no ${name}.txt.`,
        'A transit feed is a zip or a folder with stops.txt, trips.txt and stop_times.txt.',
      );
    }
    const { data, meta, errors } = Papa.parse<Row>(text.replace(/^\uFEFF/, ''), {
      header: true,
      skipEmptyLines: 'greedy',
      transformHeader: (head) => head.trim(),
      transform: (cell) => cell.trim(),
    });
    const quotes = errors.find(({ type }) => type === 'Quotes');
    if (quotes)
      throw new MapProblem(
        `${name}.txt has a cell whose quotation marks do not fit, in row ${(quotes.row ?? 0) + 1}, its head counted.`,
        'Close each cell that begins with a quotation mark, and write marks inside it twice.',
      );
    const missing = needs.find((column) => !meta.fields?.includes(column));
    if (missing) throw new MapProblem(`${name}.txt has no column “${missing}”.`, 'The open form of feeds asks for it.');
    return data;
  }

  trips({ date, routes: wanted, week = false }: FeedWish): FeedTrips {
    const stops = new Map(this.rows('stops', ['stop_id', 'stop_lat', 'stop_lon']).map((row) => [row.stop_id!, row]));
    const names = this.routeNames(wanted);
    const trips = this.rows('trips', ['route_id', 'service_id', 'trip_id']).filter(({ route_id }) =>
      names.has(route_id!),
    );
    const day = this.dayOf(trips, date, week);
    const runs = this.daysOfServices(day, week);
    const ofDay = trips.filter(({ service_id }) => runs.has(service_id!));
    const times = this.stopTimes(new Set(ofDay.map(({ trip_id }) => trip_id!)));
    const again = byTrip(this.rows('frequencies', []));
    const lines: (readonly string[])[] = [];
    const seen = new Set<string>();
    const routes = new Set<string>();
    let [count, leftOut] = [0, 0];
    for (const { trip_id: trip, route_id, service_id } of ofDay) {
      const visits = visitsOf(times.get(trip!) ?? [], stops);
      if (visits.length < 2) {
        leftOut++;
        continue;
      }
      for (const [name, shift] of startsOf(trip!, visits[0]!, again.get(trip!))) {
        count++;
        routes.add(names.get(route_id!)!);
        for (const { stop, arrives, leaves } of visits) {
          seen.add(stop.stop_id!);
          const { stop_name, stop_lon, stop_lat } = stop;
          const said = [stop_lon!, stop_lat!, clockText(arrives + shift), clockText(leaves + shift)];
          const days = week ? [runs.get(service_id!)!] : [];
          lines.push([name, names.get(route_id!)!, stop_name ?? stop.stop_id!, ...said, ...days]);
        }
      }
    }
    if (count === 0)
      throw new MapProblem(
        `No trip of this feed runs ${week ? 'in the week of' : 'on'} ${dateText(day)}${wanted ? ` on ${wanted.join(', ')}` : ''}.`,
        'Ask for another day, as 2031-05-16, or for other routes.',
      );
    return {
      table: csvOf([['trip', 'route', 'stop', 'lon', 'lat', 'arrives', 'leaves', ...(week ? ['days'] : [])], ...lines]),
      date: dateText(day),
      isOfWeek: week,
      trips: count,
      stops: seen.size,
      routes: [...routes],
      leftOut,
    };
  }

  /** Names of the routes that are wanted, by their ids. */
  private routeNames(wanted: readonly string[] | undefined): ReadonlyMap<string, string> {
    const rows = this.rows('routes', ['route_id']);
    const names = new Map(
      rows.map((row) => [row.route_id!, row.route_short_name || row.route_long_name || row.route_id!]),
    );
    if (!wanted) return names;
    const isNamed = (word: string, [id, name]: readonly [string, string]): boolean => word === id || word === name;
    const unknown = wanted.find((word) => ![...names].some((route) => isNamed(word, route)));
    if (unknown !== undefined)
      throw new MapProblem(
        `The feed has no route “${unknown}”.`,
        `It has ${[...new Set(names.values())].slice(0, 12).join(', ')}${names.size > 12 ? ' ...' : ''}.`,
      );
    return new Map([...names].filter((route) => wanted.some((word) => isNamed(word, route))));
  }

  /** The day that is asked for, or the first of those, or in the first of the weeks, with most trips; in days since 1970-01-01. */
  private dayOf(trips: readonly Row[], date: string | undefined, week: boolean): number {
    if (date !== undefined) {
      const day = dayNumber(/^(\d{4})-(\d\d)-(\d\d)$/.exec(date));
      if (day === undefined) throw new MapProblem(`“${date}” is no date.`, 'A date is written as 2031-05-16.');
      return day;
    }
    const perService = new Map<string, number>();
    for (const { service_id } of trips) perService.set(service_id!, (perService.get(service_id!) ?? 0) + 1);
    const days = this.days();
    /** By the day, or by the Monday of its week. */
    const counts = new Map<number, { readonly first: number; trips: number }>();
    for (const day of days) {
      const key = week ? day - (weekdayOf(day) - 1) : day;
      let count = counts.get(key);
      if (!count) counts.set(key, (count = { first: day, trips: 0 }));
      for (const service of this.servicesOn(day)) count.trips += perService.get(service) ?? 0;
    }
    let [best, most] = [days[0], 0];
    for (const { first, trips } of counts.values()) if (trips > most) [best, most] = [first, trips];
    if (best === undefined)
      throw new MapProblem('The feed says of no day what runs on it.', 'It needs calendar.txt or calendar_dates.txt.');
    return best;
  }

  private days(): number[] {
    const found = new Set<number>();
    for (const { start_date, end_date } of this.calendar()) {
      const [from, to] = [start_date, end_date].map((text) => dayNumber(DATE.exec(text ?? '')));
      if (from === undefined || to === undefined) continue;
      for (let day = from; day <= Math.min(to, from + MOST_DAYS); day++) found.add(day);
    }
    for (const { date } of this.exceptions()) {
      const day = dayNumber(DATE.exec(date ?? ''));
      if (day !== undefined) found.add(day);
    }
    return [...found].sort((a, b) => a - b);
  }

  private servicesOn(day: number): string[] {
    const weekday = WEEKDAYS[weekdayOf(day) - 1]!;
    const text = dateText(day).replaceAll('-', '');
    const services = new Set(
      this.calendar().flatMap((row) =>
        row[weekday] === '1' && row.start_date! <= text && text <= row.end_date! ? [row.service_id!] : [],
      ),
    );
    for (const { service_id, date, exception_type } of this.exceptions()) {
      if (date !== text) continue;
      if (exception_type === '1') services.add(service_id!);
      else services.delete(service_id!);
    }
    return [...services];
  }

  /** What runs on a day, or in its week, by service: the days on which it does. */
  private daysOfServices(day: number, week: boolean): ReadonlyMap<string, string> {
    const found = new Map<string, string>();
    const monday = day - (weekdayOf(day) - 1);
    for (const [i, name] of WEEKDAYS.entries()) {
      if (!week && monday + i !== day) continue;
      for (const service of this.servicesOn(monday + i)) {
        const short = name.slice(0, 3);
        found.set(service, found.has(service) ? `${found.get(service)} ${short}` : short);
      }
    }
    return found;
  }

  private kept: { calendar?: readonly Row[]; exceptions?: readonly Row[] } = {};

  private calendar(): readonly Row[] {
    return (this.kept.calendar ??= this.rows('calendar', []));
  }

  private exceptions(): readonly Row[] {
    return (this.kept.exceptions ??= this.rows('calendar_dates', []));
  }

  /** Rows of trips in the order of their stops. */
  private stopTimes(trips: ReadonlySet<string>): ReadonlyMap<string, readonly Row[]> {
    const rows = this.rows('stop_times', ['trip_id', 'stop_id', 'stop_sequence']);
    const found = byTrip(rows.filter(({ trip_id }) => trips.has(trip_id!)));
    for (const visits of found.values()) visits.sort((a, b) => Number(a.stop_sequence) - Number(b.stop_sequence));
    return found;
  }
}

function byTrip(rows: readonly Row[]): Map<string, Row[]> {
  const found = new Map<string, Row[]>();
  for (const row of rows) {
    const known = found.get(row.trip_id!);
    if (known) known.push(row);
    else found.set(row.trip_id!, [row]);
  }
  return found;
}

interface Visit {
  readonly stop: Row;
  readonly arrives: number;
  readonly leaves: number;
}

/** Stops that have a place; times that are left out lie evenly between those before and after. */
function visitsOf(rows: readonly Row[], stops: ReadonlyMap<string, Row>): Visit[] {
  const at = rows.flatMap((row) => {
    const stop = stops.get(row.stop_id!);
    if (!stop || !Number.isFinite(parseFloat(stop.stop_lat!)) || !Number.isFinite(parseFloat(stop.stop_lon!)))
      return [];
    const [arrives, leaves] = [seconds(row.arrival_time), seconds(row.departure_time)];
    return [{ stop, arrives: arrives ?? leaves, leaves: leaves ?? arrives }];
  });
  const timed = at.flatMap(({ arrives }, i) => (arrives === undefined ? [] : [i]));
  const visits: Visit[] = [];
  for (let i = timed[0] ?? at.length; i <= (timed.at(-1) ?? -1); i++) {
    const { stop, arrives, leaves } = at[i]!;
    const before = timed.findLast((t) => t <= i)!;
    const after = timed.find((t) => t >= i)!;
    const between =
      before === after
        ? 0
        : at[before]!.leaves! + ((at[after]!.arrives! - at[before]!.leaves!) * (i - before)) / (after - before);
    const last = visits.at(-1)?.leaves ?? 0;
    const visit = { stop, arrives: arrives ?? between, leaves: leaves ?? between };
    // What goes back in time or too far is left out with what comes after it.
    if (visit.arrives < last || visit.leaves < visit.arrives || visit.leaves >= LATEST) break;
    visits.push(visit);
  }
  return visits;
}

/** Names and shifts in time of the trips that one stands for: itself, or as many as run at a headway. */
function startsOf(trip: string, first: Visit, headways: readonly Row[] | undefined): (readonly [string, number])[] {
  if (!headways) return [[trip, 0]];
  return headways.flatMap(({ start_time, end_time, headway_secs }) => {
    const [from, to, every] = [seconds(start_time), seconds(end_time), Number(headway_secs)];
    if (from === undefined || to === undefined || !(every > 0)) return [];
    return Array.from({ length: Math.ceil((to - from) / every) }, (_, i) => {
      const at = from + i * every;
      return [`${trip} ${clockText(at)}`, at - first.leaves] as const;
    });
  });
}

const DATE = /^(\d{4})(\d\d)(\d\d)$/;

function dayNumber(parts: RegExpExecArray | null): number | undefined {
  if (!parts) return undefined;
  const [year, month, date] = parts.slice(1).map(Number) as [number, number, number];
  const day = daysFromCivil(year, month, date);
  const back = civilFromDays(day);
  return back.month === month && back.day === date ? day : undefined;
}

function dateText(day: number): string {
  const { year, month, day: date } = civilFromDays(day);
  return [year, month, date].map((part) => String(part).padStart(2, '0')).join('-');
}

function seconds(text: string | undefined): number | undefined {
  const parts = /^(\d{1,2}):(\d\d):(\d\d)$/.exec(text ?? '');
  return parts ? Number(parts[1]) * 3600 + Number(parts[2]) * 60 + Number(parts[3]) : undefined;
}

function clockText(time: number): string {
  const whole = Math.round(time);
  const two = (value: number): string => String(value).padStart(2, '0');
  return `${two(Math.floor(whole / 3600))}:${two(Math.floor(whole / 60) % 60)}:${two(whole % 60)}`;
}
