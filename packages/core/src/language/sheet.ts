import { dsvFormat } from 'd3-dsv';

/** A row of a table as it stands in a file. */
export interface SheetRow {
  readonly cells: readonly string[];
  /** The line of the file on which it begins, from 1. */
  readonly line: number;
}

/** What may part the cells of a row. */
export const DELIMITERS = [',', ';', '\t', '|'];
/** Lines by which it is found out what parts the cells. */
const LOOKED_AT = 20;

/** Why it cannot be told which cells a file has. */
export class SheetProblem extends Error {
  constructor(
    /** The line of the file, from 1. */
    readonly line: number,
    what: string,
  ) {
    super(what);
  }
}

/**
 * Rows of a table with something in them; lines that begin with # are remarks and left out. What parts the cells is found out.
 * @throws SheetProblem
 */
export function sheetRows(text: string): SheetRow[] {
  const rows: SheetRow[] = [];
  const plain = text.replace(/^\uFEFF/, '').replace(/^#.*$/gm, '');
  const delimiter = delimiterOf(plain);
  checkQuotes(plain, delimiter);
  let line = 1;
  for (const cells of dsvFormat(delimiter).parseRows(plain)) {
    if (cells.some((cell) => cell.trim() !== '')) rows.push({ cells, line });
    line += 1 + cells.reduce((breaks, cell) => breaks + (cell.match(/\r?\n/g)?.length ?? 0), 0);
  }
  return rows;
}

/** What parts the cells: that which makes rows most alike in length, and of equals the longest. */
function delimiterOf(text: string): string {
  const lines = text.split(/\r?\n/).filter((line) => line.trim() !== '');
  const sample = lines.slice(0, LOOKED_AT).join('\n');
  const looks = DELIMITERS.map((delimiter) => {
    const lengths = dsvFormat(delimiter)
      .parseRows(sample)
      .map(({ length }) => length);
    const total = lengths.reduce((sum, length) => sum + length, 0);
    const unlike = lengths.reduce((sum, length, i) => sum + Math.abs(length - (lengths[i - 1] ?? length)), 0);
    return { delimiter, unlike, mean: total / Math.max(1, lengths.length) };
  }).filter(({ mean }) => mean > 1);
  const [best] = looks.sort((a, b) => a.unlike - b.unlike || b.mean - a.mean);
  return best?.delimiter ?? ',';
}

/** Refuses quotation marks by which cells, or whole rows, would be lost without a word. */
function checkQuotes(text: string, delimiter: string): void {
  const refuse = (at: number, what: string): never => {
    throw new SheetProblem(text.slice(0, at).split(/\r\n?|\n/).length, what);
  };
  const ends = `\r\n${delimiter}`;
  const opening = new RegExp(`(?:^|[${ends}])"`, 'g');
  while (opening.test(text)) {
    const opened = opening.lastIndex;
    let at = opened;
    for (;;) {
      at = text.indexOf('"', at) + 1;
      if (at === 0) refuse(opened, 'a quotation mark opens a cell, and none closes it. Close it, or write it twice.');
      if (text[at] !== '"') break;
      at++;
    }
    if (at < text.length && !ends.includes(text[at]!))
      refuse(at, `a cell goes on with “${text[at]}” after the quotation mark that closes it. Quote all of it.`);
    opening.lastIndex = at;
  }
}

const NOTHING = new Set(['', 'na', 'n/a', 'nan', '-', '–', '.']);

/** Whether a cell says that there is no value. */
export function isEmptyCell(cell: string): boolean {
  return NOTHING.has(cell.trim().toLowerCase());
}

const NUMBER = /^[+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?$/i;

/** The number in a cell, written with digits, sign, point and power of ten; nothing else is taken for one. */
export function cellNumber(cell: string): number | undefined {
  const text = cell.trim();
  const value = NUMBER.test(text) ? Number(text) : NaN;
  return Number.isFinite(value) ? value : undefined;
}
