import type { Span } from '../../diagnostics.ts';

/** A piece of a line with its place in the text of the study. */
export interface Piece {
  readonly text: string;
  readonly span: Span;
}

/** The lines of a text with something in them, without remarks after #. */
export function linesOf(text: string): Piece[] {
  const pieces: Piece[] = [];
  let at = 0;
  for (const whole of text.split('\n')) {
    const bare = withoutRemark(whole);
    const start = at + (bare.length - bare.trimStart().length);
    const span = { start, end: start + bare.trim().length };
    at += whole.length + 1;
    if (span.end > span.start) pieces.push({ text: bare.trim(), span });
  }
  return pieces;
}

/** A line up to a # that stands outside quotes. */
function withoutRemark(line: string): string {
  let isQuoted = false;
  for (let i = 0; i < line.length; i++) {
    if (line[i] === '"') isQuoted = !isQuoted;
    else if (line[i] === '#' && !isQuoted) return line.slice(0, i);
  }
  return line;
}

/** The rest of a piece from some place on. */
export function rest({ text, span }: Piece, start: number): Piece {
  const tail = text.slice(start);
  const lead = tail.length - tail.trimStart().length;
  return { text: tail.trim(), span: { start: span.start + start + lead, end: span.end } };
}

/** A piece from one place to another, without spaces around it. */
function part(piece: Piece, start: number, end: number): Piece {
  const { text, span } = rest(piece, start);
  const trimmed = text.slice(0, Math.max(0, end - (span.start - piece.span.start))).trimEnd();
  return { text: trimmed, span: { start: span.start, end: span.start + trimmed.length } };
}

/** The pieces between what parts them, where it stands outside quotes and brackets. */
export function splitOutside(piece: Piece, by: string | RegExp): Piece[] {
  const { text } = piece;
  const pieces: Piece[] = [];
  let [start, depth, isQuoted] = [0, 0, false];
  for (let i = 0; i < text.length; i++) {
    if (text[i] === '"') isQuoted = !isQuoted;
    if (isQuoted) continue;
    if (text[i] === '(') depth++;
    if (text[i] === ')') depth--;
    if (depth > 0) continue;
    const length = typeof by === 'string' ? (text.startsWith(by, i) ? by.length : 0) : lengthAt(by, text, i);
    if (length === 0) continue;
    pieces.push(part(piece, start, i));
    start = i + length;
    i = start - 1;
  }
  return [...pieces, part(piece, start, text.length)];
}

function lengthAt(by: RegExp, text: string, at: number): number {
  const found = by.exec(text.slice(at));
  return found?.index === 0 ? found[0].length : 0;
}

/** What stands between quotes, or the piece as it is. */
export function withoutQuotes({ text, span }: Piece): Piece {
  const bare = /^["“](.*)["”]$/.exec(text)?.[1];
  return bare === undefined ? { text, span } : { text: bare, span: { start: span.start + 1, end: span.end - 1 } };
}
