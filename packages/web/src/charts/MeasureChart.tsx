import type { Plan } from '@vole/core';
import { drawnRows, measureColours, stepWords, timeTicks } from '@vole/core';
import { useState } from 'react';
import {
  CartesianGrid,
  Line,
  LineChart,
  ReferenceArea,
  ReferenceLine,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';
import { kept, live, useLive } from '../simulation/live-handle.ts';
import type { ReadingRow } from '../storage/schema.ts';
import { readChart } from '../session/session.ts';
import { useAppSelector } from '../store/store.ts';
import type { Reading } from './ChartReading.tsx';
import { ChartReading, ChartTable } from './ChartReading.tsx';
import { linesOf, seriesOf } from './live-series.ts';
import { shownNumber } from '../words/numbers.ts';
import { roundTicks } from './round-ticks.ts';

const STRETCHES = 70;
const PLAIN: Reading = {
  form: 'as measured',
  isLog: false,
  guide: '',
  asTable: false,
  grouped: new Set(),
  stretch: undefined,
};

/** The reading that is kept of a chart, with its measures by their numbers in the plan on show. */
function readingOf(kept: ReadingRow | undefined, plan: Plan | undefined): Reading {
  if (!kept || !plan) return PLAIN;
  const numbers = kept.grouped.map((name) => plan.measures.findIndex((measure) => measure.name === name));
  return { ...kept, grouped: new Set(numbers.filter((m) => m >= 0)), stretch: undefined };
}

/** Measures of the live run over time, with their names and values at the ends of their lines; a drag over a stretch brings it closer, a click goes to its step. */
export function MeasureChart({
  measures,
  levels,
  title,
}: {
  readonly measures: readonly number[];
  readonly levels: readonly number[];
  readonly title: string;
}) {
  const plan = useLive((state) => state.plan);
  const rows = useLive((state) => state.rows);
  const frame = useLive((state) => state.frame);
  const beside = useLive((state) => state, kept);
  const theme = useAppSelector((state) => state.interface.theme);
  const keptReading = useAppSelector((state) => state.project.readings.find((row) => row.title === title));
  const [stretch, setStretch] = useState<Reading['stretch']>();
  const [asDifference, setDifference] = useState(false);
  const [drag, setDrag] = useState<readonly [number, number]>();
  if (!plan || !frame) return null;
  const reading: Reading = { ...readingOf(keptReading, plan), stretch };
  const { form, isLog, guide, asTable, grouped } = reading;
  const read = (change: Partial<Reading>): void => {
    const next = { ...reading, ...change };
    setStretch(next.stretch);
    if (Object.keys(change).some((key) => key !== 'stretch')) {
      void readChart({
        title,
        form: next.form,
        isLog: next.isLog,
        guide: next.guide,
        asTable: next.asTable,
        grouped: [...next.grouped].map((m) => plan.measures[m]!.name),
      });
    }
  };
  const lines = linesOf(
    plan.measures.map(({ name }) => name),
    measures,
    grouped,
  );
  const plain = seriesOf(
    rows,
    plan.measures.length,
    lines.map(({ of }) => of),
    form,
  );
  const others =
    beside.plan &&
    seriesOf(
      beside.rows,
      beside.plan.measures.length,
      lines.map(({ of }) =>
        of.map((m) => beside.plan!.measures.findIndex(({ name }) => name === plan.measures[m]!.name)),
      ),
      form,
    );
  const isDifference = asDifference && others !== undefined;
  const series = isDifference
    ? plain.map((list, i) => list.slice(0, others[i]!.length).map((value, step) => value - others[i]![step]!))
    : plain;
  const count = series[0]?.length ?? 0;
  const heights =
    form === 'as measured' && !isDifference
      ? seriesOf(
          rows,
          plan.measures.length,
          levels.map((level) => [level]),
          form,
        )
      : [];
  const [from, to] = stretch ?? [0, Math.max(1, count - 1)];
  const shown = (value: number | undefined): number => (value === undefined || (isLog && !(value > 0)) ? NaN : value);
  const point = (step: number): Record<string, number> =>
    Object.fromEntries([
      ['step', step],
      ...lines.flatMap(
        (_, i) =>
          [
            [`m${i}`, shown(series[i]![step])],
            ...(others && !isDifference ? [[`o${i}`, shown(others[i]![step])]] : []),
          ] as [string, number][],
      ),
      ...heights.map((height, i): [string, number] => [`l${i}`, shown(height[step])]),
    ]);
  const drawn = isDifference || !others ? [...series, ...heights] : [...series, ...others, ...heights];
  const data = drawnRows(
    from,
    Math.min(to, count - 1),
    STRETCHES,
    drawn.map((list) => (step: number) => list[step] ?? NaN),
  ).map(point);
  const all = measureColours(plan, theme);
  const colours = lines.map(({ of }) => all[of[0]!]!);
  const ticks = timeTicks(plan, Math.max(1, count - 1), stretch ? 12 : 5).filter(
    (tick) => tick.step >= from && tick.step <= to,
  );
  const now = Math.min(frame.step, count - 1);
  const guideAt = Number(guide);
  const shownValues = data
    .flatMap((row) =>
      Object.entries(row).flatMap(([key, value]) => (key !== 'step' && Number.isFinite(value) ? [value] : [])),
    )
    .concat(guide.trim() !== '' && Number.isFinite(guideAt) ? [guideAt] : []);
  const yTicks = roundTicks(Math.min(0, ...shownValues), Math.max(0, ...shownValues), 3);
  return (
    <figure aria-label={title}>
      {asTable ? (
        <ChartTable plan={plan} lines={lines} series={series} from={from} to={to} />
      ) : (
        <ResponsiveContainer width="100%" height={124}>
          <LineChart
            data={data}
            margin={{ top: 6, right: 8, bottom: 0, left: -14 }}
            onMouseDown={({ activeLabel }) =>
              activeLabel !== undefined && setDrag([Number(activeLabel), Number(activeLabel)])
            }
            onMouseMove={({ activeLabel }) =>
              drag && activeLabel !== undefined && setDrag([drag[0], Number(activeLabel)])
            }
            onMouseUp={() => {
              if (!drag) return;
              const [a, b] = [Math.min(...drag), Math.max(...drag)];
              if (b - a > 2) read({ stretch: [a, b] });
              else live.goTo(a);
              setDrag(undefined);
            }}
          >
            <CartesianGrid vertical={false} stroke="var(--line)" />
            <XAxis
              dataKey="step"
              type="number"
              domain={[from, to]}
              allowDataOverflow
              ticks={ticks.map((t) => t.step)}
              tickFormatter={(step: number) => ticks.find((t) => t.step === step)?.label ?? ''}
              tick={{ fontSize: 11, fill: 'var(--faint)' }}
              axisLine={false}
              tickLine={false}
              interval="preserveStartEnd"
            />
            <YAxis
              scale={isLog ? 'log' : 'auto'}
              allowDataOverflow={isLog}
              tick={{ fontSize: 11, fill: 'var(--faint)' }}
              axisLine={false}
              tickLine={false}
              tickFormatter={(v: number) => shownNumber(v)}
              width={52}
              ticks={isLog ? undefined : yTicks}
              interval={isLog ? 'preserveEnd' : 0}
              domain={isLog ? ['auto', 'auto'] : [yTicks[0]!, yTicks.at(-1)!]}
            />
            <Tooltip
              isAnimationActive={false}
              labelFormatter={(step) => stepWords(plan, Number(step))}
              formatter={(value, key) => [
                shownNumber(Number(value)),
                String(key).startsWith('l')
                  ? plan.measures[levels[Number(String(key).slice(1))]!]!.name
                  : `${lines[Number(String(key).slice(1))]!.name}${String(key).startsWith('o') ? ', kept run' : ''}`,
              ]}
              contentStyle={{
                background: 'var(--sheet)',
                border: '1px solid var(--line)',
                borderRadius: 6,
                padding: '4px 8px',
              }}
            />
            {guide.trim() !== '' && Number.isFinite(guideAt) && (
              <ReferenceLine y={guideAt} stroke="var(--ink)" strokeDasharray="4 3" ifOverflow="extendDomain" />
            )}
            {now >= from && now <= to && <ReferenceLine x={now} stroke="var(--ink)" strokeOpacity={0.4} />}
            {drag && (
              <ReferenceArea x1={Math.min(...drag)} x2={Math.max(...drag)} fill="var(--ink)" fillOpacity={0.12} />
            )}
            {others &&
              !isDifference &&
              lines.map((line, i) => (
                <Line
                  key={`kept ${line.name}`}
                  dataKey={`o${i}`}
                  stroke={colours[i]}
                  strokeDasharray="3 3"
                  dot={false}
                  strokeWidth={1.3}
                  isAnimationActive={false}
                />
              ))}
            {heights.map((_, i) => (
              <Line
                key={`level ${i}`}
                dataKey={`l${i}`}
                stroke="var(--ink)"
                strokeDasharray="5 3"
                dot={false}
                strokeWidth={1.1}
                isAnimationActive={false}
              />
            ))}
            {lines.map((line, i) => (
              <Line
                key={line.name}
                dataKey={`m${i}`}
                stroke={colours[i]}
                dot={false}
                strokeWidth={1.6}
                isAnimationActive={false}
              />
            ))}
          </LineChart>
        </ResponsiveContainer>
      )}
      <figcaption className="text-sm">
        <p className="flex flex-wrap gap-x-4">
          {lines.map(({ name }, i) => (
            <span key={name} data-figure-words style={{ color: colours[i] }} className="font-semibold">
              {name} {now >= 0 ? shownNumber(series[i]![now]!) : ''}
            </span>
          ))}
          {heights.map((height, i) => (
            <span key={`level ${i}`} data-figure-words>
              {plan.measures[levels[i]!]!.name} {now >= 0 ? shownNumber(height[now]!) : ''}
            </span>
          ))}
        </p>
        {others && (
          <p className="flex gap-3 text-faint">
            dashed: kept run
            <label className="flex items-center gap-1">
              <input
                type="checkbox"
                className="accent-moss"
                checked={asDifference}
                onChange={() => setDifference(!asDifference)}
              />{' '}
              difference
            </label>
          </p>
        )}
        <ChartReading
          title={title}
          plan={plan}
          measures={measures}
          lines={lines}
          series={series}
          reading={reading}
          onRead={read}
        />
      </figcaption>
    </figure>
  );
}
