import { useMemo } from 'react';
import { useAppSelector } from '../store/store.ts';
import { outlineOf } from './outline.ts';

export function Outline({ cursor, onGo }: { readonly cursor: number; readonly onGo: (offset: number) => void }) {
  const text = useAppSelector((state) => state.project.text);
  const diagnostics = useAppSelector((state) => state.model.diagnostics);
  const lines = useMemo(() => outlineOf(text, diagnostics), [text, diagnostics]);
  return (
    <nav aria-label="Outline" className="h-full w-52 shrink-0 overflow-auto border-r border-line bg-wash px-3 py-2">
      <h2 className="mb-1 px-1.5 text-[15px]">Outline</h2>
      <ul>
        {lines.map((line) => (
          <li key={`${line.start} ${line.label}`}>
            <button
              type="button"
              className={`flex w-full items-center justify-between gap-2 rounded-sm px-1.5 py-[2px] text-left ${line.depth ? 'pl-5' : ''} ${cursor >= line.start && cursor < line.end ? 'bg-sheet font-bold' : 'hover:bg-sheet'} ${line.problems ? 'text-problem' : ''}`}
              onClick={() => onGo(line.start)}
            >
              <span className="truncate">{line.label}</span>
              {line.problems > 0 && <span className="font-bold" aria-label={`${line.problems} findings`}>{line.problems}</span>}
            </button>
          </li>
        ))}
      </ul>
    </nav>
  );
}
