import type { Token } from './lexer.ts';
import { lex } from './lexer.ts';

const NO_SPACE_BEFORE = new Set([')', ',', ':', '.']);
const INDENT = '  ';

type Uses = ReadonlyMap<number, { readonly spelling: string }>;

/**
 * A model text in its usual layout: two blanks a level, one blank between words, signs and operators set off, at most one empty line in a
 * row. Words, values, comments and line breaks inside statements stay; names are respelled as declared where `uses` says so.
 * A text with a wrong layout is returned as it is.
 */
export function formatModel(text: string, uses: Uses = new Map()): string {
  const { tokens, comments, diagnostics } = lex(text);
  if (diagnostics.length > 0) return text;
  const lines = linesOf(text);
  const depths = depthOfLines(tokens, lines);
  const out: string[] = [];
  let depth = 0;
  for (const [i, line] of lines.entries()) {
    const own = tokens.filter(
      (token) => isVisible(token) && token.span.start >= line.start && token.span.start < line.end,
    );
    const comment = comments.find((c) => c.span.start >= line.start && c.span.start < line.end);
    if (own.length === 0 && !comment) {
      if (out.length > 0 && out[out.length - 1] !== '') out.push('');
      continue;
    }
    const first = depths.get(i);
    if (first !== undefined) depth = first;
    const isContinuation = own.length > 0 && first === undefined;
    const body = joined(own, uses);
    const note = comment ? text.slice(comment.span.start, comment.span.end).trimEnd() : '';
    const indent =
      own.length === 0 ? INDENT.repeat(nextDepth(depths, i, depth)) : INDENT.repeat(isContinuation ? depth + 2 : depth);
    out.push(`${indent}${body}${body && note ? '  ' : ''}${note}`);
  }
  while (out.length > 0 && out[out.length - 1] === '') out.pop();
  return `${out.join('\n')}\n`;
}

interface Line {
  readonly start: number;
  readonly end: number;
}

function linesOf(text: string): Line[] {
  const lines: Line[] = [];
  let start = 0;
  for (const piece of text.split('\n')) {
    lines.push({ start, end: start + piece.length + 1 });
    start += piece.length + 1;
  }
  return lines;
}

function isVisible(token: Token): boolean {
  return token.type !== 'newline' && token.type !== 'indent' && token.type !== 'dedent' && token.type !== 'end';
}

/** Depth of each line that begins a statement; lines that go on have none. */
function depthOfLines(tokens: readonly Token[], lines: readonly Line[]): Map<number, number> {
  const depths = new Map<number, number>();
  let depth = 0;
  let begins = true;
  let line = 0;
  for (const token of tokens) {
    if (token.type === 'indent') depth++;
    else if (token.type === 'dedent') depth--;
    else if (token.type === 'newline') begins = true;
    else if (begins && token.type !== 'end') {
      while (line < lines.length - 1 && lines[line]!.end <= token.span.start) line++;
      depths.set(line, depth);
      begins = false;
    }
  }
  return depths;
}

/** A comment on a line of its own stands with the statement that follows it. */
function nextDepth(depths: ReadonlyMap<number, number>, line: number, otherwise: number): number {
  const following = [...depths.keys()].filter((key) => key > line);
  return following.length > 0 ? depths.get(Math.min(...following))! : otherwise;
}

/** Tokens of one line with the usual blanks between them. */
export function joined(tokens: readonly Token[], uses: Uses): string {
  let result = '';
  tokens.forEach((token, i) => {
    const before = tokens[i - 1];
    // What stands as it is may begin with a name, as the head of a table does.
    const spelled =
      (token.type === 'text' ? undefined : uses.get(token.span.start)?.spelling) ??
      (token.type === 'percent' ? token.text.replace(/\s*%/, ' %') : token.text);
    result += (before && isSpaced(before, token, tokens[i - 2]) ? ' ' : '') + spelled;
  });
  return result;
}

function isSpaced(before: Token, token: Token, beforeThat: Token | undefined): boolean {
  if (NO_SPACE_BEFORE.has(token.word)) return false;
  if (before.word === '(' || before.word === '.') return false;
  if (token.word === '(') return before.type === 'op' || before.span.end < token.span.start;
  const isSign =
    before.word === '-' &&
    (!beforeThat || (beforeThat.type === 'op' && beforeThat.word !== ')') || isWordBeforeSign(beforeThat));
  return !isSign;
}

/** After words such as `by` or `then` a minus is a sign, not a subtraction. */
function isWordBeforeSign(token: Token): boolean {
  return (
    token.type === 'name' &&
    [
      'by',
      'to',
      'from',
      'then',
      'else',
      'and',
      'or',
      'not',
      'is',
      'when',
      'where',
      'of',
      'after',
      'rate',
      'chance',
      'grow',
      'start',
      'keep',
      'if',
    ].includes(token.word)
  );
}
