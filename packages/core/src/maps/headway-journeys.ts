import type { Asked, FirstRide, LineOfRun, Walker } from './journeys.ts';
import type { Lanes } from './lanes.ts';

/** What is taken for granted of a line when a journey is planned: its headway, its speed, and the time at each stop. */
const TERMS = 3;

/** What is known of the ways to one place for one walker: expected times from the stops on. */
interface Table {
  /** From each stop, on foot there. */
  readonly ashore: Float64Array;
  /** From each stop, in a vehicle that leaves it. */
  readonly aboard: Float64Array;
}

/** Tables kept before all are forgotten; nothing but time depends on it. */
const MOST_TABLES = 20_000;

/**
 * Journeys that mix walking along the lanes with riding in vehicles of lines that run every so often. Expected times: a line is waited for half its headway, a ride takes the length of the way between stops at
 * the speed of the line and the time it stays at stops between; seats are taken for granted. The least expected time from a stop on foot is that of walking on, or of walking to
 * some stop, waiting, and riding to some later stop, and from there the least again; such times are made better by turns until they stay, so that they are a function of
 * walker, terms and place alone.
 */
export class HeadwayJourneys {
  /** Length of the way from each stop of a line to its next. */
  private readonly between: readonly Float64Array[];
  /** Place of the first stop of each line among all stops. */
  private readonly first: readonly number[];
  private readonly total: number;
  private readonly walks = new Map<string, Float64Array>();
  private readonly tables = new Map<string, Map<number, Map<number, Table>>>();
  private kept = 0;
  /** Who asked last, on what terms, and the tables for that by goal. */
  private last: { readonly walker: Walker; readonly terms: readonly number[] } | undefined;
  private of = new Map<number, Map<number, Table>>();

  constructor(
    private readonly lanes: Lanes,
    private readonly lines: readonly LineOfRun[],
  ) {
    const first: number[] = [];
    let total = 0;
    for (const { x } of lines) {
      first.push(total);
      total += x.length;
    }
    this.first = first;
    this.total = total;
    this.between = lines.map(({ x, y, ways }) =>
      Float64Array.from({ length: Math.max(0, x.length - 1) }, (_, i) =>
        lanes.wayLength(x[i]!, y[i]!, x[i + 1]!, y[i + 1]!, 0, ways),
      ),
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
    goalX: number,
    goalY: number,
    walker: Walker,
    terms: readonly number[],
  ): number {
    if (!(x === x && goalX === goalX)) return which === 'rides' ? 0 : NaN;
    const { time, at, line } = this.best(x, y, goalX, goalY, walker, terms);
    if (which === 'time') return time;
    if (which === 'rides') return at < 0 ? 0 : 1;
    if (at < 0) return which === 'x' ? goalX : goalY;
    return this.lines[line]![which][at]!;
  }

  /** The expected time to a place from a stop on, in a vehicle that leaves it; infinite where it leads nowhere near, as from the last stop. */
  rideTime(line: number, stop: number, goalX: number, goalY: number, walker: Walker, terms: readonly number[]): number {
    if (!walker.lines.includes(line) || !(stop >= 0 && stop < this.lines[line]!.x.length)) return Infinity;
    return this.table(goalX, goalY, walker, terms).aboard[this.first[line]! + stop]!;
  }

  /** The vehicle that one takes first; nothing where one goes on foot. */
  firstRide(
    x: number,
    y: number,
    goalX: number,
    goalY: number,
    walker: Walker,
    terms: readonly number[],
  ): FirstRide | undefined {
    const { at, line } = this.best(x, y, goalX, goalY, walker, terms);
    return at < 0 ? undefined : { line, stop: at, wait: waitFor(terms[walker.lines.indexOf(line) * TERMS]!) };
  }

  /** The least expected time from a place, and the stop and line at which one then waits; -1 where one goes on foot. */
  private best(x: number, y: number, goalX: number, goalY: number, walker: Walker, terms: readonly number[]) {
    const { aboard } = this.table(goalX, goalY, walker, terms);
    let best = this.walk(x, y, goalX, goalY, walker);
    let at = -1;
    let byLine = -1;
    walker.lines.forEach((line, l) => {
      const stops = this.lines[line]!;
      const wait = waitFor(terms[l * TERMS]!);
      for (let i = 0; i < stops.x.length - 1; i++) {
        const beyond = wait + aboard[this.first[line]! + i]!;
        if (!(beyond < best)) continue;
        const time = this.walk(x, y, stops.x[i]!, stops.y[i]!, walker) + beyond;
        if (time < best) [best, at, byLine] = [time, i, line];
      }
    });
    return { time: best, at, line: byLine };
  }

  placeOf(line: number, stop: number): readonly [number, number] {
    const { x, y } = this.lines[line]!;
    return [x[stop]!, y[stop]!];
  }

  /** How long vehicles of one of the walker's lines stay at a stop. */
  stayOf(line: number, walker: Walker, terms: readonly number[]): number {
    return atLeastNothing(terms[walker.lines.indexOf(line) * TERMS + 2]!);
  }

  /** The times from a stop of one of the walker's lines to each later one, in a vehicle that leaves it. */
  timesAlong(line: number, stop: number, walker: Walker, terms: readonly number[]): number[] {
    const speed = terms[walker.lines.indexOf(line) * TERMS + 1]!;
    const stay = this.stayOf(line, walker, terms);
    let time = 0;
    return [...this.between[line]!.subarray(stop)].map(
      (length, i) => (time += timeFor(length, speed) + (i > 0 ? stay : 0)),
    );
  }

  walk(x: number, y: number, toX: number, toY: number, { pace, quickest, ways }: Walker): number {
    const way = this.lanes.wayLength(x, y, toX, toY, quickest ? pace : 0, ways);
    return quickest ? way : timeFor(way, pace);
  }

  private table(goalX: number, goalY: number, walker: Walker, terms: readonly number[]): Table {
    if (this.kept > MOST_TABLES) this.forget();
    if (!this.last || !isSame(walker, terms, this.last.walker, this.last.terms)) {
      this.last = { walker, terms };
      const key = `${walker.pace} ${walker.quickest} ${walker.ways} ${walker.lines.join()} ${terms.join()}`;
      this.of = this.tables.get(key) ?? new Map<number, Map<number, Table>>();
      this.tables.set(key, this.of);
    }
    const column = this.of.get(goalX) ?? new Map<number, Table>();
    const known = column.get(goalY);
    if (known) return known;
    const made = this.newTable(goalX, goalY, walker, terms);
    this.of.set(goalX, column.set(goalY, made));
    this.kept++;
    return made;
  }

  private forget(): void {
    this.tables.clear();
    this.walks.clear();
    this.last = undefined;
    this.kept = 0;
  }

  private newTable(goalX: number, goalY: number, walker: Walker, terms: readonly number[]): Table {
    const { total, first, lines } = this;
    const ashore = new Float64Array(total).fill(Infinity);
    const aboard = new Float64Array(total).fill(Infinity);
    const ways = this.waysBetween(walker);
    for (const line of walker.lines) {
      const { x, y } = lines[line]!;
      for (let i = 0; i < x.length; i++) ashore[first[line]! + i] = this.walk(x[i]!, y[i]!, goalX, goalY, walker);
    }
    for (let changes = true; changes;) {
      changes = false;
      walker.lines.forEach((line, l) => {
        const [, speed, stay] = [terms[l * TERMS]!, terms[l * TERMS + 1]!, terms[l * TERMS + 2]!];
        const from = first[line]!;
        for (let i = lines[line]!.x.length - 2; i >= 0; i--) {
          const goesOn = atLeastNothing(stay) + aboard[from + i + 1]!;
          const beyond = ashore[from + i + 1]! < goesOn ? ashore[from + i + 1]! : goesOn;
          aboard[from + i] = timeFor(this.between[line]![i]!, speed) + beyond;
        }
      });
      for (const line of walker.lines)
        for (let i = first[line]!; i < first[line]! + lines[line]!.x.length; i++)
          walker.lines.forEach((other, l) => {
            const wait = waitFor(terms[l * TERMS]!);
            for (let j = first[other]!; j < first[other]! + lines[other]!.x.length - 1; j++) {
              const walk = walker.quickest ? ways[i * total + j]! : timeFor(ways[i * total + j]!, walker.pace);
              const time = walk + wait + aboard[j]!;
              if (time < ashore[i]!) {
                ashore[i] = time;
                changes = true;
              }
            }
          });
    }
    return { ashore, aboard };
  }

  /** Costs of the ways between all stops: lengths, which serve walkers of any pace, or times by the quickest way. */
  private waysBetween({ pace, quickest, ways }: Walker): Float64Array {
    const key = `${quickest ? pace : ''} ${ways}`;
    const known = this.walks.get(key);
    if (known) return known;
    const [x, y] = (['x', 'y'] as const).map((axis) => this.lines.flatMap((line) => [...line[axis]])) as [
      number[],
      number[],
    ];
    const made = new Float64Array(this.total * this.total);
    for (let i = 0; i < this.total; i++)
      for (let j = 0; j < this.total; j++)
        made[i * this.total + j] = this.lanes.wayLength(x[i]!, y[i]!, x[j]!, y[j]!, quickest ? pace : 0, ways);
    this.walks.set(key, made);
    this.kept += this.total;
    return made;
  }
}

/** Whether two go alike, on the same terms. */
export function isSame(walker: Walker, terms: readonly number[], other: Walker, known: readonly number[]): boolean {
  return (
    walker.pace === other.pace &&
    walker.quickest === other.quickest &&
    walker.ways === other.ways &&
    walker.lines.length === other.lines.length &&
    walker.lines.every((line, i) => line === other.lines[i]) &&
    terms.every((term, i) => term === known[i])
  );
}

/** The time for a length at a speed; what does not go comes nowhere, so that no journey ends before it begins. */
function timeFor(length: number, speed: number): number {
  return speed > 0 ? length / speed : length === 0 ? 0 : Infinity;
}

/** Half the headway; a line without one has no vehicles. */
function waitFor(headway: number): number {
  return headway > 0 ? headway / 2 : Infinity;
}

function atLeastNothing(time: number): number {
  return time > 0 ? time : 0;
}
