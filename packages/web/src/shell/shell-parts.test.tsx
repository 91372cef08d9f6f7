// @vitest-environment happy-dom
import 'fake-indexeddb/auto';
import { fireEvent, screen } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { beforeEach, expect, it, vi } from 'vitest';
import { dispatched, shown } from '../../test/shown.tsx';
import type { ProjectRow } from '../storage/schema.ts';
import { hasStopped, noteStopped } from '../storage/stopped.ts';
import { projectActions } from '../store/project-slice.ts';
import { store } from '../store/store.ts';
import { Banners } from './Banners.tsx';
import { useKeys } from './use-keys.ts';

const { played, stepped, loaded } = vi.hoisted(() => ({
  played: [] as boolean[],
  stepped: { times: 0 },
  loaded: [] as string[],
}));
vi.mock('../simulation/live-handle.ts', () => ({
  live: {
    play: (playing: boolean) => played.push(playing),
    oneStep: () => void stepped.times++,
    load: (text: string) => loaded.push(text),
  },
}));
vi.stubGlobal(
  'BroadcastChannel',
  class {
    postMessage(): void {
      // Nobody listens here.
    }
  },
);

const row = (text: string, revision: number): ProjectRow => ({
  id: 'p',
  name: 'Pen',
  text,
  notes: '',
  revision,
  createdAt: 1,
  changedAt: 1,
  deletedAt: 0,
  visited: [],
});

beforeEach(() => {
  played.length = 0;
  stepped.times = 0;
  store.dispatch(projectActions.opened(row('model Mine\n', 3)));
});

it('a text that another tab saved is told, and either text can be taken', () => {
  shown(
    <MemoryRouter>
      <Banners />
    </MemoryRouter>,
  );
  expect(screen.queryByRole('alert')).toBeNull();
  dispatched(projectActions.conflictFound(row('model Theirs\n', 9)));
  expect(screen.getByRole('alert').textContent).toMatch(/Both texts are safe/);
  fireEvent.click(screen.getByRole('button', { name: 'Take the other one' }));
  expect([store.getState().project.text, store.getState().project.revision]).toEqual(['model Theirs\n', 9]);
  expect(screen.queryByRole('alert')).toBeNull();
  expect(loaded).toEqual(['model Theirs\n']);

  dispatched(projectActions.textReplaced('model Mine again\n'));
  dispatched(projectActions.conflictFound(row('model Theirs too\n', 12)));
  fireEvent.click(screen.getByRole('button', { name: 'Save mine over it' }));
  expect([store.getState().project.text, store.getState().project.revision]).toEqual(['model Mine again\n', 12]);
});

it('space plays and a point takes a step, but not where one types, and not with other keys held', () => {
  function Keys() {
    useKeys();
    return (
      <>
        <p>words</p>
        <input aria-label="a field" />
        <button type="button">a button</button>
      </>
    );
  }
  const { unmount } = shown(<Keys />);
  const before = store.getState().watch.playing;
  fireEvent.keyDown(screen.getByText('words'), { key: ' ' });
  expect(played).toEqual([!before]);
  fireEvent.keyDown(screen.getByText('words'), { key: '.' });
  expect(stepped.times).toBe(1);
  for (const place of [screen.getByLabelText('a field'), screen.getByRole('button')])
    fireEvent.keyDown(place, { key: ' ' });
  fireEvent.keyDown(screen.getByText('words'), { key: ' ', ctrlKey: true });
  expect([played.length, stepped.times]).toEqual([1, 1]);
  fireEvent.keyDown(screen.getByLabelText('a field'), { key: 'k', ctrlKey: true });
  expect(store.getState().interface.searchOpen).toBe(true);
  unmount();
  fireEvent.keyDown(document.body, { key: ' ' });
  expect(played.length).toBe(1);
});

it('a project that stopped a view is known as that until it has changed', () => {
  noteStopped('p', 4);
  expect([
    hasStopped({ id: 'p', revision: 4 }),
    hasStopped({ id: 'p', revision: 5 }),
    hasStopped({ id: 'q', revision: 4 }),
  ]).toEqual([true, false, false]);
});
