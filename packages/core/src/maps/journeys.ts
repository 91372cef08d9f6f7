import { HeadwayJourneys } from './headway-journeys.ts';
import type { Lanes } from './lanes.ts';
import { TimetableJourneys } from './timetable-journeys.ts';
import { SLACK } from './timetable.ts';

/** Times of a trip at its stops, in base units from midnight of the day, or the week, on which it begins. */
interface TripTimes {
  readonly arrives: Float64Array;
  readonly leaves: Float64Array;
  /** How many trips its timetable has. */
  readonly trips: number;
}

/** A line of a run: the places of its stops, along which its vehicles go from the first to the last. */
export interface LineOfRun {
  readonly x: Float64Array;
  readonly y: Float64Array;
  /** Kinds of ways that its vehicles keep to, with blanks between them; all if empty. */
  readonly ways: string;
  readonly trip?: TripTimes;
}

/** How somebody goes on foot: at a speed, by the quickest way if so, on some kinds of ways, and with which lines and trips. */
export interface Walker {
  readonly pace: number;
  readonly quickest: boolean;
  readonly ways: string;
  readonly lines: readonly number[];
  /** The first of the trips of each line with a timetable, and the one after the last. */
  readonly trips: readonly (readonly [number, number])[];
}

/** Where a line runs: places, x and y by turns. */
export interface LineCourse {
  /** Its number in the plan. */
  readonly line: number;
  readonly stops: Float32Array;
  /** Corners of the way that its vehicles take. */
  readonly way: Float32Array;
}

/** A part of a journey: on foot to a place, or in a vehicle from one stop of a line to another, counted from 0, after a wait; with times. */
export type Leg =
  | { readonly is: 'walk'; readonly x: number; readonly y: number; readonly time: number }
  | {
      readonly is: 'ride';
      /** Its number in the plan. */
      readonly line: number;
      readonly from: number;
      readonly to: number;
      readonly x: number;
      readonly y: number;
      readonly wait: number;
      readonly time: number;
    };

export type Asked = 'time' | 'x' | 'y' | 'rides';

/** The vehicle that one takes first: of a line with its wait, or of a trip that leaves at a time. */
export interface FirstRide {
  readonly line: number;
  readonly stop: number;
  readonly wait: number;
  readonly departs?: number;
}

/** Parts of a journey at most, so that telling one comes to an end. */
const MOST_LEGS = 40;

/** Journeys of a run on a map, on foot and with lines, by headway and by timetable. */
export class Journeys {
  private readonly headways: HeadwayJourneys;
  private readonly timetables = new Map<string, TimetableJourneys>();

  /**
   * @param day after which timetables begin anew, in base units: a day, or a week
   * @param begin of the run, in base units from midnight of its first day; its times are counted from there
   */
  constructor(
    private readonly lanes: Lanes,
    private readonly lines: readonly LineOfRun[],
    private readonly day: number,
    private readonly begin = 0,
  ) {
    const none = { x: new Float64Array(), y: new Float64Array(), ways: '' };
    this.headways = new HeadwayJourneys(
      lanes,
      lines.map((line) => (line.trip ? none : line)),
    );
  }

  /**
   * The least expected time from a place to another, or a coordinate of where to walk next, or whether that is a stop where one waits for a line.
   * @param terms headway, speed and time at stops of each of the walker's lines, in their order
   */
  ask(
    which: Asked,
    x: number,
    y: number,
    now: number,
    goalX: number,
    goalY: number,
    walker: Walker,
    terms: readonly number[],
  ): number {
    return walker.trips.length > 0
      ? this.timetablesOf(walker).ask(which, x, y, now + this.begin, goalX, goalY, walker, terms)
      : this.headways.ask(which, x, y, goalX, goalY, walker, terms);
  }

  /** The courses of lines, each once, however many trips go along it. @param most how many at most */
  courses(most: number): LineCourse[] {
    const seen = new Set<string>();
    const courses: LineCourse[] = [];
    for (const [line, { x, y, ways }] of this.lines.entries()) {
      const stops = [...x].flatMap((at, i) => [at, y[i]!]);
      const key = `${ways} ${stops.join(' ')}`;
      if (stops.length === 0 || seen.has(key) || courses.length >= most) continue;
      seen.add(key);
      const way = [...x.subarray(1)].flatMap((to, i) => this.lanes.path(x[i]!, y[i]!, to, y[i + 1]!, ways));
      courses.push({ line, stops: Float32Array.from(stops), way: Float32Array.from(way) });
    }
    return courses;
  }

  stop(line: number, axis: 'x' | 'y', stop: number): number {
    return this.lines[line]?.[axis][stop] ?? NaN;
  }

  /**
   * The expected time to a place from a stop on, in a vehicle that leaves it; infinite where it leads nowhere near, as from the last stop.
   * @param departs when it is to leave
   * @param since since when that is waited for
   */
  rideTime(
    line: number,
    stop: number,
    departs: number,
    since: number,
    now: number,
    goalX: number,
    goalY: number,
    walker: Walker,
    terms: readonly number[],
  ): number {
    const { begin } = this;
    return walker.trips.length > 0
      ? this.timetablesOf(walker).rideTime(
          line,
          stop,
          departs + begin,
          since + begin,
          now + begin,
          goalX,
          goalY,
          walker,
          terms,
        )
      : Math.max(0, departs - since) + this.headways.rideTime(line, stop, goalX, goalY, walker, terms);
  }

  /**
   * The journey that is expected from a place at a time, part by part.
   * @param aboard the vehicle that one sits in: its line, the stop that it was at last, and when it was to leave that
   */
  legs(
    x: number,
    y: number,
    now: number,
    goalX: number,
    goalY: number,
    walker: Walker,
    terms: readonly number[],
    aboard?: { readonly line: number; readonly stop: number; readonly departs: number },
  ): Leg[] {
    const legs: Leg[] = [];
    let at = { x, y, time: now };
    const ride = (line: number, from: number, departs: number, wait: number): void => {
      const to = this.alightsAt(line, from, departs, at.time + wait, goalX, goalY, walker, terms);
      const time = this.lines[line]!.trip
        ? this.timeOfTrip(line, from, to)
        : this.headways.timesAlong(line, from, walker, terms)[to - from - 1]!;
      at = { x: this.stop(line, 'x', to), y: this.stop(line, 'y', to), time: at.time + wait + time };
      legs.push({ is: 'ride', line, from, to, x: at.x, y: at.y, wait, time });
    };
    const walk = (toX: number, toY: number): void => {
      const time = this.headways.walk(at.x, at.y, toX, toY, walker);
      if (toX !== at.x || toY !== at.y) legs.push({ is: 'walk', x: toX, y: toY, time });
      at = { x: toX, y: toY, time: at.time + time };
    };
    if (aboard && this.stop(aboard.line, 'x', aboard.stop + 1) === this.stop(aboard.line, 'x', aboard.stop + 1))
      ride(aboard.line, aboard.stop, aboard.departs, 0);
    while (legs.length < MOST_LEGS) {
      const next =
        walker.trips.length > 0
          ? this.timetablesOf(walker).firstRide(at.x, at.y, at.time + this.begin, goalX, goalY, walker, terms)
          : this.headways.firstRide(at.x, at.y, goalX, goalY, walker, terms);
      if (!next) break;
      walk(this.stop(next.line, 'x', next.stop), this.stop(next.line, 'y', next.stop));
      const departs = next.departs === undefined ? undefined : next.departs - this.begin;
      const wait = departs === undefined ? next.wait : Math.max(0, departs - at.time);
      ride(next.line, next.stop, departs ?? 0, wait);
    }
    walk(goalX, goalY);
    return legs;
  }

  private timeOfTrip(line: number, from: number, to: number): number {
    const { arrives, leaves } = this.lines[line]!.trip!;
    return arrives[to]! - leaves[from]!;
  }

  /** The first stop at which to leave a vehicle is quicker than to stay in it; the last at the latest. */
  private alightsAt(
    line: number,
    from: number,
    departs: number,
    now: number,
    goalX: number,
    goalY: number,
    walker: Walker,
    terms: readonly number[],
  ): number {
    const { x, y, trip } = this.lines[line]!;
    const along = trip ? [] : this.headways.timesAlong(line, from, walker, terms);
    for (let stop = from + 1; stop < x.length - 1; stop++) {
      const there = now + (trip ? this.timeOfTrip(line, from, stop) : along[stop - from - 1]!);
      const departsThere = trip
        ? departs + trip.leaves[stop]! - trip.leaves[from]!
        : there + this.headways.stayOf(line, walker, terms);
      const stays = this.rideTime(line, stop, departsThere, there, there, goalX, goalY, walker, terms);
      const leaves = this.ask('time', x[stop]!, y[stop]!, there, goalX, goalY, walker, terms);
      if (!(stays <= leaves + this.day * SLACK)) return stop;
    }
    return x.length - 1;
  }

  /** What the timetable says of which `line` is the first trip, or of that trip. */
  timetable(which: 'begun by' | 'leaves' | 'ride' | 'stay', line: number, of: number): number {
    const { arrives, leaves, trips } = this.lines[line]!.trip!;
    switch (which) {
      case 'begun by':
        return this.begunBy(line, trips, of);
      case 'leaves': {
        const onDay = Math.floor(of / trips);
        return onDay * this.day + this.lines[line + of - onDay * trips]!.trip!.leaves[0]! - this.begin;
      }
      case 'ride':
        return arrives[of + 1]! - leaves[of]!;
      case 'stay':
        return leaves[of]! - arrives[of]!;
    }
  }

  /**
   * How many trips begin up to a time of the run, counted from midnight of its first day on; they stand in the order in which they begin. Those that begin
   * with the run are of its first step.
   */
  private begunBy(first: number, trips: number, time: number): number {
    const isStart = !(time > 0);
    const since = (isStart ? 0 : time) + this.begin;
    const onDay = Math.floor(since / this.day);
    const ofDay = since - onDay * this.day + (isStart ? -1 : 1) * this.day * SLACK;
    let [from, to] = [0, trips];
    while (from < to) {
      const middle = (from + to) >> 1;
      if (this.lines[first + middle]!.trip!.arrives[0]! <= ofDay) from = middle + 1;
      else to = middle;
    }
    return onDay * trips + from;
  }

  private timetablesOf({ trips }: Walker): TimetableJourneys {
    const key = trips.join(' ');
    const known = this.timetables.get(key);
    if (known) return known;
    const made = new TimetableJourneys(this.headways, this.lines, trips, this.day);
    this.timetables.set(key, made);
    return made;
  }
}
