import type { Diagnostic, Fix } from '@vole/core';
import { placeOf } from '@vole/core';

/** What is wrong with the text of a study or a match, by line, with what mends it. */
export function TextFindings({
  text,
  diagnostics,
  onFix,
}: {
  readonly text: string;
  readonly diagnostics: readonly Diagnostic[];
  readonly onFix: (fix: Fix) => void;
}) {
  return (
    <ul role="alert" className="mt-1 max-h-40 overflow-auto text-problem">
      {diagnostics.map((found, i) => (
        <li key={i} className="border-t border-line py-1">
          line {placeOf(text, found.span.start).line}: {found.message} {found.hint}{' '}
          {found.fixes?.map((fix) => (
            <button key={fix.label} type="button" className="link" onClick={() => onFix(fix)}>
              {fix.label}
            </button>
          ))}
        </li>
      ))}
    </ul>
  );
}
