import { CartesianGrid, Line, LineChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { classColour } from '../drawing/palette.ts';
import { timeTicks, stepWords } from '../ribbon/time-axis.ts';
import { useLive } from '../simulation/live-handle.ts';
import { useAppSelector } from '../store/store.ts';
import { shownNumber } from './numbers.ts';

const MOST_POINTS = 240;
const COLOURS = [1, 2, 3, 4, 0, 5, 6, 7];

/** Measures of the live run over time, with their names and values at the ends of their lines. */
export function MeasureChart({ measures, title }: { readonly measures: readonly number[]; readonly title: string }) {
  const { plan, rows, frame } = useLive();
  const theme = useAppSelector((state) => state.interface.theme);
  if (!plan || !frame) return null;
  const width = plan.measures.length;
  const count = rows.length / width;
  const stride = Math.max(1, Math.ceil(count / MOST_POINTS));
  const data: Record<string, number>[] = [];
  for (let row = 0; row < count; row += stride) data.push(point(row));
  if (count > 0 && (count - 1) % stride !== 0) data.push(point(count - 1));
  function point(row: number): Record<string, number> {
    return Object.fromEntries([['step', row], ...measures.map((m) => [`m${m}`, rows[row * width + m]!])]);
  }
  const ticks = timeTicks(plan, Math.max(1, count - 1), 5);
  const now = Math.min(frame.step, count - 1);
  return (
    <figure aria-label={title}>
      <ResponsiveContainer width="100%" height={130}>
        <LineChart data={data} margin={{ top: 6, right: 8, bottom: 0, left: -14 }}>
          <CartesianGrid vertical={false} stroke="var(--line)" />
          <XAxis dataKey="step" type="number" domain={[0, Math.max(1, count - 1)]} ticks={ticks.map((t) => t.step)} tickFormatter={(step: number) => ticks.find((t) => t.step === step)?.label ?? ''} tick={{ fontSize: 11, fill: 'var(--faint)' }} axisLine={false} tickLine={false} interval="preserveStartEnd" />
          <YAxis tick={{ fontSize: 11, fill: 'var(--faint)' }} axisLine={false} tickLine={false} tickFormatter={(v: number) => shownNumber(v)} width={52} domain={[(least: number) => Math.min(0, least), 'auto']} />
          <Tooltip
            isAnimationActive={false}
            labelFormatter={(step) => stepWords(plan, Number(step))}
            formatter={(value, key) => [shownNumber(Number(value)), plan.measures[Number(String(key).slice(1))]!.name]}
            contentStyle={{ background: 'var(--sheet)', border: '1px solid var(--line)', borderRadius: 6, padding: '4px 8px' }}
          />
          {measures.map((m, i) => <Line key={m} dataKey={`m${m}`} stroke={classColour(COLOURS[i % 8]!, theme)} dot={false} strokeWidth={1.6} isAnimationActive={false} />)}
        </LineChart>
      </ResponsiveContainer>
      <figcaption className="flex flex-wrap gap-x-4 text-sm">
        {measures.map((m, i) => (
          <span key={m} style={{ color: classColour(COLOURS[i % 8]!, theme) }} className="font-semibold">
            {plan.measures[m]!.name} {now >= 0 ? shownNumber(rows[now * width + m]!) : ''}
          </span>
        ))}
      </figcaption>
    </figure>
  );
}
