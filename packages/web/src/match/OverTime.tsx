import type { MeanFieldLine, Plan, SeriesAgreement } from '@vole/core';
import { errorBar, stepWords } from '@vole/core';
import type { MouseEvent } from 'react';
import { useMemo } from 'react';
import { CartesianGrid, ComposedChart, ResponsiveContainer, usePlotArea, XAxis, YAxis } from 'recharts';
import { stepAxis, valueAxis } from '../charts/axes.ts';
import { RIGHT_OF_AXIS, useFittingTicks } from '../charts/fitting-ticks.ts';
import { roundTicks } from '../charts/round-ticks.ts';
import { shownNumber } from '../words/numbers.ts';
import { DASHED, FanShapes } from '../charts/FanShapes.tsx';
import { drawnPoints } from '../charts/observed-points.ts';
import { extent } from './agreement-rows.ts';

interface Props {
  readonly plan: Plan;
  readonly series: SeriesAgreement;
  /** From which time on observations are held out, in base units. */
  readonly heldOutFrom: number | undefined;
  readonly colour: string;
  /** The mean-field reference, as it would have been observed; drawn dashed. */
  readonly reference: MeanFieldLine | undefined;
  /** A click at a time and a value. */
  readonly onOpen: (time: number, value: number) => void;
}

/** Observations with their errors over what would have been observed of the runs; peak and period of both are marked. */
export function OverTime({ plan, series, heldOutFrom, colour, reference, onOpen }: Props) {
  const { fan, observations } = series;
  const { stepLength } = plan.clock;
  const shown = useMemo(() => drawnPoints(observations), [observations]);
  const lastStep = Math.max(
    1,
    ...[fan.times.at(-1) ?? 0, observations.at(-1)?.time ?? 0].map((time) => time / stepLength),
  );
  const data = useMemo(
    () =>
      fan.times.map((time, i) => ({
        step: time / stepLength,
        median: fan.median[i],
        band50: [fan.low50[i], fan.high50[i]],
        band90: [fan.low90[i], fan.high90[i]],
      })),
    [fan, stepLength],
  );
  const yTicks = useMemo(
    () =>
      roundTicks(
        ...extent([
          0,
          ...(reference?.values.filter(Number.isFinite) ?? []),
          ...fan.low90,
          ...fan.high90,
          ...shown.flatMap((each) => [each.value, ...errorBar(each)]),
        ]),
        5,
      ),
    [fan, shown, reference],
  );
  const [ticks, onResize] = useFittingTicks(plan, lastStep);
  return (
    <ResponsiveContainer width="100%" height="100%" onResize={onResize}>
      <ComposedChart data={data} margin={{ top: 10, right: RIGHT_OF_AXIS, bottom: 4, left: 0 }}>
        <CartesianGrid vertical={false} stroke="var(--line)" />
        <XAxis {...stepAxis(ticks, lastStep)} />
        <YAxis {...valueAxis(yTicks)} />
        <FanShapes colour={colour} />
        <Marks
          plan={plan}
          series={{ ...series, observations: shown }}
          heldOutFrom={heldOutFrom}
          colour={colour}
          reference={reference}
          lastStep={lastStep}
          low={yTicks[0]!}
          high={yTicks.at(-1)!}
          onOpen={onOpen}
        />
      </ComposedChart>
    </ResponsiveContainer>
  );
}

interface MarksProps extends Props {
  readonly lastStep: number;
  readonly low: number;
  readonly high: number;
}

/** What is held out, the observations, and the patterns of both. */
function Marks({ plan, series, heldOutFrom, colour, reference, lastStep, low, high, onOpen }: MarksProps) {
  const area = usePlotArea();
  if (!area) return null;
  const x = (time: number): number => area.x + (time / plan.clock.stepLength / lastStep) * area.width;
  const y = (value: number): number => area.y + area.height - ((value - low) / (high - low)) * area.height;
  const end = area.x + area.width;
  const heldOut = heldOutFrom === undefined ? end : Math.max(area.x, Math.min(end, x(heldOutFrom)));
  const open = (event: MouseEvent<SVGRectElement>): void => {
    const box = event.currentTarget.getBoundingClientRect();
    const step = ((event.clientX - box.left) / box.width) * lastStep;
    onOpen(step * plan.clock.stepLength, high - ((event.clientY - box.top) / box.height) * (high - low));
  };
  return (
    <g>
      <rect
        data-testid="match-plot"
        x={area.x}
        y={area.y}
        width={area.width}
        height={area.height}
        fill="transparent"
        style={{ cursor: 'pointer' }}
        onClick={open}
      >
        <title>a click opens the nearest run in Watch</title>
      </rect>
      {heldOut < end && (
        <g data-testid="held-out" pointerEvents="none">
          <rect x={heldOut} y={area.y} width={end - heldOut} height={area.height} fill="var(--ink)" opacity={0.05} />
          <text x={heldOut + 5} y={area.y + area.height - 6} fontSize={12} fill="var(--faint)">
            held out
          </text>
        </g>
      )}
      {reference && (
        <path
          d={reference.times
            .flatMap((time, i) =>
              Number.isFinite(reference.values[i]) ? [`${x(time)} ${y(reference.values[i]!)}`] : [],
            )
            .map((at, i) => `${i === 0 ? 'M' : 'L'}${at}`)
            .join('')}
          {...DASHED}
          pointerEvents="none"
          data-testid="mean-field-line"
        />
      )}
      {series.observations.map((each, i) => {
        const [from, to] = errorBar(each);
        return (
          <g key={i}>
            {each.error > 0 && (
              <path d={`M${x(each.time)} ${y(from)}V${y(to)}`} stroke="var(--ink)" strokeWidth={1.2} />
            )}
            <circle
              cx={x(each.time)}
              cy={y(each.value)}
              r={4}
              fill="var(--sheet)"
              stroke="var(--ink)"
              strokeWidth={1.7}
              data-testid="observed-point"
            >
              <title>{`${stepWords(plan, each.time / plan.clock.stepLength)}: observed ${shownNumber(each.value)}${Number.isNaN(each.median) ? '' : `, runs ${shownNumber(each.median)} (${shownNumber(each.low90)} to ${shownNumber(each.high90)})`}`}</title>
            </circle>
          </g>
        );
      })}
      <Patterns series={series} x={x} top={area.y} right={end} colour={colour} />
    </g>
  );
}

interface PatternProps {
  readonly series: SeriesAgreement;
  readonly x: (time: number) => number;
  readonly top: number;
  readonly right: number;
  readonly colour: string;
}

/** At the upper edge: when the peak was, and how long a period is, as observed (dark) and of the runs (coloured, with the band of nine in ten). */
function Patterns({ series: { patterns, observations }, x, top, right, colour }: PatternProps) {
  const peak = patterns.find(({ pattern }) => pattern === 'time of peak');
  const period = patterns.find(({ pattern }) => pattern === 'period');
  const start = observations[0]?.time ?? 0;
  const within = (place: number): number => Math.min(right, place);
  return (
    <g fontSize={11} fill="var(--faint)">
      {peak && (
        <g data-testid="peak-mark">
          <path d={`M${x(peak.low)} ${top + 3}H${x(peak.high)}`} stroke={colour} strokeWidth={2} />
          <path d={`M${x(peak.median)} ${top - 1}v8`} stroke={colour} strokeWidth={2.4} />
          <path d={`M${x(peak.observed)} ${top + 7}l-4 -7h8z`} fill="var(--ink)" />
          <Label
            from={x(Math.min(peak.low, peak.observed))}
            to={x(Math.max(peak.high, peak.observed))}
            right={right}
            y={top + 7}
            text="peak"
          />
        </g>
      )}
      {period && (
        <g>
          <path
            d={`M${x(start)} ${top + 16}H${within(x(start + period.observed))}`}
            stroke="var(--ink)"
            strokeWidth={2}
          />
          <path d={`M${x(start)} ${top + 20}H${within(x(start + period.median))}`} stroke={colour} strokeWidth={2} />
          <Label
            from={x(start)}
            to={within(x(start + Math.max(period.median, period.observed)))}
            right={right}
            y={top + 21}
            text="period"
          />
        </g>
      )}
    </g>
  );
}

/** Room that a name of a pattern takes. */
const LABEL_WIDTH = 40;

/** The name of a mark behind it, or before it where the chart ends. */
function Label({
  from,
  to,
  right,
  y,
  text,
}: {
  readonly from: number;
  readonly to: number;
  readonly right: number;
  readonly y: number;
  readonly text: string;
}) {
  const isBehind = to + LABEL_WIDTH <= right;
  return (
    <text x={isBehind ? to + 6 : from - 6} y={y} textAnchor={isBehind ? 'start' : 'end'}>
      {text}
    </text>
  );
}
