import { CartesianGrid, LabelList, ResponsiveContainer, Scatter, ScatterChart, XAxis, YAxis } from 'recharts';
import { shownNumber } from '../words/numbers.ts';
import { roundTicks } from './round-ticks.ts';

export interface ScreenedFactor {
  readonly name: string;
  /** How much it moves the summary (mu*). */
  readonly size: number;
  /** How much that depends on where the others stand, or is bent (sigma). */
  readonly spread: number;
}

/** Factors by how much they matter, and how far that depends on the others. */
export function ScreeningChart({ factors }: { readonly factors: readonly ScreenedFactor[] }) {
  const data = factors.filter(({ size, spread }) => Number.isFinite(size) && Number.isFinite(spread));
  const xTicks = roundTicks(0, Math.max(0, ...data.map(({ size }) => size)), 4);
  const yTicks = roundTicks(0, Math.max(0, ...data.map(({ spread }) => spread)), 4);
  const axis = { tick: { fontSize: 12, fill: 'var(--faint)' }, tickLine: false, interval: 0 as const };
  return (
    <ResponsiveContainer width="100%" height="100%">
      <ScatterChart margin={{ top: 10, right: 60, bottom: 20, left: 6 }}>
        <CartesianGrid vertical={false} stroke="var(--line)" />
        <XAxis
          {...axis}
          type="number"
          dataKey="size"
          ticks={xTicks}
          domain={[0, xTicks.at(-1)!]}
          axisLine={{ stroke: 'var(--line)' }}
          tickFormatter={(value: number) => shownNumber(value)}
          label={{
            value: 'how much it moves (mu*)',
            position: 'insideBottom',
            offset: -14,
            fontSize: 13,
            fill: 'var(--ink)',
          }}
        />
        <YAxis
          {...axis}
          type="number"
          dataKey="spread"
          ticks={yTicks}
          domain={[0, yTicks.at(-1)!]}
          axisLine={false}
          width={54}
          tickFormatter={(value: number) => shownNumber(value)}
          label={{
            value: 'how unevenly (sigma)',
            angle: -90,
            position: 'insideLeft',
            offset: 4,
            fontSize: 13,
            fill: 'var(--ink)',
            style: { textAnchor: 'middle' },
          }}
        />
        <Scatter data={data} fill="var(--accent)" isAnimationActive={false}>
          <LabelList dataKey="name" position="right" style={{ fontSize: 13, fontWeight: 600, fill: 'var(--ink)' }} />
        </Scatter>
      </ScatterChart>
    </ResponsiveContainer>
  );
}
