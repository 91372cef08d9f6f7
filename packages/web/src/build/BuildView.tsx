import type { Diagnostic } from '@vole/core';
import { placeOf } from '@vole/core';
import { Suspense, useDeferredValue, useMemo, useRef, useState, useSyncExternalStore } from 'react';
import { SpaceCanvas } from '../drawing/SpaceCanvas.tsx';
import { SpaceChoice } from '../drawing/SpaceChoice.tsx';
import { LiveRibbon } from '../ribbon/LiveRibbon.tsx';
import { askedPart } from '../session/asked-part.tsx';
import { changeText } from '../session/session.ts';
import { useLive } from '../simulation/live-handle.ts';
import { RunNotice } from '../live/RunNotice.tsx';
import { store, useAppSelector } from '../store/store.ts';
import { widthsIn } from '../store/build-widths.ts';
import { Divider } from './Divider.tsx';
import type { EditorControl } from './Editor.tsx';
import { Editor } from './Editor.tsx';
import { useFindings, useStudyCheck } from './findings.ts';
import { Outline } from './Outline.tsx';
import { Versions } from './Versions.tsx';
import { useEditorHelp } from './use-editor-help.ts';
import { BuildPanel } from './panel/BuildPanel.tsx';

const RenameBar = askedPart('Renaming', () => import('./RenameBar.tsx').then((m) => m.RenameBar));

/** Outline, text, and the small run of exactly this text. */
export function BuildView() {
  const editor = useRef<EditorControl>(undefined);
  const [cursor, setCursor] = useState(0);
  const [renaming, setRenaming] = useState<number>();
  const [isWhole, setWhole] = useState(false);
  const widths = widthsIn(
    useRoom(),
    useAppSelector((state) => state.interface.buildWidths),
  );
  const text = useDeferredValue(useAppSelector((state) => state.project.text));
  const help = useEditorHelp();
  useStudyCheck(help);
  const names = useMemo(() => help && new help.Names(text), [help, text]);
  const name = useMemo(() => names?.named(cursor)?.name, [names, cursor]);
  const rename = (at: number): void =>
    setRenaming(help && new help.Names(store.getState().project.text).named(at) && at);
  return (
    <div className="flex h-full flex-col">
      <div className="flex min-h-0 flex-1">
        <Outline
          help={help}
          cursor={cursor}
          width={widths.outline}
          onGo={(offset) => editor.current?.goTo(offset)}
          onMove={(from, before) => help && changeText(help.movePart(store.getState().project.text, from, before))}
        />
        <Divider column="outline" width={widths.outline} side="left" />
        <main className="flex min-w-0 flex-1 flex-col">
          <div className="min-h-0 flex-1">
            <Editor
              help={help}
              onReady={(control) => (editor.current = control)}
              onCursor={setCursor}
              onRename={rename}
            />
          </div>
          <Suspense fallback={null}>
            {renaming !== undefined && <RenameBar key={renaming} at={renaming} onDone={() => setRenaming(undefined)} />}
          </Suspense>
          <ProblemList
            onGo={(offset) => editor.current?.goTo(offset)}
            onFix={(edits) => editor.current?.replace(edits)}
            onFormat={() => editor.current?.format()}
            onRename={() => rename(cursor)}
            name={name}
          />
        </main>
        <Divider column="aside" width={widths.aside} side="right" />
        <aside aria-label="The run of this text" className="flex shrink-0 flex-col" style={{ width: widths.aside }}>
          <div className={`relative min-h-[180px] flex-1 bg-wash ${isWhole ? 'hidden' : ''}`}>
            <SpaceCanvas label="The space of the run, live" />
            <div className="absolute top-3 left-3">
              <SpaceChoice />
            </div>
            <SpacelessNote />
            <RunNotice className="card absolute right-3 bottom-3 left-3 w-fit px-3 py-1" />
          </div>
          <BuildPanel
            cursor={cursor}
            isWhole={isWhole}
            onWhole={setWhole}
            onGo={(offset) => editor.current?.goTo(offset)}
          >
            <FirstMinute />
          </BuildPanel>
        </aside>
      </div>
      <LiveRibbon />
    </div>
  );
}

function onResize(listener: () => void): () => void {
  window.addEventListener('resize', listener);
  return () => window.removeEventListener('resize', listener);
}

/** The width of the window. */
function useRoom(): number {
  return useSyncExternalStore(onResize, () => window.innerWidth);
}

/** A model without a space has nothing to draw, but numbers. */
function SpacelessNote() {
  const plan = useLive((state) => state.plan);
  if (!plan || plan.spaces.length > 0 || plan.networks.length > 0) return null;
  return (
    <p className="absolute inset-0 flex items-center justify-center p-8 text-center text-faint">
      This model has no space. Its course is on the ribbon, its measures are charted in Watch.
    </p>
  );
}

/** One sentence and two things to try, for the demo. */
function FirstMinute() {
  const name = useAppSelector((state) => state.project.name);
  const visited = useAppSelector((state) => state.project.visited);
  const isDemo = useAppSelector((state) => state.project.text.startsWith('model Meadow year'));
  if (!name.startsWith('Meadow year') || !isDemo || visited.length > 1) return null;
  return (
    <div className="border-l-4 border-accent pl-3">
      <p>Voles graze and breed, kestrels hunt: this is the text at the left, running.</p>
      <p className="text-faint">
        Try: drag <b className="text-ink">strike</b> below to 0.5. Or change <b className="text-ink">6</b> kestrels in
        the text to 0 and wait for summer.
      </p>
    </div>
  );
}

interface ProblemListProps {
  readonly onGo: (offset: number) => void;
  readonly onFix: (edits: NonNullable<Diagnostic['fixes']>[number]['edits']) => void;
  readonly onFormat: () => void;
  readonly onRename: () => void;
  /** The declared name at the cursor, if it stands on one. */
  readonly name: string | undefined;
}

function askForFile(): void {
  void import('../session/taken-files.ts').then(({ chooseFile }) => chooseFile());
}

function ProblemList({ onGo, onFix, onFormat, onRename, name }: ProblemListProps) {
  const diagnostics = useFindings();
  const text = useAppSelector((state) => state.project.text);
  const errors = diagnostics.filter((d) => d.severity === 'error').length;
  const doubts = diagnostics.length - errors;
  const said =
    errors + doubts === 0
      ? 'The text is right.'
      : [errors && `${errors} to mend`, doubts && `${doubts} to look at`].filter(Boolean).join(', ');
  return (
    <section aria-label="Findings" className="max-h-44 shrink-0 overflow-auto border-t border-line bg-sheet">
      <div className="sticky top-0 flex items-center justify-between bg-sheet px-4 py-1">
        <span className={errors ? 'font-semibold text-problem' : 'text-faint'} data-testid="findings">
          {said}
        </span>
        <span className="flex gap-4 text-sm">
          {name && (
            <button type="button" className="link" title="F2" onClick={onRename}>
              rename {name}
            </button>
          )}
          <Versions />
          <button type="button" className="link" onClick={onFormat}>
            put in usual layout
          </button>
        </span>
      </div>
      <ul className="px-4 pb-2">
        {diagnostics.map((d, i) => {
          const { line } = placeOf(text, d.span.start);
          return (
            <li key={i} className="flex flex-wrap items-baseline gap-x-2 py-0.5">
              <button type="button" className="link shrink-0" onClick={() => onGo(d.span.start)}>
                line {line}
              </button>
              <span className={d.severity === 'error' ? '' : 'text-doubt'}>{d.message}</span>
              {d.hint && <span className="text-faint">{d.hint}</span>}
              {d.code === 'file/missing' && (
                <button type="button" className="link" onClick={askForFile}>
                  choose the file
                </button>
              )}
              {d.fixes?.map((fix) => (
                <button
                  key={fix.label}
                  type="button"
                  className="rounded-[5px] border border-line px-2 text-sm font-semibold hover:bg-wash"
                  onClick={() => onFix(fix.edits)}
                >
                  {fix.label}
                </button>
              ))}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
