import { parquetMetadataAsync, parquetReadObjects } from 'hyparquet';
import { describe, expect, it } from 'vitest';
import { parquetOf } from './parquet.ts';

describe('a table as Parquet', () => {
  it('is read by another reader: numbers, words, empty values, and what it is of', async () => {
    const rows = [
      [1, 'clay', 0.1],
      [2, 'peat', NaN],
      [3, 'Größe “x”', -1e300],
    ];
    const file = parquetOf(['run', 'soil', 'low [days]'], () => rows, { description: 'made-up\nvoles' });
    const read = await parquetReadObjects({ file });
    expect(read.map((row) => Object.values(row))).toEqual(rows);
    expect(Object.keys(read[0]!)).toEqual(['run', 'soil', 'low [days]']);
    const { key_value_metadata: facts } = await parquetMetadataAsync(file);
    expect(facts).toContainEqual({ key: 'description', value: 'made-up\nvoles' });
  });

  it('of no rows has its columns still', async () => {
    const { schema } = await parquetMetadataAsync(parquetOf(['run', 'peak'], () => [], {}));
    expect(schema.slice(1).map(({ name }) => name)).toEqual(['run', 'peak']);
  });
});
