import { autocompletion, closeBrackets, completionKeymap } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap, indentWithTab } from '@codemirror/commands';
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
import type { Diagnostic as EditorDiagnostic } from '@codemirror/lint';
import { setDiagnostics } from '@codemirror/lint';
import { highlightSelectionMatches, searchKeymap } from '@codemirror/search';
import type { Extension } from '@codemirror/state';
import { EditorState } from '@codemirror/state';
import {
  drawSelection,
  EditorView,
  highlightActiveLine,
  highlightActiveLineGutter,
  hoverTooltip,
  keymap,
  lineNumbers,
} from '@codemirror/view';
import type { CheckedModel, Diagnostic } from '@vole/core';
import { answersIn, formatModel } from '@vole/core';
import { loadedModel } from '../simulation/model-cache.ts';
import { useEffect, useRef } from 'react';
import { interfaceActions } from '../store/interface-slice.ts';
import { projectActions } from '../store/project-slice.ts';
import { textChanged } from '../session/session.ts';
import { store, useAppSelector } from '../store/store.ts';
import { modelColours, modelCompletion } from './model-language.ts';
import { softWrapping } from './wrapping.ts';

/** What other parts of Build may ask of the editor. */
export interface EditorControl {
  readonly goTo: (offset: number) => void;
  readonly format: () => void;
  readonly replace: (
    edits: readonly { readonly span: { readonly start: number; readonly end: number }; readonly text: string }[],
  ) => void;
}

/** The model's last right meaning, for completion; checked anew at most once a text. */
let lastChecked: {
  readonly text: string;
  readonly right: { readonly text: string; readonly model: CheckedModel } | undefined;
} = { text: '', right: undefined };

/** The model of a text or, if it has errors, of the last one that had none, with its text. */
function lastRight(text: string): typeof lastChecked.right {
  if (lastChecked.text !== text) {
    const { model } = loadedModel(text).check;
    lastChecked = { text, right: model ? { text, model } : lastChecked.right };
  }
  return lastChecked.right;
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

/** What the name under the pointer stands for: its type, unit, whose it is, and its line; what knows of names is loaded when it is asked first. */
const naming = hoverTooltip(async (view, pos) => {
  const { doc } = view.state;
  const { tooltipOf } = await import('./name-help.ts');
  // The text may be another one by now.
  return view.state.doc === doc ? tooltipOf(view, pos, lastRight(doc.toString())) : null;
});

/** The manual at the word under the cursor, or at what the name there stands for; at its beginning if it stands for nothing. */
function openManual(view: EditorView): boolean {
  import('./name-help.ts').then(
    ({ openAtCursor }) => openAtCursor(view, lastRight(view.state.doc.toString())),
    () =>
      store.dispatch(
        interfaceActions.noticed({ text: 'The manual could not be loaded. Is the server running?', tone: 'problem' }),
      ),
  );
  return true;
}

function toEditor(diagnostic: Diagnostic, length: number): EditorDiagnostic {
  const from = Math.min(diagnostic.span.start, length);
  return {
    from,
    to: Math.min(Math.max(diagnostic.span.end, from), length),
    severity: diagnostic.severity,
    message: diagnostic.hint ? `${diagnostic.message}\n${diagnostic.hint}` : diagnostic.message,
    actions: (diagnostic.fixes ?? []).map((fix) => ({
      name: fix.label,
      apply: (view) =>
        view.dispatch({
          changes: fix.edits.map(({ span, text }) => ({ from: span.start, to: span.end, insert: text })),
          userEvent: 'input.fix',
        }),
    })),
  };
}

function extensions(): Extension[] {
  return [
    lineNumbers(),
    foldGutter(),
    folding,
    foldedAs,
    indenting,
    indentUnit.of('  '),
    history(),
    drawSelection(),
    bracketMatching(),
    closeBrackets(),
    highlightActiveLine(),
    highlightActiveLineGutter(),
    highlightSelectionMatches(),
    modelColours,
    naming,
    softWrapping,
    autocompletion({
      override: [modelCompletion(() => lastRight(store.getState().project.text)?.model)],
      icons: false,
    }),
    keymap.of([...completionKeymap, ...defaultKeymap, ...historyKeymap, ...searchKeymap, ...foldKeymap, indentWithTab]),
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

interface Props {
  readonly onReady: (control: EditorControl) => void;
  readonly onCursor: (offset: number) => void;
  /** F2 was pressed at a place. */
  readonly onRename: (offset: number) => void;
}

export function Editor({ onReady, onCursor, onRename }: Props) {
  const place = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView>(undefined);
  const diagnostics = useAppSelector((state) => state.model.diagnostics);
  const origin = useAppSelector((state) => state.project.textOrigin);
  const callbacks = useRef({ onReady, onCursor, onRename });
  useEffect(() => {
    callbacks.current = { onReady, onCursor, onRename };
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
      {
        key: 'F1',
        preventDefault: true,
        stopPropagation: true,
        run: openManual,
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
      format: () => {
        const text = editor.state.doc.toString();
        const formatted = formatModel(text, loadedModel(text).check.uses);
        if (formatted !== text)
          editor.dispatch({ changes: { from: 0, to: text.length, insert: formatted }, userEvent: 'input.format' });
      },
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
    // Completion knows the names of the last text that was right, also while the next one is half typed.
    if (diagnostics.every((d) => d.severity !== 'error')) lastRight(store.getState().project.text);
    if (editor)
      editor.dispatch(
        setDiagnostics(
          editor.state,
          diagnostics.map((d) => toEditor(d, editor.state.doc.length)),
        ),
      );
  }, [diagnostics]);

  return <div ref={place} className="h-full min-w-0 overflow-hidden bg-sheet" />;
}
