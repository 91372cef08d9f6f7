// @vitest-environment happy-dom
import { fireEvent, screen } from '@testing-library/react';
import { expect, it } from 'vitest';
import { shown } from '../../test/shown.tsx';
import { SortHeader } from './SortHeader.tsx';

it('the heading of a column sorts by it, the other way round at the next click', () => {
  const sorts: unknown[] = [];
  const header = (sort?: { by: string; down: boolean }) => (
    <table>
      <thead>
        <tr>
          <SortHeader name="peak" by="peak" sort={sort} onSort={(wanted) => sorts.push(wanted)} />
        </tr>
      </thead>
    </table>
  );
  const { rerender } = shown(header());
  const heading = () => screen.getByRole('columnheader');
  expect(heading().getAttribute('aria-sort')).toBe('none');
  fireEvent.click(screen.getByRole('button'));
  rerender(header({ by: 'peak', down: false }));
  expect([heading().getAttribute('aria-sort'), heading().textContent]).toEqual(['ascending', 'peak ↑']);
  fireEvent.click(screen.getByRole('button'));
  rerender(header({ by: 'peak', down: true }));
  expect(heading().getAttribute('aria-sort')).toBe('descending');
  fireEvent.click(screen.getByRole('button'));
  rerender(header({ by: 'seed', down: true }));
  expect(heading().getAttribute('aria-sort')).toBe('none');
  expect(sorts).toEqual([
    { by: 'peak', down: false },
    { by: 'peak', down: true },
    { by: 'peak', down: false },
  ]);
});
