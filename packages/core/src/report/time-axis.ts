import type { CivilMoment } from '../calendar/civil.ts';
import { civilFromDays, daysFromCivil, MONTHS, secondsOfMoment } from '../calendar/civil.ts';
import type { Plan } from '../plan/plan.ts';

/** Days up to which an axis names days rather than months. */
const SHORT_SPAN = 100;

/** The moment at the end of a step, in words: a date if there is a calendar, else the time. */
export function stepWords(plan: Plan, step: number): string {
  const { start, stepLength, unitSeconds, unitLabel } = plan.clock;
  const time = step * stepLength;
  if (!start) return `${Number(time.toPrecision(8))} ${unitLabel}`;
  const seconds = time * unitSeconds + (start.seconds ?? 0);
  const days = Math.floor(seconds / 86400 + 1e-9);
  const { year, month, day } = civilFromDays(daysFromCivil(start.year, start.month, start.day) + days);
  const hours = (seconds - days * 86400) / 3600;
  const clock = unitSeconds * stepLength < 86400 ? `, ${clockWords(hours * 3600)}` : '';
  return `${day} ${MONTHS[month - 1]} ${year}${clock}`;
}

/** A time of day, as 07:30. */
export function clockWords(seconds: number): string {
  const minutes = Math.round(seconds / 60);
  return `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`;
}

/** A mark of an axis over steps. */
export interface Tick {
  readonly step: number;
  readonly label: string;
  /** Said under the first tick of a year. */
  readonly year?: string;
}

/** Marks for an axis over steps: days, months or years with a calendar, else round times. About `wanted` of them. */
export function timeTicks(plan: Plan, lastStep: number, wanted = 12): Tick[] {
  const { start, stepLength, unitSeconds } = plan.clock;
  const perStep = stepLength * unitSeconds;
  const spanDays = (lastStep * perStep) / 86400;
  if (!start) return spanTicks(plan, lastStep, wanted);
  if (spanDays < 3) return hourTicks(start, perStep, lastStep, wanted);
  if (spanDays < SHORT_SPAN) return dayTicks(start, perStep, spanDays, wanted);
  const first = secondsOfMoment(start) / 86_400;
  const monthsApart =
    [1, 2, 3, 6, 12, 24, 60, 120, 240, 600].find((months) => spanDays / (30.4 * months) <= wanted * 2.2) ?? 1200;
  const ticks: Tick[] = [];
  let saidYear = -1;
  for (let month = start.month - 1 + (start.day > 1 ? 1 : 0); ; month += 1) {
    const year = start.year + Math.floor(month / 12);
    const inYear = month % 12;
    const step = ((daysFromCivil(year, inYear + 1, 1) - first) * 86400) / perStep;
    if (step > lastStep) return ticks;
    if (step < 0) continue;
    if ((year * 12 + inYear) % monthsApart !== 0 && monthsApart > 1) continue;
    const isNew = year !== saidYear;
    saidYear = year;
    ticks.push({
      step,
      label: monthsApart >= 12 ? String(year) : monthsApart === 1 ? MONTHS[inYear]![0]! : MONTHS[inYear]!.slice(0, 3),
      year: isNew && monthsApart < 12 ? String(year) : undefined,
    });
  }
}

/** Days of the month some days apart. */
function dayTicks(start: CivilMoment, perStep: number, spanDays: number, wanted: number): Tick[] {
  const first = daysFromCivil(start.year, start.month, start.day);
  const begin = (start.seconds ?? 0) / 86_400;
  // The midnight before the start is none of the run.
  const from = begin > 0 ? 1 : 0;
  const apart = [1, 2, 7, 14].find((days) => spanDays / days <= wanted) ?? 28;
  let saidYear = -1;
  return Array.from({ length: Math.floor((begin + spanDays - from) / apart + 1e-9) + 1 }, (_, i) => {
    const days = from + i * apart;
    const { year, month, day } = civilFromDays(first + days);
    const isNew = year !== saidYear;
    saidYear = year;
    return {
      step: ((days - begin) * 86400) / perStep,
      label: `${day} ${MONTHS[month - 1]!.slice(0, 3)}`,
      year: isNew ? String(year) : undefined,
    };
  });
}

/** Units of an axis of a length of time, the shortest first, with the distances at which its marks are round. */
interface SpanUnit {
  readonly seconds: number;
  readonly name: string;
  readonly apart: readonly number[];
}
const SPAN_UNITS: readonly SpanUnit[] = [
  { seconds: 1, name: 's', apart: [1, 2, 5, 10, 15, 30] },
  { seconds: 60, name: 'min', apart: [1, 2, 5, 10, 15, 30] },
  { seconds: 3600, name: 'h', apart: [1, 2, 3, 6, 12, 24] },
  { seconds: 86400, name: 'days', apart: [] },
];
/** An axis reaches this far in a unit before the next longer one takes its place. */
const MOST_OF_UNIT = 72;

/** The unit that fits a span: the longest in which it is long enough, but none shorter than a step needs. */
function spanUnit({ clock: { stepLength, unitSeconds, unitLabel } }: Plan, lastStep: number): SpanUnit {
  const perStep = stepLength * unitSeconds;
  const fitting = SPAN_UNITS.filter(
    ({ seconds }, i) => seconds * MOST_OF_UNIT > lastStep * perStep || i === SPAN_UNITS.length - 1,
  );
  const unit = fitting.find(
    ({ seconds }) =>
      perStep < 1 || SPAN_UNITS.filter((other) => other.seconds <= perStep).every((other) => other.seconds <= seconds),
  );
  return perStep === 0 || unitSeconds > 86400 || !unit ? { seconds: unitSeconds, name: unitLabel, apart: [] } : unit;
}

/** Round times, each with its unit. */
function spanTicks(plan: Plan, lastStep: number, wanted: number): Tick[] {
  const { seconds, name, apart } = spanUnit(plan, lastStep);
  const stepsInUnit = (seconds > 0 ? seconds / plan.clock.unitSeconds : 1) / plan.clock.stepLength;
  const span = Math.max(lastStep, 1e-9) / stepsInUnit;
  const rough = span / wanted;
  const power = Number(`1e${rough.toExponential().split('e')[1]!}`);
  const size =
    (rough > 0.5 ? apart.find((one) => one >= rough) : undefined) ??
    [1, 2, 5, 10].map((m) => m * power).find((one) => one >= rough) ??
    power * 10;
  return Array.from({ length: Math.floor(span / size + 1e-9) + 1 }, (_, i) => {
    const time = Number((i * size).toPrecision(10));
    return {
      step: Number((time * stepsInUnit).toPrecision(12)),
      label: i === 0 ? '0' : `${time} ${time === 1 && name.length > 1 ? name.replace(/s$/, '') : name}`,
    };
  });
}

/** Times of day, with the date at midnight. */
function hourTicks(start: CivilMoment, perStep: number, lastStep: number, wanted: number): Tick[] {
  const span = (lastStep * perStep) / 60;
  const begin = (start.seconds ?? 0) / 60;
  const apart = [1, 2, 5, 10, 15, 30, 60, 120, 180, 360, 720].find((minutes) => span / minutes <= wanted) ?? 1440;
  const first = daysFromCivil(start.year, start.month, start.day);
  const from = Math.ceil(begin / apart - 1e-9);
  return Array.from({ length: Math.max(0, Math.floor((begin + span) / apart + 1e-9) - from + 1) }, (_, i) => {
    const minutes = (from + i) * apart;
    const { year, month, day } = civilFromDays(first + Math.floor(minutes / 1440));
    const inDay = minutes % 1440;
    const date = `${day} ${MONTHS[month - 1]!.slice(0, 3)}`;
    const label = inDay === 0 ? date : clockWords(inDay * 60);
    const said = inDay === 0 ? String(year) : `${date} ${year}`;
    return { step: ((minutes - begin) * 60) / perStep, label, year: i === 0 ? said : undefined };
  });
}

/** What a step is called in “days a second”. */
export function stepsName(plan: Plan): string {
  return plan.clock.stepLength === 1 ? plan.clock.unitLabel.replace(/^h$/, 'hours').replace(/^s$/, 'seconds') : 'steps';
}

/** The label of a tick at a step, with its year where it has one. */
export function tickText(ticks: readonly Tick[], step: number): string {
  const tick = ticks.find((t) => t.step === step);
  return tick ? (tick.year ? `${tick.label} ${tick.year}` : tick.label) : '';
}
