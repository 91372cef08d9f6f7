// @vitest-environment happy-dom
import 'fake-indexeddb/auto';
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { loadModel } from '@vole/core';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { dispatched, shown } from '../../test/shown.tsx';
import { projectActions } from '../store/project-slice.ts';
import { store } from '../store/store.ts';
import { StudyText } from './StudyText.tsx';
import { beginningOf } from './study-wording.ts';

const begun = vi.hoisted(() => vi.fn());
vi.mock('../studies/study-runner.ts', async (load) => ({ ...(await load<object>()), beginStudy: begun }));

const TEXT = `model M
clock
  end after 9 steps
parameter bite = 0.2, from 0 to 1
agent A
  start 4
measure m = count A
summary low = min of m
`;
const model = loadModel(TEXT).loaded!;
const area = () => screen.getByRole<HTMLTextAreaElement>('textbox', { name: 'Text of the study' });
const type = (text: string) => fireEvent.change(area(), { target: { value: text } });

beforeEach(() => {
  dispatched(projectActions.textReplaced(TEXT));
  dispatched(projectActions.studyDrafted(beginningOf(model.plan, 'every combination')));
});
afterEach(() => begun.mockReset());

describe('a study as a text', () => {
  it('begins with one that can be run, and says how large it is', () => {
    shown(<StudyText model={model} onSentence={() => undefined} />);
    expect(area().value).toMatch(/^study bite\n {2}vary bite/);
    expect(screen.getByTestId('study-size').textContent).toMatch(/^5 points, 50 runs, .*the same seeds at each point$/);
  });

  it('tells what is wrong by line, runs nothing until it is mended, and mends it by a click', async () => {
    shown(<StudyText model={model} onSentence={() => undefined} />);
    type('study S\n  vary bit 0.1, 0.3\n  4 seeds each');
    await waitFor(() =>
      expect(screen.getByRole('alert').textContent).toContain('line 2: The model has no parameter “bit”.'),
    );
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Run' }).disabled).toBe(true);
    fireEvent.click(screen.getByRole('button', { name: 'Write “bite”' }));
    await waitFor(() => expect(screen.getByRole('button', { name: 'Run 8 runs' })).toBeDefined());
  });

  it('runs what is written: points, seeds, outcomes, values for all', async () => {
    shown(<StudyText model={model} onSentence={() => undefined} />);
    type('study S\n  vary bite 0 to 1\n  random 6\n  3 seeds each\n  keep every 2 steps\n  outcome none: low < 1');
    fireEvent.click(await screen.findByRole('button', { name: 'Run 18 runs' }));
    expect(begun).toHaveBeenCalledOnce();
    const [study] = begun.mock.calls[0] as [Record<string, unknown>];
    expect(study).toMatchObject({
      kind: 'vary',
      name: 'S',
      seeds: [1, 2, 3],
      every: 2,
      parameters: { bite: 0.2 },
      listed: { method: 'random', points: { length: 6 }, sample: { count: 6, luck: 1 } },
      outcomes: [{ name: 'none', condition: 'low < 1' }],
    });
    expect(study['wording']).toContain('random 6');
  });

  it('gives all values, also of a parameter whose name every object knows', async () => {
    const text = TEXT.replace('agent', 'parameter constructor = 3\nparameter toString = 4\nagent');
    shown(<StudyText model={loadModel(text).loaded!} onSentence={() => undefined} />);
    type('study S\n  vary bite 0, 1\n  set toString = 5\n  2 seeds each');
    fireEvent.click(await screen.findByRole('button', { name: 'Run 4 runs' }));
    const [study] = begun.mock.calls[0] as [Record<string, unknown>];
    expect(study['parameters']).toEqual({ bite: 0.2, constructor: 3, toString: 5 });
  });

  it('stays a text when everything in it is taken out, and what was typed is kept with the project', async () => {
    shown(<StudyText model={model} onSentence={() => undefined} />);
    type('');
    await waitFor(() => expect(screen.getByRole('alert').textContent).toContain('The study has no name.'));
    expect(store.getState().project.studyDraft.trim()).toBe('');
    expect(store.getState().project.studyDraft).not.toBe('');
    fireEvent.click(screen.getByRole('button', { name: 'scenarios' }));
    expect(area().value).toContain('scenario As it is');
    expect(store.getState().project.studyDraft).toBe(area().value);
  });

  it('says what the page cannot do', async () => {
    shown(<StudyText model={model} onSentence={() => undefined} />);
    type('study S\n  vary bite 0, 1\n  until mean of low is known within 2 %, at most 90 seeds');
    await waitFor(() => expect(screen.getByTestId('study-size').textContent).toContain('2 points, at most 180 runs'));
    type('study S\n  4 seeds each');
    await waitFor(() => expect(screen.getByRole('alert').textContent).toContain('It varies nothing'));
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Run' }).disabled).toBe(true);
    type('study S\n  vary bite 1000 values from 0 to 1\n  90000 seeds each');
    await waitFor(() => expect(screen.getByRole('alert').textContent).toContain('at most 1,000,000 go in one study'));
  });
});
