import type { CivilMoment } from '../calendar/civil.ts';
import { civilFromDays, dayOfYearOf, daysFromCivil, weekdayOf } from '../calendar/civil.ts';

export interface ClockSpec {
  /** In base units of time. */
  readonly stepLength: number;
  /** Seconds in a base unit; 0 without a clock. */
  readonly unitSeconds: number;
  readonly start?: CivilMoment;
}

/** What a `log` line wrote. */
export interface Note {
  readonly step: number;
  readonly site: number;
  readonly agent: string;
  readonly text: string;
}

/** Notes that are kept of a run: its first. */
export const MOST_NOTES = 10_000;

/** Most agents of all kinds together; a run that would have more stops with a message. */
const DEFAULT_CEILING = 2_000_000;

/** Most bytes that the agents and fields of a run may take. */
const DEFAULT_MEMORY = 2_000_000_000;

/** The numbers that every rule of a run can read: luck, time, parameters, counts of flows, the last row of measures. */
export class RunContext {
  seed = 0;
  step = 0;
  /** While the rules of a step act its beginning, for the row that is taken then its end; in base units of time. */
  now = 0;
  /** End of the step. */
  end = 0;
  hour = 0;
  weekday = 0;
  month = 0;
  year = 0;
  dayOfYear = 0;
  /** Days since 1970-01-01. */
  date = 0;
  /** Values in force; `beneath` are those below what periods of the timeline lay over them. */
  readonly parameters: Float64Array;
  readonly beneath: Float64Array;
  /** These and the counts are replaced where they lie in the memory of a run that is replaced. */
  variables: Float64Array;
  /** How many entered and left each state in this step, by counter. */
  entered: Float64Array;
  left: Float64Array;
  readonly row: Float64Array;
  /** Rows of measures so far, one after another, measures within. */
  rows = new Float64Array(64);
  rowCount = 0;
  /** Whether a row is being taken: a measure that is read then is in `row` already. */
  isTaking = false;
  readonly notes: Note[] = [];
  isEnding = false;
  readonly stepLength: number;
  /** Moves and births onto taken cells that did not happen. */
  refused = 0;
  /** Shared with whoever watches the run from outside: the step, and which entry of the order acts in it (-1 before them, -2 in the start). */
  pulse: Int32Array | undefined;
  ceiling = DEFAULT_CEILING;
  memory = DEFAULT_MEMORY;
  private readonly firstDay: number | undefined;
  /** Seconds from the midnight of that day to the start. */
  private readonly startSeconds: number;

  constructor(
    readonly clock: ClockSpec,
    parameterCount: number,
    counterCount: number,
    measureCount: number,
    variableCount = 0,
  ) {
    this.parameters = new Float64Array(parameterCount);
    this.beneath = new Float64Array(parameterCount);
    this.variables = new Float64Array(variableCount);
    this.entered = new Float64Array(counterCount);
    this.left = new Float64Array(counterCount);
    this.row = new Float64Array(measureCount);
    this.stepLength = clock.stepLength;
    this.firstDay = clock.start && daysFromCivil(clock.start.year, clock.start.month, clock.start.day);
    this.startSeconds = clock.start?.seconds ?? 0;
    this.setStep(0);
  }

  /** Step 0 is the start; step k runs from (k - 1) d to k d. */
  setStep(step: number): void {
    this.step = step;
    this.end = step * this.clock.stepLength;
    this.standAt(step === 0 ? 0 : (step - 1) * this.clock.stepLength);
  }

  /** Says where the run is, for whoever watches it while it does not answer. */
  beat(entry: number): void {
    if (!this.pulse) return;
    this.pulse[0] = this.step;
    this.pulse[1] = entry;
  }

  /** The rules of the step have acted: measures, records and what ends the run are read at its end. */
  closeStep(): void {
    this.standAt(this.end);
  }

  private standAt(time: number): void {
    this.now = time;
    const seconds = this.now * this.clock.unitSeconds + this.startSeconds;
    this.hour = (seconds - 86400 * Math.floor(seconds / 86400)) / 3600;
    if (this.firstDay === undefined) return;
    this.date = this.firstDay + Math.floor(seconds / 86400 + 1e-9);
    const civil = civilFromDays(this.date);
    this.month = civil.month;
    this.year = civil.year;
    this.weekday = weekdayOf(this.date);
    this.dayOfYear = dayOfYearOf(this.date);
  }

  note(site: number, agent: string, text: string): void {
    if (this.notes.length < MOST_NOTES) this.notes.push({ step: this.step, site, agent, text });
  }

  /** Whether a time of day, perhaps of one weekday (1 is Monday), lies in this step. */
  isTimeOfDayNow(weekday: number, hours: number): boolean {
    const perDay = 86400 / this.clock.unitSeconds;
    const before = this.startSeconds / this.clock.unitSeconds;
    const first = Math.floor((this.now + before) / perDay) - 1;
    for (let day = first; day <= Math.ceil((this.end + before) / perDay); day++) {
      if (day < 0 || !this.isNow((day + hours / 24) * perDay - before)) continue;
      if (weekday === 0 || (this.firstDay !== undefined && weekdayOf(this.firstDay + day) === weekday)) return true;
    }
    return false;
  }

  /** Whether the moment of a day of the year lies in this step. */
  isDayOfYearNow(month: number, day: number): boolean {
    if (this.firstDay === undefined) return false;
    const perDay = 86400 / this.clock.unitSeconds;
    return [this.year, this.year + 1].some((year) =>
      this.isNow(
        (daysFromCivil(year, month, day) - this.firstDay!) * perDay - this.startSeconds / this.clock.unitSeconds,
      ),
    );
  }

  /** Whether a time lies in this step: now <= time < end, with a slack of a billionth of a step. */
  isNow(time: number): boolean {
    const slack = this.clock.stepLength * 1e-9;
    return time >= this.now - slack && time < this.end - slack;
  }

  /** Whether the row of this step is one of every so long a time: the first one taken at or after 0, a period, two periods ... */
  isRowOf(period: number): boolean {
    if (!(period > 0)) return false;
    const slack = this.clock.stepLength * 1e-9;
    return Math.floor((this.end + slack) / period) * period > this.end - this.clock.stepLength + slack;
  }

  /** Whether a multiple of a period, from the first on, lies in this step (S3). */
  isMultipleNow(period: number): boolean {
    if (!(period > 0)) return false;
    const slack = this.clock.stepLength * 1e-9;
    const multiple = Math.max(1, Math.ceil((this.now - slack) / period));
    return this.isNow(multiple * period);
  }
}
