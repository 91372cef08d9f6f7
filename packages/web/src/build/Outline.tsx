import { useMemo } from 'react';
import { useAppSelector } from '../store/store.ts';
import { useFindings } from './findings.ts';
import type { EditorHelp } from './use-editor-help.ts';

/** The parts of the text; they come with what else knows of its meaning. */
export function Outline({
  help,
  cursor,
  width,
  onGo,
  onMove,
}: {
  readonly help: EditorHelp | undefined;
  readonly cursor: number;
  readonly width: number;
  readonly onGo: (offset: number) => void;
  /** A part is moved before another, or without one to the end. */
  readonly onMove: (from: number, before: number | undefined) => void;
}) {
  const text = useAppSelector((state) => state.project.text);
  const diagnostics = useFindings();
  const lines = useMemo(() => help?.outlineOf(text, diagnostics) ?? [], [help, text, diagnostics]);
  return (
    <nav aria-label="Outline" className="h-full shrink-0 overflow-auto bg-wash px-3 py-2" style={{ width }}>
      <h2 className="mb-1 px-1.5 text-[15px]">Outline</h2>
      <ul>
        {lines.map((line) => (
          <li
            key={`${line.start} ${line.label}`}
            draggable={line.isPart}
            onDragStart={(event) => event.dataTransfer.setData('text/plain', String(line.start))}
            onDragOver={(event) => line.depth === 0 && event.preventDefault()}
            onDrop={(event) => {
              event.preventDefault();
              const from = Number(event.dataTransfer.getData('text/plain'));
              if (line.depth === 0 && Number.isFinite(from) && from !== line.start) onMove(from, line.start);
            }}
          >
            <button
              type="button"
              className={`flex w-full items-center justify-between gap-2 rounded-sm px-1.5 py-[2px] text-left ${line.depth ? 'pl-5' : ''} ${cursor >= line.start && cursor < line.end ? 'bg-sheet font-bold' : 'hover:bg-sheet'} ${line.problems ? 'text-problem' : ''}`}
              title={line.isPart ? 'Drag to move it; Alt with the arrow keys moves it too' : undefined}
              onClick={() => onGo(line.start)}
              onKeyDown={(event) => {
                if (!line.isPart || !event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
                event.preventDefault();
                const tops = lines.filter((other) => other.depth === 0);
                const at = tops.indexOf(line);
                const before = event.key === 'ArrowUp' ? tops[at - 1] : tops[at + 2];
                if (event.key === 'ArrowUp' && at <= 1) return;
                onMove(line.start, before?.start);
              }}
            >
              <span className="min-w-0 break-words">{line.label}</span>
              {line.problems > 0 && (
                <span className="font-bold" aria-label={`${line.problems} findings`}>
                  {line.problems}
                </span>
              )}
            </button>
          </li>
        ))}
      </ul>
    </nav>
  );
}
