import type { CompletionContext, CompletionResult } from '@codemirror/autocomplete';
import { RangeSetBuilder } from '@codemirror/state';
import type { DecorationSet, EditorView, ViewUpdate } from '@codemirror/view';
import { Decoration, ViewPlugin } from '@codemirror/view';
import type { CheckedModel, Token } from '@vole/core';
import { lex } from '@vole/core';
import { offersAt } from './completion.ts';

/** What the editor knows of the language: colours from the project's own lexer, completion by the last text that was right. */

const PART_WORDS = new Set('model clock parameter variable space field agent interaction order timeline measure summary chart show check'.split(' '));
const WORDS = new Set(
  ('start has derive states behaviour after rate chance when enter leave let if else with for each in turn by move to toward create remove end run where within of here anywhere at from ' +
    'every year on until fixed all once count any share nearest random first sum mean min max median sd quantile over is not one and or yes no self it step grow keep cells whole ' +
    'wrapping walled reflecting plane grid neighbours size colour expect seeds last time per then rest facing note around circle').split(' '),
);
const MARKS: Partial<Record<Token['type'], string>> = {
  number: 'vole-number', percent: 'vole-number', date: 'vole-number', time: 'vole-number', monthday: 'vole-number', string: 'vole-string', text: 'vole-prose',
};
const DECLARING = new Set(['parameter', 'variable', 'space', 'field', 'agent', 'interaction', 'measure', 'summary', 'has', 'derive', 'states', 'behaviour']);

const marks = new Map<string, Decoration>();
function mark(name: string): Decoration {
  let found = marks.get(name);
  if (!found) marks.set(name, (found = Decoration.mark({ class: name })));
  return found;
}

function classOf(token: Token, before: Token | undefined): string | undefined {
  if (token.type !== 'name') return MARKS[token.type];
  const beginsLine = before === undefined || before.type === 'newline' || before.type === 'indent' || before.type === 'dedent';
  if (beginsLine && PART_WORDS.has(token.word)) return 'vole-part';
  if (before?.type === 'name' && DECLARING.has(before.word)) return 'vole-name';
  return WORDS.has(token.word) ? 'vole-word' : undefined;
}

function colouring(view: EditorView): DecorationSet {
  const builder = new RangeSetBuilder<Decoration>();
  const { tokens, comments } = lex(view.state.doc.toString());
  const pieces: { from: number; to: number; name: string }[] = comments.map(({ span }) => ({ from: span.start, to: span.end, name: 'vole-comment' }));
  tokens.forEach((token, i) => {
    const name = classOf(token, tokens[i - 1]);
    if (name && token.span.end > token.span.start) pieces.push({ from: token.span.start, to: token.span.end, name });
  });
  pieces.sort((a, b) => a.from - b.from);
  for (const { from, to, name } of pieces) builder.add(from, to, mark(name));
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

/** Names that fit at the cursor, the nearest in scope first. */
export function modelCompletion(checked: () => CheckedModel | undefined) {
  return (context: CompletionContext): CompletionResult | null => {
    const word = context.matchBefore(/[\p{L}_][\p{L}\p{N}_]*/u);
    const model = checked();
    const follows = /(?:\.|\bis |\bin zone |\btied by |\d )$/.test(context.state.doc.lineAt(context.pos).text.slice(0, context.pos - context.state.doc.lineAt(context.pos).from));
    if (!model || (!word && !context.explicit && !follows)) return null;
    const offers = offersAt(context.state.doc.toString(), context.pos, model);
    const options = offers.map(({ label, detail }, i) => ({ label, detail, boost: 99 - (198 * i) / offers.length, type: 'variable' }));
    return { from: word?.from ?? context.pos, options, validFor: /^[\p{L}_][\p{L}\p{N}_]*$/u };
  };
}
