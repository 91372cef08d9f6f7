// @vitest-environment happy-dom
import 'fake-indexeddb/auto';
import { act, fireEvent, screen } from '@testing-library/react';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { dispatched, shown } from '../../test/shown.tsx';
import { repository } from '../storage/repository.ts';
import { interfaceActions } from '../store/interface-slice.ts';
import { Notices } from './Notices.tsx';

beforeEach(() => {
  vi.useFakeTimers();
});
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
});
const say = (notice: Parameters<typeof interfaceActions.noticed>[0]) => dispatched(interfaceActions.noticed(notice));

it('words go by themselves after a while, each in its time', () => {
  shown(<Notices />);
  say({ text: 'The first', tone: 'plain' });
  act(() => void vi.advanceTimersByTime(5000));
  say({ text: 'The second', tone: 'problem' });
  act(() => void vi.advanceTimersByTime(4000));
  expect(screen.queryByText('The first')).toBeNull();
  expect(screen.queryByText('The second')).not.toBeNull();
  act(() => void vi.advanceTimersByTime(5000));
  expect(screen.queryByText('The second')).toBeNull();
});

it('a project that was deleted is brought back once, by a click', () => {
  const back = vi.spyOn(repository, 'bringBack').mockResolvedValue();
  shown(<Notices />);
  say({ text: '“Meadow” is deleted.', tone: 'plain', undoProject: 'p1' });
  fireEvent.click(screen.getByRole('button', { name: 'Undo' }));
  expect(back.mock.calls).toEqual([['p1']]);
  expect(screen.queryByRole('button', { name: 'Undo' })).toBeNull();
});
