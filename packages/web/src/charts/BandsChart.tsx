import type { Bands, Plan } from '@vole/core';
import { bandRows, stepWords } from '@vole/core';
import { useMemo } from 'react';
import {
  Area,
  CartesianGrid,
  ComposedChart,
  Line,
  ReferenceLine,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';
import { shownNumber } from '../words/numbers.ts';
import type { ChartLevel } from './level-lines.ts';
import { LevelLines } from './LevelLines.tsx';
import { stepAxis, valueAxis } from './axes.ts';
import { RIGHT_OF_AXIS, useFittingTicks } from './fitting-ticks.ts';
import { roundTicks } from './round-ticks.ts';

export interface NamedBands {
  readonly name: string;
  readonly colour: string;
  readonly bands: Bands;
}

const STRETCHES = 110;

interface Props {
  readonly plan: Plan;
  readonly groups: readonly NamedBands[];
  readonly levels?: readonly ChartLevel[];
}

/** Medians and bands of several groups of runs in one chart, each in its colour, named below; levels dashed. */
export function BandsChart({ plan, groups, levels = [] }: Props) {
  const lastStep = Math.max(1, ...groups.map(({ bands }) => bands.steps.at(-1) ?? 0));
  const data = useMemo(() => rowsOf(groups), [groups]);
  const yTicks = useMemo(() => {
    const [low, high] = reachOf(groups);
    const heights = levels.flatMap((level) => level.heights.filter(Number.isFinite));
    return roundTicks(Math.min(low, ...heights), Math.max(high, ...heights), 5);
  }, [groups, levels]);
  const [ticks, onResize] = useFittingTicks(plan, lastStep);
  return (
    <div className="flex h-full flex-col">
      <div className="min-h-0 flex-1">
        <ResponsiveContainer width="100%" height="100%" onResize={onResize}>
          <ComposedChart data={data} margin={{ top: 10, right: RIGHT_OF_AXIS, bottom: 4, left: 0 }}>
            <CartesianGrid vertical={false} stroke="var(--line)" />
            <XAxis {...stepAxis(ticks, lastStep)} />
            <YAxis {...valueAxis(yTicks)} />
            <ReferenceLine y={0} stroke="var(--line)" />
            <Tooltip
              isAnimationActive={false}
              labelFormatter={(step) => stepWords(plan, Number(step))}
              formatter={(value, key) => [
                shownNumber(Number(value)),
                `${groups[Number(String(key).slice(1))]!.name}, median`,
              ]}
              contentStyle={{
                background: 'var(--sheet)',
                border: '1px solid var(--line)',
                borderRadius: 6,
                padding: '4px 8px',
              }}
            />
            <LevelLines levels={levels} lastStep={lastStep} low={yTicks[0]!} high={yTicks.at(-1)!} />
            {groups.map(({ name, colour }, i) => [
              <Area
                key={`${name} 90`}
                dataKey={`w${i}`}
                stroke="none"
                fill={colour}
                fillOpacity={0.12}
                connectNulls
                isAnimationActive={false}
                activeDot={false}
                tooltipType="none"
              />,
              <Area
                key={`${name} 50`}
                dataKey={`n${i}`}
                stroke="none"
                fill={colour}
                fillOpacity={0.2}
                connectNulls
                isAnimationActive={false}
                activeDot={false}
                tooltipType="none"
              />,
              <Line
                key={name}
                dataKey={`m${i}`}
                stroke={colour}
                strokeWidth={2.2}
                dot={false}
                connectNulls
                isAnimationActive={false}
                activeDot={false}
              />,
            ])}
          </ComposedChart>
        </ResponsiveContainer>
      </div>
      <p className="flex flex-wrap justify-center gap-x-5 text-sm">
        {groups.map(({ name, colour }) => (
          <span key={name} data-figure-words className="font-semibold" style={{ color: colour }}>
            {name}
          </span>
        ))}
      </p>
    </div>
  );
}

/** The lowest and highest of what is drawn, 0 included. */
function reachOf(groups: readonly NamedBands[]): [number, number] {
  let low = 0;
  let high = 0;
  for (const { bands } of groups)
    bands.low90.forEach((value, row) => {
      if (value < low) low = value;
      if (bands.high90[row]! > high) high = bands.high90[row]!;
    });
  return [low, high];
}

/** A row a step that any of the groups draws, with what each has there. */
function rowsOf(groups: readonly NamedBands[]): Record<string, number | [number, number]>[] {
  const rows = new Map<number, Record<string, number | [number, number]>>();
  groups.forEach(({ bands }, i) => {
    for (const row of bandRows(bands, STRETCHES)) {
      const step = bands.steps[row]!;
      const own = rows.get(step) ?? { step };
      rows.set(step, own);
      if (Number.isNaN(bands.median[row]!)) continue;
      own[`m${i}`] = bands.median[row]!;
      own[`n${i}`] = [bands.low50[row]!, bands.high50[row]!];
      own[`w${i}`] = [bands.low90[row]!, bands.high90[row]!];
    }
  });
  return [...rows.values()].sort((a, b) => Number(a['step']) - Number(b['step']));
}
