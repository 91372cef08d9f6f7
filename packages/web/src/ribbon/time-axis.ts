import type { CivilDate, Plan } from '@vole/core';
import { civilFromDays, daysFromCivil } from '@vole/core';

const MONTHS = ['January', 'February', 'March', 'April', 'May', 'June', 'July', 'August', 'September', 'October', 'November', 'December'];

/** Days up to which an axis names days rather than months. */
const SHORT_SPAN = 100;

/** The moment at the end of a step, in words: a date if there is a calendar, else the time. */
export function stepWords(plan: Plan, step: number): string {
  const { start, stepLength, unitSeconds, unitLabel } = plan.clock;
  const time = step * stepLength;
  if (!start) return `${Number(time.toPrecision(8))} ${unitLabel}`;
  const seconds = time * unitSeconds;
  const days = Math.floor(seconds / 86400 + 1e-9);
  const { year, month, day } = civilFromDays(daysFromCivil(start.year, start.month, start.day) + days);
  const hours = (seconds - days * 86400) / 3600;
  const clock = unitSeconds * stepLength < 86400 ? `, ${String(Math.floor(hours)).padStart(2, '0')}:${String(Math.round((hours % 1) * 60) % 60).padStart(2, '0')}` : '';
  return `${day} ${MONTHS[month - 1]} ${year}${clock}`;
}

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
  if (!start || spanDays < 3) return roundTicks(plan, lastStep, wanted);
  if (spanDays < SHORT_SPAN) return dayTicks(start, perStep, spanDays, wanted);
  const first = daysFromCivil(start.year, start.month, start.day);
  const monthsApart = [1, 2, 3, 6, 12, 24, 60, 120, 240, 600].find((months) => spanDays / (30.4 * months) <= wanted * 2.2) ?? 1200;
  const ticks: Tick[] = [];
  let saidYear = -1;
  for (let month = start.month - 1 + (start.day > 1 ? 1 : 0); ; month += 1) {
    const year = start.year + Math.floor(month / 12);
    const inYear = month % 12;
    const step = ((daysFromCivil(year, inYear + 1, 1) - first) * 86400) / perStep;
    if (step > lastStep) return ticks;
    if ((year * 12 + inYear) % monthsApart !== 0 && monthsApart > 1) continue;
    const isNew = year !== saidYear;
    saidYear = year;
    ticks.push({ step, label: monthsApart >= 12 ? String(year) : monthsApart === 1 ? MONTHS[inYear]![0]! : MONTHS[inYear]!.slice(0, 3), year: isNew && monthsApart < 12 ? String(year) : undefined });
  }
}

/** Days of the month some days apart. */
function dayTicks(start: CivilDate, perStep: number, spanDays: number, wanted: number): Tick[] {
  const first = daysFromCivil(start.year, start.month, start.day);
  const apart = [1, 2, 7, 14].find((days) => spanDays / days <= wanted) ?? 28;
  let saidYear = -1;
  return Array.from({ length: Math.floor(spanDays / apart + 1e-9) + 1 }, (_, i) => {
    const { year, month, day } = civilFromDays(first + i * apart);
    const isNew = year !== saidYear;
    saidYear = year;
    return { step: (i * apart * 86400) / perStep, label: `${day} ${MONTHS[month - 1]!.slice(0, 3)}`, year: isNew ? String(year) : undefined };
  });
}

function roundTicks(plan: Plan, lastStep: number, wanted: number): Tick[] {
  const span = Math.max(lastStep * plan.clock.stepLength, 1e-9);
  const rough = span / wanted;
  const power = 10 ** Math.floor(Math.log10(rough));
  const apart = [1, 2, 5, 10].map((m) => m * power).find((size) => size >= rough) ?? power * 10;
  return Array.from({ length: Math.floor(span / apart + 1e-9) + 1 }, (_, i) => {
    const time = Number((i * apart).toPrecision(10));
    return { step: time / plan.clock.stepLength, label: String(time) };
  });
}

/** What a step is called in “days a second”. */
export function stepsName(plan: Plan): string {
  return plan.clock.stepLength === 1 ? plan.clock.unitLabel.replace(/^h$/, 'hours').replace(/^s$/, 'seconds') : 'steps';
}
