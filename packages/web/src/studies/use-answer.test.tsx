// @vitest-environment happy-dom
import type { Question } from '@vole/core';
import { act, screen } from '@testing-library/react';
import { beforeEach, expect, it, vi } from 'vitest';
import { eventually } from '../../test/patience.ts';
import { dispatched, shown } from '../../test/shown.tsx';
import type { StudyRow } from '../storage/schema.ts';
import { store } from '../store/store.ts';
import { studyActions } from '../store/study-slice.ts';
import { useAnswer, useAnswerList } from './use-answer.ts';

type Summaries = Extract<Question, { is: 'summaries' }>;

/** Questions that are on their way, each to be answered or refused by the test. */
const asked: {
  study: string;
  question: Question;
  answer: (answer: unknown) => Promise<void>;
  refuse: (why: string) => Promise<void>;
}[] = [];
vi.mock('./answers.ts', () => ({
  askStudy: (study: string, question: Question) =>
    new Promise((resolve, reject) => {
      asked.push({
        study,
        question,
        answer: (answer) => act(async () => resolve(answer)),
        refuse: (why) => act(async () => reject(new Error(why))),
      });
    }),
}));

const study = (id: string): StudyRow => ({
  id,
  projectId: 'p',
  kind: 'repeat',
  name: 'Repeat',
  text: '',
  seeds: [1],
  every: 1,
  parameters: {},
  factors: [],
  createdAt: 1,
  status: 'done',
});
const show = (id: string) => dispatched(studyActions.changed({ kind: 'repeat', status: { study: study(id) } }));

function One({ of }: { readonly of: number | undefined }) {
  const got = useAnswer('repeat', of === undefined ? undefined : ({ is: 'summaries', of } as unknown as Summaries));
  return <p>{got ? `${JSON.stringify(got.question)}: ${got.answer as unknown as string}` : 'nothing'}</p>;
}

beforeEach(() => {
  asked.length = 0;
  store.dispatch(studyActions.cleared());
});

it('nothing is asked without a study or without a question', () => {
  const { rerender } = shown(<One of={1} />);
  expect(asked).toEqual([]);
  rerender(<One of={undefined} />);
  show('s');
  expect(asked).toEqual([]);
  expect(screen.getByText('nothing')).toBeDefined();
});

it('the last answer stays with its question until the next is there; of questions that came meanwhile the newest is asked', async () => {
  show('s');
  const { rerender } = shown(<One of={1} />);
  await asked[0]!.answer('first');
  expect(screen.getByText('{"is":"summaries","of":1}: first')).toBeDefined();
  for (const of of [2, 3, 4]) rerender(<One of={of} />);
  expect(screen.getByText('{"is":"summaries","of":1}: first')).toBeDefined();
  await asked[1]!.answer('second');
  await eventually(() => expect(asked).toHaveLength(3));
  expect(asked.map(({ question }) => (question as unknown as { of: number }).of)).toEqual([1, 2, 4]);
  await asked[2]!.answer('fourth');
  expect(screen.getByText('{"is":"summaries","of":4}: fourth')).toBeDefined();
});

it('an answer about another study is never shown for the one on show', async () => {
  show('s');
  shown(<One of={1} />);
  await asked[0]!.answer('of the first study');
  show('t');
  expect(screen.getByText('nothing')).toBeDefined();
  await eventually(() => expect(asked.map((each) => each.study)).toEqual(['s', 't']));
  await asked[1]!.answer('of the second');
  expect(screen.getByText(/of the second/)).toBeDefined();
});

it('a question that cannot be answered is told, and the last answer stays', async () => {
  show('s');
  shown(<One of={1} />);
  await asked[0]!.answer('first');
  dispatched(studyActions.changed({ kind: 'repeat', status: { version: 7 } }));
  await eventually(() => expect(asked).toHaveLength(2));
  await asked[1]!.refuse('The results are gone.');
  expect(store.getState().interface.notices.at(-1)).toMatchObject({ text: 'The results are gone.', tone: 'problem' });
  expect(screen.getByText(/first/)).toBeDefined();
});

it('several questions are answered one after another, and shown once all are there', async () => {
  function Several({ of }: { readonly of: readonly number[] }) {
    const answers = useAnswerList(
      'repeat',
      of.map((each) => ({ is: 'summaries', of: each }) as unknown as Summaries),
    );
    return <p>{JSON.stringify(answers)}</p>;
  }
  show('s');
  const { rerender } = shown(<Several of={[1, 2]} />);
  expect(asked).toHaveLength(1);
  await asked[0]!.answer('one');
  expect(screen.getByText('[]')).toBeDefined();
  await asked[1]!.answer('two');
  expect(screen.getByText('["one","two"]')).toBeDefined();
  rerender(<Several of={[3]} />);
  expect(screen.getByText('[]')).toBeDefined();
});
