import type { MarkedToken, Token, Tokens } from 'marked';
import { lexer } from 'marked';
import commandLine from '../../../../docs/command-line.md?raw';
import language from '../../../../docs/language.md?raw';
import recipes from '../../../../docs/manual/recipes.md?raw';
import statistics from '../../../../docs/manual/statistics.md?raw';
import tour from '../../../../docs/manual/tour.md?raw';
import matching from '../../../../docs/match.md?raw';
import files from '../../../../docs/files.md?raw';
import report from '../../../../docs/report.md?raw';
import studies from '../../../../docs/studies.md?raw';
import type { Example } from '../storage/demo.ts';
import { DEMO } from '../storage/demo.ts';
import { slugOf } from './slug.ts';

/** The pages of the manual, as docs/ has them; they come with the application and need no network. */

/** A part of a page: what stands below a heading, up to the next. */
export interface ManualSection {
  /** Of the page, and of the heading as links name it. */
  readonly id: string;
  readonly page: string;
  readonly title: string;
  readonly depth: number;
  readonly tokens: readonly Token[];
  /** All of it as plain words, to be searched. */
  readonly words: string;
}

export interface ManualPage {
  readonly id: string;
  readonly title: string;
  readonly sections: readonly ManualSection[];
}

const SOURCES: readonly (readonly [id: string, title: string, file: string, text: string])[] = [
  ['tour', 'Tour', 'manual/tour.md', tour],
  ['recipes', 'Recipes', 'manual/recipes.md', recipes],
  ['statistics', 'Numbers', 'manual/statistics.md', statistics],
  ['language', 'Language', 'language.md', language],
  ['studies', 'Studies', 'studies.md', studies],
  ['match', 'Matching', 'match.md', matching],
  ['report', 'Report', 'report.md', report],
  ['files', 'Files', 'files.md', files],
  ['command-line', 'Command line', 'command-line.md', commandLine],
];

function sectionsOf(page: string, text: string): ManualSection[] {
  const sections: { title: string; depth: number; tokens: Token[] }[] = [];
  for (const token of lexer(text)) {
    if (token.type === 'heading') {
      const { text: title, depth } = token as Tokens.Heading;
      sections.push({ title: title.replace(/`/g, ''), depth, tokens: [] });
    } else sections.at(-1)?.tokens.push(token);
  }
  return sections.map(({ title, depth, tokens }) => ({
    id: `${page}#${slugOf(title)}`,
    page,
    title,
    depth,
    tokens,
    words: tokens.map(({ raw }) => raw.replace(/[`*|#[\]]/g, ' ')).join(' '),
  }));
}

export const PAGES: readonly ManualPage[] = SOURCES.map(([id, title, , text]) => ({
  id,
  title,
  sections: sectionsOf(id, text),
}));

export const SECTIONS: ReadonlyMap<string, ManualSection> = new Map(
  PAGES.flatMap(({ sections }) => sections.map((section) => [section.id, section] as const)),
);

/** Where a link in a page leads: to a section of the manual, or nowhere in it. */
export function targetOf(href: string, from: string): string | undefined {
  const [path = '', anchor] = href.split('#');
  const name = path.split('/').at(-1);
  const page = path === '' ? from : SOURCES.find(([, , file]) => file.split('/').at(-1) === name)?.[0];
  if (page === undefined) return undefined;
  const first = PAGES.find(({ id }) => id === page)?.sections[0]?.id;
  const id = anchor ? `${page}#${anchor}` : first;
  return id !== undefined && SECTIONS.has(id) ? id : first;
}

/** A listing that can be opened as a project: a model, and the study or the match that follows it in the same section. */
export interface RunnableListing {
  readonly model: string;
  readonly study?: string;
  /** Of the demo, with the table that it is held against. */
  readonly match?: Example['match'];
}

/** The listing of a code block, if it is a whole model, a study of the last model before it on its page or of the demo, or a match of the demo. */
export function runnableAt(section: ManualSection, place: number): RunnableListing | undefined {
  const code = section.tokens[place] as MarkedToken;
  if (code.type !== 'code') return undefined;
  if (code.lang === 'vole') return { model: code.text };
  if (code.lang === 'match') return { model: DEMO.text, match: { ...DEMO.match!, text: `${code.text}\n` } };
  return code.lang === 'study' ? { model: modelBefore(section, place) ?? DEMO.text, study: code.text } : undefined;
}

/** The model that stands last on a page before a place in it. */
function modelBefore(section: ManualSection, place: number): string | undefined {
  const { sections } = PAGES.find(({ id }) => id === section.page)!;
  const tokens = sections.slice(0, sections.indexOf(section)).flatMap((earlier) => earlier.tokens);
  const model = ([...tokens, ...section.tokens.slice(0, place)] as MarkedToken[]).findLast(
    (token) => token.type === 'code' && token.lang === 'vole',
  );
  return model?.type === 'code' ? model.text : undefined;
}
