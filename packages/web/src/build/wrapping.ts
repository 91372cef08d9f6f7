import type { Extension, Range } from '@codemirror/state';
import type { DecorationSet, ViewUpdate } from '@codemirror/view';
import { Decoration, EditorView, ViewPlugin } from '@codemirror/view';

/** Blanks by which a line that goes on stands deeper than its beginning. */
const HANGING = 4;
/** Letters that a sentence beside its declaration needs; with fewer left it stands below. */
const LEAST_SENTENCE = 18;

/** How many blanks a line begins with, and where the sentence in quotes stands that ends it, if one does. */
export function formOfLine(text: string): { readonly indent: number; readonly sentenceAt: number | undefined } {
  const indent = text.length - text.trimStart().length;
  const sentence = /^(?:\s*\S.*?\s{2,})("[^"]*"|“[^”]*”)\s*$/.exec(text);
  return { indent, sentenceAt: sentence ? text.indexOf(sentence[1]!, indent + 1) : undefined };
}

/** Lines wrap softly: what goes on hangs under its line, and a sentence in quotes stays in a column of its own. */
const hanging = ViewPlugin.fromClass(
  class {
    decorations: DecorationSet;

    constructor(view: EditorView) {
      this.decorations = decorate(view);
    }

    update(update: ViewUpdate): void {
      if (update.docChanged || update.viewportChanged || update.geometryChanged)
        this.decorations = decorate(update.view);
    }
  },
  { decorations: (plugin) => plugin.decorations },
);

function decorate(view: EditorView): DecorationSet {
  const found: Range<Decoration>[] = [];
  const letters = Math.floor(view.contentDOM.clientWidth / view.defaultCharacterWidth) - 1;
  for (const { from, to } of view.visibleRanges) {
    for (let at = from; at <= to;) {
      const line = view.state.doc.lineAt(at);
      const { indent, sentenceAt } = formOfLine(line.text);
      const hang = indent + HANGING;
      found.push(
        Decoration.line({ attributes: { style: `text-indent:-${hang}ch;padding-left:calc(${hang}ch + 6px)` } }).range(
          line.from,
        ),
      );
      if (sentenceAt !== undefined) {
        const left = letters - sentenceAt - 2;
        const isBeside = left >= LEAST_SENTENCE;
        found.push(
          Decoration.mark({
            class: isBeside ? 'vole-beside' : 'vole-below',
            attributes: { style: isBeside ? `max-width:${left}ch` : '' },
          }).range(line.from + sentenceAt, line.from + line.text.trimEnd().length),
        );
      }
      at = line.to + 1;
    }
  }
  return Decoration.set(found, true);
}

export const softWrapping: Extension = [EditorView.lineWrapping, hanging];
