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

/** Of a scenario or study its name, and the word with which a line of it begins; its notes are prose. */
function pieceOfStudy(
  { text, span: { start, end } }: Token,
  isName: boolean,
): { from: number; to: number; name: string } {
  if (isName) return { from: start, to: end, name: 'vole-name' };
  if (/^note\b/i.test(text)) return { from: start, to: end, name: 'vole-prose' };
  const word = /^[\p{L}\d_]+/u.exec(text)?.[0] ?? '';
  return { from: start, to: start + word.length, name: /^\d/.test(word) ? 'vole-number' : 'vole-word' };
}

/** The pieces of a text that have a colour, in their order, with the class of each. */
export function colouredPieces(text: string): { from: number; to: number; name: string }[] {
  const { tokens, comments } = lex(text);
  const pieces = comments.map(({ span }) => ({ from: span.start, to: span.end, name: 'vole-comment' }));
  let part = '';
  tokens.forEach((token, i) => {
    const { start, end } = token.span;
    const isAtMargin = start === 0 || text[start - 1] === '\n';
    if (isAtMargin) part = token.word;
    if (token.type === 'text' && (part === 'study' || part === 'scenario')) {
      pieces.push(pieceOfStudy(token, tokens[i - 1]?.word === part));
      return;
    }
    const name = classOf(token, tokens[i - 1], isAtMargin);
    if (name && end > start) pieces.push({ from: start, to: end, name });
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
