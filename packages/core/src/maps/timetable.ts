import type { FirstRide, LineOfRun } from './journeys.ts';

/** Days before and after the one that is looked at whose trips are known. */
const FIRST_DAY = -1;
const LAST_DAY = 2;

/** From a stop to the next with one trip on one day. */
interface Leg {
  readonly trip: number;
  readonly day: number;
  readonly stop: number;
  readonly leaves: number;
  readonly arrives: number;
}

/** What can be reached from the stops of a timetable on the way to one goal: times of arrival there, from midnight of the day that is looked at. */
export interface Onward {
  /** When one who is at a stop at a time arrives who takes a trip there; infinite where there is none. */
  arrival(stop: number, time: number): number;
  /** Of each trip of that day, by stop: when one arrives who leaves the stop in it. */
  readonly aboard: readonly Float64Array[];
  /** How many numbers it keeps. */
  readonly size: number;
}

/** Trips of lines that run by timetables, the same on every day, and the distinct places at which they stop. */
export class Timetable {
  readonly x: Float64Array;
  readonly y: Float64Array;
  /** The place of each stop of each trip. */
  private readonly stops: readonly Int32Array[];
  private readonly trips: readonly LineOfRun[];
  /** Those that leave last first. */
  private readonly legs: readonly Leg[];
  /** Number of the trip here, by its number in the run. */
  private readonly numbers = new Map<number, number>();

  constructor(
    lines: readonly LineOfRun[],
    ranges: readonly (readonly [number, number])[],
    private readonly day: number,
  ) {
    for (const [from, to] of ranges) for (let line = from; line < to; line++) this.numbers.set(line, this.numbers.size);
    this.trips = [...this.numbers.keys()].map((line) => lines[line]!);
    const places = new Map<string, number>();
    this.stops = this.trips.map(({ x, y }) =>
      Int32Array.from(x, (at, i) => {
        const key = `${at} ${y[i]!}`;
        const known = places.get(key) ?? places.size;
        places.set(key, known);
        return known;
      }),
    );
    const axis = (which: 'x' | 'y'): Float64Array => {
      const values = new Float64Array(places.size);
      this.trips.forEach((trip, t) => trip[which].forEach((value, i) => (values[this.stops[t]![i]!] = value)));
      return values;
    };
    [this.x, this.y] = [axis('x'), axis('y')];
    this.legs = this.allLegs();
  }

  private allLegs(): Leg[] {
    const legs: Leg[] = [];
    for (let day = FIRST_DAY; day <= LAST_DAY; day++)
      this.trips.forEach(({ trip: times }, trip) => {
        const { arrives, leaves } = times!;
        for (let stop = 0; stop < arrives.length - 1; stop++) {
          const at = day * this.day + leaves[stop]!;
          if (day === 0 || at >= 0)
            legs.push({ trip, day, stop, leaves: at, arrives: day * this.day + arrives[stop + 1]! });
        }
      });
    return legs.sort((a, b) => b.leaves - a.leaves || a.trip - b.trip || a.day - b.day || b.stop - a.stop);
  }

  /** When one arrives who leaves a stop in a vehicle, by the number of its trip in the run; nothing of lines that have no timetable. */
  arrivalAboard(onward: Onward, line: number, stop: number, departs: number): number | undefined {
    const trip = this.numbers.get(line);
    if (trip === undefined) return undefined;
    const day = Math.round((departs - this.trips[trip]!.trip!.leaves[stop]!) / this.day);
    return day * this.day + (onward.aboard[trip]![stop] ?? Infinity);
  }

  /** The trip that leaves a place first of those that leave at a time or later and bring one to the goal by another. */
  tripFrom(onward: Onward, place: number, time: number, by: number): FirstRide | undefined {
    let found: FirstRide | undefined;
    for (const [line, trip] of this.numbers)
      for (const [stop, at] of this.stops[trip]!.entries()) {
        if (at !== place) continue;
        const leaves = this.trips[trip]!.trip!.leaves[stop]!;
        const departs = leaves + Math.max(0, Math.ceil((time - leaves) / this.day)) * this.day;
        if (departs >= (found?.departs ?? Infinity)) continue;
        if (this.arrivalAboard(onward, line, stop, departs)! <= by) found = { line, stop, wait: 0, departs };
      }
    return found;
  }

  /**
   * What can be reached on the way to a goal.
   * @param ashore time from each stop to the goal without a trip
   * @param transfers from each stop to others without a trip, the nearest first
   */
  onward(
    ashore: Float64Array,
    transfers: readonly (readonly { readonly stop: number; readonly time: number }[])[],
  ): Onward {
    const days = LAST_DAY - FIRST_DAY + 1;
    const bestOfTrip = new Float64Array(this.trips.length * days).fill(Infinity);
    const aboard = this.stops.map((stops) => new Float64Array(stops.length).fill(Infinity));
    // Of each stop, times at which trips leave and the arrivals, both from the last on; only such as come earlier than all that leave later.
    const leaving: number[][] = Array.from({ length: this.x.length }, () => []);
    const arriving: number[][] = Array.from({ length: this.x.length }, () => []);
    const arrival = (stop: number, time: number): number => arrivalFrom(leaving[stop]!, arriving[stop]!, time);
    for (const { trip, day, stop, leaves, arrives } of this.legs) {
      const to = this.stops[trip]![stop + 1]!;
      const key = trip * days + day - FIRST_DAY;
      let best = Math.min(bestOfTrip[key]!, arrives + ashore[to]!);
      for (const transfer of transfers[to]!) {
        if (arrives + transfer.time >= best) break;
        best = Math.min(best, arrival(transfer.stop, arrives + transfer.time));
      }
      bestOfTrip[key] = best;
      if (day === 0) aboard[trip]![stop] = best;
      const from = this.stops[trip]![stop]!;
      if (best < (arriving[from]!.at(-1) ?? Infinity)) {
        leaving[from]!.push(leaves);
        arriving[from]!.push(best);
      }
    }
    const size = leaving.reduce((sum, { length }) => sum + 2 * length, 0) + this.legs.length / days;
    return { arrival, aboard, size };
  }
}

/** The arrival with the first of what leaves at a time or later. @param leaving from the last on */
function arrivalFrom(leaving: readonly number[], arriving: readonly number[], time: number): number {
  let [from, to] = [0, leaving.length];
  while (from < to) {
    const middle = (from + to) >> 1;
    if (leaving[middle]! >= time) from = middle + 1;
    else to = middle;
  }
  return from > 0 ? arriving[from - 1]! : Infinity;
}
