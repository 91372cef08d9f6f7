import type { PosteriorAnswer } from '@vole/core';
import { shownNumber } from '../words/numbers.ts';

interface Props {
  readonly found: NonNullable<PosteriorAnswer['found']>;
  readonly units: readonly string[];
  /** Words in place of numbers, of unknowns that have some. */
  readonly words: readonly (readonly string[] | undefined)[];
  readonly colour: string;
}

const ROOM = 480;
const GAP = 10;
const FOOT = 22;

/** Posteriors over their priors on the diagonal, draws of each pair of unknowns below it; heavier draws are darker. */
export function PosteriorPairs({ found: { posterior, findings, bins, pairs }, units, words, colour }: Props) {
  const count = findings.length;
  const size = (ROOM - GAP * (count - 1)) / count;
  const place = (i: number): number => i * (size + GAP);
  const most = Math.max(...posterior.weights);
  const rangeOf = (unknown: number): [number, number] => [bins[unknown]!.edges[0]!, bins[unknown]!.edges.at(-1)!];
  const at = (unknown: number, value: number): number => {
    const [low, high] = rangeOf(unknown);
    return ((value - low) / (high - low)) * size;
  };
  return (
    <svg
      data-figure
      viewBox={`0 0 ${ROOM} ${ROOM + FOOT}`}
      className="h-full max-h-full w-full"
      role="img"
      aria-label={`Posterior of ${findings.map(({ parameter }) => parameter).join(', ')}`}
    >
      {findings.map(({ parameter, median, low, high }, i) => {
        const { posterior: shares, prior } = bins[i]!;
        const top = Math.max(...shares, ...prior);
        const bar = size / shares.length;
        const head = Math.min(40, size / 3);
        const y = (share: number): number => size - (share / top) * (size - head);
        const word = (value: number): string => words[i]?.[Math.round(value)] ?? shownNumber(value);
        return (
          <g key={parameter} transform={`translate(${place(i)} ${place(i)})`} data-testid={`posterior-${parameter}`}>
            <rect width={size} height={size} fill="var(--ground)" stroke="var(--line)" />
            {shares.map((share, b) => (
              <rect
                key={b}
                x={b * bar + 0.5}
                width={Math.max(0.5, bar - 1)}
                y={y(share)}
                height={size - y(share)}
                fill={colour}
                opacity={0.75}
              />
            ))}
            <path
              d={prior
                .map((share, b) => `${b === 0 ? 'M' : 'L'}${b * bar} ${y(share)}L${(b + 1) * bar} ${y(share)}`)
                .join('')}
              fill="none"
              stroke="var(--ink)"
              strokeWidth={1}
              strokeDasharray="4 3"
            />
            <text x={6} y={15} fontSize={13} fontWeight={700} fill="var(--ink)">
              {parameter}
            </text>
            <text x={6} y={30} fontSize={11.5} fill="var(--faint)">
              {`${word(median)} (${word(low)} to ${word(high)})`}
            </text>
          </g>
        );
      })}
      {pairs.map(({ first, second, correlation }) => (
        <g key={`${first} ${second}`} transform={`translate(${place(first)} ${place(second)})`}>
          <title>{`${findings[first]!.parameter} and ${findings[second]!.parameter}: correlation ${shownNumber(correlation, 2)}`}</title>
          <rect width={size} height={size} fill="var(--ground)" stroke="var(--line)" />
          {posterior.draws.map((draw, i) => (
            <circle
              key={i}
              cx={at(first, draw[first]!)}
              cy={size - at(second, draw[second]!)}
              r={Math.max(1.2, size / 90)}
              fill={colour}
              opacity={0.12 + 0.6 * (posterior.weights[i]! / most)}
            />
          ))}
        </g>
      ))}
      {findings.map(({ parameter }, i) => {
        const [low, high] = rangeOf(i);
        return (
          <g key={parameter} fontSize={11} fill="var(--faint)">
            <text x={place(i)} y={ROOM + 14}>
              {shownNumber(low)}
            </text>
            <text x={place(i) + size} y={ROOM + 14} textAnchor="end">
              {`${shownNumber(high)} ${units[i]!}`}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
