import type { ObservationAnswer, Plan, SeriesAgreement } from '@vole/core';
import { stepWords, timeTicks } from '@vole/core';
import { roundTicks } from '../charts/round-ticks.ts';
import { shownNumber } from '../words/numbers.ts';
import { drawnPoints } from '../charts/observed-points.ts';
import { extent } from './agreement-rows.ts';
import type { PlottedPoint } from './PointPlot.tsx';
import { PointPlot } from './PointPlot.tsx';

interface Props {
  readonly plan: Plan;
  readonly series: SeriesAgreement;
  readonly colour: string;
}

function compared({ observations }: SeriesAgreement): readonly ObservationAnswer[] {
  return drawnPoints(observations).filter(({ median }) => !Number.isNaN(median));
}

function wordsOf(plan: Plan, { time, value, median }: ObservationAnswer): string {
  return `${stepWords(plan, time / plan.clock.stepLength)}: observed ${shownNumber(value)}, median of the runs ${shownNumber(median)}`;
}

/** What was observed less the median of the runs, over time, with the bands about it. */
export function Residuals({ plan, series, colour }: Props) {
  const { stepLength } = plan.clock;
  const shown = compared(series);
  const points = shown.map((each, key): PlottedPoint => {
    const { median, low50, high50, low90, high90, isHeldOut } = each;
    return {
      key,
      x: each.time / stepLength,
      y: each.value - median,
      low50: low50 - median,
      high50: high50 - median,
      low90: low90 - median,
      high90: high90 - median,
      isHeldOut,
      words: wordsOf(plan, each),
    };
  });
  const lastStep = Math.max(1, ...points.map(({ x }) => x));
  return (
    <PointPlot
      label="Residuals over time"
      points={points}
      xTicks={timeTicks(plan, lastStep, 6).map(({ step, label, year }) => ({
        x: step,
        label: year ? `${label} ${year}` : label,
      }))}
      xRange={[0, lastStep]}
      yRange={extent([0, ...points.flatMap(({ y, low90, high90 }) => [y, low90, high90])])}
      xName="time"
      yName="observed less median"
      line="level"
      colour={colour}
    />
  );
}

/** The median of the runs against what was observed, each with its bands. */
export function ObservedSimulated({ plan, series, colour }: Props) {
  const shown = compared(series);
  const points = shown.map((each, key): PlottedPoint => {
    const { value, median, low50, high50, low90, high90, isHeldOut } = each;
    return { key, x: value, y: median, low50, high50, low90, high90, isHeldOut, words: wordsOf(plan, each) };
  });
  const [low, high] = extent([0, ...points.map(({ x }) => x)]);
  const ticks = roundTicks(low, high, 6);
  return (
    <PointPlot
      label="Observed against simulated"
      points={points}
      xTicks={ticks.map((x) => ({ x, label: shownNumber(x) }))}
      xRange={[ticks[0]!, ticks.at(-1)!]}
      yRange={extent([0, ...points.flatMap(({ low90, high90 }) => [low90, high90])])}
      xName="observed"
      yName="runs, median and bands"
      line="rising"
      colour={colour}
    />
  );
}
