// @vitest-environment happy-dom
import 'fake-indexeddb/auto';
import { fireEvent, screen } from '@testing-library/react';
import { loadModel } from '@vole/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { choose, dispatched, shown, typed } from '../../test/shown.tsx';
import type { Pilot } from '../studies/pilot.ts';
import { projectActions } from '../store/project-slice.ts';
import { RepeatSentence } from './RepeatSentence.tsx';

const begun = vi.hoisted(() => vi.fn());
const pilot = vi.hoisted(() => ({ known: undefined as Pilot | null | undefined }));
vi.mock('../studies/study-runner.ts', async (load) => ({ ...(await load<object>()), beginStudy: begun }));
vi.mock('../studies/pilot.ts', async (load) => ({ ...(await load<object>()), usePilot: () => pilot.known }));

const TEXT = `model M
clock
  end after 9 steps
agent A
  start 4
  has age = 0
measure m = count A
record A: age every 1 step
summary some = ever m > 0
summary low = min of m
summary top = max of m
`;
const { plan } = loadModel(TEXT).loaded!;
const run = () => screen.getByRole<HTMLButtonElement>('button', { name: /^Run / });
const study = () => (begun.mock.calls[0] as [Record<string, unknown>])[0];

beforeEach(() => {
  begun.mockReset();
  pilot.known = undefined;
  dispatched(projectActions.textReplaced(TEXT));
  shown(<RepeatSentence plan={plan} />);
});

describe('the sentence of Repeat', () => {
  it('runs so many seeds', () => {
    typed('Number of seeds', '7');
    fireEvent.click(run());
    expect(study()).toMatchObject({ seeds: [1, 2, 3, 4, 5, 6, 7], name: '7 seeds' });
    expect(study()).not.toHaveProperty('until');
  });

  it('runs as many as needed: of which summary, how well, how many at most', () => {
    choose('How many seeds', 'as many as needed');
    choose('Summary to be known', 'top');
    typed('How well', '2.5 %');
    typed('Most seeds', '120');
    fireEvent.click(run());
    expect(study()).toMatchObject({ until: { summary: 2, share: 0.025, most: 120 }, name: 'top within 2.5 %' });
    expect(study().seeds).toHaveLength(120);
  });

  it.each([
    ['How well', 'quite'],
    ['How well', '0'],
    ['Most seeds', '1'],
    ['Most seeds', '1e9'],
  ])('says what is wrong with %s %s, and keeps what was there', (label, text) => {
    choose('How many seeds', 'as many as needed');
    typed(label, text);
    expect(screen.getByRole('alert').textContent).toContain(`not “${text}”`);
    fireEvent.click(run());
    expect(study()).toMatchObject({ until: { summary: 1, share: 0.05, most: 500 } });
  });

  it('starts nothing with records before their size is known, but does where it cannot be', () => {
    fireEvent.click(screen.getByRole('checkbox'));
    expect(run().disabled).toBe(true);
    expect(screen.getByTestId('record-size').textContent).toBe('its size is being measured');
    pilot.known = null;
    typed('Number of seeds', '3');
    expect(run().disabled).toBe(false);
    expect(screen.getByTestId('record-size').textContent).toBe('its size could not be measured');
  });
});
