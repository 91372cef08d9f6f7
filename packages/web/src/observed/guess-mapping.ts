import type { CsvTable } from '@vole/core';

/** A first guess at which columns hold what; the modeler can change it. A column that bears the name of no measure is tied to none (''). */
export function guessMapping(
  table: CsvTable,
  measures: readonly string[],
  hasCalendar: boolean,
): { timeColumn: string; timeIs: 'date' | 'time'; columns: { column: string; measure: string }[] } {
  const first = table.rows[0]?.cells ?? [];
  const dateAt = first.findIndex((cell) => /^\d{4}-\d{2}-\d{2}$/.test(cell.trim()));
  const timeAt = table.header.findIndex((name) => /^(time|day|days|step|t|week|hour)s?$/i.test(name));
  const useDate = dateAt >= 0 && hasCalendar;
  const at = useDate ? dateAt : timeAt >= 0 ? timeAt : Math.max(0, dateAt);
  const timeColumn = table.header[at]!;
  const others = table.header.filter((name) => name !== timeColumn);
  const named = others.flatMap((column) => {
    const measure = measures.find((m) => m.toLowerCase() === column.toLowerCase());
    return measure ? [{ column, measure }] : [];
  });
  return {
    timeColumn,
    timeIs: useDate || (dateAt === at && dateAt >= 0) ? 'date' : 'time',
    columns: named.length > 0 ? named : [{ column: others[0]!, measure: '' }],
  };
}
