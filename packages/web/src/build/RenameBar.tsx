import { applyEdits, renameEverywhere } from '@vole/core';
import { useState } from 'react';
import { changeText } from '../store/session.ts';
import { useAppSelector } from '../store/store.ts';

/** Gives a name of the text another one, wherever it stands; undo takes it back in one step. */
export function RenameBar({ name, onDone }: { readonly name: string; readonly onDone: () => void }) {
  const text = useAppSelector((state) => state.project.text);
  const [typed, setTyped] = useState(name);
  const isOther = typed !== name && typed !== '';
  const { edits, problem } = isOther ? renameEverywhere(text, name, typed) : { edits: [], problem: undefined };
  const places = text.match(new RegExp(`(?<![\\p{L}\\p{N}_])${name}(?![\\p{L}\\p{N}_])`, 'giu'))?.length ?? 0;
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
        <input autoFocus aria-label="New name" className="word ml-1 w-40" value={typed} onFocus={(event) => event.target.select()} onChange={(event) => setTyped(event.target.value.trim())} />
      </label>
      <span className="text-faint">in {places} {places === 1 ? 'place' : 'places'}</span>
      <button type="submit" className="link" disabled={!isOther || problem !== undefined}>rename</button>
      <button type="button" className="link" onClick={onDone}>leave it</button>
      {problem && <span role="alert" className="text-problem">{problem}</span>}
    </form>
  );
}
