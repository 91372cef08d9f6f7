import type { CheckedRaster } from './checked.ts';

/** A value of a raster as it stands in its file. */
export interface RasterWord {
  readonly text: string;
  /** Line of the file, from 1 on, and where in it the word begins. */
  readonly line: number;
  readonly at: number;
  readonly value: number;
}

/** What is wrong with a raster, at a line of its file. */
interface RasterProblem {
  readonly line: number;
  readonly problem: string;
}

/** A value as a number, or what is wrong with it. */
export type ReadValue = (word: string) => number | { readonly problem: string };

/** What the head calls the value of a cell without data. */
const EMPTY = 'nodata_value';

/** Values that are numbers. */
export const numberOfWord: ReadValue = (word) =>
  Number.isFinite(Number(word)) ? Number(word) : { problem: `a value is no number: “${word}”.` };

/**
 * Reads the open text raster: lines `ncols`, `nrows` and others of the same form, then rows of values from the top.
 * @param read a value that is not that of `nodata_value`; cells with that have 0
 */
export function readRaster(
  text: string,
  read: ReadValue,
): { readonly raster: CheckedRaster; readonly words: readonly RasterWord[] } | RasterProblem {
  const lines = text.split(/\r?\n/);
  const facts = new Map<string, string>();
  let first = 0;
  for (; first < lines.length; first++) {
    const found = /^\s*([A-Za-z_]+)\s+(\S+)\s*$/.exec(lines[first]!);
    if (!found || !isOfHead(found[1]!.toLowerCase(), found[2]!, read)) break;
    facts.set(found[1]!.toLowerCase(), found[2]!);
  }
  const [columns, rows] = [Number(facts.get('ncols') ?? 0), Number(facts.get('nrows') ?? 0)];
  if (!(columns > 0) || !(rows > 0)) return { line: 1, problem: 'lines “ncols 40” and “nrows 30” are missing.' };
  const found = lines
    .slice(first)
    .flatMap((line, i) =>
      [...line.matchAll(/\S+/g)].map(({ 0: text, index }) => ({ text, line: first + i + 1, at: index })),
    );
  if (found.length !== columns * rows)
    return {
      line: first + 1,
      problem: `${columns} columns and ${rows} rows make ${columns * rows} values, but there are ${found.length}.`,
    };
  const empty = facts.get(EMPTY);
  const words: RasterWord[] = [];
  const values = new Float64Array(columns * rows);
  for (const [i, word] of found.entries()) {
    if (isSame(word.text, empty)) continue;
    const value = read(word.text);
    if (typeof value !== 'number') return { line: word.line, problem: value.problem };
    words.push({ ...word, value });
    values[(rows - 1 - Math.floor(i / columns)) * columns + (i % columns)] = value;
  }
  return { raster: { columns, rows, values: [...values] }, words };
}

/** Whether a line of a word and a value says something of the raster, and is no row of two values. */
function isOfHead(word: string, value: string, read: ReadValue): boolean {
  return word === EMPTY || (Number.isFinite(Number(value)) && typeof read(word) !== 'number');
}

/** Whether a value is that of a cell without data, as a word or as a number. */
function isSame(word: string, empty: string | undefined): boolean {
  return empty !== undefined && (word === empty || Number(word) === Number(empty));
}
