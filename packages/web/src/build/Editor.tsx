import type { Extension } from '@codemirror/state';
import { Compartment, EditorState } from '@codemirror/state';
import {
  drawSelection,
  EditorView,
  GutterMarker,
  gutter,
  highlightActiveLine,
  highlightActiveLineGutter,
  keymap,
  lineNumbers,
} from '@codemirror/view';
import { useEffect, useRef } from 'react';
import { projectActions } from '../store/project-slice.ts';
import { textChanged } from '../session/session.ts';
import { store, useAppSelector } from '../store/store.ts';
import { useFindings } from './findings.ts';
import { modelColours } from './model-language.ts';
import type { EditorHelp } from './use-editor-help.ts';
import { softWrapping } from './wrapping.ts';

/** What other parts of Build may ask of the editor. */
export interface EditorControl {
  readonly goTo: (offset: number) => void;
  /** Puts the text in its usual layout. */
  readonly format: () => void;
  readonly replace: (
    edits: readonly { readonly span: { readonly start: number; readonly end: number }; readonly text: string }[],
  ) => void;
}

/** Where what knows of the meaning and the blocks of the text comes in. */
const helped = new Compartment();

/** Room for the marks of what can be folded, so that nothing moves when they come. */
const foldRoom = gutter({
  class: 'cm-foldGutter',
  initialSpacer: () =>
    new (class extends GutterMarker {
      override toDOM(): Node {
        return document.createTextNode('›');
      }
    })(),
});

function extensions(): Extension[] {
  return [
    lineNumbers(),
    helped.of(foldRoom),
    drawSelection(),
    highlightActiveLine(),
    highlightActiveLineGutter(),
    modelColours,
    softWrapping,
    EditorView.contentAttributes.of({ 'aria-label': 'Model text', spellcheck: 'false', tabindex: '0' }),
    EditorView.updateListener.of((update) => {
      if (!update.docChanged) return;
      store.dispatch(projectActions.textTyped(update.state.doc.toString()));
      textChanged();
    }),
  ];
}

/** The one stretch in which two texts differ, so that the cursor and the rest of the text stay where they are. */
function changeBetween(old: string, text: string): { from: number; to: number; insert: string } {
  let from = 0;
  while (from < old.length && old[from] === text[from]) from++;
  let same = 0;
  while (same < Math.min(old.length, text.length) - from && old[old.length - 1 - same] === text[text.length - 1 - same])
    same++;
  return { from, to: old.length - same, insert: text.slice(from, text.length - same) };
}

function stand(editing: EditorView, at: number): boolean {
  editing.dispatch({ selection: { anchor: at }, scrollIntoView: true });
  return true;
}

/** To both ends of the text: until the keys of the help are there, the browser would only go to the ends of what is drawn of it. */
const toEnds = keymap.of([
  { key: 'Mod-Home', run: (editing) => stand(editing, 0) },
  { key: 'Mod-End', run: (editing) => stand(editing, editing.state.doc.length) },
]);

interface Props {
  /** Absent while it is on its way. */
  readonly help: EditorHelp | undefined;
  readonly onReady: (control: EditorControl) => void;
  readonly onCursor: (offset: number) => void;
  /** F2 was pressed at a place. */
  readonly onRename: (offset: number) => void;
}

export function Editor({ help, onReady, onCursor, onRename }: Props) {
  const place = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView>(undefined);
  const diagnostics = useFindings();
  const origin = useAppSelector((state) => state.project.textOrigin);
  const callbacks = useRef({ help, onReady, onCursor, onRename });
  useEffect(() => {
    callbacks.current = { help, onReady, onCursor, onRename };
  });

  useEffect(() => {
    const cursor = EditorView.updateListener.of((update) => {
      if (update.selectionSet) callbacks.current.onCursor(update.state.selection.main.head);
    });
    const renaming = keymap.of([
      {
        key: 'F2',
        run: (editing) => {
          callbacks.current.onRename(editing.state.selection.main.head);
          return true;
        },
      },
    ]);
    const editor = new EditorView({
      parent: place.current!,
      state: EditorState.create({
        doc: store.getState().project.text,
        extensions: [...extensions(), cursor, renaming, toEnds],
      }),
    });
    view.current = editor;
    callbacks.current.onReady({
      goTo: (offset) => {
        const at = Math.min(offset, editor.state.doc.length);
        editor.dispatch({ selection: { anchor: at }, effects: EditorView.scrollIntoView(at, { y: 'center' }) });
        editor.focus();
      },
      format: () => callbacks.current.help?.putInLayout(editor),
      replace: (edits) =>
        editor.dispatch({ changes: edits.map(({ span, text }) => ({ from: span.start, to: span.end, insert: text })) }),
    });
    return () => editor.destroy();
  }, []);

  // A text that came from elsewhere (another tab, a form) replaces the editor's, as one step of undo.
  useEffect(() => {
    const editor = view.current;
    const { text } = store.getState().project;
    const old = editor?.state.doc.toString();
    if (editor && old !== undefined && old !== text)
      editor.dispatch({ changes: changeBetween(old, text), scrollIntoView: false });
  }, [origin]);

  useEffect(() => {
    const editor = view.current;
    if (!help || !editor) return;
    editor.dispatch({ effects: helped.reconfigure(help.helping) });
    help.foldAnswers(editor);
  }, [help]);

  useEffect(() => {
    if (view.current) help?.showFindings(view.current, diagnostics);
  }, [help, diagnostics]);

  return <div ref={place} aria-busy={!help} className="h-full min-w-0 overflow-hidden bg-sheet" />;
}
