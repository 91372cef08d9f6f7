import { addToModel, treeOf } from '@vole/core';
import { useMemo, useState } from 'react';
import { useLive } from '../../simulation/live-handle.ts';
import { useReadText } from '../../simulation/read-texts.ts';
import { changeText } from '../../session/session.ts';
import { useAppSelector } from '../../store/store.ts';
import type { Blank, ShelfPart } from './parts.ts';
import { filled, PEN, SHELF } from './parts.ts';
import { Sample } from './Sample.tsx';

const PURPOSES = [...new Set(SHELF.map((part) => part.purpose))];
const PEN_SETTING = { unit: '', space: 'Pen', isPlane: true } as const;

/** Ready behaviours by purpose: each with what the agent would say, a small run of it, and the text it puts into the model. */
export function ShelfPanel({ onInserted }: { readonly onInserted: (offset: number) => void }) {
  const [purpose, setPurpose] = useState(PURPOSES[0]!);
  const [open, setOpen] = useState<string>();
  const part = SHELF.find((other) => other.id === open);
  if (part) return <PartForm key={part.id} part={part} onClose={() => setOpen(undefined)} onInserted={onInserted} />;
  return (
    <div>
      <p className="flex flex-wrap gap-x-3 gap-y-0.5" role="radiogroup" aria-label="Purpose">
        {PURPOSES.map((name) => (
          <button
            key={name}
            type="button"
            role="radio"
            aria-checked={name === purpose}
            className={`border-b-2 ${name === purpose ? 'border-accent font-semibold' : 'border-transparent text-faint hover:text-ink'}`}
            onClick={() => setPurpose(name)}
          >
            {name}
          </button>
        ))}
      </p>
      <ul className="mt-1.5">
        {SHELF.filter((other) => other.purpose === purpose).map((other) => (
          <li key={other.id}>
            <button
              type="button"
              className="w-full rounded-sm py-1 text-left hover:bg-sheet"
              onClick={() => setOpen(other.id)}
            >
              <b className="font-semibold">{other.name}</b> <span className="text-faint italic">{other.sentence}</span>
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}

function PartForm({
  part,
  onClose,
  onInserted,
}: {
  readonly part: ShelfPart;
  readonly onClose: () => void;
  readonly onInserted: (offset: number) => void;
}) {
  const text = useAppSelector((state) => state.project.text);
  const plan = useLive((state) => state.plan);
  const { parts } = useMemo(() => treeOf(text), [text]);
  const kinds = parts.flatMap((p) => (p.is === 'agent' ? [p.name.text] : []));
  const fields = parts.flatMap((p) => (p.is === 'field' ? [p.name.text] : []));
  const [values, setValues] = useState<Readonly<Record<string, string>>>({});
  const choicesOf = (blank: Blank): readonly string[] =>
    blank.is === 'field' ? (fields.length > 0 ? fields : [blank.usual]) : kinds;
  const chosen = Object.fromEntries(
    part.blanks.map((blank) => {
      if (blank.is === 'number') return [blank.name, values[blank.name] ?? blank.usual];
      const choices = choicesOf(blank);
      return [
        blank.name,
        values[blank.name] ?? (blank.is === 'other' ? (choices[1] ?? choices[0]) : choices[0]) ?? blank.usual,
      ];
    }),
  ) as Record<string, string>;
  const space = plan?.spaces[0];
  const setting = { unit: space?.unitLabel ?? '', space: space?.name, isPlane: space?.form === 'plane' };
  const added = addToModel(text, filled(part, chosen, setting));
  const wrong = useReadText(added)?.diagnostics.find((d) => d.severity === 'error');
  const isMissing = (part.needs === 'space' && !space) || (part.needs === 'map' && space?.form !== 'map');
  const newLines = linesAdded(text, added);
  const numbers = Object.fromEntries(
    part.blanks.filter((blank) => blank.is === 'number').map((blank) => [blank.name, chosen[blank.name]!]),
  );
  return (
    <div>
      <p className="flex items-baseline justify-between gap-3">
        <b className="font-title text-[15px]">{part.name}</b>
        <button type="button" className="link" onClick={onClose}>
          back to the shelf
        </button>
      </p>
      <p className="italic">{part.sentence}</p>
      {part.needs !== 'map' && (
        <Sample text={addToModel(PEN, filled(part, numbers, PEN_SETTING))} label={`A small run: ${part.sentence}`} />
      )}
      <p className="mt-1.5 flex flex-wrap gap-x-4 gap-y-1">
        {part.blanks.map((blank) => (
          <label key={blank.name}>
            <span className="text-faint">{blank.says}</span>{' '}
            {blank.is === 'number' ? (
              <input
                className="word w-14"
                aria-label={blank.says}
                value={chosen[blank.name]}
                onChange={(event) => setValues({ ...values, [blank.name]: event.target.value })}
              />
            ) : (
              <select
                className="word"
                aria-label={blank.says}
                value={chosen[blank.name]}
                onChange={(event) => setValues({ ...values, [blank.name]: event.target.value })}
              >
                {choicesOf(blank).map((choice) => (
                  <option key={choice}>{choice}</option>
                ))}
              </select>
            )}
          </label>
        ))}
      </p>
      <pre
        aria-label="What goes into the text"
        className="mt-1.5 overflow-auto rounded-sm bg-sheet p-2 font-mono text-[12.5px]"
      >
        {newLines.map(({ line }) => line).join('\n')}
      </pre>
      {isMissing ? (
        <p role="alert" className="text-problem">
          It needs a {part.needs}; this model has none.
        </p>
      ) : kinds.length === 0 ? (
        <p role="alert" className="text-problem">
          It needs an agent; this model has none yet.
        </p>
      ) : (
        wrong && (
          <p role="alert" className="text-problem">
            {wrong.message} {wrong.hint}
          </p>
        )
      )}
      <button
        type="button"
        className="btn-strong mt-1.5"
        disabled={isMissing || kinds.length === 0}
        onClick={() => {
          changeText(added);
          onInserted(offsetOf(added, newLines[0]?.at ?? 0));
          onClose();
        }}
      >
        Put it into the text
      </button>
    </div>
  );
}

/** Lines of the new text that the old one does not have at their place. */
function linesAdded(before: string, after: string): { line: string; at: number }[] {
  const old = before.split('\n');
  let i = 0;
  return after.split('\n').flatMap((line, at) => {
    if (old[i] === line) {
      i++;
      return [];
    }
    return [{ line, at }];
  });
}

function offsetOf(text: string, line: number): number {
  return text
    .split('\n')
    .slice(0, line)
    .reduce((sum, before) => sum + before.length + 1, 0);
}
