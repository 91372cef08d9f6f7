import type { MarkedToken, Tokens } from 'marked';
import { lexer } from 'marked';
import page from '../../../../docs/language.md?raw';

/** One entry of the language reference, as docs/language.md has it. */
export interface ReferenceEntry {
  readonly section: string;
  readonly text: string;
}

const LONGEST = 420;

/** All entries: the items of the lists, the rows of the tables and the paragraphs, under the heading they stand under. */
function entriesOf(markdown: string): ReferenceEntry[] {
  let section = '';
  return lexer(markdown).flatMap((token) => {
    if (token.type === 'heading' && token.depth === 2) section = (token as Tokens.Heading).text;
    return section === '' ? [] : textsOf(token as MarkedToken).flatMap((text) => entryOf(section, text));
  });
}

function textsOf(token: MarkedToken): string[] {
  if (token.type === 'list') return token.items.map(({ text }) => text);
  // A row of a table reads “what is written: what it means”.
  if (token.type === 'table') return token.rows.map((cells) => cells.map(({ text }) => text).join(': '));
  return token.type === 'paragraph' ? [token.raw] : [];
}

function entryOf(section: string, raw: string): ReferenceEntry[] {
  const text = raw.replace(/\s+/g, ' ').trim();
  return text && !/^(?:Errors:|Reserved)/.test(text) ? [{ section, text }] : [];
}

const ENTRIES = entriesOf(page);

/** The entry that explains a word of the language: the one in which it is written as code soonest. */
export function referenceEntry(word: string): ReferenceEntry | undefined {
  const isWord = new RegExp(`(?:^|[^\\w])${word}(?:$|[^\\w])`, 'i');
  let best: { entry: ReferenceEntry; at: number } | undefined;
  for (const entry of ENTRIES) {
    if (entry.section === 'A tour') continue;
    const code = [...entry.text.matchAll(/`([^`]+)`/g)].find((span) => isWord.test(span[1]!));
    if (code && (!best || code.index < best.at)) best = { entry, at: code.index };
  }
  if (!best) return undefined;
  const { section, text } = best.entry;
  // Of a long entry the sentence with the word, and what follows it.
  const from = best.at < LONGEST / 2 ? 0 : Math.max(text.lastIndexOf('. ', best.at) + 2, 0);
  const cut = text.slice(from, from + LONGEST);
  const words = cut
    .replace(/\*\*/g, '')
    .replace(/`/g, '')
    .replace(/\[([^\]]+)\]\([^)]*\)/g, '$1');
  return { section, text: from + LONGEST < text.length ? `${words.slice(0, words.lastIndexOf(' '))} ...` : words };
}
