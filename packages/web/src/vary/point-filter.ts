/** What a filter of points looks at: values by name, and the words that a row shows. */
export interface FilteredRow {
  readonly values: Readonly<Record<string, number>>;
  readonly words: string;
}

const COMPARISON = /^([\p{L}_][\p{L}\p{N}_]*)\s*(<=|>=|<|>|=|is)\s*(-?\d+(?:\.\d+)?(?:e-?\d+)?)$/iu;

/**
 * A filter as it is typed: comparisons such as `kestrels > 8` joined by `and`, or words that a row has to show.
 * @returns whether a row passes; everything passes an empty filter
 */
export function pointFilter(text: string): (row: FilteredRow) => boolean {
  const parts = text
    .trim()
    .split(/\s+and\s+/i)
    .filter((part) => part !== '')
    .map(partFilter);
  return (row) => parts.every((passes) => passes(row));
}

function partFilter(part: string): (row: FilteredRow) => boolean {
  const [, name, sign, number] = COMPARISON.exec(part) ?? [];
  if (name === undefined) {
    const word = part.toLowerCase();
    return ({ words }) => words.toLowerCase().includes(word);
  }
  const wanted = Number(number);
  return ({ values }) => {
    const key = Object.keys(values).find((each) => each.toLowerCase() === name.toLowerCase());
    if (key === undefined) return false;
    const value = values[key]!;
    if (sign === '<') return value < wanted;
    if (sign === '>') return value > wanted;
    if (sign === '<=') return value <= wanted;
    if (sign === '>=') return value >= wanted;
    return Math.abs(value - wanted) <= 1e-9 * Math.max(1, Math.abs(wanted));
  };
}
