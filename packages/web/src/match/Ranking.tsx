import type { Plan, RankingAnswer, ScoreName, SeriesPart } from '@vole/core';
import { combinationWords, designOf, pointAt, SCORE_WORDS, scoreNumber, SCORES } from '@vole/core';
import { useEffect, useRef, useState } from 'react';
import type { StudyRow } from '../storage/schema.ts';
import { interfaceActions } from '../store/interface-slice.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { openAnswers } from '../studies/answers.ts';
import { closeBeside } from '../studies/study-runner.ts';
import { useAnswer } from '../studies/use-answer.ts';
import { TakeFiles } from '../files/TakeFiles.tsx';
import { ChoiceWord } from '../words/ChoiceWord.tsx';

interface Props {
  readonly plan: Plan;
  /** The studies on show whose points are ranked: that of Vary, of Repeat, or both; the first is asked. */
  readonly shown: readonly StudyRow[];
  readonly series: number;
  /** Tells the match apart from others. */
  readonly of: string;
  readonly hasHeldOut: boolean;
}

const MOST_SHOWN = 12;
const NOTHING: RankingAnswer = { all: 0, ranked: 0, points: [] };

/** Scenarios, points and studies in the order of a score; differences from the best are over runs with the same seed. */
export function Ranking({ plan, shown, series, of, hasHeldOut }: Props) {
  const [score, setScore] = useState<ScoreName>('rankedProbabilityScore');
  const [part, setPart] = useState<SeriesPart>('used');
  const shownPart = hasHeldOut ? part : 'used';
  const { others, beside, add, remove } = useStudiesBeside(shown);
  const studies = [...shown, ...beside];
  const asked = useAnswer(shown[0]!.kind, {
    is: 'ranking',
    series,
    part: shownPart,
    score,
    most: MOST_SHOWN,
    of,
    beside: studies.slice(1).map(({ id }) => id),
  });
  const isFresh =
    asked?.question.score === score &&
    asked.question.part === shownPart &&
    asked.question.of === of &&
    asked.question.beside?.length === studies.length - 1;
  const { all, ranked, points } = isFresh ? asked.answer : NOTHING;
  const nameOf = (of: number, place: number): string => {
    const study = studies[of]!;
    const words =
      study.listed?.names?.[place] ??
      (study.factors.length === 0 ? '' : combinationWords(plan, study, pointAt(designOf(study), place).values));
    return studies.length === 1 ? words || study.name : [study.name, words].filter((word) => word !== '').join(': ');
  };
  const names = SCORES.map((each) => SCORE_WORDS[each].name);
  return (
    <section aria-label="Ranking" className="card p-4">
      <h2 className="mb-1 text-[16px]">
        {studies.length === 1 ? `Which of “${studies[0]!.name}” agrees best?` : 'Which agrees best?'}
      </h2>
      <p className="text-sm">
        by{' '}
        <ChoiceWord
          label="Score of the ranking"
          value={SCORE_WORDS[score].name}
          options={names}
          onChange={(name) => setScore(SCORES[names.indexOf(name)]!)}
        />
        {hasHeldOut && (
          <>
            {' '}
            of what is{' '}
            <ChoiceWord
              label="Part of the ranking"
              value={part}
              options={['used', 'held out']}
              onChange={(next) => setPart(next as SeriesPart)}
            />
          </>
        )}
      </p>
      <table className="mt-1 w-full text-sm">
        <thead>
          <tr className="text-right text-faint">
            <th />
            <th className="font-normal">score</th>
            <th className="pl-2 font-normal">from the best, seed by seed</th>
          </tr>
        </thead>
        <tbody>
          {points.map(({ study, place, runs, score: own, difference }, rank) => (
            <tr key={`${study} ${place}`} className="border-t border-line align-top">
              <td>
                {nameOf(study, place)} <span className="text-faint">{runs} runs</span>
              </td>
              <td className="pl-2 text-right">
                <b>{scoreNumber(score, own.value)}</b>
                {Number.isFinite(own.low) && (
                  <span className="block text-faint">
                    {scoreNumber(score, own.low)} to {scoreNumber(score, own.high)}
                  </span>
                )}
              </td>
              <td className="pl-2 text-right">
                {difference ? (
                  <>
                    {scoreNumber(score, difference.value)}
                    {Number.isFinite(difference.low) && (
                      <span className="block text-faint">
                        {scoreNumber(score, difference.low)} to {scoreNumber(score, difference.high)}
                      </span>
                    )}
                  </>
                ) : (
                  <span className="text-faint">{rank === 0 ? 'best' : 'no common seeds'}</span>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="text-sm">
        <TakeFiles
          title={`ranking by ${SCORE_WORDS[score].name}`}
          table={() => [
            ['point', 'score', 'value', 'low90', 'high90', 'runs', 'from_best', 'from_best_low90', 'from_best_high90'],
            ...points.map(({ study, place, runs, score: own, difference }) => [
              nameOf(study, place),
              `${SCORE_WORDS[score].name}${shownPart === 'used' ? '' : ', held out'}`,
              ...[own.value, own.low, own.high].map(finite),
              runs,
              ...[difference?.value, difference?.low, difference?.high].map(finite),
            ]),
          ]}
        />
      </p>
      {(ranked > points.length || all > ranked) && points.length > 0 && (
        <p className="text-sm text-faint">
          the best {points.length} of {all > ranked ? `the first ${ranked} of ${all.toLocaleString('en-GB')}` : all}{' '}
          points
        </p>
      )}
      {beside.length > 0 && (
        <ul className="mt-1 text-sm">
          {beside.map((study) => (
            <li key={study.id}>
              with “{study.name}”{' '}
              <button type="button" className="link" onClick={() => remove(study.id)}>
                without it
              </button>
            </li>
          ))}
        </ul>
      )}
      {others.length > 0 && (
        <p className="mt-1 text-sm">
          <ChoiceWord
            label="Another study in the ranking"
            value={PROMPT}
            options={[PROMPT, ...others.map(wordsOf)]}
            onChange={(words) => {
              const other = others.find((study) => wordsOf(study) === words);
              if (other) add(other.id);
            }}
          />
        </p>
      )}
    </section>
  );
}

function finite(value = NaN): number {
  return Number.isFinite(value) ? value : NaN;
}

const PROMPT = 'and another study ...';

function wordsOf({ name, createdAt }: StudyRow): string {
  return `${name}, ${new Date(createdAt).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit', second: '2-digit' })}`;
}

/** Other stored studies that are ranked with those on show; they are held at hand as long as they are. */
function useStudiesBeside(shown: readonly StudyRow[]) {
  const list = useAppSelector((state) => state.studies.list);
  const dispatch = useAppDispatch();
  const [open, setOpen] = useState<readonly string[]>([]);
  const isOther = ({ kind, id }: StudyRow): boolean => kind !== 'match' && shown.every((each) => each.id !== id);
  const ids = useRef(open);
  useEffect(() => {
    ids.current = open;
  }, [open]);
  useEffect(() => () => ids.current.forEach(closeBeside), []);
  return {
    others: list.filter((study) => isOther(study) && !open.includes(study.id)),
    beside: list.filter((study) => isOther(study) && open.includes(study.id)),
    add: (id: string): void => {
      const study = list.find((each) => each.id === id);
      if (!study) return;
      openAnswers(study, true).then(
        () => setOpen((before) => [...before.filter((each) => each !== id), id]),
        (error: unknown) =>
          void dispatch(interfaceActions.noticed({ text: (error as Error).message, tone: 'problem' })),
      );
    },
    remove: (id: string): void => {
      setOpen((before) => before.filter((each) => each !== id));
      closeBeside(id);
    },
  };
}
