import MiniSearch from 'minisearch';
import type { ManualSection } from './pages.ts';
import { PAGES, SECTIONS } from './pages.ts';

/** What a search found, the best first. */
export interface Found {
  readonly section: ManualSection;
  /** The words round the first place. */
  readonly piece: string;
}

let index: MiniSearch<ManualSection> | undefined;

function indexed(): MiniSearch<ManualSection> {
  if (index) return index;
  index = new MiniSearch<ManualSection>({
    fields: ['title', 'words'],
    searchOptions: { boost: { title: 4 }, prefix: true, fuzzy: 0.15, combineWith: 'AND' },
  });
  index.addAll(PAGES.flatMap(({ sections }) => sections.filter(({ words }) => words.trim() !== '')));
  return index;
}

const MOST_FOUND = 30;
const BEFORE = 60;
const AFTER = 140;

/** Sections in which all words of a question occur, or words much like them; where there is none, those with some of them. */
export function searchManual(question: string): Found[] {
  const all = indexed().search(question);
  const results = all.length > 0 ? all : indexed().search(question, { combineWith: 'OR' });
  return results.slice(0, MOST_FOUND).map(({ id, terms }) => {
    const section = SECTIONS.get(id as string)!;
    return { section, piece: pieceOf(section.words, terms) };
  });
}

function pieceOf(words: string, terms: readonly string[]): string {
  const plain = words.replace(/\s+/g, ' ').trim();
  const places = terms.map((term) => plain.toLowerCase().indexOf(term.toLowerCase())).filter((at) => at >= 0);
  const at = places.length > 0 ? Math.min(...places) : 0;
  const from = at <= BEFORE ? 0 : plain.indexOf(' ', at - BEFORE) + 1;
  const to = from + BEFORE + AFTER;
  return `${from > 0 ? '... ' : ''}${plain.slice(from, to)}${to < plain.length ? ' ...' : ''}`;
}
