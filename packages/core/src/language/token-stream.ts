import type { Diagnostic, Span } from '../diagnostics.ts';
import type { Token, TokenType } from './lexer.ts';
import { stringValue } from './lexer.ts';
import * as say from './reading-messages.ts';
import type { Name } from './syntax.ts';
import { isUnitWord } from './units.ts';
import { isReserved } from './words.ts';

/** Thrown inside the parser to leave a line that cannot be read; caught where lines are read, never outside. */
export class LineUnreadable extends Error {}

/** Of what values are written, and what stands behind one. */
const VALUE_TYPES: ReadonlySet<TokenType> = new Set(['name', 'number', 'percent', 'op']);
/** What no word of a line is. */
const ENDS_LINE: ReadonlySet<TokenType> = new Set(['string', 'newline', 'indent', 'dedent', 'end']);
const AFTER_VALUE: ReadonlySet<string> = new Set([
  ...['and', 'or', 'is', 'then', 'else', 'when', 'where'],
  ...['<', '<=', '>', '>=', ',', ')', ':'],
]);

/** A place in the tokens, with the small questions that every rule of the grammar asks. */
export class TokenStream {
  readonly diagnostics: Diagnostic[] = [];
  private at = 0;

  /** Units that the model declares itself, lower-cased. */
  private readonly ownUnits = new Set<string>();
  private readonly heads = new Set<string>();

  constructor(
    private readonly tokens: readonly Token[],
    private readonly text: string,
  ) {
    tokens.forEach((token, i) => {
      const before = tokens[i - 1];
      const isDeclared =
        before?.word === 'unit' &&
        token.type === 'name' &&
        (tokens[i - 2] === undefined || ['newline', 'dedent'].includes(tokens[i - 2]!.type));
      if (isDeclared) this.ownUnits.add(token.word);
      const isListed = before?.word === 'has' && tokens[i + 1]?.word === ':' && tokens[i + 2]?.word === 'last';
      if (before?.word === 'agent' || before?.word === 'tally' || isListed) this.heads.add(token.word);
    });
  }

  textOf(span: Span): string {
    return this.text.slice(span.start, span.end);
  }

  /** Whether a word is declared as something that can be asked for: a kind, a list, a tally. */
  isQueryHead(word: string): boolean {
    return this.heads.has(word);
  }

  isUnit(word: string): boolean {
    return isUnitWord(word) || this.ownUnits.has(word);
  }

  get current(): Token {
    return this.tokens[this.at]!;
  }

  ahead(distance: number): Token {
    return this.tokens[Math.min(this.at + distance, this.tokens.length - 1)]!;
  }

  get previousEnd(): number {
    return this.at === 0 ? 0 : this.tokens[this.at - 1]!.span.end;
  }

  spanFrom(start: number): Span {
    return { start, end: Math.max(start, this.previousEnd) };
  }

  is(word: string): boolean {
    return this.current.word === word;
  }

  isType(type: TokenType): boolean {
    return this.current.type === type;
  }

  /** Whether the next tokens are these words, in this order. */
  areWords(...words: string[]): boolean {
    return words.every((word, i) => this.ahead(i).word === word);
  }

  take(): Token {
    const token = this.current;
    if (token.type !== 'end') this.at++;
    return token;
  }

  takeIf(...words: string[]): boolean {
    if (!this.areWords(...words)) return false;
    for (let i = 0; i < words.length; i++) this.take();
    return true;
  }

  expect(word: string, meaning: string): Token {
    if (this.is(word)) return this.take();
    return this.fail(say.missingWord(this.placeForMissing(), word, meaning, describe(this.current), this.previousEnd));
  }

  /**
   * A name chosen by the modeler: any word that is not reserved.
   * @param isNew whether a name may be given here, rather than one that stands elsewhere used
   */
  name(meaning: string, isNew = true): Name {
    const token = this.current;
    if (token.type !== 'name') return this.fail(say.missingName(this.placeForMissing(), meaning, describe(token)));
    if (isReserved(token.word)) return this.fail(say.reservedName(token.span, token.text, isNew));
    if (token.word.startsWith('__')) return this.fail(say.underscoredName(token.span, token.text, isNew));
    return toName(this.take());
  }

  placeForMissing(): Span {
    const token = this.current;
    if (token.type !== 'newline' && token.type !== 'end' && token.type !== 'indent' && token.type !== 'dedent')
      return token.span;
    const end = this.previousEnd;
    return { start: Math.max(0, end - 1), end };
  }

  fail(diagnostic: Diagnostic): never {
    this.diagnostics.push(diagnostic);
    throw new LineUnreadable();
  }

  report(diagnostic: Diagnostic): void {
    this.diagnostics.push(diagnostic);
  }

  /** The end of a line, with the sentence in quotes that may stand before it. */
  endOfLine(): string | undefined {
    const about = this.isType('string') ? stringValue(this.take()) : undefined;
    if (this.isType('newline')) this.take();
    else if (!this.isType('end')) this.failOnRest();
    return about;
  }

  private failOnRest(): never {
    const before = this.tokens[this.at - 1];
    const { current } = this;
    if (before?.type === 'name' && this.isUnit(current.word)) {
      this.fail(say.unitAfterName({ start: before.span.start, end: current.span.end }, before.text, current.text));
    }
    const isCalled = before?.type === 'name';
    if (isCalled && before.word === 'chance') this.fail(say.chanceWithoutBrackets(before.span, this.restOfValue()));
    if (isCalled && current.word === 'of') this.fail(say.notGathered(before.span, before.text));
    return this.fail(say.unexpectedRest(current.span, describe(current)));
  }

  /** From the token at hand to the last that belongs to one value. */
  private restOfValue(): Span {
    let last = this.at;
    for (let depth = 0, i = this.at; i < this.tokens.length; i++) {
      const { type, word } = this.tokens[i]!;
      if (word === '(') depth++;
      if (!VALUE_TYPES.has(type) || (depth === 0 && AFTER_VALUE.has(word))) break;
      if (word === ')') depth--;
      last = i;
    }
    return { start: this.current.span.start, end: this.tokens[last]!.span.end };
  }

  /** Goes to the start of the next line, leaving out the block under this one. */
  skipLine(): void {
    while (!this.isType('newline') && !this.isType('end')) {
      if (this.isType('indent') || this.isType('dedent')) break;
      this.take();
    }
    if (this.isType('newline')) this.take();
    if (this.isType('indent')) this.skipBlock();
  }

  /** Goes to a word of the line, or to what ends it. */
  skipTo(word: string): void {
    while (!this.is(word) && !ENDS_LINE.has(this.current.type)) this.take();
  }

  skipBlock(): void {
    let depth = 0;
    do {
      if (this.isType('indent')) depth++;
      if (this.isType('dedent')) depth--;
      this.take();
    } while (depth > 0 && !this.isType('end'));
  }

  /** Reads the lines under a header with `readLine`; a line that fails is reported and passed over. */
  block(readLine: () => void): boolean {
    if (!this.isType('indent')) return false;
    this.take();
    while (!this.isType('dedent') && !this.isType('end')) this.line(readLine);
    if (this.isType('dedent')) this.take();
    return true;
  }

  line(readLine: () => void): void {
    if (this.isType('indent')) {
      const line = this.ahead(1);
      const isSentence = line.type === 'string' && this.ahead(2).type === 'newline' && this.ahead(3).type === 'dedent';
      const above = this.tokens[this.at - 2]?.span.end ?? 0;
      this.report(isSentence ? say.sentenceBelow(line.span, this.textOf(line.span), above) : say.deeperLine(line.span));
      this.skipBlock();
      return;
    }
    if (this.is('note') && (this.ahead(1).type === 'text' || this.ahead(1).type === 'newline')) {
      this.skipLine();
      return;
    }
    try {
      readLine();
    } catch (stop) {
      if (!(stop instanceof LineUnreadable)) throw stop;
      this.skipLine();
      // The branches of a condition that could not be read are no mistakes of their own.
      while (this.is('else')) this.skipLine();
    }
  }
}

export function toName(token: Token): Name {
  return { text: token.text, key: token.text.toLowerCase(), span: token.span };
}

export function describe(token: Token): string {
  if (token.type === 'newline' || token.type === 'end' || token.type === 'dedent' || token.type === 'indent')
    return 'the end of the line';
  return `“${token.text}”`;
}
