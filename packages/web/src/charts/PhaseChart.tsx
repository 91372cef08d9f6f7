import { heading, measureColours, stepWords } from '@vole/core';
import {
  CartesianGrid,
  ReferenceDot,
  ResponsiveContainer,
  Scatter,
  ScatterChart,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';
import { TakeFiles } from '../files/TakeFiles.tsx';
import { live, useLive } from '../simulation/live-handle.ts';
import { useAppSelector } from '../store/store.ts';
import { shownNumber } from '../words/numbers.ts';
import type { PhasePoint } from './phase-path.ts';
import { phasePath } from './phase-path.ts';
import { acrossAxis, valueAxis } from './axes.ts';
import { roundTicks } from './round-ticks.ts';

const MOST_POINTS = 600;

/** Measures of the live run over another one: the path that it takes, and where it is now. A click on the path goes to its step. */
export function PhaseChart({
  measures,
  against,
  title,
}: {
  readonly measures: readonly number[];
  readonly against: number;
  readonly title: string;
}) {
  const plan = useLive((state) => state.plan);
  const rows = useLive((state) => state.rows);
  const frame = useLive((state) => state.frame);
  const theme = useAppSelector((state) => state.interface.theme);
  if (!plan || !frame) return null;
  const width = plan.measures.length;
  const paths = measures.map((y) => phasePath(rows, width, { x: against, y }, MOST_POINTS));
  const all = measureColours(plan, theme);
  const ticksOf = (values: readonly number[], wanted: number): number[] =>
    roundTicks(Math.min(...values), Math.max(...values), wanted);
  const points = paths.flat();
  const xTicks = ticksOf(
    points.map(({ x }) => x),
    4,
  );
  const yTicks = ticksOf(
    points.map(({ y }) => y),
    3,
  );
  const xs = plan.measures[against]!;
  const isNow = ({ step }: PhasePoint): boolean => step <= frame.step;
  return (
    <figure aria-label={title}>
      <ResponsiveContainer width="100%" height={190}>
        <ScatterChart margin={{ top: 6, right: 12, bottom: 0, left: -14 }}>
          <CartesianGrid stroke="var(--line)" />
          <XAxis dataKey="x" type="number" {...acrossAxis(xTicks)} />
          <YAxis dataKey="y" type="number" {...valueAxis(yTicks)} interval={0} />
          <Tooltip
            isAnimationActive={false}
            cursor={false}
            content={({ payload }) => {
              const point = payload[0]?.payload as PhasePoint | undefined;
              return point ? (
                <p className="card px-2 py-1 text-sm">
                  {stepWords(plan, point.step)}: {shownNumber(point.x)}, {shownNumber(point.y)}
                </p>
              ) : null;
            }}
          />
          {paths.map((path, i) => (
            <Scatter
              key={measures[i]}
              data={path}
              line={{ stroke: all[measures[i]!], strokeWidth: 1.4 }}
              shape={<Spot colour={all[measures[i]!]!} />}
              onClick={({ payload }: { readonly payload?: PhasePoint }) => payload && live.goTo(payload.step)}
              isAnimationActive={false}
            />
          ))}
          {paths.map((path, i) => {
            const now = path.filter(isNow).at(-1);
            return (
              now && (
                <ReferenceDot key={measures[i]} x={now.x} y={now.y} r={4} fill="var(--ink)" stroke="var(--sheet)" />
              )
            );
          })}
        </ScatterChart>
      </ResponsiveContainer>
      <figcaption className="text-sm">
        <p className="flex flex-wrap gap-x-4">
          {measures.map((m) => (
            <span key={m} data-figure-words style={{ color: all[m] }} className="font-semibold">
              {plan.measures[m]!.name}
            </span>
          ))}
          <span data-figure-words>
            from left to right {xs.name}
            {xs.unitLabel && ` [${xs.unitLabel}]`}; dot: {stepWords(plan, frame.step)}; one run
          </span>
        </p>
        <TakeFiles
          title={title}
          hasFigure
          table={() => [
            [
              'step',
              heading(xs.name, xs.unitLabel),
              ...measures.map((m) => heading(plan.measures[m]!.name, plan.measures[m]!.unitLabel)),
            ],
            ...Array.from({ length: rows.length / Math.max(1, width) }, (_, step) => [
              step,
              ...[against, ...measures].map((m) => rows[step * width + m]!),
            ]),
          ]}
        />
      </figcaption>
    </figure>
  );
}

/** A point of a path that is hardly seen and can be clicked. */
function Spot({ cx = 0, cy = 0, colour }: { readonly cx?: number; readonly cy?: number; readonly colour: string }) {
  return <circle cx={cx} cy={cy} r={1.6} fill={colour} />;
}
