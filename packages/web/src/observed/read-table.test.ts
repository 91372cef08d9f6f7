import { readFileSync } from 'node:fs';
import { loadModel, notesOf } from '@vole/core';
import { describe, expect, it } from 'vitest';
import { readTable, takeTable } from './read-table.ts';

const plan = loadModel(readFileSync(new URL('../../../../examples/meadow-year.vole', import.meta.url), 'utf8')).loaded!
  .plan;
const bytesOf = (text: string): ArrayBuffer => new TextEncoder().encode(text).buffer;

describe('a table of observed data', () => {
  it('is taken with a guess at its columns and read by it, remarks before its head kept', () => {
    const { csv, mapping } = takeTable(
      bytesOf('# counted by ear\n\n# made up\nday,voles\n# not a remark on the table\n3,300\n9,\n'),
      ['voles', 'nests'],
      true,
    );
    expect(mapping).toEqual({ timeColumn: 'day', timeIs: 'time', columns: [{ column: 'voles', measure: 'voles' }] });
    const { table, reading } = readTable(csv, mapping, plan);
    expect(table).toEqual({ header: ['day', 'voles'], notes: ['counted by ear', 'made up'] });
    expect(reading.series).toMatchObject([
      { column: 'voles', measure: 'voles', gaps: 1, points: [{ time: 3, value: 300 }] },
    ]);
  });

  it('is read in the encoding of older spreadsheets where its bytes are no UTF-8', () => {
    const latin = Uint8Array.from([...'day,voles,H\xf6hle 5\xb0\n1,2,3\n'].map((letter) => letter.charCodeAt(0)));
    expect(takeTable(latin.buffer, ['voles'], false).csv).toBe('day,voles,Höhle 5°\n1,2,3\n');
    expect(takeTable(bytesOf('\ufeffday,Höhle €\n1,2\n'), [], false).mapping.timeColumn).toBe('day');
  });

  it('is refused with what is wrong, by what is asked first', () => {
    expect(() => takeTable(new ArrayBuffer(0), [], false)).toThrow(/no table/);
    expect(() => readTable('PNG\0', { timeColumn: 'a', timeIs: 'time', columns: [] }, plan)).toThrow(/no text file/);
  });

  it('has no remarks where there are none, and nothing but remarks where there is no more', () => {
    expect(notesOf('')).toEqual([]);
    expect(notesOf('day,voles\n# later\n')).toEqual([]);
    expect(notesOf('# a\r\n#b')).toEqual(['a', 'b']);
  });
});
