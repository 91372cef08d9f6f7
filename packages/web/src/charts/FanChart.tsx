import type { Bands, ObservedPoint, Plan, RunResult } from '@vole/core';
import { valueInRow } from '@vole/core';
import type { PointerEvent } from 'react';
import { useMemo, useState } from 'react';
import { Area, CartesianGrid, ComposedChart, Line, ResponsiveContainer, usePlotArea, XAxis, YAxis } from 'recharts';
import { stepWords, timeTicks } from '../ribbon/time-axis.ts';
import { shownNumber } from './numbers.ts';

export interface FanProps {
  readonly plan: Plan;
  readonly bands: Bands;
  readonly results: readonly RunResult[];
  readonly measure: number;
  readonly observed?: readonly ObservedPoint[];
  readonly showRuns: boolean;
  readonly onOpen?: (result: RunResult, step: number) => void;
}

const MOST_POINTS = 220;
const MOST_LINES = 80;

/** Median and bands over runs, single runs as thin lines, observed values as circles. A click opens the nearest run at that step. */
export function FanChart(props: FanProps) {
  const { plan, bands, results, measure, observed = [] } = props;
  const width = plan.measures.length;
  const lastStep = bands.steps[bands.steps.length - 1] ?? 1;
  const high = useMemo(() => {
    const runs = results.slice(0, MOST_LINES).reduce((most, result) => Math.max(most, maxOf(result, measure, width)), 0);
    return niceTop(Math.max(runs, ...bands.high90.filter(Number.isFinite), ...observed.map((point) => point.value)));
  }, [bands, results, measure, width, observed]);
  const low = useMemo(() => Math.min(0, ...bands.low90.filter(Number.isFinite)), [bands]);
  const data = useMemo(() => {
    const stride = Math.max(1, Math.ceil(bands.steps.length / MOST_POINTS));
    const rows = [...bands.steps.keys()].filter((i) => i % stride === 0 || i === bands.steps.length - 1);
    return rows.map((i) => ({ step: bands.steps[i], median: bands.median[i], band50: [bands.low50[i], bands.high50[i]], band90: [bands.low90[i], bands.high90[i]] }));
  }, [bands]);
  const ticks = timeTicks(plan, lastStep, 12);
  return (
    <ResponsiveContainer width="100%" height="100%">
      <ComposedChart data={data} margin={{ top: 10, right: 16, bottom: 4, left: 0 }}>
        <CartesianGrid vertical={false} stroke="var(--line)" />
        <XAxis dataKey="step" type="number" domain={[0, lastStep]} ticks={ticks.map((t) => t.step)} interval={0} tickFormatter={(step: number) => tickText(ticks, step)} tick={{ fontSize: 12, fill: 'var(--faint)' }} axisLine={{ stroke: 'var(--line)' }} tickLine={false} />
        <YAxis domain={[low, high]} allowDataOverflow tick={{ fontSize: 12, fill: 'var(--faint)' }} axisLine={false} tickLine={false} tickFormatter={(v: number) => shownNumber(v)} width={54} />
        <Area dataKey="band90" stroke="none" fill="var(--accent)" fillOpacity={0.14} isAnimationActive={false} activeDot={false} />
        <Area dataKey="band50" stroke="none" fill="var(--accent)" fillOpacity={0.24} isAnimationActive={false} activeDot={false} />
        <Line dataKey="median" stroke="var(--accent)" strokeWidth={2.2} dot={false} isAnimationActive={false} activeDot={false} />
        <Overlay {...props} low={low} high={high} lastStep={lastStep} />
      </ComposedChart>
    </ResponsiveContainer>
  );
}

function tickText(ticks: ReturnType<typeof timeTicks>, step: number): string {
  const tick = ticks.find((t) => t.step === step);
  return tick ? (tick.year ? `${tick.label} ${tick.year}` : tick.label) : '';
}

function maxOf(result: RunResult, measure: number, width: number): number {
  let most = 0;
  for (let i = measure; i < result.rows.length; i += width) if (result.rows[i]! > most) most = result.rows[i]!;
  return most;
}

/** The next round number above a value, for the top of an axis. */
export function niceTop(value: number): number {
  if (!(value > 0)) return 1;
  const power = 10 ** Math.floor(Math.log10(value));
  return [1, 1.2, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10].map((m) => m * power).find((top) => top >= value)!;
}

interface OverlayProps extends FanProps {
  readonly low: number;
  readonly high: number;
  readonly lastStep: number;
}

/** Single runs, observed points and the reading under the pointer. */
function Overlay({ plan, bands, results, measure, observed = [], showRuns, onOpen, low, high, lastStep }: OverlayProps) {
  const area = usePlotArea();
  const [row, setRow] = useState<number>();
  const [near, setNear] = useState<RunResult>();
  const width = plan.measures.length;
  const every = bands.steps.length > 1 ? bands.steps[1]! : 1;
  const x = (step: number): number => (area ? area.x + (step / lastStep) * area.width : 0);
  const y = (value: number): number => (area ? area.y + area.height - ((value - low) / (high - low)) * area.height : 0);
  if (!area) return null;

  const find = (event: PointerEvent<SVGRectElement>): { row: number; run: RunResult | undefined } => {
    const box = event.currentTarget.getBoundingClientRect();
    const at = Math.max(0, Math.min(bands.steps.length - 1, Math.round((((event.clientX - box.left) / box.width) * lastStep) / every)));
    const value = high - ((event.clientY - box.top) / box.height) * (high - low);
    let best: RunResult | undefined;
    let distance = Infinity;
    for (const result of results) {
      const d = Math.abs(valueInRow(result, measure, width, at) - value);
      if (d < distance) [best, distance] = [result, d];
    }
    return { row: at, run: best };
  };
  const line = (result: RunResult): string => {
    const count = result.rows.length / width;
    const stride = Math.max(1, Math.ceil(count / MOST_POINTS));
    const points: string[] = [];
    for (let i = 0; i < count; i += stride) points.push(`${x(i * every).toFixed(1)},${y(result.rows[i * width + measure]!).toFixed(1)}`);
    return `M${points.join('L')}`;
  };
  const stepLength = plan.clock.stepLength;
  return (
    <g>
      {showRuns && results.slice(0, MOST_LINES).map((result) => <path key={`${result.seed}`} d={line(result)} fill="none" stroke="var(--accent)" strokeWidth={0.8} opacity={0.3} />)}
      {near && showRuns && <path d={line(near)} fill="none" stroke="var(--ink)" strokeWidth={1.4} />}
      {observed.map((point) => {
        const step = point.time / stepLength;
        if (step < 0 || step > lastStep) return null;
        return <circle key={`${point.time} ${point.value}`} cx={x(step)} cy={y(point.value)} r={4} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={1.7} data-testid="observed-point" />;
      })}
      {row !== undefined && (
        <g pointerEvents="none">
          <line x1={x(bands.steps[row]!)} x2={x(bands.steps[row]!)} y1={area.y} y2={area.y + area.height} stroke="var(--ink)" strokeWidth={0.8} strokeDasharray="3 3" />
          <text x={area.x + 8} y={area.y + 13} fontSize={13} fill="var(--ink)">
            {`${stepWords(plan, bands.steps[row]!)}: median ${shownNumber(bands.median[row]!)}, 90 % of runs ${shownNumber(bands.low90[row]!)} to ${shownNumber(bands.high90[row]!)}`}
          </text>
          {near && onOpen && (
            <text x={area.x + 8} y={area.y + 30} fontSize={13} fill="var(--faint)">{`click: seed ${near.seed} (${shownNumber(valueInRow(near, measure, width, row))}) in Watch`}</text>
          )}
        </g>
      )}
      <rect
        data-testid="fan-plot"
        x={area.x}
        y={area.y}
        width={area.width}
        height={area.height}
        fill="transparent"
        style={{ cursor: onOpen ? 'pointer' : 'default' }}
        onPointerMove={(event) => {
          const found = find(event);
          setRow(found.row);
          setNear(found.run);
        }}
        onPointerLeave={() => {
          setRow(undefined);
          setNear(undefined);
        }}
        onClick={(event) => {
          const found = find(event as unknown as PointerEvent<SVGRectElement>);
          if (found.run) onOpen?.(found.run, bands.steps[found.row]!);
        }}
      />
    </g>
  );
}
