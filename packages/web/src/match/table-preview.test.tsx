// @vitest-environment happy-dom
import 'fake-indexeddb/auto';
import { fireEvent, screen } from '@testing-library/react';
import { loadModel } from '@vole/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { dispatched, shown } from '../../test/shown.tsx';
import { MatchDesk } from '../observed/match-desk.ts';
import type { TakenTable } from '../observed/match-desk.ts';
import { modelActions } from '../store/model-slice.ts';
import { TablePreview } from './TablePreview.tsx';

const desk = new MatchDesk();
vi.mock('../observed/table-reader.ts', () => ({
  askMatch: (text: string, model: string, tables: Record<string, string>) =>
    Promise.resolve().then(() => desk.answer({ is: 'match', text, model, tables })),
}));

const MODEL = `model M
clock
  step 1 day
  end after 9 days
agent A
  start 4
measure voles = count A
measure old = count A
`;
const { plan } = loadModel(MODEL).loaded!;
const onTake = vi.fn();
const onClose = vi.fn();
const preview = (csv: string, match = '') => {
  const { csv: kept, look } = desk.answer({ is: 'take', bytes: new TextEncoder().encode(csv).buffer }) as TakenTable;
  shown(
    <TablePreview
      table={{ name: 'traps.csv', csv: kept, look }}
      plan={plan}
      model={MODEL}
      match={match}
      tables={{}}
      onTake={onTake}
      onClose={onClose}
    />,
  );
};
const take = () => screen.getByRole<HTMLButtonElement>('button', { name: 'Take it' });
const compare = (column: string, expression: string) =>
  fireEvent.change(screen.getByRole('combobox', { name: `Column ${column} is compared with` }), {
    target: { value: expression },
  });

beforeEach(() => {
  onTake.mockReset();
  onClose.mockReset();
  dispatched(modelActions.chapterShown({ stepLimit: 9, layerNames: [], until: undefined }));
});

describe('a table before it is taken', () => {
  it('ties a column to the measure of its name, says how many values are read, and is taken with its text', async () => {
    preview('day,voles\n1,3\n2,4\n3,\n');
    expect((await screen.findByTestId('preview-read')).textContent).toMatch(/^voles: 2 values, 1 gap/);
    fireEvent.click(take());
    const [match] = onTake.mock.calls[0] as [string];
    expect(match).toContain('traps.csv');
  });

  it('asks of which measure a column of another name is, and takes nothing before', async () => {
    preview('day,constructor\n1,3\n2,4\n');
    expect(screen.getByRole('status').textContent).toBe(
      'Say above, under a column of values, of which measure they are: voles, old.',
    );
    expect(take().disabled).toBe(true);
    compare('constructor', 'old');
    expect(await screen.findByTestId('preview-read')).toBeDefined();
    expect(take().disabled).toBe(false);
  });

  it('says what cannot be compared, and why', async () => {
    preview('day,voles\n1,3\n2,4\n');
    compare('voles', 'foxes');
    expect((await screen.findByRole('alert')).textContent).toContain('foxes');
    expect(take().disabled).toBe(true);
    fireEvent.click(screen.getByRole('button', { name: 'Leave it' }));
    expect(onClose).toHaveBeenCalled();
    expect(onTake).not.toHaveBeenCalled();
  });

  it('says which values lie outside the time of a run', async () => {
    preview('day,voles\n1,3\n2,4\n40,5\n');
    expect((await screen.findByTestId('preview-read')).textContent).toContain('1 outside the time of a run');
  });
});
