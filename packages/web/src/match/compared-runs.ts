import type { AgreementAnswer, Plan, PosteriorAnswer } from '@vole/core';
import { designOf, pointAt } from '@vole/core';
import { useState } from 'react';
import type { StudyRow } from '../storage/schema.ts';
import type { StudyKind } from '../store/study-slice.ts';
import { useAppSelector } from '../store/store.ts';
import { useAnswer } from '../studies/use-answer.ts';
import { useShownStudy } from '../studies/use-study-plan.ts';
import type { ReadText } from './use-match.ts';

/** Which runs are held against the observations. */
export interface ComparedRuns {
  readonly source: 'search' | 'runs';
  readonly kind: StudyKind;
  /** Of the point of Vary, if it is one. */
  readonly point: string | undefined;
  /** Timeline lines that its scenario lays over the text. */
  readonly timeline: string | undefined;
  /** Tells the match apart from others in questions. */
  readonly of: string;
  readonly plan: Plan | undefined;
  readonly study: StudyRow | undefined;
  readonly answer: AgreementAnswer | undefined;
  readonly posterior: PosteriorAnswer | undefined;
  /** Whether there are no runs at all. */
  readonly isEmpty: boolean;
  /** Whether the runs are of a text of the model that the match does not fit. */
  readonly isUnfit: boolean;
  /** Words of what could be compared, and of what is. */
  readonly words: readonly string[];
  readonly chosen: string;
  readonly choose: (words: string) => void;
}

/** Scenarios that can be chosen from at most. */
const MOST_SCENARIOS = 60;

interface Choice {
  readonly words: string;
  readonly source: ComparedRuns['source'];
  readonly kind: StudyKind;
  readonly point?: string;
  readonly timeline?: string | undefined;
}

/** The runs that are compared: of the search, of Repeat, or of a scenario of Vary, and how they agree. */
export function useComparedRuns(read: ReadText | undefined): ComparedRuns {
  const { match: search, vary } = useAppSelector((state) => state.studies);
  const { plan: repeatPlan, runs: repeatRuns } = useShownStudy('repeat');
  const { plan: searchPlan, runs: searchRuns } = useShownStudy('match');
  const { plan: varyPlan, runs: varyRuns } = useShownStudy('vary');
  const repeat = useAppSelector((state) => state.studies.repeat.study);
  const [wanted, setWanted] = useState<Pick<Choice, 'kind' | 'point'>>();
  const choices: Choice[] = [
    ...(searchRuns > 0 ? [{ words: 'the search', source: 'search' as const, kind: 'match' as const }] : []),
    ...(repeatRuns > 0
      ? [
          {
            words: `${repeatRuns} ${repeatRuns === 1 ? 'run' : 'runs'} of Repeat`,
            source: 'runs' as const,
            kind: 'repeat' as const,
          },
        ]
      : []),
    ...(vary.study && varyRuns > 0 ? scenarios(vary.study) : []),
  ];
  const isWanted = (choice: Choice): boolean => choice.kind === wanted?.kind && choice.point === wanted.point;
  const choice = choices.find(isWanted) ?? choices[0];
  const { kind, source, point } = choice ?? { kind: 'repeat' as const, source: 'runs' as const, point: undefined };
  const of = source === 'search' ? 'its own' : (read?.of ?? '');
  const isAsked = choice !== undefined && (source === 'search' || read?.match !== undefined);
  const asked = useAnswer(
    kind,
    isAsked ? { is: 'agreement', of, ...(point === undefined ? {} : { point }) } : undefined,
  );
  const fresh = asked?.question.point === point ? asked : undefined;
  const posterior = useAnswer('match', searchRuns > 0 ? { is: 'posterior' } : undefined)?.answer;
  return {
    source,
    kind,
    point,
    timeline: choice?.timeline,
    of,
    plan: { match: searchPlan, repeat: repeatPlan, vary: varyPlan }[kind],
    study: { match: search.study, repeat, vary: vary.study }[kind],
    answer: fresh?.answer,
    posterior,
    isEmpty: choices.length === 0,
    isUnfit: fresh !== undefined && source === 'runs' && fresh.answer === undefined,
    words: choices.map(({ words }) => words),
    chosen: choice?.words ?? '',
    choose: (words) => setWanted(choices.find((each) => each.words === words)),
  };
}

/** The scenarios of a study of Vary, if it has some. */
function scenarios(study: StudyRow): Choice[] {
  const design = designOf(study);
  return (study.listed?.names ?? []).slice(0, MOST_SCENARIOS).map((name, place) => ({
    words: `${name}, of Vary`,
    source: 'runs',
    kind: 'vary',
    point: pointAt(design, place).id,
    timeline: pointAt(design, place).timeline,
  }));
}
