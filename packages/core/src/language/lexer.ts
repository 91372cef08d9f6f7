import type { Diagnostic, Span } from '../diagnostics.ts';
import * as say from './reading-messages.ts';
import { PART_WORDS } from './words.ts';

export type TokenType =
  | 'name'
  | 'number'
  | 'percent'
  | 'date'
  | 'time'
  | 'monthday'
  | 'string'
  | 'op'
  | 'text'
  | 'newline'
  | 'indent'
  | 'dedent'
  | 'end';

/** A word, number, sign, or change of layout, with its piece of the text. */
export interface Token {
  readonly type: TokenType;
  /** As written; for names compare `word`. */
  readonly text: string;
  /** Lower-cased text of a name, the operator itself, or the empty string. */
  readonly word: string;
  readonly value: number;
  readonly span: Span;
}

interface Comment {
  readonly span: Span;
}

export interface LexResult {
  readonly tokens: readonly Token[];
  readonly comments: readonly Comment[];
  readonly diagnostics: readonly Diagnostic[];
}

/** Longest text that is read, in UTF-16 units; far above any model written by hand. */
export const MAX_TEXT_LENGTH = 1_000_000;
const TAB_WIDTH = 4;
const MAX_BRACKETS = 64;
const CONTINUES = new Set(['and', 'or', 'then', '+', '-', '*', '/', '^', '=', '<', '<=', '>', '>=', ',']);
const OPERATORS = ['+=', '-=', '*=', '/=', '<=', '>=', '+', '-', '*', '/', '^', '=', '<', '>', '(', ')', ',', ':', '.'];
const NAME_START = /[\p{L}_]/u;
const NAME = /[\p{L}_][\p{L}\p{N}_]*/uy;
const NUMBER = /\d+(?:\.\d+)?(?:[eE][+-]?\d+)?/y;
const DATE = /\d{4}-\d{2}-\d{2}(?![\w])/y;
const MONTH_DAY = /\d{1,2}-\d{1,2}(?![\w-])/y;
const TIME_OF_DAY = /\d{1,2}:\d{2}(?![\w])/y;
const NEXT_LINE = /\r?\n(?:[ \t]*\r?\n)*([ \t]*)(\w+|\S)?/y;
const QUOTES: Record<string, string> = { '"': '"', '\u201c': '\u201d', '\u201e': '\u201c' };

/** Splits a model text into tokens with `indent` and `dedent` marks. Never throws; spans are offsets in `text`. */
export function lex(text: string): LexResult {
  if (text.length > MAX_TEXT_LENGTH) {
    const span = { start: 0, end: 0 };
    return { tokens: [endToken(0)], comments: [], diagnostics: [say.textTooLong(span, text.length, MAX_TEXT_LENGTH)] };
  }
  return new Lexer(text).run();
}

function endToken(at: number): Token {
  return { type: 'end', text: '', word: '', value: 0, span: { start: at, end: at } };
}

class Lexer {
  private readonly tokens: Token[] = [];
  private readonly comments: Comment[] = [];
  private readonly diagnostics: Diagnostic[] = [];
  private readonly columns: number[] = [0];
  private at = 0;
  private brackets = 0;
  /** Where the last character was that has no meaning and was reported; -1 before there is one. */
  private strayFrom = -1;
  /** Column of the header whose deeper lines are prose, or -1. */
  private proseColumn = -1;

  constructor(private readonly text: string) {}

  run(): LexResult {
    while (this.at < this.text.length) this.readLine();
    for (let i = this.columns.length - 1; i > 0; i--) this.push('dedent', this.at, this.at);
    this.tokens.push(endToken(this.text.length));
    return { tokens: this.tokens, comments: this.comments, diagnostics: this.diagnostics };
  }

  private push(type: TokenType, start: number, end: number, value = 0): void {
    const text = this.text.slice(start, end);
    const word = type === 'name' ? text.toLowerCase() : type === 'op' ? text : '';
    this.tokens.push({ type, text, word, value, span: { start, end } });
  }

  private lineEnd(from: number): number {
    const found = this.text.indexOf('\n', from);
    const end = found < 0 ? this.text.length : found;
    return end > from && this.text[end - 1] === '\r' ? end - 1 : end;
  }

  private skipLineBreak(): void {
    if (this.text[this.at] === '\r') this.at++;
    if (this.text[this.at] === '\n') this.at++;
  }

  private readIndent(): number {
    let column = 0;
    for (; this.at < this.text.length; this.at++) {
      const c = this.text[this.at];
      if (c === ' ' || c === '\u00a0' || c === '\ufeff') column += c === '\ufeff' ? 0 : 1;
      else if (c === '\t') column += TAB_WIDTH - (column % TAB_WIDTH);
      else break;
    }
    return column;
  }

  private readLine(): void {
    const column = this.readIndent();
    const end = this.lineEnd(this.at);
    if (this.at === end) {
      this.skipLineBreak();
      return;
    }
    if (this.proseColumn >= 0 && column > this.proseColumn) {
      this.openColumn(column);
      this.push('text', this.at, trimEnd(this.text, this.at, end));
      this.finishLine(end);
      return;
    }
    if (this.text[this.at] === '#') {
      this.readComment();
      this.skipLineBreak();
      return;
    }
    this.proseColumn = -1;
    this.openColumn(column);
    if (!this.readFreeText(column)) this.readTokens();
    this.finishLine(this.at);
  }

  private finishLine(end: number): void {
    this.at = end;
    this.push('newline', end, end);
    this.skipLineBreak();
  }

  private openColumn(column: number): void {
    const open = this.columns;
    if (column > open[open.length - 1]!) {
      open.push(column);
      this.push('indent', this.at, this.at);
      return;
    }
    while (column < open[open.length - 1]!) {
      const below = open[open.length - 2]!;
      if (column > below) {
        this.diagnostics.push(say.wrongIndent({ start: this.at, end: this.at + 1 }));
        open[open.length - 1] = column;
        return;
      }
      open.pop();
      this.push('dedent', this.at, this.at);
    }
  }

  /** Titles and notes: taken as they stand. Returns whether the line was one of them. */
  private readFreeText(column: number): boolean {
    NAME.lastIndex = this.at;
    const word = NAME.exec(this.text)?.[0];
    if (!word) return false;
    const lower = word.toLowerCase();
    if (column === 0 && lower === 'data' && /^\s*["\u201c\u201e]/.test(this.text.slice(this.at + word.length))) {
      this.proseColumn = column;
      return false;
    }
    const isOfStudy = lower === 'study' || lower === 'scenario';
    const isTitled = column === 0 && (lower === 'model' || lower === 'check' || lower === 'chart' || isOfStudy);
    if (!isTitled && lower !== 'note') return false;
    const end = this.lineEnd(this.at);
    const afterWord = this.at + word.length;
    if (/^\s*([=:.]|[-+*/]=)/.test(this.text.slice(afterWord, end))) return false;
    this.push('name', this.at, afterWord);
    if (lower === 'model' || lower === 'note' || isOfStudy) this.proseColumn = column;
    this.at = afterWord;
    this.skipBlanks();
    if (this.at < end && lower === 'chart' && this.text[this.at] !== '"') {
      const colon = this.text.slice(this.at, end).indexOf(':');
      const stop = colon < 0 ? end : this.at + colon;
      this.push('text', this.at, trimEnd(this.text, this.at, stop));
      this.at = stop;
      this.readTokens();
    } else if (lower === 'chart') {
      this.readTokens();
    } else {
      if (this.at < end) this.push('text', this.at, trimEnd(this.text, this.at, end));
      this.at = end;
    }
    return true;
  }

  private skipBlanks(): void {
    while (
      this.at < this.text.length &&
      (this.text[this.at] === ' ' || this.text[this.at] === '\t' || this.text[this.at] === '\u00a0')
    )
      this.at++;
  }

  private readComment(): void {
    const end = this.lineEnd(this.at);
    this.comments.push({ span: { start: this.at, end } });
    this.at = end;
  }

  private goesOn(): boolean {
    if (this.brackets > 0) return true;
    const last = this.tokens[this.tokens.length - 1];
    return last !== undefined && (last.type === 'op' || last.type === 'name') && CONTINUES.has(last.word);
  }

  private readTokens(): void {
    this.brackets = 0;
    while (this.at < this.text.length) {
      this.skipBlanks();
      const c = this.text[this.at];
      if (c === undefined) return;
      if (c === '#') {
        this.readComment();
        continue;
      }
      if (c === '\n' || c === '\r') {
        if (!this.goesOn() || this.nextLineIsBare()) return;
        this.skipLineBreak();
        continue;
      }
      this.readToken(c);
    }
  }

  /** An open bracket reaches over the line break unless the next line starts a part: a forgotten bracket then costs one line. */
  private nextLineIsBare(): boolean {
    NEXT_LINE.lastIndex = this.at;
    const next = NEXT_LINE.exec(this.text);
    if (!next?.[2]) return true;
    return next[1] === '' && (this.columns[this.columns.length - 1]! > 0 || PART_WORDS.has(next[2].toLowerCase()));
  }

  private matchAt(pattern: RegExp): string | undefined {
    pattern.lastIndex = this.at;
    return pattern.exec(this.text)?.[0];
  }

  private readToken(c: string): void {
    const start = this.at;
    if (c >= '0' && c <= '9') return this.readNumber(start);
    if (NAME_START.test(this.codePointText())) {
      this.at += this.matchAt(NAME)!.length;
      return this.push('name', start, this.at);
    }
    if (QUOTES[c]) return this.readString(start, QUOTES[c]);
    if (c === '\u2212' || c === '\u2013') {
      this.at++;
      this.tokens.push({ type: 'op', text: c, word: '-', value: 0, span: { start, end: this.at } });
      return;
    }
    const operator = OPERATORS.find((o) => this.text.startsWith(o, this.at));
    if (!operator) {
      const piece = this.codePointText();
      this.at += piece.length;
      // What is no line of a model at all is said once a line.
      if (this.strayFrom >= 0 && !this.text.slice(this.strayFrom, start).includes('\n')) return;
      this.strayFrom = start;
      this.diagnostics.push(say.strayCharacter({ start, end: this.at }, piece));
      return;
    }
    if (operator === '(' && ++this.brackets === MAX_BRACKETS) {
      this.diagnostics.push(say.tooDeep({ start, end: start + 1 }));
    }
    if (operator === ')' && this.brackets > 0) this.brackets--;
    this.at += operator.length;
    this.push('op', start, this.at);
  }

  private codePointText(): string {
    return String.fromCodePoint(this.text.codePointAt(this.at)!);
  }

  private readNumber(start: number): void {
    const date = this.matchAt(DATE);
    if (date) {
      this.at += date.length;
      return this.push('date', start, this.at);
    }
    const previous = this.tokens[this.tokens.length - 1];
    const monthDay = previous?.type === 'name' && previous.word === 'on' ? this.matchAt(MONTH_DAY) : undefined;
    if (monthDay) {
      this.at += monthDay.length;
      return this.push('monthday', start, this.at);
    }
    const time = this.matchAt(TIME_OF_DAY);
    if (time) {
      const [hours, minutes] = time.split(':').map(Number) as [number, number];
      this.at += time.length;
      if (hours > 24 || minutes > 59) this.diagnostics.push(say.badTime({ start, end: this.at }, time));
      return this.push('time', start, this.at, hours + minutes / 60);
    }
    const digits = this.matchAt(NUMBER)!;
    this.at += digits.length;
    const numberEnd = this.at;
    if (!Number.isFinite(Number(digits))) this.diagnostics.push(say.hugeNumber({ start, end: numberEnd }, digits));
    this.skipBlanks();
    if (this.text[this.at] === '%') {
      this.at++;
      return this.push('percent', start, this.at, Number(digits) / 100);
    }
    this.at = numberEnd;
    this.push('number', start, this.at, Number(digits));
  }

  private readString(start: number, close: string): void {
    const end = this.lineEnd(start);
    this.at++;
    while (this.at < end && this.text[this.at] !== close) this.at += this.text[this.at] === '\\' ? 2 : 1;
    if (this.at >= end) {
      this.at = end;
      this.diagnostics.push(say.openString({ start, end }, close));
    } else {
      this.at++;
    }
    this.push('string', start, this.at);
  }
}

function trimEnd(text: string, start: number, end: number): number {
  let stop = end;
  while (stop > start && /\s/.test(text[stop - 1]!)) stop--;
  return stop;
}

/** What a string token says, without its quotes and escapes. */
export function stringValue(token: Token): string {
  const closed = token.text.length > 1 && /["\u201d\u201c]$/.test(token.text) ? -1 : undefined;
  return token.text.slice(1, closed).replace(/\\(.)/g, '$1');
}
