import type { HeadwayJourneys } from './headway-journeys.ts';
import { isSame } from './headway-journeys.ts';
import type { Asked, FirstRide, LineOfRun, Walker } from './journeys.ts';
import type { Onward, Transfer } from './timetable.ts';
import { arrivalIn, SLACK, Timetable } from './timetable.ts';

/** What is known of ways to goals is forgotten when so many numbers are kept; nothing but time depends on it. */
const MOST_KEPT = 20_000_000;

/** Numbers that a goal keeps, roughly, beside those of each stop. */
const KEPT_OF_GOAL = 500;

/** What is known for one walker on some terms. */
interface Known {
  readonly walker: Walker;
  readonly terms: readonly number[];
  /** From each stop to each on foot or with lines that run every so often: the nearest first. */
  readonly transfers: (readonly Transfer[])[];
  readonly goals: Map<number, Map<number, Onward>>;
}

/**
 * Journeys in which some lines run by a timetable. Between its stops one goes on foot or with lines that run every so often, which takes the same time at any time; so the least time from
 * each of its stops is a function of the time of day that is found from the last trip to the first, for each goal and as far ahead as it takes without a trip.
 */
export class TimetableJourneys {
  private readonly timetable: Timetable;
  private readonly known: Known[] = [];
  private kept = 0;
  private last: (readonly number[])[] = [];
  private lastBest = { time: NaN, at: -1 };

  constructor(
    private readonly headways: HeadwayJourneys,
    lines: readonly LineOfRun[],
    trips: readonly (readonly [number, number])[],
    private readonly day: number,
  ) {
    this.timetable = new Timetable(lines, trips, day);
  }

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
    if (!(x === x && goalX === goalX)) return which === 'rides' ? 0 : NaN;
    const { time, at } = this.best(x, y, now, goalX, goalY, walker, terms);
    if (which === 'time') return time;
    if (at < 0) return this.headways.ask(which, x, y, goalX, goalY, walker, terms);
    return which === 'rides'
      ? 1
      : this.headways.ask(which, x, y, this.timetable.x[at]!, this.timetable.y[at]!, walker, terms);
  }

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
    const onward = this.onward(goalX, goalY, walker, terms);
    // Who leaves the vehicle here is there by then at the latest.
    const window = this.timetable.look(onward, now, this.timetable.ashoreFrom(onward, line, stop));
    const arrival = this.timetable.arrivalAboard(window, line, stop, departs);
    if (arrival !== undefined) return arrival - now;
    if (!walker.lines.includes(line)) return Infinity;
    // With a line that runs every so often to some later stop, and on from there by the timetable.
    const leaves = Math.max(0, departs - since);
    const times = this.headways.timesAlong(line, stop, walker, terms);
    return times.reduce(
      (best, time, i) => {
        const [x, y] = this.headways.placeOf(line, stop + 1 + i);
        const beyond = this.best(x, y, now + leaves + time, goalX, goalY, walker, terms).time;
        return Math.min(best, leaves + time + beyond);
      },
      leaves + this.headways.rideTime(line, stop, goalX, goalY, walker, terms),
    );
  }

  /** The vehicle that one takes first; nothing where one goes on foot. */
  firstRide(
    x: number,
    y: number,
    now: number,
    goalX: number,
    goalY: number,
    walker: Walker,
    terms: readonly number[],
  ): FirstRide | undefined {
    const { time, at } = this.best(x, y, now, goalX, goalY, walker, terms);
    if (at < 0) return this.headways.firstRide(x, y, goalX, goalY, walker, terms);
    const [toX, toY] = [this.timetable.x[at]!, this.timetable.y[at]!];
    const before = this.headways.firstRide(x, y, toX, toY, walker, terms);
    if (before) return before;
    const there = now + this.headways.walk(x, y, toX, toY, walker);
    const slack = this.day * SLACK;
    const window = this.timetable.look(this.onward(goalX, goalY, walker, terms), now, time);
    return this.timetable.tripFrom(window, at, there - slack, now + time + slack);
  }

  /** The least time from a place, and the stop at which one then takes a trip; -1 where none is taken. */
  private best(
    x: number,
    y: number,
    now: number,
    goalX: number,
    goalY: number,
    walker: Walker,
    terms: readonly number[],
  ): { readonly time: number; readonly at: number } {
    const asked = [[x, y, now, goalX, goalY, walker.pace], terms];
    if (this.isLast(asked)) return this.lastBest;
    let time = this.headways.ask('time', x, y, goalX, goalY, walker, terms);
    const window = this.timetable.look(this.onward(goalX, goalY, walker, terms), now, time);
    const ofDay = now - window.base;
    let at = -1;
    const isOnFoot = walker.lines.length === 0 && !walker.quickest;
    for (let stop = 0; stop < this.timetable.x.length; stop++) {
      const [toX, toY] = [this.timetable.x[stop]!, this.timetable.y[stop]!];
      const straight = Math.sqrt((toX - x) * (toX - x) + (toY - y) * (toY - y));
      if (isOnFoot && straight >= time * walker.pace) continue;
      const there = this.headways.ask('time', x, y, toX, toY, walker, terms);
      if (there >= time) continue;
      const whole = arrivalIn(window, stop, ofDay + there - this.day * SLACK) - ofDay;
      if (whole < time) [time, at] = [whole, stop];
    }
    this.last = asked;
    return (this.lastBest = { time, at });
  }

  private isLast(asked: readonly (readonly number[])[]): boolean {
    return asked.every(
      (values, i) => values.length === this.last[i]?.length && values.every((value, j) => value === this.last[i]![j]),
    );
  }

  private onward(goalX: number, goalY: number, walker: Walker, terms: readonly number[]): Onward {
    if (this.kept > MOST_KEPT) this.forget();
    const known = this.knownOf(walker, terms);
    const column = known.goals.get(goalX) ?? new Map<number, Onward>();
    const found = column.get(goalY);
    if (found) return found;
    const { x, y } = this.timetable;
    const ashore = Float64Array.from(x, (at, stop) =>
      this.headways.ask('time', at, y[stop]!, goalX, goalY, walker, terms),
    );
    const made = this.timetable.onward(ashore, known.transfers);
    this.kept += KEPT_OF_GOAL + 2 * ashore.length;
    known.goals.set(goalX, column.set(goalY, made));
    return made;
  }

  private knownOf(walker: Walker, terms: readonly number[]): Known {
    const at = this.known.findIndex((other) => isSame(walker, terms, other.walker, other.terms));
    if (at === 0) return this.known[0]!;
    const known = at > 0 ? this.known.splice(at, 1)[0]! : this.newKnown(walker, terms);
    this.known.unshift(known);
    return known;
  }

  private newKnown(walker: Walker, terms: readonly number[]): Known {
    const { x, y } = this.timetable;
    const stops = [...x.keys()];
    const transfers = stops.map((from) =>
      stops
        .map((stop) => ({
          stop,
          time: this.headways.ask('time', x[from]!, y[from]!, x[stop]!, y[stop]!, walker, terms),
        }))
        .filter(({ time }) => time < Infinity)
        .sort((a, b) => a.time - b.time || a.stop - b.stop),
    );
    this.kept += 2 * stops.length * stops.length;
    return { walker, terms, transfers, goals: new Map() };
  }

  private forget(): void {
    this.known.length = 0;
    this.last = [];
    this.kept = 0;
  }
}
