import type { EditorView, Tooltip } from '@codemirror/view';
import { slugOf } from '../manual/slug.ts';
import type { ManualPlace } from '../store/interface-slice.ts';
import { interfaceActions, MANUAL_BEGINNING } from '../store/interface-slice.ts';
import { store } from '../store/store.ts';
import { describeName } from './describe-name.ts';
import type { RightText } from './right-text.ts';
import { referenceEntry } from './reference.ts';

/** Where the manual explains a word of the language. */
function placeOf(word: string | undefined): ManualPlace | undefined {
  const entry = word === undefined ? undefined : referenceEntry(word);
  return entry && { section: `language#${slugOf(entry.section)}`, word: word! };
}

function openManual(place: ManualPlace): void {
  store.dispatch(interfaceActions.manualOpened(place));
}

/** Opens the manual at the word under the cursor, or at what the name there stands for; at its beginning if it stands for nothing. */
export function openAtCursor({ state }: EditorView, right: RightText | undefined): void {
  const word = state.wordAt(state.selection.main.head);
  const text = state.doc.toString();
  const found = word && describeName(right?.model, text.slice(word.from, word.to), right?.text ?? '');
  openManual(placeOf(found?.entry) ?? MANUAL_BEGINNING);
}

/** What the name under the pointer stands for: its type, unit, whose it is, and its line. */
export function tooltipOf({ state }: EditorView, pos: number, right: RightText | undefined): Tooltip | null {
  const word = state.wordAt(pos);
  if (!word) return null;
  const text = state.doc.toString();
  const found = describeName(
    right?.model,
    text.slice(word.from, word.to),
    right?.text ?? '',
    right?.text === text ? word.from : undefined,
  );
  if (!found) return null;
  return {
    pos: word.from,
    end: word.to,
    create: () => {
      const dom = document.createElement('div');
      dom.className = 'vole-hover';
      const entry = found.entry && referenceEntry(found.entry);
      const reference = entry && `${entry.section}: ${entry.text}`;
      for (const [tag, words] of [
        ['b', found.name],
        ['span', found.what],
        ['code', found.more],
        ['i', reference],
      ] as const) {
        if (words) dom.appendChild(document.createElement(tag)).textContent = words;
      }
      const place = placeOf(found.entry);
      if (place) {
        const link = dom.appendChild(document.createElement('button'));
        link.type = 'button';
        link.className = 'link';
        link.textContent = 'in the manual';
        link.onclick = () => openManual(place);
      }
      return { dom };
    },
  };
}
