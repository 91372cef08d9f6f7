import type { Bands, Plan, RunLine } from '@vole/core';
import { bandRows, drawnRows, measureColours, pathThrough, stepWords } from '@vole/core';
import type { PointerEvent } from 'react';
import { useMemo, useState } from 'react';
import { CartesianGrid, ComposedChart, ResponsiveContainer, usePlotArea, XAxis, YAxis } from 'recharts';
import { useAppSelector } from '../store/store.ts';
import { shownNumber } from '../words/numbers.ts';
import type { ChartLevel } from './level-lines.ts';
import { DASHED, FanShapes } from './FanShapes.tsx';
import { LevelLines } from './LevelLines.tsx';
import { stepAxis, valueAxis } from './axes.ts';
import { RIGHT_OF_AXIS, useFittingTicks } from './fitting-ticks.ts';
import { roundTicks } from './round-ticks.ts';

export interface FanProps {
  readonly plan: Plan;
  readonly bands: Bands;
  /** Runs that can be opened; the first of them are drawn. */
  readonly lines: readonly RunLine[];
  readonly measure: number;
  readonly levels?: readonly ChartLevel[];
  readonly showRuns: boolean;
  /** A course to hold the runs against, drawn dashed: a value at each kept step. */
  readonly reference?: readonly number[] | undefined;
  readonly onOpen?: (run: RunLine, step: number) => void;
}

const NOTHING: readonly never[] = [];

const STRETCHES = 110;
/** Single runs that are drawn at most; the chart says how many of all they are. */
export const MOST_LINES = 80;
/** Single runs among which a click finds the nearest one. */
export const MOST_NEAR = 1000;

/** Median and bands over runs, single runs as thin lines. A click opens the nearest run at that step. */
export function FanChart(props: FanProps) {
  const { plan, bands, lines, measure, levels = NOTHING, reference } = props;
  const lastStep = bands.steps[bands.steps.length - 1] ?? 1;
  const { low, high } = useMemo(
    () => rangeOf(bands, lines.slice(0, MOST_LINES), levels, reference),
    [bands, lines, levels, reference],
  );
  const data = useMemo(() => {
    return bandRows(bands, STRETCHES).map((i) => ({
      step: bands.steps[i],
      median: bands.median[i],
      band50: [bands.low50[i], bands.high50[i]],
      band90: [bands.low90[i], bands.high90[i]],
    }));
  }, [bands]);
  const colour = measureColours(
    plan,
    useAppSelector((state) => state.interface.theme),
  )[measure]!;
  const [ticks, onResize] = useFittingTicks(plan, lastStep);
  return (
    <ResponsiveContainer width="100%" height="100%" onResize={onResize}>
      <ComposedChart data={data} margin={{ top: 10, right: RIGHT_OF_AXIS, bottom: 4, left: 0 }}>
        <CartesianGrid vertical={false} stroke="var(--line)" />
        <XAxis {...stepAxis(ticks, lastStep)} />
        <YAxis {...valueAxis(roundTicks(low, high, 5))} allowDataOverflow />
        <FanShapes colour={colour} />
        <LevelLines levels={levels} lastStep={lastStep} low={low} high={high} />
        <Overlay {...props} colour={colour} low={low} high={high} lastStep={lastStep} />
      </ComposedChart>
    </ResponsiveContainer>
  );
}

/** A range that holds everything that is drawn, 0 included, with a round top. */
export function rangeOf(
  bands: Bands,
  lines: readonly RunLine[],
  levels: readonly ChartLevel[] = [],
  reference: readonly number[] = [],
): { low: number; high: number } {
  let low = 0;
  let high = 0;
  const take = (value: number): void => {
    if (value < low) low = value;
    if (value > high) high = value;
  };
  for (const { values } of lines) values.forEach(take);
  reference.forEach(take);
  bands.low90.forEach(take);
  bands.high90.forEach(take);
  for (const { heights } of levels) heights.forEach(take);
  const ticks = roundTicks(low, high, 5);
  return { low: ticks[0]!, high: ticks.at(-1)! };
}

/** The value of a run at a kept row; after its end it keeps its last one. */
function valueAt({ values }: RunLine, row: number): number {
  return values[Math.min(row, values.length - 1)]!;
}

interface OverlayProps extends FanProps {
  readonly colour: string;
  readonly low: number;
  readonly high: number;
  readonly lastStep: number;
}

/** Single runs and the reading under the pointer. */
function Overlay({ plan, bands, lines, showRuns, reference, onOpen, colour, low, high, lastStep }: OverlayProps) {
  const area = usePlotArea();
  const [row, setRow] = useState<number>();
  const [near, setNear] = useState<RunLine>();
  const every = bands.steps.length > 1 ? bands.steps[1]! : 1;
  const x = (step: number): number => (area ? area.x + (step / lastStep) * area.width : 0);
  const y = (value: number): number => (area ? area.y + area.height - ((value - low) / (high - low)) * area.height : 0);
  if (!area) return null;

  const find = (event: PointerEvent<SVGRectElement>): { row: number; run: RunLine | undefined } => {
    const box = event.currentTarget.getBoundingClientRect();
    const at = Math.max(
      0,
      Math.min(bands.steps.length - 1, Math.round((((event.clientX - box.left) / box.width) * lastStep) / every)),
    );
    const value = high - ((event.clientY - box.top) / box.height) * (high - low);
    let best: RunLine | undefined;
    let distance = Infinity;
    for (const line of lines) {
      const d = Math.abs(valueAt(line, at) - value);
      if (d < distance) [best, distance] = [line, d];
    }
    return { row: at, run: best };
  };
  const path = ({ values }: { readonly values: ArrayLike<number> }): string => {
    const value = (row: number): number => values[row]!;
    return pathThrough(
      drawnRows(0, values.length - 1, STRETCHES, [value]),
      (row) => x(row * every),
      (row) => y(value(row)),
    );
  };
  return (
    <g>
      {showRuns &&
        lines
          .slice(0, MOST_LINES)
          .map((line, i) => (
            <path key={i} d={path(line)} fill="none" stroke={colour} strokeWidth={0.8} opacity={0.3} />
          ))}
      {reference && <path d={path({ values: reference })} {...DASHED} data-testid="mean-field-line" />}
      {near && showRuns && <path d={path(near)} fill="none" stroke="var(--ink)" strokeWidth={1.4} />}
      {row !== undefined && (
        <g pointerEvents="none">
          <line
            x1={x(bands.steps[row]!)}
            x2={x(bands.steps[row]!)}
            y1={area.y}
            y2={area.y + area.height}
            stroke="var(--ink)"
            strokeWidth={0.8}
            strokeDasharray="3 3"
          />
          <text x={area.x + 8} y={area.y + 13} fontSize={13} fill="var(--ink)">
            {`${stepWords(plan, bands.steps[row]!)}: median ${shownNumber(bands.median[row]!)}, 90 % of runs ${shownNumber(bands.low90[row]!)} to ${shownNumber(bands.high90[row]!)}`}
          </text>
          {near && onOpen && (
            <text
              x={area.x + 8}
              y={area.y + 30}
              fontSize={13}
              fill="var(--faint)"
            >{`click: seed ${near.seed} (${shownNumber(valueAt(near, row))}) in Watch`}</text>
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
