// @vitest-environment happy-dom
import 'fake-indexeddb/auto';
import { fireEvent, screen } from '@testing-library/react';
import { loadModel } from '@vole/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { choose, dispatched, shown, typed } from '../../test/shown.tsx';
import { projectActions } from '../store/project-slice.ts';
import { store } from '../store/store.ts';
import { studyActions } from '../store/study-slice.ts';
import { VarySentence } from './VarySentence.tsx';

const begun = vi.hoisted(() => vi.fn());
vi.mock('../studies/study-runner.ts', async (load) => ({ ...(await load<object>()), beginStudy: begun }));
vi.mock('../studies/pilot.ts', async (load) => ({ ...(await load<object>()), usePilot: () => undefined }));

const TEXT = `model M
clock
  end after 9 steps
parameter constructor = 3, from 0 to 9
parameter bite = 20 %, from 0 to 1
parameter wet = no
agent A
  start round(constructor)
measure m = count A
summary low = min of m
`;
const run = () => screen.getByRole<HTMLButtonElement>('button', { name: /^Run / });
const size = () => screen.getByTestId('vary-size').textContent;
const say = (text: string, onText = vi.fn(), onTake = vi.fn()) => {
  dispatched(projectActions.textReplaced(text));
  shown(<VarySentence model={loadModel(text).loaded} onText={onText} onTake={onTake} />);
};

beforeEach(() => {
  begun.mockReset();
  store.dispatch(studyActions.cleared());
});

describe('what is varied, as a sentence', () => {
  it('begins with a parameter, some of its values and ten seeds, and runs what it says', () => {
    say(TEXT);
    choose('Parameter 1', 'bite');
    typed('Values 1', '10 %, 30 %');
    expect(size()).toMatch(/^bite: 0\.1, 0\.3\.20 runs, .+; the same seeds for each combination$/);
    fireEvent.click(run());
    const [study] = begun.mock.calls[0] as [Record<string, unknown>];
    expect(study).toMatchObject({
      kind: 'vary',
      name: 'bite',
      text: TEXT,
      seeds: [1, 2, 3, 4, 5, 6, 7, 8, 9, 10],
      factors: [{ parameter: 'bite', values: [0.1, 0.3] }],
    });
  });

  it('takes further parameters, in every combination, and lets go of them', () => {
    say(TEXT);
    choose('Parameter 1', 'bite');
    typed('Values 1', '0 to 1 by 0.5');
    fireEvent.click(screen.getByRole('button', { name: 'and a second parameter' }));
    choose('Parameter 2', 'wet');
    typed('Seeds each', '4');
    expect(size()).toContain('wet: no, yes.');
    expect(run().textContent).toBe('Run 24 runs');
    fireEvent.click(screen.getByRole('button', { name: 'and another one' }));
    expect(screen.getByRole<HTMLSelectElement>('combobox', { name: 'Parameter 3' }).value).toBe('constructor');
    expect(screen.queryByRole('button', { name: 'and another one' })).toBeNull();
    fireEvent.click(screen.getByRole('button', { name: 'without the last' }));
    fireEvent.click(screen.getByRole('button', { name: 'only the first parameter' }));
    expect(run().textContent).toBe('Run 12 runs');
  });

  it.each([
    ['many', 'Values 1', /many/],
    ['2', 'Values 1', /0 to 1|from 0/],
    ['0', 'Seeds each', /seeds/],
    ['1e9', 'Seeds each', /10,000/],
    ['NaN', 'Seeds each', /seeds/],
  ])('refuses “%s” in %s, says why, and runs nothing', (text, label, why) => {
    say(TEXT);
    choose('Parameter 1', 'bite');
    typed(label, text);
    expect(screen.getByRole('alert').textContent).toMatch(why);
    expect(run().disabled).toBe(true);
  });

  it('refuses the same parameter twice, and more runs than can be kept', () => {
    say(TEXT);
    choose('Parameter 1', 'bite');
    fireEvent.click(screen.getByRole('button', { name: 'and a second parameter' }));
    choose('Parameter 2', 'bite');
    expect(screen.getByRole('alert').textContent).toBe('The parameters must differ.');
    choose('Parameter 2', 'constructor');
    typed('Values 1', '0 to 1 by 0.02');
    typed('Seeds each', '10000');
    expect(screen.getByRole('alert').textContent).toMatch(/\d runs/);
    expect(run().disabled).toBe(true);
  });

  it('says what is missing where nothing can be varied or compared', () => {
    say('model M\nagent A\n  start 2\nmeasure m = count A\n');
    expect(screen.getByText(/The model has no parameter to vary/)).toBeDefined();
    say('model M\nparameter p = 1\nagent A\n  start 2\n  has a = p\n');
    expect(screen.getByText(/The model measures nothing/)).toBeDefined();
    say('model M\nagent\n');
    expect(screen.getByText(/The text has errors/)).toBeDefined();
  });

  it('goes on as a text, and takes up a study that stands in the model', () => {
    const [onText, onTake] = [vi.fn(), vi.fn()];
    say(`${TEXT}study Some\n  vary bite 0.1, 0.3\n  4 seeds each\n`, onText, onTake);
    fireEvent.click(screen.getByRole('button', { name: /^as text/ }));
    expect(onText).toHaveBeenCalledOnce();
    fireEvent.click(screen.getByRole('button', { name: 'Some' }));
    expect(onTake).toHaveBeenCalledOnce();
    expect(store.getState().project.studyDraft).toContain('vary bite 0.1, 0.3');
  });
});
