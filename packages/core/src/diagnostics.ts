/** A piece of a text, in UTF-16 units, end exclusive. */
export interface Span {
  readonly start: number;
  readonly end: number;
}

/** Puts a text in the place of a piece of another one. */
export interface TextEdit {
  readonly span: Span;
  readonly text: string;
}

/** What can be wrong or doubtful, each once; docs/language.md tells of them. The word before the stroke says where it is found. */
export const DIAGNOSTIC_CODES = [
  'doubt/far-from-lanes',
  'doubt/series-ends',
  'doubt/word',
  'doubt/grid-way',
  'doubt/never',
  'doubt/no-measure',
  'doubt/nobody',
  'doubt/not-shown',
  'doubt/period',
  'doubt/stacked',
  'doubt/unheard',
  'doubt/unreachable',
  'doubt/unused',
  'file/column',
  'file/content',
  'file/missing',
  'internal/unforeseen',
  'layout/deeper',
  'layout/indent',
  'layout/under-agent',
  'model/no-end',
  'model/no-place',
  'model/no-space',
  'model/no-title',
  'model/odd-rows',
  'model/too-many',
  'model/twice',
  'model/which-space',
  'name/attribute',
  'name/cannot-set',
  'name/choice',
  'name/circle',
  'name/field-place',
  'name/function',
  'name/kind',
  'name/look',
  'name/line',
  'name/measure',
  'name/message',
  'name/network',
  'name/no-self',
  'name/not-agent',
  'name/record',
  'name/routine',
  'name/rule',
  'name/sender',
  'name/shown',
  'name/space',
  'name/state',
  'name/summary',
  'name/taken',
  'name/tally',
  'name/unit',
  'name/unknown',
  'name/of-map',
  'name/zone',
  'order/machine',
  'order/missing',
  'order/mode',
  'order/none',
  'order/turns',
  'order/twice',
  'query/cells',
  'query/no-it',
  'query/over-no-it',
  'query/part-no-it',
  'query/reach',
  'query/tied',
  'run/aboard',
  'run/agent-limit',
  'run/count',
  'run/earlier',
  'run/endless',
  'run/no-way',
  'run/nobody',
  'run/not-finite',
  'run/share',
  'run/size',
  'run/worker-lost',
  'study/condition',
  'study/design',
  'study/line',
  'study/missing',
  'study/parameter',
  'study/scenario',
  'study/twice',
  'study/values',
  'syntax/chain',
  'syntax/count-of',
  'syntax/date',
  'syntax/distance-sign',
  'syntax/empty-block',
  'syntax/equals',
  'syntax/file',
  'syntax/gather-brackets',
  'syntax/line',
  'syntax/list',
  'syntax/partners',
  'syntax/missing',
  'syntax/mixing',
  'syntax/name',
  'syntax/neighbours',
  'syntax/network',
  'syntax/number',
  'syntax/part',
  'syntax/partner',
  'syntax/reserved',
  'syntax/rest',
  'syntax/statement',
  'syntax/time',
  'syntax/unit',
  'syntax/until',
  'syntax/value',
  'text/character',
  'text/number',
  'text/open-quote',
  'text/time',
  'text/too-deep',
  'text/too-long',
  'type/angle',
  'type/arguments',
  'type/bounds',
  'type/chance',
  'type/chance-bounds',
  'type/compare',
  'type/constant',
  'type/draw',
  'type/expected',
  'type/group',
  'type/length',
  'type/maybe-nobody',
  'type/no-clock',
  'type/other-space',
  'type/period',
  'type/positive',
  'type/rate',
  'type/text',
  'type/time',
  'type/unit-after-name',
  'type/unit-mismatch',
  'type/whole',
  'vehicle/circle',
  'vehicle/line',
  'vehicle/never',
  'vehicle/seats',
  'vehicle/several',
] as const;

export type DiagnosticCode = (typeof DIAGNOSTIC_CODES)[number];

/** One thing that is wrong or doubtful: where, what, and what to do about it. Codes are stable; see docs/language.md. */
export interface Diagnostic {
  readonly severity: 'error' | 'warning';
  readonly code: DiagnosticCode;
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

/** Where and when a run failed, for those who show it beside the run. */
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

/** A place in a text as people name it: line and column, both from 1. */
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
