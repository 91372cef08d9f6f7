import { readdirSync, readFileSync } from 'node:fs';
import { RandomStream } from '../src/engine/random/stream.ts';
import { lex } from '../src/language/lexer.ts';
import { CONSTRUCT_MODELS } from './construct-models.ts';

/** Texts that people might have typed: right models with slips of the hand. */

const EXAMPLES = new URL('../../../examples/', import.meta.url);
export const TEXTS = [
  ...readdirSync(EXAMPLES)
    .filter((name) => name.endsWith('.vole'))
    .map((name) => readFileSync(new URL(name, EXAMPLES), 'utf8')),
  ...CONSTRUCT_MODELS.map(([, text]) => text),
];
const SPARE = [
  '(',
  ')',
  ':',
  ',',
  '.',
  '=',
  '+',
  '0',
  '3 m',
  '20 %',
  'yes',
  'it',
  'self',
  'here',
  'nobody',
  'count',
  'within',
  'where',
  'of',
  'by',
  'with',
  'if',
  'then',
  'else',
  'agent',
  'field',
  'states',
  'order',
  '\n',
  '\n  ',
  '"',
  '#',
];

/** Words of which one can stand where another does. */
const SORTS: readonly (readonly string[])[] = [
  ['+', '-', '*', '/'],
  ['+=', '-=', '*=', '='],
  ['<', '>', '<=', '>='],
  ['and', 'or'],
  ['min', 'max', 'mean'],
  ['random', 'nearest', 'farthest'],
  ['wrapping', 'walled', 'reflecting'],
  ['x', 'y', 'direction', 'age'],
  ['sin', 'cos', 'exp', 'floor', 'round', 'sqrt'],
  ['uniform', 'normal', 'whole'],
];
const PHRASES: readonly (readonly string[])[] = [
  ['in turn', 'all at once', 'in fixed order'],
  ['next to here', 'within 2', 'within 3', 'in a square of 2', 'here'],
  [', one agent a cell', ''],
  ['4 neighbours', '8 neighbours'],
  ['anywhere', 'nowhere', 'here'],
];
const PHRASE = new RegExp(
  PHRASES.flat()
    .filter((phrase) => phrase !== '' && phrase !== 'here')
    .join('|'),
  'g',
);
const NUMBERS = ['0', '1', '2', '3', '0.5', '7'];

const sortOf = (word: string): readonly string[] | undefined => SORTS.find((sort) => sort.includes(word));

export class Typist {
  private readonly luck: RandomStream;

  constructor(seed: number) {
    this.luck = RandomStream.of(seed, 0, 0);
  }

  below(n: number): number {
    return Math.floor((this.luck.word() / 4294967296) * n);
  }

  /** A text with one to four slips of the hand: something left out, doubled, swapped, mistyped or put in. */
  slip(text: string, slips = 1 + this.below(4)): string {
    let typed = text;
    for (let i = 0; i < slips; i++) typed = this.once(typed);
    return typed;
  }

  /** A text in which some words and numbers are others of their sort, as while one tries things: most are right, none has more agents or takes longer. */
  change(text: string, changes = 1 + this.below(4)): string {
    let changed = text;
    for (let i = 0; i < changes; i++) {
      const phrases = [...changed.matchAll(PHRASE)];
      if (phrases.length > 0 && this.below(3) === 0) {
        const { index, 0: phrase } = phrases[this.below(phrases.length)]!;
        const others = PHRASES.find((list) => list.includes(phrase))!;
        changed = changed.slice(0, index) + others[this.below(others.length)]! + changed.slice(index + phrase.length);
        continue;
      }
      const tokens = lex(changed).tokens.filter(({ type, word }) => type === 'number' || sortOf(word) !== undefined);
      if (tokens.length === 0) return changed;
      const { type, word, span } = tokens[this.below(tokens.length)]!;
      const sort = type === 'number' ? NUMBERS : sortOf(word)!;
      changed = changed.slice(0, span.start) + sort[this.below(sort.length)]! + changed.slice(span.end);
    }
    return changed;
  }

  private once(text: string): string {
    const tokens = lex(text).tokens.filter(({ span }) => span.end > span.start);
    if (tokens.length === 0) return text;
    const { span } = tokens[this.below(tokens.length)]!;
    const piece = text.slice(span.start, span.end);
    const put = (words: string): string => text.slice(0, span.start) + words + text.slice(span.end);
    switch (this.below(7)) {
      case 0:
        return put('');
      case 1:
        return put(`${piece} ${piece}`);
      case 2:
        return put(SPARE[this.below(SPARE.length)]!);
      case 3: {
        const other = tokens[this.below(tokens.length)]!;
        return put(text.slice(other.span.start, other.span.end));
      }
      case 4:
        return put(piece.slice(0, -1) + String.fromCharCode(97 + this.below(26)));
      case 5: {
        const lines = text.split('\n');
        lines.splice(this.below(lines.length), 1);
        return lines.join('\n');
      }
      default: {
        const lines = text.split('\n');
        const at = this.below(lines.length);
        lines[at] = this.below(2) === 0 ? `  ${lines[at]}` : lines[at]!.replace(/^ {2}/, '');
        return lines.join('\n');
      }
    }
  }
}
