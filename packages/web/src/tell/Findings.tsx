import type { Quotable } from '@vole/core';
import { filledWords, hasQuotes } from '@vole/core';
import { useRef } from 'react';
import { saveSoon } from '../session/session.ts';
import { projectActions } from '../store/project-slice.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { LineOnSheet } from './LineOnSheet.tsx';

/** Numbers that are offered to be quoted at most; any can be written. */
const MOST_OFFERED = 400;

/** What the modeler says of all that came out; numbers between braces are those of the studies, and follow them. */
export function Findings({ numbers }: { readonly numbers: readonly Quotable[] }) {
  const notes = useAppSelector((state) => state.project.notes);
  const dispatch = useAppDispatch();
  const field = useRef<HTMLTextAreaElement>(null);
  /** Where the cursor was last; at the end, as long as nobody put it anywhere. */
  const cursor = useRef<number>(undefined);
  const type = (words: string): void => {
    dispatch(projectActions.notesTyped(words));
    saveSoon();
  };
  const put = (quote: string): void => {
    const at = Math.min(cursor.current ?? notes.length, notes.length);
    const before = `${notes.slice(0, at)}${/\S$/.test(notes.slice(0, at)) ? ' ' : ''}{${quote}}`;
    cursor.current = before.length;
    type(before + notes.slice(at));
    field.current?.focus();
  };
  const quotes = hasQuotes(notes);
  return (
    <>
      <textarea
        ref={field}
        aria-label="Notes"
        rows={3}
        placeholder="What did you find, and what remains open? Empty lines part paragraphs."
        className={`field-sizing-content w-full rounded-sm border border-line bg-transparent p-2 ${quotes ? 'print:hidden' : ''}`}
        value={notes}
        onChange={(event) => {
          cursor.current = event.target.selectionEnd;
          type(event.target.value);
        }}
        onSelect={(event) => (cursor.current = event.currentTarget.selectionEnd)}
      />
      {numbers.length > 0 && (
        <p className="text-sm print:hidden">
          <label>
            <span className="text-faint">a number that follows its study:</span>{' '}
            <select
              aria-label="Quote a number"
              className="word max-w-72"
              value=""
              onChange={(event) => put(event.target.value)}
            >
              <option value="">choose ...</option>
              {numbers.slice(0, MOST_OFFERED).map(({ quote, value }) => (
                <option key={quote} value={quote}>
                  {quote}: {value}
                </option>
              ))}
            </select>
          </label>
        </p>
      )}
      {quotes && (
        <div
          aria-label="As it reads"
          role="group"
          className="mt-2 border-l-2 border-line pl-3 print:border-0 print:pl-0"
        >
          {notes
            .trim()
            .split(/\n\s*\n/)
            .map((part, i) => (
              <p key={i} className="mb-2">
                <LineOnSheet line={filledWords(part, numbers)} />
              </p>
            ))}
        </div>
      )}
    </>
  );
}
