import type { MatchLine, ParameterPlan } from '@vole/core';
import { matchLines, quotedName } from '@vole/core';

/** Changes of the text of a match by the words of its sentence. What is written by hand stays as it is. */

type LineOf<K extends MatchLine['is']> = Extract<MatchLine, { is: K }>;
type Tie = LineOf<'tie'>;

/** The lines of one kind in a text, in their order. */
export function linesLike<K extends MatchLine['is']>(text: string, is: K): LineOf<K>[] {
  return matchLines(text).lines.filter((line): line is LineOf<K> => line.is === is);
}

function replaced(text: string, { start, end }: { readonly start: number; readonly end: number }, by: string): string {
  return `${text.slice(0, start)}${by}${text.slice(end)}`;
}

/** A text without the whole line that something stands in. */
function withoutLine(text: string, { span }: Pick<MatchLine, 'span'>): string {
  const start = text.lastIndexOf('\n', span.start - 1) + 1;
  const newline = text.indexOf('\n', span.end);
  return `${text.slice(0, start)}${newline < 0 ? '' : text.slice(newline + 1)}`;
}

/** A text with a line behind another one, or at its end. */
function withLineAfter(text: string, before: Pick<MatchLine, 'span'> | undefined, line: string): string {
  const newline = before ? text.indexOf('\n', before.span.end) : -1;
  if (newline < 0) return `${text === '' || text.endsWith('\n') ? text : `${text}\n`}${line}\n`;
  return `${text.slice(0, newline + 1)}${line}\n${text.slice(newline + 1)}`;
}

const PARTS = {
  reading: /^(at the time|mean|total|last)\b/i,
  error: /^(no error|error)\b/i,
} as const;
/** What can be said of a tie in a word of the sentence. */
export type TiePart = keyof typeof PARTS;

/** What a tie says of one part, as it is written; nothing where it says nothing. */
export function partOf({ parts }: Tie, part: TiePart): string | undefined {
  return parts.find(({ text }) => PARTS[part].test(text))?.text;
}

/** A tie that says something else of one part, or nothing. */
export function withPart(text: string, tie: Tie, part: TiePart, words: string | undefined): string {
  const old = tie.parts.find(({ text }) => PARTS[part].test(text));
  if (old && words !== undefined) return replaced(text, old.span, words);
  if (old) {
    const comma = text.lastIndexOf(',', old.span.start);
    return replaced(text, { start: comma, end: old.span.end }, '');
  }
  return words === undefined ? text : replaced(text, { start: tie.span.end, end: tie.span.end }, `, ${words}`);
}

export function withExpression(text: string, tie: Tie, expression: string): string {
  return replaced(text, tie.expression.span, expression);
}

const USUAL_SEARCH = 'by sequential monte carlo, 200 draws, at most 2000 runs';

/** What is thought of a parameter before anything is known: its bounds, or half to three times half its value. */
export function usualPrior({ type, options, whole, value, min, max, unitFactor, unitLabel }: ParameterPlan): string {
  if (type === 'yes or no') return 'yes, no';
  if (options) return options.join(', ');
  const shown = (x: number): number => Number((x / unitFactor).toPrecision(6));
  const inUnit = (range: string): string => `${range} ${unitLabel}`.trim();
  if (min !== undefined && max !== undefined) return inUnit(`${shown(min)} to ${shown(max)}`);
  const [low, high] =
    value === 0 ? [0, 1] : [shown(Math.min(value / 2, value * 1.5)), shown(Math.max(value / 2, value * 1.5))];
  return inUnit(whole ? `${Math.floor(low)} to ${Math.ceil(high)}` : `${low} to ${high}`);
}

/** A text that seeks a parameter with this prior, in the place of the one it had. */
export function withUnknown(text: string, parameter: string, prior: string): string {
  const finds = linesLike(text, 'find');
  const found = finds.find(({ name }) => name.text.toLowerCase() === parameter.toLowerCase());
  if (found?.value.text) return replaced(text, found.value.span, prior);
  const line = `find ${parameter} ${prior}`;
  if (found) return replaced(text, found.span, line);
  const [by] = linesLike(text, 'by');
  if (finds.length > 0) return withLineAfter(text, finds.at(-1), line);
  return by
    ? replaced(text, { start: by.span.start, end: by.span.start }, `${line}\n`)
    : withLineAfter(withLineAfter(text, undefined, line), undefined, USUAL_SEARCH);
}

/** A text that no longer seeks a parameter; without any it says no way of finding either. */
export function withoutUnknown(text: string, parameter: string): string {
  const finds = linesLike(text, 'find');
  const found = finds.find(({ name }) => name.text.toLowerCase() === parameter.toLowerCase());
  if (!found) return text;
  const next = withoutLine(text, found);
  const [by] = linesLike(next, 'by');
  return finds.length === 1 && by ? withoutLine(next, by) : next;
}

export function withSearch(text: string, search: Partial<Pick<LineOf<'by'>, 'method' | 'draws' | 'most'>>): string {
  const [by] = linesLike(text, 'by');
  if (!by) return text;
  const { method, draws, most, luck } = { ...by, ...search };
  return replaced(
    text,
    by.span,
    `by ${method}${method === 'best point' ? '' : `, ${draws} draws`}, at most ${most} runs${luck === 1 ? '' : `, seed ${luck}`}`,
  );
}

/** A text that holds out what lies at a time or later; nothing if there is none. */
export function withHoldOut(text: string, from: string): string {
  const [held] = linesLike(text, 'hold out');
  const time = from.trim().replace(/^from\s+/i, '');
  if (!held) return time === '' ? text : withLineAfter(text, lastOfTables(text), `hold out from ${time}`);
  return time === '' ? withoutLine(text, held) : replaced(text, held.span, `hold out from ${time}`);
}

function lastOfTables(text: string): MatchLine | undefined {
  return matchLines(text).lines.findLast(({ is }) => is === 'observed' || is === 'time' || is === 'tie');
}

/** A text without the lines of a table. */
export function withoutTable(text: string, name: string): string {
  let next = text;
  for (;;) {
    const { lines } = matchLines(next);
    const at = lines.findIndex((line) => line.is === 'observed' && isNamed(line.value.text, name));
    if (at < 0) return next;
    let end = at + 1;
    while (lines[end]?.is === 'time' || lines[end]?.is === 'tie') end++;
    for (const line of lines.slice(at, end).reverse()) next = withoutLine(next, line);
  }
}

function isNamed(written: string, name: string): boolean {
  return written.replace(/^["“]|["”]$/g, '') === name;
}

/** A text with a table and what is read of it, in the place of what it said of the table before. @param lines without the one that names it */
export function withTable(text: string, name: string, lines: readonly string[]): string {
  const bare = withoutTable(text, name);
  const block = [`observed "${name}"`, ...lines.map((line) => `  ${line}`)].join('\n');
  const begun = linesLike(bare, 'match').length > 0 ? bare : `match ${name.replace(/\.\w+$/, '')}\n${bare}`;
  return withLineAfter(begun, lastOfTables(begun) ?? lastHead(begun), block);
}

function lastHead(text: string): MatchLine | undefined {
  return matchLines(text).lines.findLast(({ is }) => is === 'match' || is === 'note' || is === 'model');
}

/** The columns of a tie as they are written in a line. */
export function columnsWords(columns: readonly string[]): string {
  return `${columns.length === 1 ? 'column' : 'columns'} ${columns.map(quotedName).join(' and ')}`;
}
