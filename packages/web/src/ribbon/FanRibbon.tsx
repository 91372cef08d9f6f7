import type { Bands, Plan } from '@vole/core';
import { bandRows, measureColours, pathThrough, timeTicks } from '@vole/core';
import { area } from 'd3-shape';
import type { ReactNode } from 'react';
import { Ribbon } from './Ribbon.tsx';
import { useAppSelector } from '../store/store.ts';
import { rangeOf } from '../charts/FanChart.tsx';
import type { ObservedPoint } from '../charts/observed-points.ts';
import { drawnPoints } from '../charts/observed-points.ts';

const STRETCHES = 200;

interface Props {
  readonly plan: Plan;
  readonly bands: Bands | undefined;
  /** The measure whose course it is. */
  readonly measure: number;
  /** Drawn in grey behind, to compare with. */
  readonly baseline?: Bands;
  readonly observed?: readonly ObservedPoint[];
  readonly title: ReactNode;
  readonly note: string;
}

/** The ribbon of many runs: median and bands. */
export function FanRibbon({ plan, bands, measure, baseline, observed = [], title, note }: Props) {
  const lastStep = Math.max(
    1,
    bands?.steps[bands.steps.length - 1] ?? 1,
    baseline?.steps[baseline.steps.length - 1] ?? 1,
  );
  const colour =
    measureColours(
      plan,
      useAppSelector((state) => state.interface.theme),
    )[measure] ?? 'var(--accent)';
  const ranges = [bands, baseline].flatMap((fan) => (fan ? [rangeOf(fan, [])] : []));
  const values = observed.map(({ value }) => value);
  const low = Math.min(0, ...values, ...ranges.map((range) => range.low));
  const high = Math.max(1e-9, ...values, ...ranges.map((range) => range.high));
  return (
    <Ribbon
      left={<span>{title}</span>}
      right={<span className="text-sm text-faint">{note}</span>}
      lastStep={lastStep}
      ticks={bands ? timeTicks(plan, lastStep, 13) : []}
      draw={(_, height, x) => {
        const y = (value: number): number => height - ((value - low) / (high - low)) * height;
        return (
          <>
            {baseline && <Fan bands={baseline} x={x} y={y} colour="var(--faint)" />}
            {bands && <Fan bands={bands} x={x} y={y} colour={colour} />}
            {drawnPoints(observed).map((point, i) => {
              const step = point.time / plan.clock.stepLength;
              return step >= 0 && step <= lastStep ? (
                <circle
                  key={i}
                  cx={x(step)}
                  cy={y(point.value)}
                  r={3.2}
                  fill="var(--sheet)"
                  stroke="var(--ink)"
                  strokeWidth={1.5}
                />
              ) : null;
            })}
          </>
        );
      }}
    />
  );
}

function Fan({
  bands,
  x,
  y,
  colour,
}: {
  readonly bands: Bands;
  readonly x: (step: number) => number;
  readonly y: (value: number) => number;
  readonly colour: string;
}) {
  const rows = bandRows(bands, STRETCHES);
  const path = (values: Float64Array): string =>
    pathThrough(
      rows,
      (i) => x(bands.steps[i]!),
      (i) => y(values[i]!),
    );
  // All quantiles of a row are empty together; a band ends there.
  const band = (low: Float64Array, high: Float64Array): string =>
    area<number>()
      .x((i) => x(bands.steps[i]!))
      .y0((i) => y(low[i]!))
      .y1((i) => y(high[i]!))
      .defined((i) => !Number.isNaN(bands.median[i]!))
      .digits(1)(rows) ?? '';
  return (
    <>
      <path d={band(bands.low90, bands.high90)} fill={colour} opacity={0.15} />
      <path d={band(bands.low50, bands.high50)} fill={colour} opacity={0.25} />
      <path d={path(bands.median)} fill="none" stroke={colour} strokeWidth={1.8} />
    </>
  );
}
