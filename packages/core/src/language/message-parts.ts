import type { Diagnostic, DiagnosticCode, Fix, Span } from '../diagnostics.ts';

/** What messages are made of. */

export interface More {
  readonly hint?: string;
  readonly fixes?: readonly Fix[];
}

export function error(code: DiagnosticCode, span: Span, message: string, more: More = {}): Diagnostic {
  return { severity: 'error', code, span, message, ...more };
}

export function warning(code: DiagnosticCode, span: Span, message: string, more: More = {}): Diagnostic {
  return { severity: 'warning', code, span, message, ...more };
}

export function replace(span: Span, text: string, label = `Write “${text}”`): Fix {
  return { label, edits: [{ span, text }] };
}

export function insert(at: number, text: string, label: string): Fix {
  return { label, edits: [{ span: { start: at, end: at }, text }] };
}

export function listed(words: readonly string[]): string {
  return words.map((word) => `“${word}”`).join(', ');
}
