// @vitest-environment happy-dom
import 'fake-indexeddb/auto';
import { fireEvent, screen, within } from '@testing-library/react';
import type { CheckOutcome } from '@vole/core';
import { compilePlan, loadModel, runCheck } from '@vole/core';
import { MemoryRouter } from 'react-router';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { dispatched, shown } from '../../test/shown.tsx';
import { TextWorkerInPlay } from '../../test/text-worker-in-play.ts';
import { projectActions } from '../store/project-slice.ts';
import { store } from '../store/store.ts';
import type { ChecksState } from './checks-run.ts';
import { ChecksPanel } from './ChecksPanel.tsx';

const held: Record<'started' | 'stopped' | 'opened', ReturnType<typeof vi.fn>> & { state?: unknown } = vi.hoisted(
  () => ({ started: vi.fn(), stopped: vi.fn(), opened: vi.fn() }),
);
vi.mock('./checks-run.ts', async (load) => ({
  ...(await load<object>()),
  useChecksRun: () => ({ state: held.state, run: { start: held.started, stop: held.stopped } }),
}));
vi.mock('../simulation/open-run.ts', () => ({ openRun: held.opened }));
vi.stubGlobal('Worker', TextWorkerInPlay);

const TEXT = `model M
clock
  end after 5 steps
parameter births = 1
agent A
  start 4
  has age = 0
  behaviour live
    age += 1
measure m = count A
measure old = max of it.age over A
check stays
  over 3 seeds
  expect always m is 4 in every run
check grows
  over 1 seeds
  expect always old < 2 in every run
`;
const outcomes = (text: string): CheckOutcome[] => {
  const compiled = compilePlan(loadModel(text).loaded!.plan);
  return compiled.plan.checks.map((check) => runCheck(compiled, check));
};
const panel = (text: string, state?: Partial<ChecksState>) => {
  held.state = state && { projectId: 'p', text, isRunning: false, outcomes: [], ...state };
  dispatched(projectActions.textReplaced(text));
  return shown(
    <MemoryRouter>
      <ChecksPanel />
    </MemoryRouter>,
  );
};

beforeEach(() => {
  held.started.mockReset();
  held.stopped.mockReset();
  held.opened.mockReset();
});

describe('the checks of a model', () => {
  it('are named with their seeds before they are run, and run by a click', async () => {
    panel(TEXT);
    const list = await screen.findByRole('list', { name: 'Checks' });
    expect(list.textContent).toBe('stays, over 3 seedsgrows, over 1 seed');
    expect(screen.getByTestId('checks-progress').textContent).toBe('2 checks, 4 runs');
    fireEvent.click(screen.getByRole('button', { name: 'Run the checks' }));
    expect(held.started.mock.calls.map(([, text]) => text as string)).toEqual([TEXT]);
  });

  it('say one by one what came of them while the others still run, and can be stopped', async () => {
    panel(TEXT, { isRunning: true, outcomes: outcomes(TEXT).slice(0, 1) });
    const list = await screen.findByRole('list', { name: 'Checks' });
    const [first, second] = within(list).getAllByText(/stays|grows/);
    expect(first!.textContent).toMatch(/^holds stays, over 3 seeds/);
    expect(second!.textContent).toBe('grows, over 1 seed');
    expect(screen.getByTestId('checks-progress').textContent).toBe('1 of 2 done');
    fireEvent.click(screen.getByRole('button', { name: 'Stop' }));
    expect(held.stopped).toHaveBeenCalledOnce();
  });

  it('that do not hold open the run that speaks against them, at its step', async () => {
    panel(TEXT, { outcomes: outcomes(TEXT) });
    fireEvent.click(await screen.findByRole('button', { name: 'seed 1 at step 2' }));
    const [of, , run, step] = held.opened.mock.calls[0] as unknown[];
    expect([of, run, step]).toEqual([{ text: TEXT, parameters: { births: 1 } }, { seed: 1, steps: 2 }, 2]);
  });

  it('stay on show while another text is read, and say nothing wrong of it', async () => {
    panel(TEXT);
    await screen.findByRole('list', { name: 'Checks' });
    dispatched(projectActions.textReplaced(TEXT.replace('check grows', 'check thrives')));
    expect(screen.getByRole('list', { name: 'Checks' }).textContent).toContain('grows');
    expect(screen.queryByText(/no errors/)).toBeNull();
    expect(await screen.findByText('thrives, over 1 seed')).toBeDefined();
  });

  it('of an earlier text are said to be so', async () => {
    panel(`${TEXT}# more\n`, { text: TEXT, outcomes: outcomes(TEXT) });
    expect(await screen.findByText(/What follows is of an earlier text/)).toBeDefined();
  });

  it('wait for a text that is right; where there are none, one can be begun', async () => {
    panel('model M\nagent\n');
    expect(await screen.findByText('The checks run when the text has no errors.')).toBeDefined();
    dispatched(projectActions.textReplaced('model M\nagent A\n  start 4\nmeasure m = count A\n'));
    expect(await screen.findByText(/This model has no checks/)).toBeDefined();
    const [begin] = screen.getAllByRole('button');
    fireEvent.click(begin!);
    expect(store.getState().project.text).toMatch(/\ncheck /);
    expect(loadModel(store.getState().project.text).loaded!.plan.checks).toHaveLength(1);
  });
});
