import { Bar, CartesianGrid, ComposedChart, ErrorBar, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { shownNumber } from '../words/numbers.ts';
import { roundTicks } from './round-ticks.ts';

/** A value with its interval; without one its ends are NaN. */
interface BarValue {
  readonly value: number;
  readonly low: number;
  readonly high: number;
}

export interface IndexBar {
  readonly name: string;
  readonly dark: BarValue;
  readonly light?: BarValue;
}

/** Bars of one or two values a name, each with its interval; the light ones below the dark. */
export function IndexBars({
  bars,
  darkName,
  lightName,
}: {
  readonly bars: readonly IndexBar[];
  readonly darkName: string;
  readonly lightName?: string;
}) {
  const errorOf = ({ value, low, high }: BarValue): [number, number] | undefined =>
    Number.isFinite(low) && Number.isFinite(high) ? [Math.max(0, value - low), Math.max(0, high - value)] : undefined;
  const data = bars.map(({ name, dark, light }) => ({
    name,
    dark: dark.value,
    darkError: errorOf(dark),
    light: light?.value,
    lightError: light && errorOf(light),
  }));
  const reached = bars
    .flatMap(({ dark, light }) => [dark, light])
    .flatMap((bar) => (bar ? [bar.value, bar.low, bar.high] : []))
    .filter(Number.isFinite);
  const ticks = roundTicks(Math.min(0, ...reached), Math.max(0, ...reached), 5);
  const hasLight = bars.some(({ light }) => light);
  return (
    <ResponsiveContainer width="100%" height="100%">
      <ComposedChart layout="vertical" data={data} margin={{ top: 4, right: 20, bottom: 4, left: 8 }} barGap={1}>
        <CartesianGrid horizontal={false} stroke="var(--line)" />
        <XAxis
          type="number"
          domain={[ticks[0]!, ticks.at(-1)!]}
          ticks={ticks}
          interval={0}
          tickFormatter={(value: number) => shownNumber(value)}
          tick={{ fontSize: 12, fill: 'var(--faint)' }}
          axisLine={{ stroke: 'var(--line)' }}
          tickLine={false}
        />
        <YAxis
          type="category"
          dataKey="name"
          width={110}
          interval={0}
          tick={{ fontSize: 13, fontWeight: 600, fill: 'var(--ink)' }}
          axisLine={false}
          tickLine={false}
        />
        <Tooltip
          isAnimationActive={false}
          cursor={{ fill: 'var(--wash)' }}
          formatter={(value, key) => [shownNumber(Number(value)), key === 'dark' ? darkName : (lightName ?? '')]}
          contentStyle={{
            background: 'var(--sheet)',
            border: '1px solid var(--line)',
            borderRadius: 6,
            padding: '4px 8px',
          }}
        />
        <Bar dataKey="dark" fill="var(--moss)" maxBarSize={16} isAnimationActive={false}>
          <ErrorBar
            dataKey="darkError"
            direction="x"
            width={0}
            strokeWidth={2}
            stroke="var(--ink)"
            isAnimationActive={false}
          />
        </Bar>
        {hasLight && (
          <Bar dataKey="light" fill="var(--moss)" fillOpacity={0.35} maxBarSize={16} isAnimationActive={false}>
            <ErrorBar
              dataKey="lightError"
              direction="x"
              width={0}
              strokeWidth={2}
              stroke="var(--ink)"
              isAnimationActive={false}
            />
          </Bar>
        )}
      </ComposedChart>
    </ResponsiveContainer>
  );
}
