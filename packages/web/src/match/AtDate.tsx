import type { AtDateAnswer, DistributionAgreement } from '@vole/core';
import { Bars } from '../charts/Bars.tsx';
import { shownNumber } from '../words/numbers.ts';

interface Props {
  readonly answer: AtDateAnswer;
  readonly unit: string;
  /** How far both distributions are apart, where there are replicates enough. */
  readonly apart: DistributionAgreement | undefined;
}

/** What the runs give at one time, against what was observed there. */
export function AtDate({ answer: { observed, values, runs }, unit, apart }: Props) {
  const below = observed.map((value) => values.filter((each) => each < value).length / values.length);
  return (
    <div className="h-full overflow-auto" data-testid="at-date">
      <Bars
        title={`what would have been observed of ${runs} ${runs === 1 ? 'run' : 'runs'}${observed.length < 5 ? '; dark: observed' : ''}`}
        values={Array.from(values)}
        unit={unit}
        {...(observed.length >= 5
          ? { against: observed, againstWords: `${observed.length} observations` }
          : { marks: observed })}
        width={440}
      />
      {observed.length < 5 ? (
        <ul className="mt-2">
          {observed.map((value, i) => (
            <li key={i}>
              observed <b>{shownNumber(value)}</b>
              {unit && ` ${unit}`}: more than {Math.round(100 * below[i]!)} % of what the runs give
            </li>
          ))}
        </ul>
      ) : (
        apart && (
          <p className="mt-2">
            Of {apart.replicates} observations: the distribution functions are at most{' '}
            <b>{shownNumber(apart.furthest)}</b> apart (Kolmogorov and Smirnov), the area between them is{' '}
            <b>{shownNumber(apart.area)}</b> {unit} (Wasserstein).
          </p>
        )
      )}
    </div>
  );
}
