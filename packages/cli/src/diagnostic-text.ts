import type { Diagnostic } from '@vole/core';
import { placeOf } from '@vole/core';

/** Of a very long line a window is shown. */
const SHOWN = 160;
const SHOWN_BEFORE = 110;

/** A finding for a terminal: place, what, the line with the piece underlined, what to do. */
export function diagnosticText(path: string, text: string, diagnostic: Diagnostic): string {
  const { line, column } = placeOf(text, diagnostic.span.start);
  const whole = text.split('\n')[line - 1]?.replace(/\r$/, '') ?? '';
  const from = Math.max(0, column - 1 - SHOWN_BEFORE);
  const source = whole.slice(from, from + SHOWN);
  const at = column - 1 - from;
  const length = Math.max(1, Math.min(diagnostic.span.end - diagnostic.span.start, source.length - at));
  const gutter = ' '.repeat(String(line).length);
  const lines = [
    `${path}:${line}:${column}: ${diagnostic.severity}: ${diagnostic.message} [${diagnostic.code}]`,
    `  ${line} | ${source}`,
    `  ${gutter} | ${source.slice(0, at).replace(/[^\t]/g, ' ')}${'^'.repeat(length)}`,
  ];
  if (diagnostic.hint) lines.push(`  ${diagnostic.hint}`);
  for (const fix of diagnostic.fixes ?? []) lines.push(`  - ${fix.label}`);
  return `${lines.join('\n')}\n`;
}
