import type { Leg, Plan } from '@vole/core';
import { shownNumber } from '../words/numbers.ts';
import { journeyWords } from './journey-words.ts';

interface Props {
  readonly plan: Plan;
  readonly space: number;
  readonly legs: readonly Leg[];
}

/** The journey that an agent expects to make, part by part. */
export function JourneyOf({ plan, space, legs }: Props) {
  const { parts, whole } = journeyWords(plan, space, legs);
  return (
    <div className="mt-1.5">
      <p className="text-faint">
        Bound, as it expects, {shownNumber(whole)} {plan.clock.unitLabel} in all:
      </p>
      <ol aria-label="Its journey" className="list-decimal pl-5">
        {parts.map((part, i) => (
          <li key={i}>{part}</li>
        ))}
      </ol>
    </div>
  );
}
