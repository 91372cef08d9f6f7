import type { MatchReading } from '@vole/core';
import { describe, expect, it } from 'vitest';
import { MatchDesk } from './match-desk.ts';

const MODEL = 'model M\nclock\n  step 1 day\n  end after 9 days\nagent A\n  start 2\nmeasure voles = count A\n';
const TEXT = 'match Counts\nobserved "a.csv"\nvoles from column voles\n';
const bytesOf = (text: string): ArrayBuffer => new TextEncoder().encode(text).buffer;

describe('the desk of tables', () => {
  const desk = new MatchDesk();
  const read = (tables: Record<string, string>, model = MODEL) =>
    desk.answer({ is: 'match', text: TEXT, model, tables }) as MatchReading | undefined;

  it('takes files in UTF-8, and as older spreadsheets write them', () => {
    const latin = Uint8Array.from([...'day,voles,H\xf6hle 5\xb0\n1,2,3\n'].map((letter) => letter.charCodeAt(0)));
    expect(desk.answer({ is: 'take', bytes: latin.buffer })).toMatchObject({ csv: 'day,voles,Höhle 5°\n1,2,3\n' });
    const { look } = desk.answer({ is: 'take', bytes: bytesOf('\ufeffday,Höhle €\n1,2\n') }) as {
      look: { columns: { name: string }[] };
    };
    expect(look.columns.map(({ name }) => name)).toEqual(['day', 'Höhle €']);
    expect(() => desk.answer({ is: 'take', bytes: new ArrayBuffer(0) })).toThrow(/no table/);
  });

  it('reads a match again when a table of the same name has changed', () => {
    expect(read({ 'a.csv': 'day,voles\n1,2\n' })!.match!.series[0]!.observations).toHaveLength(1);
    expect(read({ 'a.csv': 'day,voles\n1,2\n2,3\n' })!.match!.series[0]!.observations).toHaveLength(2);
    expect(read({})!.diagnostics[0]!.message).toContain('There is no table “a.csv”');
  });

  it('reads nothing for a model with errors, and says what is wrong with a table', () => {
    expect(read({ 'a.csv': 'day,voles\n1,2\n' }, 'model M\nmeasure')).toBeUndefined();
    expect(() => read({ 'a.csv': 'PNG\0' })).toThrow(/no text file/);
  });
});
