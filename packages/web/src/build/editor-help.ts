import type { CompletionContext, CompletionResult } from '@codemirror/autocomplete';
import { autocompletion, closeBrackets } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap, indentWithTab } from '@codemirror/commands';
import type { Diagnostic as EditorDiagnostic } from '@codemirror/lint';
import { setDiagnostics } from '@codemirror/lint';
import { highlightSelectionMatches, searchKeymap } from '@codemirror/search';
import type { Extension } from '@codemirror/state';
import type { EditorView } from '@codemirror/view';
import { hoverTooltip, keymap } from '@codemirror/view';
import type { Diagnostic } from '@vole/core';
import { formatModel } from '@vole/core';
import { readText } from '../simulation/read-texts.ts';
import { interfaceActions } from '../store/interface-slice.ts';
import { store } from '../store/store.ts';
import { offersAt } from './completion.ts';
import { blocks } from './folding.ts';
import { lastRight, noteRight } from './right-text.ts';

/** What the editor knows of the meaning of the text. It is loaded once the text is on show. */

export { movePart, Names } from '@vole/core';
export { foldAnswers } from './folding.ts';
export { outlineOf } from './outline.ts';
export { readText } from '../simulation/read-texts.ts';

/** What the name under the pointer stands for: its type, unit, whose it is, and its line; what knows of names is loaded when it is asked first. */
const naming = hoverTooltip(async (view, pos) => {
  const { doc } = view.state;
  const [{ tooltipOf }, right] = await Promise.all([import('./name-help.ts'), lastRight()]);
  // The text may be another one by now.
  return view.state.doc === doc ? tooltipOf(view, pos, right) : null;
});

/** The manual at the word under the cursor, or at what the name there stands for; at its beginning if it stands for nothing. */
function openManual(view: EditorView): boolean {
  Promise.all([import('./name-help.ts'), lastRight()]).then(
    ([{ openAtCursor }, right]) => openAtCursor(view, right),
    () =>
      store.dispatch(
        interfaceActions.noticed({ text: 'The manual could not be loaded. Is the server running?', tone: 'problem' }),
      ),
  );
  return true;
}

/** Names that fit at the cursor, the nearest in scope first. */
async function completion(context: CompletionContext): Promise<CompletionResult | null> {
  const word = context.matchBefore(/[\p{L}_][\p{L}\p{N}_]*/u);
  const line = context.state.doc.lineAt(context.pos);
  const follows = /(?:\.|\bis |\bin zone |\btied by |\d )$/.test(line.text.slice(0, context.pos - line.from));
  if (!word && !context.explicit && !follows) return null;
  const model = (await lastRight())?.model;
  if (!model || context.aborted) return null;
  const offers = offersAt(context.state.doc.toString(), context.pos, model);
  const options = offers.map(({ label, detail }, i) => ({
    label,
    detail,
    boost: 99 - (198 * i) / offers.length,
    type: 'variable',
  }));
  return { from: word?.from ?? context.pos, options, validFor: /^[\p{L}_][\p{L}\p{N}_]*$/u };
}

/** Blocks, completion, names under the pointer, the manual at the cursor, search; undo, and the keys beyond those of plain writing. */
export const helping: Extension = [
  blocks,
  history(),
  closeBrackets(),
  highlightSelectionMatches(),
  naming,
  autocompletion({ override: [completion], icons: false }),
  keymap.of([...defaultKeymap, ...historyKeymap, indentWithTab]),
  keymap.of([...searchKeymap, { key: 'F1', preventDefault: true, stopPropagation: true, run: openManual }]),
];

/** Marks the findings in the text, with their repairs. */
export function showFindings(editor: EditorView, diagnostics: readonly Diagnostic[]): void {
  // Completion knows the names of the last text that was right, also while the next one is half typed.
  const { project, model } = store.getState();
  if (model.diagnostics.every((d) => d.severity !== 'error')) noteRight(project.text);
  const { length } = editor.state.doc;
  editor.dispatch(
    setDiagnostics(
      editor.state,
      diagnostics.map((d) => toEditor(d, length)),
    ),
  );
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

/** Puts the text in its usual layout, as one step of undo. */
export function putInLayout(editor: EditorView): void {
  const { doc } = editor.state;
  const text = doc.toString();
  readText(text).then(
    ({ check: { uses } }) => {
      const formatted = formatModel(text, uses);
      if (formatted === text || editor.state.doc !== doc) return;
      editor.dispatch({ changes: { from: 0, to: text.length, insert: formatted }, userEvent: 'input.format' });
    },
    (error: Error) => store.dispatch(interfaceActions.noticed({ text: error.message, tone: 'problem' })),
  );
}
