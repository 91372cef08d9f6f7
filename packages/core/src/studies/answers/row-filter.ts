/** One row of a table, as a filter looks at it. */
export interface FilteredRow {
  /** The number in a column; NaN where there is none. */
  readonly value: (column: number) => number;
  /** The words that the row shows. */
  readonly words: () => string;
}

const COMPARISON = /^([\p{L}_][\p{L}\p{N}_]*)\s*(<=|>=|<|>|=|is)\s*(-?\d+(?:\.\d+)?(?:e-?\d+)?)$/iu;

/**
 * A filter as it is typed: comparisons such as `kestrels > 8` joined by `and`, or words that a row has to show.
 * @param columns names of the columns of numbers
 * @returns whether a row passes; everything passes an empty filter, nothing a comparison with a column that is not there
 */
export function rowFilter(text: string, columns: readonly string[]): (row: FilteredRow) => boolean {
  const parts = text
    .trim()
    .split(/\s+and\s+/i)
    .filter((part) => part !== '')
    .map((part) => partFilter(part, columns));
  const [only] = parts;
  if (only && parts.length === 1) return only;
  return (row) => parts.every((passes) => passes(row));
}

function partFilter(part: string, columns: readonly string[]): (row: FilteredRow) => boolean {
  const [, name, sign, number] = COMPARISON.exec(part) ?? [];
  if (name === undefined) {
    const word = part.toLowerCase();
    return ({ words }) => words().toLowerCase().includes(word);
  }
  const column = columns.findIndex((each) => each.toLowerCase() === name.toLowerCase());
  if (column < 0) return () => false;
  const wanted = Number(number);
  return ({ value: valueOf }) => {
    const value = valueOf(column);
    if (sign === '<') return value < wanted;
    if (sign === '>') return value > wanted;
    if (sign === '<=') return value <= wanted;
    if (sign === '>=') return value >= wanted;
    return Math.abs(value - wanted) <= 1e-9 * Math.max(1, Math.abs(wanted));
  };
}
