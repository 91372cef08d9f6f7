import type { Plan, RankingAnswer, ScoreName, SeriesPart } from '@vole/core';
import { pointAt, SCORES } from '@vole/core';
import { useState } from 'react';
import type { StudyRow } from '../storage/schema.ts';
import { useAnswer } from '../studies/use-answer.ts';
import { designOf } from '../studies/study-design.ts';
import { combinationWords } from '../studies/factor-words.ts';
import { ChoiceWord } from '../words/ChoiceWord.tsx';
import { SCORE_WORDS, scoreNumber } from './match-words.ts';

interface Props {
  readonly plan: Plan;
  /** The study of Vary on show. */
  readonly study: StudyRow;
  readonly series: number;
  /** Tells the match apart from others. */
  readonly of: string;
  readonly hasHeldOut: boolean;
}

const MOST_SHOWN = 12;
const NOTHING: RankingAnswer = { all: 0, ranked: 0, points: [] };

/** Scenarios, or points, of Vary in the order of a score; differences from the best are over runs with the same seed. */
export function Ranking({ plan, study, series, of, hasHeldOut }: Props) {
  const [score, setScore] = useState<ScoreName>('rankedProbabilityScore');
  const [part, setPart] = useState<SeriesPart>('used');
  const shownPart = hasHeldOut ? part : 'used';
  const asked = useAnswer('vary', { is: 'ranking', series, part: shownPart, score, most: MOST_SHOWN, of });
  const isFresh = asked?.question.score === score && asked.question.part === shownPart && asked.question.of === of;
  const { all, ranked, points } = isFresh ? asked.answer : NOTHING;
  const design = designOf(study);
  const nameOf = (place: number): string =>
    study.listed?.names?.[place] ?? combinationWords(plan, study, pointAt(design, place).values);
  const names = SCORES.map((each) => SCORE_WORDS[each].name);
  return (
    <section aria-label="Ranking" className="card p-4">
      <h2 className="mb-1 text-[16px]">Which of “{study.name}” agrees best?</h2>
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
          {points.map(({ place, runs, score: own, difference }) => (
            <tr key={place} className="border-t border-line align-top">
              <td>
                {nameOf(place)} <span className="text-faint">{runs} runs</span>
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
                  <span className="text-faint">{place === points[0]!.place ? 'best' : 'no common seeds'}</span>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {(ranked > points.length || all > ranked) && points.length > 0 && (
        <p className="text-sm text-faint">
          the best {points.length} of {all > ranked ? `the first ${ranked} of ${all.toLocaleString('en-GB')}` : all}{' '}
          points
        </p>
      )}
    </section>
  );
}
