import page from '../../../../docs/language.md?raw';

/** One entry of the language reference, as docs/language.md has it. */
export interface ReferenceEntry {
  readonly section: string;
  readonly text: string;
}

const LONGEST = 420;

/** All entries: the items of the lists, and the paragraphs that are no example, under the heading they stand under. */
function entriesOf(markdown: string): ReferenceEntry[] {
  const entries: ReferenceEntry[] = [];
  const prose = markdown.replace(/```[\s\S]*?```/g, '');
  for (const chapter of prose.split(/^## /m).slice(1)) {
    const [section = '', ...lines] = chapter.split('\n');
    for (const block of lines.join('\n').split(/\n(?=- |\|)|\n\s*\n/)) {
      // A row of a table reads “what is written: what it means”.
      const text = block
        .replace(/^- /, '')
        .replace(/^\| (.*?) \| (.*) \|$/, '$1: $2')
        .replace(/\s+/g, ' ')
        .trim();
      if (text && !/^(?:\||Errors:|Reserved)/.test(text)) entries.push({ section, text });
    }
  }
  return entries;
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
