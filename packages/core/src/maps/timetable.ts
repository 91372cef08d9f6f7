import type { FirstRide, LineOfRun } from './journeys.ts';

/** Days before and after the one that is looked at whose trips are known. */
const FIRST_DAY = -1;
const LAST_DAY = 2;

/** Share of a day by which times may differ by rounding. */
export const SLACK = 1e-9;

/** From a stop to the next with one trip on one day. */
interface Leg {
  readonly trip: number;
  readonly day: number;
  readonly stop: number;
  readonly leaves: number;
  readonly arrives: number;
}

export interface Transfer {
  readonly stop: number;
  readonly time: number;
}

/** What can be reached from the stops of a timetable on the way to one goal, as far as it has been looked at. */
export interface Onward {
  /** Time from each stop to the goal without a trip. */
  readonly ashore: Float64Array;
  /** From each stop to others without a trip, the nearest first. */
  readonly transfers: readonly (readonly Transfer[])[];
  window?: Window;
}

/** Legs that leave in a stretch of time, and when one arrives at the goal who takes them; times from midnight of a day. */
interface Window {
  /** That midnight. */
  readonly base: number;
  readonly from: number;
  readonly until: number;
  /** The legs: from the first of these to before the second. */
  readonly legs: readonly [number, number];
  /** Of each of them the arrival. */
  readonly arrivals: Float64Array;
  /** Of each stop, times at which legs leave and the arrivals, both from the last on; only such as come earlier than all that leave later. */
  readonly leaving: readonly number[][];
  readonly arriving: readonly number[][];
}

/** Trips of lines that run by timetables, the same on every day (or in every week, which is then what a day is here), and the distinct places at which they stop. */
export class Timetable {
  readonly x: Float64Array;
  readonly y: Float64Array;
  /** The place of each stop of each trip. */
  private readonly stops: readonly Int32Array[];
  private readonly trips: readonly LineOfRun[];
  /** Those that leave last first. */
  private readonly legs: readonly Leg[];
  /** Number of the trip here, by its number in the run, and the other way round. */
  private readonly numbers = new Map<number, number>();
  private readonly lineOf: readonly number[];
  /** Of each trip its first leg among those of a day; behind the last how many there are. */
  private readonly firstLeg: Int32Array;
  private readonly placeOf: Int32Array;

  constructor(
    lines: readonly LineOfRun[],
    ranges: readonly (readonly [number, number])[],
    private readonly day: number,
  ) {
    for (const [from, to] of ranges) for (let line = from; line < to; line++) this.numbers.set(line, this.numbers.size);
    this.lineOf = [...this.numbers.keys()];
    this.trips = this.lineOf.map((line) => lines[line]!);
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
    this.firstLeg = Int32Array.from([0, ...this.trips.map(({ x }) => x.length - 1)]);
    for (let trip = 0; trip < this.trips.length; trip++) this.firstLeg[trip + 1]! += this.firstLeg[trip]!;
    this.legs = this.allLegs();
    const perDay = this.firstLeg[this.trips.length]!;
    this.placeOf = new Int32Array(this.legs.length);
    this.legs.forEach(({ trip, day, stop }, i) => {
      this.placeOf[(day - FIRST_DAY) * perDay + this.firstLeg[trip]! + stop] = i;
    });
  }

  private allLegs(): Leg[] {
    const legs: Leg[] = [];
    for (let day = FIRST_DAY; day <= LAST_DAY; day++)
      this.trips.forEach(({ trip: times }, trip) => {
        const { arrives, leaves } = times!;
        for (let stop = 0; stop < arrives.length - 1; stop++)
          legs.push({
            trip,
            day,
            stop,
            leaves: day * this.day + leaves[stop]!,
            arrives: day * this.day + arrives[stop + 1]!,
          });
      });
    return legs.sort((a, b) => b.leaves - a.leaves || a.trip - b.trip || a.day - b.day || b.stop - a.stop);
  }

  /** Where a leg stands among all. */
  private place(trip: number, day: number, stop: number): number {
    return this.placeOf[(day - FIRST_DAY) * this.firstLeg[this.trips.length]! + this.firstLeg[trip]! + stop]!;
  }

  /** What can be reached on the way to a goal; nothing has been looked at yet. */
  onward(ashore: Float64Array, transfers: Onward['transfers']): Onward {
    return { ashore, transfers };
  }

  /**
   * Makes sure that all is known that one may need who asks at a time and would take so long without a trip: what leaves so late that one could be there by then is not looked at, as
   * it is never better.
   */
  look(onward: Onward, now: number, without: number): Window {
    const base = Math.floor(now / this.day) * this.day;
    const from = now - base;
    const needed = from + without;
    const { window } = onward;
    if (window && window.base === base && window.from <= from && window.until >= needed) return window;
    // Some more than is needed, so that one who asks a little later need not look again.
    return (onward.window = this.windowOf(onward, base, from, needed + without / 2));
  }

  private windowOf({ ashore, transfers }: Onward, base: number, from: number, until: number): Window {
    const days = LAST_DAY - FIRST_DAY + 1;
    const first = this.countLater(until);
    const last = this.countLater(from - this.day * SLACK);
    const bestOfTrip = new Float64Array(this.trips.length * days).fill(Infinity);
    const arrivals = new Float64Array(last - first);
    const leaving: number[][] = Array.from({ length: this.x.length }, () => []);
    const arriving: number[][] = Array.from({ length: this.x.length }, () => []);
    for (let leg = first; leg < last; leg++) {
      const { trip, day, stop, leaves, arrives } = this.legs[leg]!;
      const to = this.stops[trip]![stop + 1]!;
      const key = trip * days + day - FIRST_DAY;
      let best = Math.min(bestOfTrip[key]!, arrives + ashore[to]!);
      for (const transfer of transfers[to]!) {
        const time = arrives + transfer.time;
        if (time >= best || time > until) break;
        best = Math.min(best, arrivalFrom(leaving[transfer.stop]!, arriving[transfer.stop]!, time));
      }
      bestOfTrip[key] = best;
      arrivals[leg - first] = best;
      const at = this.stops[trip]![stop]!;
      if (best < (arriving[at]!.at(-1) ?? Infinity)) {
        leaving[at]!.push(leaves);
        arriving[at]!.push(best);
      }
    }
    return { base, from, until, legs: [first, last], arrivals, leaving, arriving };
  }

  /** How many legs leave later than a time. */
  private countLater(time: number): number {
    let [from, to] = [0, this.legs.length];
    while (from < to) {
      const middle = (from + to) >> 1;
      if (this.legs[middle]!.leaves > time) from = middle + 1;
      else to = middle;
    }
    return from;
  }

  /** When one arrives who leaves a stop in a vehicle, by the number of its trip in the run; nothing of lines that have no timetable. */
  arrivalAboard({ base, legs, arrivals }: Window, line: number, stop: number, departs: number): number | undefined {
    const trip = this.numbers.get(line);
    if (trip === undefined) return undefined;
    const times = this.trips[trip]!.trip!;
    const day = Math.round((departs - base - times.leaves[stop]!) / this.day);
    if (stop >= times.leaves.length - 1 || day < FIRST_DAY || day > LAST_DAY) return Infinity;
    const leg = this.place(trip, day, stop);
    return leg >= legs[0] && leg < legs[1] ? base + arrivals[leg - legs[0]]! : Infinity;
  }

  /** The time to the goal without a trip from a stop of one; nothing of lines that have no timetable. */
  ashoreFrom({ ashore }: Onward, line: number, stop: number): number {
    const trip = this.numbers.get(line);
    return trip === undefined ? 0 : (ashore[this.stops[trip]![stop]!] ?? 0);
  }

  /** The trip that leaves a place first of those that leave at a time or later and bring one to the goal by another. */
  tripFrom(window: Window, place: number, time: number, by: number): FirstRide | undefined {
    const [first, last] = window.legs;
    for (let leg = last - 1; leg >= first; leg--) {
      const { trip, stop, leaves } = this.legs[leg]!;
      if (this.stops[trip]![stop] !== place || window.base + leaves < time) continue;
      if (window.base + window.arrivals[leg - first]! <= by)
        return { line: this.lineOf[trip]!, stop, wait: 0, departs: window.base + leaves };
    }
    return undefined;
  }
}

/** When one who is at a stop at a time arrives who takes a trip there; infinite where there is none. */
export function arrivalIn({ leaving, arriving }: Window, stop: number, time: number): number {
  return arrivalFrom(leaving[stop]!, arriving[stop]!, time);
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
