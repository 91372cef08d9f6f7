import type { Diagnostic, Span } from '../../diagnostics.ts';
import type { DesignMethod } from '../design/design.ts';
import type { Piece } from './pieces.ts';
import { linesOf, rest } from './pieces.ts';

/** A line of words and what follows them. */
type LineWithRest<K extends string> = K extends string ? { readonly is: K; readonly rest: Piece } : never;
/** A line that gives a name something. */
type LineWithName<K extends string> = K extends string
  ? { readonly is: K; readonly name: Piece; readonly value: Piece }
  : never;

/** A line of a study's text, as it is written, before anything is known of the model. */
export type StudyLine = { readonly span: Span } & (
  | LineWithRest<'timeline' | 'study' | 'scenario' | 'note' | 'model' | 'leave out' | 'keep every' | 'end after'>
  | LineWithName<'vary' | 'set' | 'outcome'>
  | { readonly is: 'method'; readonly method: DesignMethod; readonly count: number; readonly seed: number }
  | { readonly is: 'seeds'; readonly count: number }
  | { readonly is: 'own seeds' }
  | { readonly is: 'keep records' }
  | { readonly is: 'until'; readonly summary: Piece; readonly percent: number; readonly most: number }
);

/** How each method is written; what stands in brackets is its number. */
const METHODS: readonly (readonly [DesignMethod, RegExp])[] = [
  ['every combination', /^every combination()$/i],
  ['one at a time', /^one at a time()$/i],
  ['random', /^random(?: of)? (\d+)$/i],
  ['latin hypercube', /^latin hypercube of (\d+)$/i],
  ['sobol sequence', /^sobol sequence of (\d+)$/i],
  ['elementary effects', /^elementary effects,? (\d+) paths?$/i],
  ['sobol indices', /^sobol indices of (\d+)$/i],
];

const WITH_SEED = /^(.*?)(?:,? seed (\d+))?$/i;
const WRITE =
  'Write one of “vary”, “leave out”, “every combination”, “latin hypercube of 200”, “20 seeds each”, “keep every 7 steps”, “keep records”, “outcome”, “note”.';

/** The lines of a study's text. Remarks after # and empty lines are left out. */
export function studyLines(text: string): { lines: StudyLine[]; diagnostics: Diagnostic[] } {
  const lines: StudyLine[] = [];
  const diagnostics: Diagnostic[] = [];
  let isScenario = false;
  for (const piece of linesOf(text)) {
    const line = lineOf(piece, isScenario);
    if (!line) {
      diagnostics.push({
        severity: 'error',
        code: 'study/line',
        message: isScenario
          ? `“${piece.text}” sets no parameter of the scenario.`
          : `“${piece.text}” says nothing about a study.`,
        span: piece.span,
        hint: isScenario ? 'Write “bite = 0.2”; what belongs to the study stands above its scenarios.' : WRITE,
      });
      continue;
    }
    if (line.is === 'scenario') isScenario = true;
    lines.push(line);
  }
  return { lines, diagnostics };
}

function lineOf(line: Piece, isScenario: boolean): StudyLine | undefined {
  const { text, span } = line;
  const words = /^(study|scenario|note|model|leave out|keep every|end after)(?![\w])/i.exec(text);
  const assignment = /^(?:set\s+)?([\p{L}_][\p{L}\p{N}_]*)\s*=(?!=)/iu.exec(text);
  if (isScenario) {
    if (words?.[1]!.toLowerCase() === 'scenario') return { is: 'scenario', rest: rest(line, words[0].length), span };
    if (/^(?:at|from|when|whenever|while|every)\s.*:/i.test(text)) return { is: 'timeline', rest: line, span };
    return assignment ? named('set', line, assignment) : undefined;
  }
  if (words)
    return {
      is: words[1]!.toLowerCase().replace(/\s+/g, ' ') as 'note',
      rest: rest(line, words[0].length),
      span,
    };
  const vary = /^vary\s+([\p{L}_][\p{L}\p{N}_]*)[\s:]*/iu.exec(text);
  if (vary) return named('vary', line, vary);
  const outcome = /^outcome\s+([\p{L}_][\p{L}\p{N}_]*)\s*:/iu.exec(text);
  if (outcome) return named('outcome', line, outcome);
  if (/^set\s/i.test(text) && assignment) return named('set', line, assignment);
  return numbered(line);
}

/** @param match of the line up to what the name is given, with the name in its first group */
function named(is: 'vary' | 'set' | 'outcome', line: Piece, match: RegExpExecArray): StudyLine {
  const word = /^(?:vary|set|outcome)\s+/i.exec(match[0]);
  const start = line.span.start + (word?.[0].length ?? 0);
  return {
    is,
    name: { text: match[1]!, span: { start, end: start + match[1]!.length } },
    value: rest(line, match[0].length),
    span: line.span,
  };
}

/** Lines that are made of words and numbers alone. */
function numbered(line: Piece): StudyLine | undefined {
  const { span } = line;
  const text = line.text.replace(/\s+/g, ' ');
  if (/^own seeds$/i.test(text)) return { is: 'own seeds', span };
  if (/^keep records$/i.test(text)) return { is: 'keep records', span };
  const seeds = /^(\d+) seeds?(?: each)?$/i.exec(text);
  if (seeds) return { is: 'seeds', count: Number(seeds[1]), span };
  const until =
    /^until mean of ([\p{L}_][\p{L}\p{N}_]*) is known within (\d+(?:\.\d+)?) ?%, at most (\d+) seeds$/iu.exec(text);
  if (until) {
    const start = span.start + line.text.indexOf(until[1]!, 'until mean of'.length);
    return {
      is: 'until',
      summary: { text: until[1]!, span: { start, end: start + until[1]!.length } },
      percent: Number(until[2]),
      most: Number(until[3]),
      span,
    };
  }
  const [, bare = '', seed] = WITH_SEED.exec(text)!;
  for (const [method, pattern] of METHODS) {
    const match = pattern.exec(bare);
    if (match) return { is: 'method', method, count: Number(match[1] || 0), seed: Number(seed ?? 1), span };
  }
  return undefined;
}
