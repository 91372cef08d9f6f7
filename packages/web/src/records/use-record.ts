import type { RecordAnswerTo, RecordQuestion } from '@vole/core';
import { startTransition, useEffect, useState } from 'react';
import type { RecordOfRun } from '../studies/answers.ts';
import { askRecord } from '../studies/answers.ts';
import { NewestOnly } from '../studies/newest-only.ts';

/** An answer about a record, or why there is none. */
export type RecordAnswered<Q extends RecordQuestion> =
  { readonly question: Q; readonly of: RecordOfRun; readonly answer: RecordAnswerTo<Q> } | { readonly problem: string };

/** The answer to a question about what was recorded of a run; the last one of the same form stays until the next is there. */
export function useRecord<Q extends RecordQuestion>(of: RecordOfRun, question: Q): RecordAnswered<Q> | undefined {
  const [asking] = useState(() => new NewestOnly());
  const [got, setGot] = useState<RecordAnswered<Q> & { readonly run: string }>();
  const asked = JSON.stringify([of, question]);
  useEffect(() => () => asking.clear(), [asking]);
  useEffect(() => {
    asking.do(async () => {
      const [of, question] = JSON.parse(asked) as [RecordOfRun, Q];
      const run = JSON.stringify(of);
      try {
        const answer = await askRecord(of, question);
        startTransition(() => setGot({ run, of, question, answer }));
      } catch (error) {
        setGot({ run, problem: (error as Error).message });
      }
    });
  }, [asking, asked]);
  return got?.run === JSON.stringify(of) ? got : undefined;
}

/** The answers to the same question about several runs, as they come in, one after another. */
export function useRecordOfEach<Q extends RecordQuestion>(
  runs: readonly RecordOfRun[],
  question: Q,
): readonly RecordAnswerTo<Q>[] {
  const [got, setGot] = useState<{ readonly asked: string; readonly answers: readonly RecordAnswerTo<Q>[] }>();
  const asked = JSON.stringify([runs, question]);
  useEffect(() => {
    let isCurrent = true;
    void (async () => {
      const [runs, question] = JSON.parse(asked) as [RecordOfRun[], Q];
      const answers: RecordAnswerTo<Q>[] = [];
      for (const run of runs) {
        const answer = await askRecord(run, question).catch(() => undefined);
        if (!isCurrent) return;
        if (answer !== undefined) answers.push(answer);
        // Now and then, as there may be thousands.
        if (answers.length % 10 === 1 || run === runs.at(-1)) {
          const answersNow = [...answers];
          startTransition(() => setGot({ asked, answers: answersNow }));
        }
      }
    })();
    return () => {
      isCurrent = false;
    };
  }, [asked]);
  return got?.asked === asked ? got.answers : [];
}
