// @vitest-environment happy-dom
import 'fake-indexeddb/auto';
import { fireEvent, screen } from '@testing-library/react';
import { loadModel, MOST_NOTES } from '@vole/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { shown } from '../../test/shown.tsx';
import type { NoteRow } from '../simulation/protocol.ts';
import { LogCard } from './LogCard.tsx';

const held: { state: object; readonly live: Record<'goTo' | 'openAgent', ReturnType<typeof vi.fn>> } = vi.hoisted(
  () => ({
    state: {},
    live: { goTo: vi.fn(), openAgent: vi.fn() },
  }),
);
vi.mock('../simulation/live-handle.ts', () => ({
  live: held.live,
  useLive: <T,>(select: (state: unknown) => T) => select(held.state),
}));
// The page has room for rows; a test has none that is measured.
vi.mock('../tables/VirtualTable.tsx', () => ({
  TABLE_ROW: 20,
  VirtualTable: ({ label, count, row }: { label: string; count: number; row: (index: number) => React.ReactNode }) => (
    <table aria-label={label}>
      <tbody>{Array.from({ length: Math.min(count, 5) }, (_, i) => row(i))}</tbody>
    </table>
  ),
}));

const planOf = (line: string) =>
  loadModel(`model M\nagent Vole\n  start 2\n  behaviour live\n    ${line}\norder\n  live in turn\n`).loaded!.plan;
const plan = planOf('log "squeaks"');
const note = (step: number, agent: string, text: string): NoteRow => ({ step, agent, text, line: 5 });
const card = (notes: readonly NoteRow[], step = 3) => {
  held.state = { plan, notes, frame: { step } };
  return shown(<LogCard width={300} />);
};
const rows = () => screen.getAllByRole('row').map(({ textContent }) => textContent);

beforeEach(() => {
  held.live.goTo.mockReset();
  held.live.openAgent.mockReset();
});

describe('what log lines wrote', () => {
  it('is listed, the newest first; what lies beyond the step on show is faint', () => {
    card([note(1, 'Vole 1', 'squeaks'), note(4, 'Vole 2', 'squeaks')]);
    expect(rows()).toEqual(['4Vole 2squeaks', '1Vole 1squeaks']);
    const [later, earlier] = screen.getAllByRole('row');
    expect([later!.className.includes('text-faint'), earlier!.className.includes('text-faint')]).toEqual([true, false]);
    expect(screen.getByText('2 notes')).toBeDefined();
  });

  it('leads to its step and its agent; a note of nobody leads to nobody', () => {
    card([note(1, 'Vole 2', 'squeaks'), note(2, '', 'all')]);
    fireEvent.click(screen.getByRole('button', { name: '1' }));
    fireEvent.click(screen.getByRole('button', { name: 'Vole 2' }));
    expect(held.live.goTo).toHaveBeenCalledWith(1);
    expect(held.live.openAgent).toHaveBeenCalledWith(0, 2);
    expect(screen.getAllByRole('row')[0]!.querySelectorAll('button')).toHaveLength(1);
  });

  it('is narrowed by words, and says of how many', () => {
    card([note(1, 'Vole 1', 'squeaks'), note(2, 'Vole 2', 'bites'), note(12, 'Vole 1', 'bites')]);
    const words = screen.getByRole('textbox', { name: 'Words of the notes that are listed' });
    fireEvent.change(words, { target: { value: 'bites' } });
    expect(rows()).toEqual(['12Vole 1bites', '2Vole 2bites']);
    expect(screen.getByText('2 of 3 notes')).toBeDefined();
    fireEvent.change(words, { target: { value: 'step 12' } });
    expect(rows()).toEqual(['12Vole 1bites']);
    fireEvent.change(words, { target: { value: 'constructor' } });
    expect(screen.getByText('No note has these words.')).toBeDefined();
  });

  it('says that it is the first of very many, and where there is nothing yet', () => {
    card(Array.from({ length: MOST_NOTES }, () => note(1, 'Vole 1', 'squeaks')));
    expect(screen.getByText(/^the first 10.000 notes$/)).toBeDefined();
    card([]);
    expect(screen.getByText('No “log” line has written anything yet.')).toBeDefined();
  });

  it('is no card for a model without such lines', () => {
    held.state = { plan: planOf('remove self'), notes: [], frame: { step: 0 } };
    expect(shown(<LogCard width={300} />).container.textContent).toBe('');
  });
});
