import type { Cell, CourseForm, Plan } from '@vole/core';
import { COURSE_FORMS, heading, stepWords, timeOf } from '@vole/core';
import { Meaning } from '../manual/Meaning.tsx';
import { TakeFiles } from '../files/TakeFiles.tsx';
import { live } from '../simulation/live-handle.ts';
import { courseUnit } from './bands-table.ts';
import type { ChartLine } from './live-series.ts';
import { peakOf } from './live-series.ts';
import { shownNumber } from '../words/numbers.ts';

/** How a chart is read: chosen by the modeler, kept with the project but for the stretch. */
export interface Reading {
  readonly form: CourseForm;
  readonly isLog: boolean;
  readonly guide: string;
  readonly asTable: boolean;
  /** Measures that are added up into one line. */
  readonly grouped: ReadonlySet<number>;
  readonly stretch: readonly [number, number] | undefined;
}

interface Props {
  readonly title: string;
  readonly plan: Plan;
  readonly measures: readonly number[];
  readonly lines: readonly ChartLine[];
  readonly series: readonly Float64Array[];
  readonly reading: Reading;
  readonly onRead: (change: Partial<Reading>) => void;
}

/** What can be asked of a chart: its peaks, other forms, groups, a guide line, a table, and files of it. */
export function ChartReading({ title, plan, measures, lines, series, reading, onRead }: Props) {
  const { form, isLog, guide, asTable, grouped, stretch } = reading;
  const table = (): Cell[][] => [
    [
      'step',
      heading('time', plan.clock.unitLabel),
      ...lines.map((line) => heading(line.name, courseUnit(plan, { of: line.of, form }))),
    ],
    ...Array.from({ length: series[0]?.length ?? 0 }, (_, step) => [
      step,
      timeOf(plan, step),
      ...series.map((list) => list[step]!),
    ]),
  ];
  const group = (m: number): void =>
    onRead({ grouped: new Set(grouped.has(m) ? [...grouped].filter((other) => other !== m) : [...grouped, m]) });
  return (
    <details className="mt-0.5">
      <summary className="cursor-pointer text-faint">more of this chart</summary>
      <p className="float-right">
        <Meaning of="courses-of-one-run" />
      </p>
      <ul>
        {lines.map(({ name }, i) => {
          const peak = peakOf(series[i]!);
          return peak === undefined ? null : (
            <li key={name}>
              {name} is highest with {shownNumber(series[i]![peak]!)},{' '}
              <button type="button" className="link" onClick={() => live.goTo(peak)}>
                {stepWords(plan, peak)}
              </button>
            </li>
          );
        })}
      </ul>
      <p className="mt-1 flex flex-wrap items-baseline gap-x-3">
        <select
          aria-label={`Form of ${title}`}
          className="word"
          value={form}
          onChange={(event) => onRead({ form: event.target.value as CourseForm })}
        >
          {COURSE_FORMS.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </select>
        <label className="flex items-center gap-1">
          <input type="checkbox" className="accent-moss" checked={isLog} onChange={() => onRead({ isLog: !isLog })} />{' '}
          logarithmic scale
        </label>
        <label>
          line at level{' '}
          <input
            className="word w-14"
            inputMode="decimal"
            value={guide}
            onChange={(event) => onRead({ guide: event.target.value })}
          />
        </label>
        {stretch && (
          <button type="button" className="link" onClick={() => onRead({ stretch: undefined })}>
            whole run
          </button>
        )}
      </p>
      {measures.length > 1 && (
        <p className="mt-1 flex flex-wrap items-baseline gap-x-3">
          added up:
          {measures.map((m) => (
            <label key={m} className="flex items-center gap-1">
              <input type="checkbox" className="accent-moss" checked={grouped.has(m)} onChange={() => group(m)} />{' '}
              {plan.measures[m]!.name}
            </label>
          ))}
        </p>
      )}
      <p className="flex flex-wrap items-baseline gap-x-3">
        <button type="button" className="link" aria-pressed={asTable} onClick={() => onRead({ asTable: !asTable })}>
          {asTable ? 'chart' : 'table'}
        </button>
        <TakeFiles title={title} note={form} hasFigure={!asTable} table={table} />
      </p>
    </details>
  );
}

/** Rows of a table at most; of a longer run evenly chosen ones, the newest first. */
const MOST_ROWS = 200;

export function ChartTable({
  plan,
  lines,
  series,
  from,
  to,
}: Pick<Props, 'plan' | 'lines' | 'series'> & { readonly from: number; readonly to: number }) {
  const last = Math.min(to, (series[0]?.length ?? 0) - 1);
  const stride = Math.max(1, Math.ceil((last - from + 1) / MOST_ROWS));
  const steps: number[] = [];
  for (let step = last; step >= from; step -= stride) steps.push(step);
  return (
    <div className="max-h-52 overflow-auto" tabIndex={0} role="region" aria-label="The chart as a table">
      <table className="w-full text-right text-sm">
        <thead className="sticky top-0 bg-sheet">
          <tr>
            <th className="text-left font-normal text-faint">step</th>
            {lines.map(({ name }) => (
              <th key={name} className="font-semibold">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {steps.map((step) => (
            <tr key={step} className="border-t border-line">
              <td className="text-left">
                <button type="button" className="link" title={stepWords(plan, step)} onClick={() => live.goTo(step)}>
                  {step}
                </button>
              </td>
              {series.map((list, i) => (
                <td key={lines[i]!.name}>{Number.isFinite(list[step]) ? shownNumber(list[step]!) : ''}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
