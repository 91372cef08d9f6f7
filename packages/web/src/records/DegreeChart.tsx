import type { NetworkAnswer } from '@vole/core';
import { useState } from 'react';
import { TakeFiles } from '../files/TakeFiles.tsx';
import { shownNumber } from '../words/numbers.ts';

interface Props {
  readonly degrees: readonly number[];
  readonly law: NetworkAnswer['law'];
}

const [WIDTH, HEIGHT] = [300, 150];
const [LEFT, BOTTOM] = [34, 26];

/** Share of agents that have at least so many ties, on plain or logarithmic scales. */
export function DegreeChart({ degrees, law }: Props) {
  const [isLog, setLog] = useState(false);
  const present = degrees.filter((degree) => degree > 0).sort((a, b) => a - b);
  if (present.length === 0) return null;
  const points = present.flatMap((degree, i) =>
    i > 0 && present[i - 1] === degree ? [] : [{ degree, share: (present.length - i) / degrees.length }],
  );
  const most = present.at(-1)!;
  const least = points.at(-1)!.share;
  const x = (degree: number): number => {
    const share = isLog ? Math.log(degree) / Math.log(Math.max(2, most)) : degree / most;
    return LEFT + share * (WIDTH - LEFT - 8);
  };
  const y = (share: number): number => {
    const height = isLog ? 1 - Math.log(share) / Math.log(Math.min(least, 0.5)) : share;
    return HEIGHT - BOTTOM - height * (HEIGHT - BOTTOM - 8);
  };
  return (
    <figure aria-label="Degrees" className="mt-3">
      <figcaption className="flex justify-between text-sm text-faint">
        share of agents with at least so many ties
        <label className="flex items-center gap-1">
          <input type="checkbox" className="accent-moss" checked={isLog} onChange={() => setLog(!isLog)} /> logarithmic
        </label>
      </figcaption>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full max-w-[440px]"
        role="img"
        aria-label="Distribution of degrees"
      >
        <line x1={LEFT} x2={WIDTH} y1={HEIGHT - BOTTOM} y2={HEIGHT - BOTTOM} stroke="var(--line)" />
        {points.map(({ degree, share }) => (
          <circle key={degree} cx={x(degree)} cy={y(share)} r={2.4} fill="var(--color-moss)">
            <title>{`${degree} ties and more: ${(100 * share).toFixed(1)} %`}</title>
          </circle>
        ))}
        {(isLog ? [1, most] : [0, most]).map((degree) => (
          <text
            key={degree}
            x={x(Math.max(degree, isLog ? 1 : 0))}
            y={HEIGHT - 12}
            fontSize={10.5}
            textAnchor="middle"
            fill="var(--faint)"
          >
            {degree}
          </text>
        ))}
        {[1, ...(isLog ? [least] : [0])].map((share) => (
          <text key={share} x={LEFT - 4} y={y(share) + 3} fontSize={10.5} textAnchor="end" fill="var(--faint)">
            {shownNumber(100 * share, 2)} %
          </text>
        ))}
      </svg>
      <TakeFiles
        title="degrees"
        note={`share of ${degrees.length} agents with at least so many ties`}
        hasFigure
        table={() => [['ties', 'share_with_as_many_or_more'], ...points.map(({ degree, share }) => [degree, share])]}
      />
      <p className="text-sm">
        {law
          ? `From ${law.from} ties on (${law.count} agents) a power law would have the exponent ${shownNumber(law.exponent)}; ${
              law.p < 0.1
                ? `they are hardly of one (p ${law.p.toFixed(2)}).`
                : `they may be of one (p ${law.p.toFixed(2)}), as they may be of others.`
            }`
          : 'Too few agents, or too alike, for a law of their degrees.'}
      </p>
    </figure>
  );
}
