import type { EffectsAnswer, Plan } from '@vole/core';
import { categoriesOf, nameWithUnit } from '@vole/core';
import { ResponseChart } from '../charts/ResponseChart.tsx';
import type { StudyRow } from '../storage/schema.ts';
import { useAnswer, useAnswerList } from '../studies/use-answer.ts';
import { shownPercent } from '../words/numbers.ts';

interface Props {
  readonly plan: Plan;
  readonly study: StudyRow;
  readonly summary: number;
}

/** What each factor does over all values of the others, one small chart a factor on a common scale, and how much of the variance between points it accounts for, alone and with another one. */
export function MainEffects({ plan, study, summary }: Props) {
  const names = study.factors.map(({ parameter }) => parameter);
  const groups = useAnswerList(
    'vary',
    names.map((_, factor) => ({ is: 'groups' as const, by: [factor] })),
  );
  const effects = useAnswer('vary', { is: 'effects', summary });
  const lines = names.map((name, f) => ({
    name,
    points: (groups[f] ?? [])
      .filter(({ estimates }) => estimates[summary]!.runs > 0)
      .map(({ values, estimates }) => ({ x: values[0]!, estimate: estimates[summary]! })),
  }));
  const reach = lines.flatMap(({ points }) => points.map(({ estimate }) => estimate));
  return (
    <>
      <div className={`grid min-h-0 flex-1 gap-2 ${lines.length > 1 ? 'grid-cols-2' : ''}`}>
        {lines.map((line) => (
          <div key={line.name} className="min-h-0">
            <ResponseChart
              lines={[line]}
              xName={nameWithUnit(plan, line.name)}
              words={categoriesOf(plan, line.name)}
              reach={reach}
            />
          </div>
        ))}
      </div>
      {effects?.question.summary === summary && <EffectShares names={names} answer={effects.answer} />}
    </>
  );
}

function EffectShares({
  names,
  answer,
}: {
  readonly names: readonly string[];
  readonly answer: EffectsAnswer | undefined;
}) {
  if (!answer)
    return (
      <p className="text-sm text-faint">
        Shares of the factors need every combination with two or more seeds each, and points that differ by more than
        luck.
      </p>
    );
  const { effects, luck, seeds } = answer;
  const first = [...effects].sort((a, b) => b.share.value - a.share.value);
  return (
    <section aria-label="Shares of the variance" className="max-h-32 overflow-auto text-sm">
      <p className="text-faint">
        share of the variance between points, luck taken off, with its 90 % interval over {seeds} seeds
        {Number.isFinite(luck) && `; ${shownPercent(luck)} of the variance between single runs is luck`}
      </p>
      <p className="flex flex-wrap gap-x-5">
        {first.map(({ factors, share }) => (
          <span key={factors.join(' ')}>
            {factors.map((f) => names[f]).join(' with ')} <b>{shownPercent(share.value)}</b>{' '}
            <span className="text-faint">
              {shownPercent(share.low)} to {shownPercent(share.high)}
            </span>
          </span>
        ))}
      </p>
    </section>
  );
}
