import { RangeSetBuilder } from '@codemirror/state';
import type { DecorationSet, EditorView, ViewUpdate } from '@codemirror/view';
import { Decoration, ViewPlugin } from '@codemirror/view';
import type { Token } from '@vole/core';
import { lex, PART_WORDS, WORDS } from '@vole/core';

/** Colours of the model text, from the project's own lexer. */

const COLOURED = new Set([...WORDS.agent, ...WORDS.states, ...WORDS.statements, ...WORDS.values, ...WORDS.inside]);
const MARKS: Partial<Record<Token['type'], string>> = {
  number: 'vole-number',
  percent: 'vole-number',
  date: 'vole-number',
  time: 'vole-number',
  monthday: 'vole-number',
  string: 'vole-string',
  text: 'vole-prose',
};
const DECLARING = new Set([
  ...WORDS.parts.filter(
    (word) => !['model', 'clock', 'order', 'timeline', 'chart', 'show', 'check', 'record'].includes(word),
  ),
  'has',
  'derive',
  'states',
]);

const marks = new Map<string, Decoration>();
function mark(name: string): Decoration {
  let found = marks.get(name);
  if (!found) marks.set(name, (found = Decoration.mark({ class: name })));
  return found;
}

function classOf(token: Token, before: Token | undefined, isAtMargin: boolean): string | undefined {
  if (token.type !== 'name') return MARKS[token.type];
  if (isAtMargin && PART_WORDS.has(token.word)) return 'vole-part';
  if (before?.type === 'name' && DECLARING.has(before.word)) return 'vole-name';
  return COLOURED.has(token.word) ? 'vole-word' : undefined;
}

/** The pieces of a text that have a colour, in their order, with the class of each. */
export function colouredPieces(text: string): { from: number; to: number; name: string }[] {
  const { tokens, comments } = lex(text);
  const pieces = comments.map(({ span }) => ({ from: span.start, to: span.end, name: 'vole-comment' }));
  tokens.forEach((token, i) => {
    const name = classOf(token, tokens[i - 1], token.span.start === 0 || text[token.span.start - 1] === '\n');
    if (name && token.span.end > token.span.start) pieces.push({ from: token.span.start, to: token.span.end, name });
  });
  return pieces.sort((a, b) => a.from - b.from);
}

function colouring(view: EditorView): DecorationSet {
  const builder = new RangeSetBuilder<Decoration>();
  for (const { from, to, name } of colouredPieces(view.state.doc.toString())) builder.add(from, to, mark(name));
  return builder.finish();
}

export const modelColours = ViewPlugin.fromClass(
  class {
    decorations: DecorationSet;
    constructor(view: EditorView) {
      this.decorations = colouring(view);
    }
    update(update: ViewUpdate): void {
      if (update.docChanged) this.decorations = colouring(update.view);
    }
  },
  { decorations: (plugin) => plugin.decorations },
);
