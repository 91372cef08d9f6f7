// @vitest-environment happy-dom
import { fireEvent, screen, within } from '@testing-library/react';
import { afterEach, expect, it, vi } from 'vitest';
import { shown } from '../../test/shown.tsx';
import { ChartFrame } from './ChartFrame.tsx';
import * as exporting from './export-chart.ts';

afterEach(() => {
  vi.restoreAllMocks();
});
const OF = {
  words: 'text 1234, seeds 1 to 4',
  stale: 'the text has changed since',
  lines: ['model: M', 'seeds 1 to 4'],
};
const rows = (count: number) => [
  ['step', 'a, b'],
  ...Array.from({ length: count }, (_, i) => [i, i === 1 ? NaN : i / 2]),
];

it('a chart is read as a table: empty cells stay empty, commas are no borders', () => {
  shown(
    <ChartFrame title="Voles" note="4 runs" table={() => rows(3)}>
      <p>drawn</p>
    </ChartFrame>,
  );
  expect(screen.queryByText('drawn')).not.toBeNull();
  fireEvent.click(screen.getByRole('button', { name: 'as table' }));
  expect(screen.queryByText('drawn')).toBeNull();
  const cells = within(screen.getByRole('table'))
    .getAllByRole('row')
    .map((row) => [...row.children].map(({ textContent }) => textContent));
  expect(cells).toEqual([
    ['step', 'a, b'],
    ['0', '0'],
    ['1', ''],
    ['2', '1'],
  ]);
  expect(screen.queryByRole('button', { name: 'PNG' })).toBeNull();
});

it('of a long table the first rows are shown, and said where the others are', () => {
  shown(
    <ChartFrame title="Voles" note="4 runs" table={() => rows(612)}>
      <p>drawn</p>
    </ChartFrame>,
  );
  fireEvent.click(screen.getByRole('button', { name: 'as table' }));
  expect(screen.getAllByRole('row')).toHaveLength(501);
  expect(screen.queryByText('112 more lines are in the CSV.')).not.toBeNull();
});

it('its file says first what it is of; what has moved on since is said in the chart', () => {
  const took = vi.spyOn(exporting, 'downloadText').mockImplementation(() => undefined);
  shown(
    <ChartFrame title="Voles" note="4 runs" of={OF} table={() => rows(2)}>
      <p>drawn</p>
    </ChartFrame>,
  );
  expect(screen.getByTestId('provenance').textContent).toBe('text 1234, seeds 1 to 4; the text has changed since');
  fireEvent.click(screen.getByRole('button', { name: 'CSV' }));
  expect(took.mock.calls).toEqual([
    [exporting.fileName('Voles', 'csv'), '# model: M\n# seeds 1 to 4\nstep,"a, b"\n0,0\n1,\n', 'text/csv'],
  ]);
});
