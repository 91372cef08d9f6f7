// @vitest-environment happy-dom
import { fireEvent, screen, within } from '@testing-library/react';
import { parquetMetadata, parquetReadObjects } from 'hyparquet';
import { afterEach, expect, it, vi } from 'vitest';
import { eventually } from '../../test/patience.ts';
import { shown } from '../../test/shown.tsx';
import { ChartFrame } from './ChartFrame.tsx';
import { store } from '../store/store.ts';
import * as downloads from '../files/download.ts';
import { TakenOf } from '../files/taken-of.ts';

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
  expect(screen.queryByText('112 more lines are in the files.')).not.toBeNull();
});

it('its files say what they are of; what has moved on since is said in the chart', async () => {
  const took = vi.spyOn(downloads, 'download').mockImplementation(() => undefined);
  shown(
    <TakenOf value={OF}>
      <ChartFrame title="Voles" note="4 runs" table={() => rows(2)}>
        <p>drawn</p>
      </ChartFrame>
    </TakenOf>,
  );
  expect(screen.getByTestId('provenance').textContent).toBe('text 1234, seeds 1 to 4; the text has changed since');
  fireEvent.click(screen.getByRole('button', { name: 'CSV' }));
  await eventually(() => expect(took).toHaveBeenCalledTimes(1));
  const [name, csv] = took.mock.calls[0]!;
  expect([name, await csv.text()]).toEqual(['voles.csv', '# model: M\n# seeds 1 to 4\nstep,"a, b"\n0,0\n1,\n']);
  fireEvent.click(screen.getByRole('button', { name: 'Parquet' }));
  await eventually(() => expect(took).toHaveBeenCalledTimes(2));
  const [second, parquet] = took.mock.calls[1]!;
  expect(second).toBe('voles.parquet');
  const file = await parquet.arrayBuffer();
  expect(await parquetReadObjects({ file })).toEqual([
    { step: 0, 'a, b': 0 },
    { step: 1, 'a, b': NaN },
  ]);
  expect(parquetMetadata(file).key_value_metadata).toContainEqual({
    key: 'description',
    value: 'model: M\nseeds 1 to 4',
  });
});

it('a figure that is not there yet is said not to be, and so is a size that cannot be drawn', async () => {
  shown(
    <ChartFrame title="Voles" note="4 runs" table={() => rows(2)}>
      <p>drawn</p>
    </ChartFrame>,
  );
  fireEvent.click(screen.getByRole('button', { name: 'PNG' }));
  await eventually(() =>
    expect(store.getState().interface.notices.at(-1)?.text).toBe('There is no figure to save yet.'),
  );
  fireEvent.click(screen.getByRole('button', { name: '160 mm' }));
  const width = screen.getByLabelText('millimetres wide');
  fireEvent.change(width, { target: { value: 'wide' } });
  expect(screen.getByRole('alert').textContent).toContain('a number from 5 to 2000, not “wide”');
  expect(store.getState().interface.pictureSize.width).toBe(160);
  fireEvent.change(width, { target: { value: '84' } });
  expect(screen.queryByRole('alert')).toBeNull();
  expect(store.getState().interface.pictureSize.width).toBe(84);
});
