import type { Bands, ObservedPoint, Plan } from '@vole/core';
import type { ReactNode } from 'react';
import { Ribbon } from '../ribbon/Ribbon.tsx';
import { timeTicks } from '../ribbon/time-axis.ts';
import { niceTop } from './FanChart.tsx';

interface Props {
  readonly plan: Plan;
  readonly bands: Bands | undefined;
  /** Drawn in grey behind, to compare with. */
  readonly baseline?: Bands;
  readonly observed?: readonly ObservedPoint[];
  readonly title: ReactNode;
  readonly note: string;
}

/** The ribbon of many runs: median and bands. */
export function FanRibbon({ plan, bands, baseline, observed = [], title, note }: Props) {
  const lastStep = Math.max(1, bands?.steps[bands.steps.length - 1] ?? 1, baseline?.steps[baseline.steps.length - 1] ?? 1);
  const top = niceTop(Math.max(1e-9, ...[...(bands?.high90 ?? []), ...(baseline?.high90 ?? []), ...observed.map((p) => p.value)].filter(Number.isFinite)));
  return (
    <Ribbon
      left={<span>{title}</span>}
      right={<span className="text-sm text-faint">{note}</span>}
      lastStep={lastStep}
      ticks={bands ? timeTicks(plan, lastStep, 13) : []}
      draw={(_, height, x) => {
        const y = (value: number): number => height - (value / top) * height;
        return (
          <>
            {baseline && <Fan bands={baseline} x={x} y={y} colour="var(--faint)" />}
            {bands && <Fan bands={bands} x={x} y={y} colour="var(--accent)" />}
            {observed.map((point) => {
              const step = point.time / plan.clock.stepLength;
              return step >= 0 && step <= lastStep ? <circle key={`${point.time} ${point.value}`} cx={x(step)} cy={y(point.value)} r={3.2} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={1.5} /> : null;
            })}
          </>
        );
      }}
    />
  );
}

function Fan({ bands, x, y, colour }: { readonly bands: Bands; readonly x: (step: number) => number; readonly y: (value: number) => number; readonly colour: string }) {
  const stride = Math.max(1, Math.ceil(bands.steps.length / 400));
  const rows = [...bands.steps.keys()].filter((i) => i % stride === 0 || i === bands.steps.length - 1);
  const path = (values: Float64Array, from = rows): string => from.map((i) => `${x(bands.steps[i]!).toFixed(1)},${y(values[i]!).toFixed(1)}`).join('L');
  const back = [...rows].reverse();
  return (
    <>
      <path d={`M${path(bands.low90)}L${path(bands.high90, back)}Z`} fill={colour} opacity={0.15} />
      <path d={`M${path(bands.low50)}L${path(bands.high50, back)}Z`} fill={colour} opacity={0.25} />
      <path d={`M${path(bands.median)}`} fill="none" stroke={colour} strokeWidth={1.8} />
    </>
  );
}
