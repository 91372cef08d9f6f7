import type { Estimate } from '@vole/core';
import { seriesColour } from '@vole/core';
import { CartesianGrid, ComposedChart, Line, ResponsiveContainer, Tooltip, usePlotArea, XAxis, YAxis } from 'recharts';
import { useAppSelector } from '../store/store.ts';
import { shownNumber } from '../words/numbers.ts';
import { roundTicks } from './round-ticks.ts';

export interface ResponseLine {
  readonly name: string;
  readonly points: readonly { readonly x: number; readonly estimate: Estimate }[];
}

/** A summary against a factor, one line a value of the second one, every point with its 90 % interval. */
interface Props {
  readonly lines: readonly ResponseLine[];
  readonly xName: string;
  /** Of a factor whose values are no numbers: their words. Its points are not joined, as nothing lies between them. */
  readonly words?: readonly string[];
  /** Estimates that the scale reaches, where several charts share one. */
  readonly reach?: readonly Estimate[];
  readonly onHover?: (x: number | undefined) => void;
}

export function ResponseChart({ lines, xName, words, reach, onHover }: Props) {
  const nameOf = (x: number): string => words?.[x] ?? shownNumber(x);
  const theme = useAppSelector((state) => state.interface.theme);
  const xs = [...new Set(lines.flatMap((line) => line.points.map((point) => point.x)))].sort((a, b) => a - b);
  const data = xs.map((x) => {
    const row: Record<string, number> = { x };
    lines.forEach((line, i) => {
      const estimate = line.points.find((point) => point.x === x)?.estimate;
      if (!estimate || Number.isNaN(estimate.value)) return;
      row[`v${i}`] = estimate.value;
    });
    return row;
  });
  const reached = (reach ?? lines.flatMap((line) => line.points.map(({ estimate }) => estimate))).flatMap(
    ({ value, low, high }) => [value, low, high].filter(Number.isFinite),
  );
  const padding = words ? 60 : 14;
  const yTicks = roundTicks(Math.min(0, ...reached), Math.max(0, ...reached), 6);
  return (
    <div className="flex h-full flex-col">
      <div className="min-h-0 flex-1">
        <ResponsiveContainer width="100%" height="100%">
          <ComposedChart
            data={data}
            margin={{ top: 10, right: 20, bottom: 18, left: 0 }}
            onMouseMove={(state) => onHover?.(state.activeLabel === undefined ? undefined : Number(state.activeLabel))}
            onMouseLeave={() => onHover?.(undefined)}
          >
            <CartesianGrid vertical={false} stroke="var(--line)" />
            <XAxis
              dataKey="x"
              type="number"
              domain={['dataMin', 'dataMax']}
              ticks={xs.length <= 14 ? xs : undefined}
              tickFormatter={nameOf}
              tick={{ fontSize: 12, fill: 'var(--faint)' }}
              axisLine={{ stroke: 'var(--line)' }}
              tickLine={false}
              padding={{ left: padding, right: padding }}
              label={{ value: xName, position: 'insideBottom', offset: -12, fontSize: 13, fill: 'var(--ink)' }}
            />
            <YAxis
              tick={{ fontSize: 12, fill: 'var(--faint)' }}
              axisLine={false}
              tickLine={false}
              tickFormatter={(v: number) => shownNumber(v)}
              width={54}
              ticks={yTicks}
              interval={0}
              domain={[yTicks[0]!, yTicks.at(-1)!]}
            />
            <Tooltip
              isAnimationActive={false}
              labelFormatter={(v) => `${xName} ${nameOf(Number(v))}`}
              formatter={(value, key) => {
                const i = Number(String(key).slice(1));
                return [shownNumber(Number(value)), lines[i]!.name];
              }}
              contentStyle={{
                background: 'var(--sheet)',
                border: '1px solid var(--line)',
                borderRadius: 6,
                padding: '4px 8px',
              }}
            />
            {lines.map((line, i) => (
              <Line
                key={line.name}
                dataKey={`v${i}`}
                stroke={seriesColour(i, theme)}
                strokeWidth={words ? 0 : 2}
                dot={false}
                isAnimationActive={false}
              />
            ))}
            <Estimates lines={lines} xs={xs} padding={padding} low={yTicks[0]!} high={yTicks.at(-1)!} />
          </ComposedChart>
        </ResponsiveContainer>
      </div>
      {lines.length > 1 && (
        <p className="flex flex-wrap justify-center gap-x-5 text-sm">
          {lines.map((line, i) => (
            <span key={line.name} className="font-semibold" style={{ color: seriesColour(i, theme) }}>
              {line.name}
            </span>
          ))}
        </p>
      )}
    </div>
  );
}

interface EstimatesProps {
  readonly lines: readonly ResponseLine[];
  /** All values on the axis, in their order. */
  readonly xs: readonly number[];
  /** Room beside the first and the last of them, in pixels. */
  readonly padding: number;
  readonly low: number;
  readonly high: number;
}

const RADIUS = 3.5;

/** Each estimate as a dot with its interval; one path a line, as there may be very many. */
function Estimates({ lines, xs, padding, low, high }: EstimatesProps) {
  const area = usePlotArea();
  const theme = useAppSelector((state) => state.interface.theme);
  if (!area || xs.length === 0) return null;
  const [first, last] = [xs[0]!, xs.at(-1)!];
  const width = area.width - 2 * padding;
  const x = (value: number): number =>
    area.x + padding + (last > first ? ((value - first) / (last - first)) * width : width / 2);
  const y = (value: number): number => area.y + area.height - ((value - low) / (high - low)) * area.height;
  return (
    <g pointerEvents="none">
      {lines.map(({ name, points }, i) => {
        const shown = points.filter(({ estimate }) => !Number.isNaN(estimate.value));
        const colour = seriesColour(i, theme);
        return (
          <g key={name}>
            <path
              d={shown
                .filter(({ estimate }) => Number.isFinite(estimate.low))
                .map(({ x: at, estimate }) => `M${x(at)} ${y(estimate.low)}V${y(estimate.high)}`)
                .join('')}
              stroke={colour}
              strokeWidth={2}
              fill="none"
            />
            <path
              d={shown
                .map(
                  ({ x: at, estimate }) =>
                    `M${x(at) - RADIUS} ${y(estimate.value)}a${RADIUS} ${RADIUS} 0 1 0 ${2 * RADIUS} 0a${RADIUS} ${RADIUS} 0 1 0 ${-2 * RADIUS} 0`,
                )
                .join('')}
              fill={colour}
            />
          </g>
        );
      })}
    </g>
  );
}
