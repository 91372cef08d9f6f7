import type { Token } from 'marked';
import { parser } from 'marked';
import type { MouseEvent } from 'react';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { ManualPlace } from '../store/interface-slice.ts';
import { interfaceActions } from '../store/interface-slice.ts';
import { useAppDispatch } from '../store/store.ts';
import { Listing } from './Listing.tsx';
import type { ManualSection } from './pages.ts';
import { PAGES, runnableAt, SECTIONS, targetOf } from './pages.ts';
import { searchManual } from './search.ts';

/** The pages of the manual, its search, and what was found. */
export function ManualText({ place }: { readonly place: ManualPlace }) {
  const dispatch = useAppDispatch();
  const [question, setQuestion] = useState('');
  const section = SECTIONS.get(place.section) ?? PAGES[0]!.sections[0]!;
  const page = PAGES.find(({ id }) => id === section.page)!;
  const found = useMemo(() => (question.trim() ? searchManual(question) : undefined), [question]);
  const body = useRef<HTMLDivElement>(null);
  const isSearching = found !== undefined;

  useEffect(() => {
    if (isSearching) body.current?.scrollTo({ top: 0 });
    else show(body.current, section.id, place.word);
  }, [isSearching, question, section.id, place]);

  const go = (id: string): void => {
    setQuestion('');
    dispatch(interfaceActions.manualOpened({ section: id }));
  };
  const follow = (event: MouseEvent): void => {
    const link = (event.target as Element).closest('a');
    const href = link?.getAttribute('href');
    if (!href) return;
    event.preventDefault();
    const target = targetOf(href, page.id);
    if (target) go(target);
  };
  return (
    <>
      <div className="border-b border-line px-5 pb-2">
        <input
          type="search"
          autoFocus
          aria-label="Search the manual"
          placeholder="Search the manual ..."
          className="my-2 w-full rounded border border-line bg-ground px-3 py-1.5"
          value={question}
          onChange={(event) => setQuestion(event.target.value)}
        />
        <nav aria-label="Pages of the manual" className="flex flex-wrap gap-x-3">
          {PAGES.map(({ id, title, sections }) => (
            <button
              key={id}
              type="button"
              aria-current={!isSearching && id === page.id ? 'page' : undefined}
              className={!isSearching && id === page.id ? 'border-b-2 border-accent font-semibold' : 'link'}
              onClick={() => go(sections[0]!.id)}
            >
              {title}
            </button>
          ))}
        </nav>
      </div>
      <div ref={body} className="manual min-h-0 flex-1 overflow-auto px-5 py-3" onClick={follow}>
        {found ? (
          <FoundList found={found} question={question} onGo={go} />
        ) : (
          <article aria-label={page.sections[0]!.title}>
            {page.sections.map((each) => (
              <Part key={each.id} section={each} />
            ))}
          </article>
        )}
      </div>
    </>
  );
}

/** Brings a section into sight, or a word in it where the word stands as code. */
function show(body: HTMLElement | null, id: string, word: string | undefined): void {
  const heading = body?.querySelector(`[data-section="${CSS.escape(id)}"]`);
  const isWord = word && new RegExp(`(?:^|[^\\w])${word.replace(/[^\w]/g, '')}(?:$|[^\\w])`, 'i');
  const code =
    isWord && [...(heading?.querySelectorAll('code') ?? [])].find(({ textContent }) => isWord.test(textContent));
  for (const marked of body?.querySelectorAll('.manual-sought') ?? []) marked.classList.remove('manual-sought');
  if (code) {
    code.classList.add('manual-sought');
    code.scrollIntoView({ block: 'center' });
  } else heading?.scrollIntoView({ block: 'start' });
}

function Part({ section }: { readonly section: ManualSection }) {
  const { id, title, depth, tokens } = section;
  const Heading = depth === 1 ? 'h2' : depth === 2 ? 'h3' : 'h4';
  return (
    <section data-section={id} className="scroll-mt-3">
      <Heading className={depth === 1 ? 'mt-1 mb-2 text-xl' : 'mt-5 mb-1 text-[17px]'}>{title}</Heading>
      {tokens.map((token, i) => (
        <Piece key={i} token={token} listing={() => runnableAt(section, i)} />
      ))}
    </section>
  );
}

function Piece({ token, listing }: { readonly token: Token; readonly listing: () => ReturnType<typeof runnableAt> }) {
  if (token.type === 'code') return <Listing text={(token as { text: string }).text} runnable={listing()} />;
  if (token.type === 'space') return null;
  // The pages are those of docs/, which come with the application.
  return <div dangerouslySetInnerHTML={{ __html: parser([token]) }} />;
}

function FoundList({
  found,
  question,
  onGo,
}: {
  readonly found: ReturnType<typeof searchManual>;
  readonly question: string;
  readonly onGo: (id: string) => void;
}) {
  if (found.length === 0) return <p role="status">Nothing is found for “{question.trim()}”. Try other words.</p>;
  return (
    <ul aria-label="Found">
      {found.map(({ section, piece }) => (
        <li key={section.id} className="mb-2.5">
          <button type="button" className="link" onClick={() => onGo(section.id)}>
            {section.title}
          </button>{' '}
          <span className="text-sm text-faint">{PAGES.find(({ id }) => id === section.page)!.title}</span>
          <p className="text-sm">{piece}</p>
        </li>
      ))}
    </ul>
  );
}
