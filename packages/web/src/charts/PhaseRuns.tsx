import type { FanAnswer, Plan, RunLine } from '@vole/core';
import { measureColours, stepWords } from '@vole/core';
import type { MouseEvent } from 'react';
import { useMemo, useState } from 'react';
import { CartesianGrid, ResponsiveContainer, ScatterChart, usePlotArea, XAxis, YAxis } from 'recharts';
import { useAppSelector } from '../store/store.ts';
import { shownNumber } from '../words/numbers.ts';
import { acrossAxis, valueAxis } from './axes.ts';
import { MOST_LINES } from './FanChart.tsx';
import { roundTicks } from './round-ticks.ts';
import type { RunPath } from './run-paths.ts';
import { atRows, extentOf, lineThrough, nearestOn, pathRows, runPaths } from './run-paths.ts';

interface Props {
  readonly plan: Plan;
  /** The course from left to right, and the one upwards, of the same runs. */
  readonly across: FanAnswer;
  readonly up: FanAnswer;
  /** The measure that gives the colour. */
  readonly measure: number;
  readonly showRuns: boolean;
  readonly onOpen: (run: RunLine, step: number) => void;
}

/** One course over another: each run as a thin path, and the path of the medians of both at each kept step. A click opens the nearest run at that step. */
export function PhaseRuns(props: Props) {
  const { across, up, showRuns } = props;
  const rows = useMemo(() => pathRows(Math.min(across.bands.median.length, up.bands.median.length)), [across, up]);
  const paths = useMemo(() => runPaths(across.lines, up.lines, rows, MOST_LINES), [across, up, rows]);
  const [xTicks, yTicks] = useMemo(() => {
    const columns = (median: ArrayLike<number>, of: (path: RunPath) => ArrayLike<number>): ArrayLike<number>[] => [
      median,
      ...(showRuns ? paths.map(of) : []),
    ];
    return [
      roundTicks(...extentOf(columns(across.bands.median, ({ xs }) => xs)), 6),
      roundTicks(...extentOf(columns(up.bands.median, ({ ys }) => ys)), 5),
    ];
  }, [across, up, paths, showRuns]);
  return (
    <ResponsiveContainer width="100%" height="100%">
      <ScatterChart margin={{ top: 10, right: 20, bottom: 4, left: 0 }}>
        <CartesianGrid stroke="var(--line)" />
        <XAxis dataKey="x" type="number" {...acrossAxis(xTicks)} allowDataOverflow />
        <YAxis dataKey="y" type="number" {...valueAxis(yTicks)} allowDataOverflow />
        <Paths {...props} rows={rows} paths={paths} xTicks={xTicks} yTicks={yTicks} />
      </ScatterChart>
    </ResponsiveContainer>
  );
}

interface PathsProps extends Props {
  /** Rows at which paths are drawn. */
  readonly rows: readonly number[];
  readonly paths: readonly RunPath[];
  readonly xTicks: readonly number[];
  readonly yTicks: readonly number[];
}

function Paths({ plan, across, up, measure, showRuns, onOpen, rows, paths, xTicks, yTicks }: PathsProps) {
  const area = usePlotArea();
  const [near, setNear] = useState<ReturnType<typeof nearestOn>>();
  const colour = measureColours(
    plan,
    useAppSelector((state) => state.interface.theme),
  )[measure]!;
  // Not again whenever the pointer moves.
  const drawn = useMemo(() => {
    if (!area) return undefined;
    const [left, right, bottom, top] = [xTicks[0]!, xTicks.at(-1)!, yTicks[0]!, yTicks.at(-1)!];
    const x = (value: number): number => area.x + ((value - left) / (right - left)) * area.width;
    const y = (value: number): number => area.y + area.height - ((value - bottom) / (top - bottom)) * area.height;
    const middle = { xs: atRows(across.bands.median, rows), ys: atRows(up.bands.median, rows) };
    const pathOf = ({ xs, ys }: Pick<RunPath, 'xs' | 'ys'>): string => lineThrough(xs, ys, x, y);
    return { x, y, pathOf, runs: paths.map(pathOf), middle: pathOf(middle) };
  }, [area, across, up, rows, paths, xTicks, yTicks]);
  if (!area || !drawn) return null;
  const { x, y, pathOf, middle } = drawn;
  const { steps, median } = up.bands;
  const last = rows.at(-1);
  const stepAt = (row: number): number => steps[rows[row]!] ?? 0;
  const at = (event: MouseEvent<SVGRectElement>): ReturnType<typeof nearestOn> => {
    const box = event.currentTarget.getBoundingClientRect();
    const place = {
      x: area.x + ((event.clientX - box.left) / box.width) * area.width,
      y: area.y + ((event.clientY - box.top) / box.height) * area.height,
    };
    return nearestOn(paths, place, x, y);
  };
  return (
    <g>
      {showRuns &&
        paths.map((path, i) => (
          <path
            key={path.run.seed}
            d={drawn.runs[i]}
            fill="none"
            stroke={colour}
            strokeWidth={0.8}
            opacity={0.16}
            data-testid="run-path"
          />
        ))}
      <path d={middle} fill="none" stroke="var(--sheet)" strokeWidth={5.5} opacity={0.8} />
      <path d={middle} fill="none" stroke={colour} strokeWidth={2.4} data-testid="median-path" />
      {last !== undefined && (
        <circle
          cx={x(across.bands.median[last]!)}
          cy={y(median[last]!)}
          r={4}
          fill="var(--ink)"
          stroke="var(--sheet)"
        />
      )}
      {near && (
        <g pointerEvents="none">
          <path d={pathOf(near.path)} fill="none" stroke="var(--ink)" strokeWidth={1.2} />
          <circle cx={x(near.path.xs[near.row]!)} cy={y(near.path.ys[near.row]!)} r={4} fill={colour} />
          <text x={area.x + 8} y={area.y + 13} fontSize={13} fill="var(--ink)">
            {`seed ${near.path.run.seed}, ${stepWords(plan, stepAt(near.row))}: ${shownNumber(near.path.xs[near.row]!)}, ${shownNumber(near.path.ys[near.row]!)}; click: in Watch`}
          </text>
        </g>
      )}
      <rect
        data-testid="phase-plot"
        x={area.x}
        y={area.y}
        width={area.width}
        height={area.height}
        fill="transparent"
        style={{ cursor: 'pointer' }}
        onPointerMove={(event) => setNear(at(event))}
        onPointerLeave={() => setNear(undefined)}
        onClick={(event) => {
          const found = at(event);
          if (found) onOpen(found.path.run, stepAt(found.row));
        }}
      />
    </g>
  );
}
