import type { Line } from '@vole/core';

/** Words in a line, each kind as it looks on the sheet. */
export function LineOnSheet({ line }: { readonly line: Line }) {
  return line.map((words, i) => {
    if (typeof words === 'string') return words;
    switch (words.is) {
      case 'strong':
        return <b key={i}>{words.text}</b>;
      case 'code':
        return (
          <code key={i} className="font-model text-[0.86em]">
            {words.text}
          </code>
        );
      case 'faint':
        return (
          <span key={i} className="text-faint">
            {words.text}
          </span>
        );
    }
  });
}
