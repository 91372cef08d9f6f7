/** Conditions on the rows of a table: `energy > 1 and life is Adult`. */

export interface FilterColumn {
  readonly name: string;
  readonly options?: readonly string[];
  readonly value: (row: number) => number;
}

export interface Filter {
  readonly fits: (row: number) => boolean;
  readonly problem?: string;
}

const PART = /^\s*([\p{L}_][\p{L}\p{N}_]*)\s*(<=|>=|<|>|is not|is|=)\s*(.+?)\s*$/u;

/** Reads a condition; what is not understood lets every row through and says so. */
export function readFilter(words: string, columns: readonly FilterColumn[]): Filter {
  const everything = (problem?: string): Filter => ({ fits: () => true, problem });
  if (words.trim() === '') return everything();
  const tests: ((row: number) => boolean)[] = [];
  for (const part of words.split(/\s+and\s+/)) {
    const read = PART.exec(part);
    if (!read) return everything(`“${part.trim()}” is no condition; write for example “energy > 1 and life is Adult”.`);
    const [, name, sign, wanted] = read as unknown as [string, string, string, string];
    const column = columns.find((other) => other.name.toLowerCase() === name.toLowerCase());
    if (!column) return everything(`There is no column “${name}”.`);
    const option = column.options?.findIndex((other) => other.toLowerCase() === wanted.toLowerCase()) ?? -1;
    const value = option >= 0 ? option : Number(wanted);
    if (!Number.isFinite(value)) return everything(`“${wanted}” is no value of ${column.name}.`);
    const { value: of } = column;
    switch (sign) {
      case '<':
        tests.push((row) => of(row) < value);
        break;
      case '<=':
        tests.push((row) => of(row) <= value);
        break;
      case '>':
        tests.push((row) => of(row) > value);
        break;
      case '>=':
        tests.push((row) => of(row) >= value);
        break;
      case 'is not':
        tests.push((row) => of(row) !== value);
        break;
      default:
        tests.push((row) => of(row) === value);
    }
  }
  return { fits: (row) => tests.every((test) => test(row)) };
}
