import type { Diagnostic } from '../../diagnostics.ts';
import type { Piece } from '../text/pieces.ts';
import { linesOf, rest, splitOutside, withoutQuotes } from '../text/pieces.ts';

/** Ways of finding what agrees with what was observed. */
export const MATCH_METHODS = [
  'rejection',
  'sequential monte carlo',
  'synthetic likelihood',
  'history matching',
  'best point',
] as const;
export type MatchMethod = (typeof MATCH_METHODS)[number];

/** Runs that show what a best point predicts. */
const BEST_RUNS = 100;

/** A line of the text of a match, as it is written, before anything is known of the model. */
export type MatchLine = Piece &
  (
    | LineWithValue<'match' | 'note' | 'model' | 'observed' | 'time' | 'hold out' | 'end after'>
    | LineWithName<'find' | 'set'>
    | { readonly is: 'seeds'; readonly count: number }
    | {
        readonly is: 'by';
        readonly method: MatchMethod;
        readonly draws: number;
        readonly most: number;
        readonly luck: number;
      }
    | {
        readonly is: 'tie';
        readonly expression: Piece;
        readonly columns: readonly Piece[];
        readonly parts: readonly Piece[];
      }
  );
type LineWithValue<K extends string> = K extends string ? { readonly is: K; readonly value: Piece } : never;
type LineWithName<K extends string> = K extends string
  ? { readonly is: K; readonly name: Piece; readonly value: Piece }
  : never;

const WRITE =
  'Write one of “observed "counts.csv"”, “time is date”, “voles from column caught, mean over the interval, error 12 %”, “hold out from 2032-06-01”, “find strike 0 to 0.4”, “by sequential monte carlo, 400 draws, at most 3000 runs”, “40 seeds”, “note”.';

/** The lines of the text of a match. Remarks after # and empty lines are left out. */
export function matchLines(text: string): { lines: MatchLine[]; diagnostics: Diagnostic[] } {
  const lines: MatchLine[] = [];
  const diagnostics: Diagnostic[] = [];
  for (const piece of linesOf(text)) {
    const line = lineOf(piece);
    if (line) lines.push(line);
    else
      diagnostics.push({
        severity: 'error',
        code: 'study/line',
        message: `“${piece.text}” says nothing about a match.`,
        span: piece.span,
        hint: WRITE,
      });
  }
  return { lines, diagnostics };
}

/** The tables that the text of a match names, each once. */
export function tablesNamedIn(text: string): string[] {
  const named = matchLines(text).lines.flatMap((line) =>
    line.is === 'observed' ? [withoutQuotes(line.value).text] : [],
  );
  return [...new Set(named)];
}

function lineOf(line: Piece): MatchLine | undefined {
  const { text } = line;
  const words = /^(match|note|model|observed|hold out|end after)(?!\w)/i.exec(text);
  if (words)
    return { ...line, is: words[1]!.toLowerCase().replace(/\s+/g, ' ') as 'note', value: rest(line, words[0].length) };
  const time = /^time is\s+/i.exec(text);
  if (time) return { ...line, is: 'time', value: rest(line, time[0].length) };
  const named = /^(find|set)\s+([\p{L}_][\p{L}\p{N}_]*)\s*[=:]?\s*/iu.exec(text);
  if (named) {
    const start = line.span.start + named[0].indexOf(named[2]!, named[1]!.length);
    const name = { text: named[2]!, span: { start, end: start + named[2]!.length } };
    return { ...line, is: named[1]!.toLowerCase() as 'find' | 'set', name, value: rest(line, named[0].length) };
  }
  const seeds = /^(\d+) seeds?$/i.exec(text);
  if (seeds) return { ...line, is: 'seeds', count: Number(seeds[1]) };
  const by = new RegExp(
    `^by (${MATCH_METHODS.join('|')})(?:, (\\d+) draws?)?, at most (\\d+) runs?(?:, seed (\\d+))?$`,
    'i',
  ).exec(text.replace(/\s+/g, ' '));
  // A best point has no draws; what it predicts is shown by as many runs as a usual posterior has.
  if (by && (by[2] !== undefined || /^best/i.test(by[1]!)))
    return {
      ...line,
      is: 'by',
      method: by[1]!.toLowerCase() as MatchMethod,
      draws: Number(by[2] ?? BEST_RUNS),
      most: Number(by[3]),
      luck: Number(by[4] ?? 1),
    };
  return tieOf(line);
}

/** `voles * rate from column caught, mean over the interval, error 12 %` */
function tieOf(line: Piece): MatchLine | undefined {
  const from = /\s+from\s+columns?\s+/i.exec(line.text);
  if (!from) return undefined;
  const expression = {
    text: line.text.slice(0, from.index),
    span: { start: line.span.start, end: line.span.start + from.index },
  };
  const [columns, ...parts] = splitOutside(rest(line, from.index + from[0].length), ',');
  return { ...line, is: 'tie', expression, columns: splitOutside(columns!, /\sand\s/i).map(withoutQuotes), parts };
}
