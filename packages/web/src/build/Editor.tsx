import {
  bracketMatching,
  codeFolding,
  foldEffect,
  foldGutter,
  foldKeymap,
  foldService,
  indentService,
  indentUnit,
} from '@codemirror/language';
import type { Extension } from '@codemirror/state';
import { Compartment, EditorState } from '@codemirror/state';
import {
  drawSelection,
  EditorView,
  highlightActiveLine,
  highlightActiveLineGutter,
  keymap,
  lineNumbers,
} from '@codemirror/view';
import { answersIn } from '@vole/core';
import { useEffect, useRef } from 'react';
import { projectActions } from '../store/project-slice.ts';
import { textChanged } from '../session/session.ts';
import { store, useAppSelector } from '../store/store.ts';
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

function indentOf(line: string): number {
  return line.length - line.trimStart().length;
}

const OPENS_BLOCK =
  /^\s*(model|clock|data|space .*:$|field|zone|obstacle|agent|states|behaviour|routine|interaction|order|timeline|check|if|else|with|for each|repeat|create|enter|leave|after|rate|chance|when|on|[A-Z]\w*\s*$)/;

const folding = foldService.of((state, from) => {
  const line = state.doc.lineAt(from);
  const indent = indentOf(line.text);
  let last = line.number;
  for (let n = line.number + 1; n <= state.doc.lines; n++) {
    const { text } = state.doc.line(n);
    if (text.trim() === '') continue;
    if (indentOf(text) <= indent) break;
    last = n;
  }
  return line.text.trim() !== '' && last > line.number ? { from: line.to, to: state.doc.line(last).to } : null;
});

/** Fewer answers than these are shown whole. */
const LEAST_FOLDED = 3;

/** What a text answers about itself is folded as it is opened, so that the model stands in sight. */
function foldAnswers(editor: EditorView): void {
  const answers = answersIn(editor.state.doc.toString());
  if (answers && answers.headings.length >= LEAST_FOLDED) editor.dispatch({ effects: foldEffect.of(answers) });
}

/** In place of folded answers stand their headings. */
const foldedAs = codeFolding({
  preparePlaceholder: (state, { from }) => {
    const answers = answersIn(state.doc.toString());
    return answers?.from === from ? `${answers.headings.join(', ')} …` : '…';
  },
  placeholderDOM: (_view, onclick, words: string) => {
    const placeholder = document.createElement('span');
    placeholder.className = 'cm-foldPlaceholder';
    placeholder.textContent = words;
    placeholder.title = 'unfold';
    placeholder.setAttribute('aria-label', `folded: ${words}`);
    placeholder.onclick = onclick;
    return placeholder;
  },
});

const indenting = indentService.of((context, at) => {
  const line = context.state.doc.lineAt(at);
  if (line.number === 1) return 0;
  const before = context.state.doc.lineAt(Math.max(0, at - 1)).text;
  return indentOf(before) + (OPENS_BLOCK.test(before) && !before.includes(' = ') ? 2 : 0);
});

function extensions(): Extension[] {
  return [
    lineNumbers(),
    foldGutter(),
    folding,
    foldedAs,
    indenting,
    indentUnit.of('  '),
    drawSelection(),
    bracketMatching(),
    highlightActiveLine(),
    highlightActiveLineGutter(),
    modelColours,
    softWrapping,
    helped.of([]),
    keymap.of(foldKeymap),
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

/** Where what knows of the meaning of the text comes in. */
const helped = new Compartment();

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
  const diagnostics = useAppSelector((state) => state.model.diagnostics);
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
        extensions: [...extensions(), cursor, renaming],
      }),
    });
    view.current = editor;
    foldAnswers(editor);
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
    if (help) view.current?.dispatch({ effects: helped.reconfigure(help.helping) });
  }, [help]);

  useEffect(() => {
    if (view.current) help?.showFindings(view.current, diagnostics);
  }, [help, diagnostics]);

  return <div ref={place} aria-busy={!help} className="h-full min-w-0 overflow-hidden bg-sheet" />;
}
