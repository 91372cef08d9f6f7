import { Meaning } from '../manual/Meaning.tsx';
import type { AgreementScores, Plan, SeriesAgreement } from '@vole/core';
import { SCORE_WORDS, scoreCells, SHOWN_SCORES, stepWords } from '@vole/core';
import { useState } from 'react';
import { TakeFiles } from '../files/TakeFiles.tsx';
import { shownNumber } from '../words/numbers.ts';

interface Props {
  readonly plan: Plan;
  readonly series: SeriesAgreement;
  readonly runs: number;
}

/** Scores that are shown at first. */
const FIRST_SCORES = 5;

/** Scores of one series, used and held out apart, with intervals over seeds; patterns; which tenth of the runs observations fall in. */
export function ScoreCard({ plan, series, runs }: Props) {
  const [explains, setExplains] = useState(false);
  const [isWhole, setIsWhole] = useState(false);
  const parts = [
    ['used', series.used],
    ['held out', series.heldOut],
  ].filter((part): part is [string, AgreementScores] => part[1] !== undefined);
  return (
    <section aria-label="How well does it agree" className="card p-4">
      <h2 className="mb-1 text-[16px]">
        How well does it agree? <Meaning of="scores-against-what-was-observed" />
      </h2>
      <table className="w-full">
        {parts.length > 1 && (
          <thead>
            <tr className="text-right text-sm text-faint">
              <th />
              {parts.map(([name]) => (
                <th key={name} className="font-normal">
                  {name}
                </th>
              ))}
            </tr>
          </thead>
        )}
        <tbody>
          {SHOWN_SCORES.slice(0, isWhole ? undefined : FIRST_SCORES).map((score) => (
            <tr key={score} className="border-t border-line align-top" title={SCORE_WORDS[score].means}>
              <td className="pr-2">
                {SCORE_WORDS[score].name}
                {explains && <span className="block text-sm text-faint">{SCORE_WORDS[score].means}</span>}
              </td>
              {parts.map(([name, scores]) => {
                const { value, interval } = scoreCells(scores, score);
                return (
                  <td key={name} className="pl-2 text-right">
                    <b className="whitespace-nowrap">{value}</b>
                    <span className="block text-sm whitespace-nowrap text-faint">{interval}</span>
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
      <Patterns plan={plan} series={series} />
      {parts.map(([name, { ranks, points, outside }]) => (
        <div key={name} className="mt-2 text-sm text-faint">
          {points >= 10 && <Ranks ranks={ranks} points={points} name={parts.length > 1 ? name : ''} />}
          {outside > 0 && (
            <p className="text-doubt">
              {outside} {outside === 1 ? 'observation lies' : 'observations lie'} outside the simulated time.
            </p>
          )}
        </div>
      ))}
      <p className="mt-1 text-sm text-faint">
        Errors are those of the median of {runs} {runs === 1 ? 'run' : 'runs'}; small: 90 % intervals over seeds.{' '}
        <button type="button" className="link" onClick={() => setIsWhole(!isWhole)}>
          {isWhole ? 'fewer scores' : 'more scores'}
        </button>
        {'; '}
        <button type="button" className="link" onClick={() => setExplains(!explains)}>
          {explains ? 'without the explanations' : 'what do they mean?'}
        </button>
      </p>
    </section>
  );
}

/** Peak, its time, period and growth, as observed and of the runs. */
function Patterns({ plan, series: { patterns } }: Pick<Props, 'plan' | 'series'>) {
  if (patterns.length === 0) return null;
  const time = (value: number): string => stepWords(plan, value / plan.clock.stepLength);
  const unit = plan.clock.unitLabel;
  const spans = (value: number): string => `${shownNumber(value)} ${unit}`;
  const words: Readonly<Record<string, (value: number) => string>> = {
    peak: shownNumber,
    'time of peak': time,
    period: spans,
    'growth rate': (value) => `${shownNumber(value)} a ${unit.replace(/s$/, '')}`,
  };
  return (
    <table className="mt-2 w-full" aria-label="Patterns">
      <thead>
        <tr className="text-right text-sm text-faint">
          <th />
          <th className="font-normal">observed</th>
          <th className="font-normal">runs, and nine in ten</th>
        </tr>
      </thead>
      <tbody>
        {patterns.map(({ pattern, observed, median, low, high, never }) => (
          <tr key={pattern} className="border-t border-line align-top">
            <td>{pattern}</td>
            <td className="pl-2 text-right">{words[pattern]!(observed)}</td>
            <td className="pl-2 text-right">
              <b>{words[pattern]!(median)}</b>
              <span className="block text-sm text-faint">
                {words[pattern]!(low)} to {words[pattern]!(high)}
                {never > 0 && `; none in ${never}`}
              </span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const WIDTH = 200;
const HEIGHT = 34;

/** How many observations fall into each tenth of the runs: even where the runs spread as the observations do. */
function Ranks({
  ranks,
  points,
  name,
}: {
  readonly ranks: readonly number[];
  readonly points: number;
  readonly name: string;
}) {
  const most = Math.max(...ranks, (2 * points) / ranks.length);
  const bar = WIDTH / ranks.length;
  const y = (count: number): number => HEIGHT - (count / most) * HEIGHT;
  return (
    <figure className="flex flex-wrap items-end justify-between gap-2">
      <figcaption>which tenth of the runs{name && `, ${name}`}; dashed: even</figcaption>
      <svg
        width={WIDTH / 2}
        height={HEIGHT / 2 + 4}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="img"
        aria-label={`Observations in each tenth of the runs: ${ranks.join(', ')}`}
      >
        {ranks.map((count, i) => (
          <rect
            key={i}
            x={i * bar + 1}
            width={bar - 2}
            y={y(count)}
            height={HEIGHT - y(count)}
            fill="var(--color-moss)"
          />
        ))}
        <path d={`M0 ${y(points / ranks.length)}H${WIDTH}`} stroke="var(--ink)" strokeDasharray="4 3" />
      </svg>
      <TakeFiles
        title={`observations in each tenth of the runs${name && `, ${name}`}`}
        note="dashed: even"
        hasFigure
        table={() => [['tenth', 'observations'], ...ranks.map((count, i) => [i + 1, count])]}
      />
    </figure>
  );
}
