/** A piece of a text, in UTF-16 units, end exclusive. */
export interface Span {
  readonly start: number;
  readonly end: number;
}

export interface TextEdit {
  readonly span: Span;
  readonly text: string;
}

/** One thing that is wrong or doubtful: where, what, and what to do about it. Codes are stable; see docs/language.md. */
export interface Diagnostic {
  readonly severity: 'error' | 'warning';
  readonly code: string;
  readonly message: string;
  readonly span: Span;
  readonly hint?: string;
  readonly fixes?: readonly Fix[];
}

/** An edit that a reader may accept with one click. */
export interface Fix {
  readonly label: string;
  readonly edits: readonly TextEdit[];
}

export interface FailureFacts {
  readonly step?: number;
  readonly rule?: string;
  readonly agent?: string;
}

/** A failing run or a refused input. Plain `facts` and `diagnostic` survive a trip between workers as `toPlain()`. */
export class ModelError extends Error {
  constructor(
    readonly diagnostic: Diagnostic,
    readonly facts: FailureFacts = {},
  ) {
    super(diagnostic.message);
    this.name = 'ModelError';
  }

  toPlain(): { diagnostic: Diagnostic; facts: FailureFacts } {
    return { diagnostic: this.diagnostic, facts: this.facts };
  }
}

/** The piece of a text that is being worked on: the place of what was not foreseen. */
export interface Progress {
  at: Span;
}

export interface LinePlace {
  readonly line: number;
  readonly column: number;
}

/** Line and column, both from 1, of an offset in a text. */
export function placeOf(text: string, offset: number): LinePlace {
  let line = 1;
  let lineStart = 0;
  const end = Math.min(offset, text.length);
  for (let i = 0; i < end; i++) {
    if (text.charCodeAt(i) === 10) {
      line++;
      lineStart = i + 1;
    }
  }
  return { line, column: end - lineStart + 1 };
}

/** Applies edits that do not overlap; their order does not matter. */
export function applyEdits(text: string, edits: readonly TextEdit[]): string {
  const ordered = [...edits].sort((a, b) => b.span.start - a.span.start);
  let result = text;
  for (const edit of ordered) {
    result = result.slice(0, edit.span.start) + edit.text + result.slice(edit.span.end);
  }
  return result;
}
