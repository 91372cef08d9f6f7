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
import type { EditorView } from '@codemirror/view';
import { keymap } from '@codemirror/view';
import { answersIn } from '@vole/core';

/** Blocks of the text by their indentation: folded, indented, brackets matched. */

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
export function foldAnswers(editor: EditorView): void {
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

export const blocks: Extension = [
  foldGutter(),
  folding,
  foldedAs,
  indenting,
  indentUnit.of('  '),
  bracketMatching(),
  keymap.of(foldKeymap),
];
