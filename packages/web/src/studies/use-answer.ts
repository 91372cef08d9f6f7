import type { AnswerTo, Question } from '@vole/core';
import { startTransition, useEffect, useMemo, useState } from 'react';
import { interfaceActions } from '../store/interface-slice.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import type { StudyKind } from '../store/study-slice.ts';
import { askStudy } from './answers.ts';
import { NewestOnly } from './newest-only.ts';

export interface Answered<Q extends Question> {
  /** What was asked: for a moment an earlier question than the present one. */
  readonly question: Q;
  readonly answer: AnswerTo<Q>;
}

/**
 * The answer to a question about the study on show, asked anew whenever results come in. The last one stays until the next is there.
 * @param question nothing is asked as long as it is absent
 */
export function useAnswer<Q extends Question>(kind: StudyKind, question: Q | undefined): Answered<Q> | undefined {
  const study = useAppSelector((state) => state.studies[kind].study?.id);
  const version = useAppSelector((state) => state.studies[kind].version);
  const dispatch = useAppDispatch();
  const [asking] = useState(() => new NewestOnly());
  const [got, setGot] = useState<Answered<Q> & { readonly study: string }>();
  const asked = useMemo(() => question && JSON.stringify(question), [question]);
  useEffect(() => () => asking.clear(), [asking]);
  useEffect(() => {
    if (study === undefined || asked === undefined) return;
    asking.do(async () => {
      const question = JSON.parse(asked) as Q;
      try {
        const answer = await askStudy(study, question);
        // Drawing answers gives way to whatever the modeler does.
        startTransition(() => setGot({ study, question, answer }));
      } catch (error) {
        dispatch(interfaceActions.noticed({ text: (error as Error).message, tone: 'problem' }));
      }
    });
  }, [asking, dispatch, study, version, asked]);
  return got && got.study === study && question?.is === got.question.is ? got : undefined;
}

/** The answers to several questions of the same form, in their order; the last ones stay until all of the next are there. */
export function useAnswerList<Q extends Question>(
  kind: StudyKind,
  questions: readonly Q[],
): readonly (AnswerTo<Q> | undefined)[] {
  const study = useAppSelector((state) => state.studies[kind].study?.id);
  const version = useAppSelector((state) => state.studies[kind].version);
  const dispatch = useAppDispatch();
  const [asking] = useState(() => new NewestOnly());
  const [got, setGot] = useState<{
    readonly study: string;
    readonly asked: string;
    readonly answers: readonly AnswerTo<Q>[];
  }>();
  const asked = JSON.stringify(questions);
  useEffect(() => () => asking.clear(), [asking]);
  useEffect(() => {
    if (study === undefined) return;
    asking.do(async () => {
      try {
        const answers: AnswerTo<Q>[] = [];
        for (const question of JSON.parse(asked) as Q[]) answers.push(await askStudy(study, question));
        startTransition(() => setGot({ study, asked, answers }));
      } catch (error) {
        dispatch(interfaceActions.noticed({ text: (error as Error).message, tone: 'problem' }));
      }
    });
  }, [asking, dispatch, study, version, asked]);
  return got?.study === study && got?.asked === asked ? got.answers : [];
}
