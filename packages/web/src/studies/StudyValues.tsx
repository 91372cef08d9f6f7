import type { Plan } from '@vole/core';
import { valueWords } from '@vole/core';
import { useState } from 'react';
import { useLive } from '../simulation/live-handle.ts';
import { ownValue } from '../store/own-value.ts';
import { useAppSelector } from '../store/store.ts';

type Values = Readonly<Record<string, number>>;

/** Values that differ from those of the text, of parameters that the text has. */
function differing(plan: Plan, values: Values): Values {
  return Object.fromEntries(
    plan.parameters.flatMap(({ name, value }) =>
      (ownValue(values, name) ?? value) !== value ? [[name, values[name]!]] : [],
    ),
  );
}

function words(plan: Plan, values: Values): string {
  return plan.parameters
    .flatMap((parameter) =>
      Object.hasOwn(values, parameter.name)
        ? [`${parameter.name} ${valueWords(parameter, values[parameter.name]!)}`]
        : [],
    )
    .join(', ');
}

/**
 * The values with which the next study will run: those of the text, or those that were set in Watch.
 * @param first those that are set to begin with
 */
export function useStudyValues(
  plan: Plan | undefined,
  first: Values = {},
): { all: Readonly<Record<string, number>>; taken: Values; take: (values: Values) => void } {
  const [chosen, take] = useState<Values>(first);
  const taken = plan ? differing(plan, chosen) : {};
  return {
    all: Object.fromEntries(plan?.parameters.map(({ name, value }) => [name, ownValue(taken, name) ?? value]) ?? []),
    taken,
    take,
  };
}

/** Values that are set in Watch and differ from those of the text, by parameter in base units. */
export function useWatchValues(plan: Plan): Values {
  return differing(
    plan,
    useAppSelector((state) => state.watch.values),
  );
}

/** Says with which values a study will run, offers those of Watch, and says what of Watch a study does not do. */
export function StudyValues({
  plan,
  taken,
  onTake,
}: {
  readonly plan: Plan;
  readonly taken: Values;
  readonly onTake: (values: Values) => void;
}) {
  const ofWatch = useWatchValues(plan);
  const acts = useLive((state) => state.acts);
  const byHand = acts.filter(({ act }) => act.is !== 'set parameter').length;
  const isSame = words(plan, ofWatch) === words(plan, taken);
  return (
    <div className="text-sm text-faint" data-testid="study-values">
      <p>
        {words(plan, taken) === '' ? (
          'With the values of the text.'
        ) : (
          <>
            With <b className="text-ink">{words(plan, taken)}</b>, else the values of the text.{' '}
            <button type="button" className="link" onClick={() => onTake({})}>
              values of the text
            </button>
          </>
        )}
        {!isSame && words(plan, ofWatch) !== '' && (
          <>
            {' '}
            Watch has {words(plan, ofWatch)}:{' '}
            <button type="button" className="link" onClick={() => onTake(ofWatch)}>
              take these
            </button>
          </>
        )}
      </p>
      {byHand > 0 && (
        <p className="text-doubt">
          What was done by hand in Watch ({byHand === 1 ? 'one act' : `${byHand} acts`}: painted, placed, switched off)
          is not part of a study. Write it into the text to study it.
        </p>
      )}
    </div>
  );
}
