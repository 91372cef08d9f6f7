import type { Estimate } from '@vole/core';
import { CartesianGrid, ComposedChart, ErrorBar, Line, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { seriesColour } from '../drawing/palette.ts';
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
    const row: Record<string, number | [number, number]> = { x };
    lines.forEach((line, i) => {
      const estimate = line.points.find((point) => point.x === x)?.estimate;
      if (!estimate || Number.isNaN(estimate.value)) return;
      row[`v${i}`] = estimate.value;
      if (Number.isFinite(estimate.low)) row[`e${i}`] = [estimate.value - estimate.low, estimate.high - estimate.value];
    });
    return row;
  });
  const reached = (reach ?? lines.flatMap((line) => line.points.map(({ estimate }) => estimate))).flatMap(
    ({ value, low, high }) => [value, low, high].filter(Number.isFinite),
  );
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
              padding={words ? { left: 60, right: 60 } : { left: 14, right: 14 }}
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
                dot={{ r: 3.5, fill: seriesColour(i, theme), strokeWidth: 0 }}
                isAnimationActive={false}
              >
                <ErrorBar
                  dataKey={`e${i}`}
                  width={0}
                  strokeWidth={2}
                  stroke={seriesColour(i, theme)}
                  isAnimationActive={false}
                />
              </Line>
            ))}
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
