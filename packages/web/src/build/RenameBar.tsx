import { applyEdits, Names, placeOf } from '@vole/core';
import { useMemo, useState } from 'react';
import { changeText } from '../session/session.ts';
import { filesBeside } from '../simulation/beside.ts';
import { useAppSelector } from '../store/store.ts';

/** Gives what is named at a place of the text another name, wherever it stands; undo takes it back in one step. */
export function RenameBar({ at, onDone }: { readonly at: number; readonly onDone: () => void }) {
  const text = useAppSelector((state) => state.project.text);
  const names = useMemo(() => new Names(text, filesBeside()), [text]);
  const { name, spans } = useMemo(() => names.named(at) ?? { name: '', spans: [] }, [names, at]);
  const [typed, setTyped] = useState(name);
  const isOther = typed !== name && typed !== '';
  const { edits, problem } = isOther ? names.rename(at, typed) : { edits: [], problem: undefined };
  const lines = [...new Set(spans.map((span) => placeOf(text, span.start).line))];
  return (
    <form
      aria-label="Rename everywhere"
      className="flex flex-wrap items-baseline gap-x-3 border-t border-line bg-wash px-4 py-1"
      onSubmit={(event) => {
        event.preventDefault();
        if (!isOther || problem) return;
        changeText(applyEdits(text, edits));
        onDone();
      }}
      onKeyDown={(event) => event.key === 'Escape' && onDone()}
    >
      <label>
        call <b>{name}</b>{' '}
        <input
          autoFocus
          aria-label="New name"
          className="word ml-1 w-40"
          value={typed}
          onFocus={(event) => event.target.select()}
          onChange={(event) => setTyped(event.target.value.trim())}
        />
      </label>
      <span className="text-faint" title={`In line ${lines.join(', ')}`}>
        in {spans.length} {spans.length === 1 ? 'place' : 'places'}
      </span>
      <button type="submit" className="link" disabled={!isOther || problem !== undefined}>
        rename
      </button>
      <button type="button" className="link" onClick={onDone}>
        leave it
      </button>
      {problem && (
        <span role="alert" className="text-problem">
          {problem}
        </span>
      )}
    </form>
  );
}
