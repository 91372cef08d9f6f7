import { MergeView } from '@codemirror/merge';
import { EditorState } from '@codemirror/state';
import { EditorView, lineNumbers } from '@codemirror/view';
import { useEffect, useRef } from 'react';
import { modelColours } from './model-language.ts';

/** Two texts beside one another, what differs set off. */
export function Comparison({ before, now }: { readonly before: string; readonly now: string }) {
  const place = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const side = (doc: string, label: string) => ({
      doc,
      extensions: [
        lineNumbers(),
        modelColours,
        EditorState.readOnly.of(true),
        EditorView.contentAttributes.of({ 'aria-label': label, tabindex: '0' }),
      ],
    });
    const view = new MergeView({
      parent: place.current!,
      a: side(before, 'The version'),
      b: side(now, 'The text as it is'),
      gutter: true,
      collapseUnchanged: { margin: 3, minSize: 6 },
    });
    return () => view.destroy();
  }, [before, now]);
  return <div ref={place} className="min-w-0 flex-1 overflow-auto rounded-sm border border-line bg-sheet" />;
}
