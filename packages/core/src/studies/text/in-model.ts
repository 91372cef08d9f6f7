import { applyEdits } from '../../diagnostics.ts';
import type { Diagnostic, Fix, Span, TextEdit } from '../../diagnostics.ts';
import type { ScenarioPart, StudyPart, SyntaxTree } from '../../language/syntax.ts';
import { partsOf } from '../../language/syntax.ts';
import type { StudiedModel } from './read-study.ts';
import { readStudy } from './read-study.ts';

/** A study that stands in the text of its model, as a text of its own. */
export interface StudyInModel {
  /** Empty if it has none. */
  readonly name: string;
  readonly text: string;
  /** Of the text: which pieces were taken from the model, in their order. */
  readonly taken: readonly Taken[];
}

/** A piece of a study's text. */
interface Taken {
  /** Where it begins in the text of the study. */
  readonly at: number;
  /** Where it stands in the text of the model. */
  readonly span: Span;
}

/** A study of the scenarios that a model's text has: the model as it stands comes first. */
const ALL_SCENARIOS = 'Scenarios of the text';
const AS_IT_IS = 'As it is';
const PLAIN_SCENARIO = `scenario ${AS_IT_IS}\n`;

/**
 * The studies that stand in a model's text. One that varies nothing and has no scenarios under it compares all scenarios of the text, a single one with the model as it stands.
 * @param tree of the text
 */
export function studiesInText(text: string, tree: SyntaxTree): StudyInModel[] {
  const scenarios = partsOf(tree, 'scenario');
  return partsOf(tree, 'study').map((part) => {
    const hasPoints = part.lines.some((line) => /^(?:vary|scenario)\b/i.test(line.text));
    return extracted(text, part.title, [part, ...(hasPoints ? [] : compared(scenarios))]);
  });
}

/** The scenarios that stand in a model's text as a study of its own, with the model as it stands as the first; undefined if it has none. */
export function scenariosInText(text: string, tree: SyntaxTree): StudyInModel | undefined {
  const scenarios = partsOf(tree, 'scenario');
  if (scenarios.length === 0) return undefined;
  const isNamed = scenarios.some(({ title }) => title.toLowerCase() === AS_IT_IS.toLowerCase());
  const head = `study ${ALL_SCENARIOS}\n  20 seeds each\n`;
  return extracted(text, ALL_SCENARIOS, [head, ...(isNamed ? [] : [PLAIN_SCENARIO]), ...scenarios]);
}

function compared(scenarios: readonly ScenarioPart[]): (ScenarioPart | string)[] {
  return scenarios.length === 1 ? [PLAIN_SCENARIO, ...scenarios] : [...scenarios];
}

/** @param parts of the text, or what is written beside them */
function extracted(text: string, name: string, parts: readonly (ScenarioPart | StudyPart | string)[]): StudyInModel {
  let written = '';
  const taken: Taken[] = [];
  for (const part of parts) {
    if (written) written += '\n';
    if (typeof part === 'string') {
      written += part;
      continue;
    }
    const whole = wholePart(part);
    taken.push({ at: written.length, span: whole });
    written += `${text.slice(whole.start, whole.end).replace(/\r/g, ' ')}\n`;
  }
  return { name, text: written, taken };
}

/** Where a piece of a study's text stands in the text of the model; undefined for what is not from there. */
function placeInModel({ taken }: StudyInModel, { start, end }: Span): Span | undefined {
  const from = taken.findLast(({ at }) => at <= start);
  if (!from) return undefined;
  const move = (at: number): number => Math.min(from.span.start + at - from.at, from.span.end);
  return { start: move(start), end: move(end) };
}

function fixInModel(study: StudyInModel, { label, edits }: Fix): Fix[] {
  const moved = edits.flatMap(({ span, text }): TextEdit[] => {
    const place = placeInModel(study, span);
    return place ? [{ span: place, text }] : [];
  });
  return moved.length === edits.length ? [{ label, edits: moved }] : [];
}

/** What is wrong with the scenarios and studies in a model's text, with places in it. @param tree of the text */
export function findingsInStudies(model: StudiedModel, tree: SyntaxTree): Diagnostic[] {
  // What is asked of the model does not change while its studies are written.
  const studied: StudiedModel = { ...model, text: withoutStudies(model.text) };
  const scenarios = scenariosInText(model.text, tree);
  const studies = studiesInText(model.text, tree);
  const found = new Map<string, Diagnostic>();
  for (const study of [...(scenarios ? [scenarios] : []), ...studies])
    for (const { span, fixes, ...finding } of readStudy(study.text, studied).diagnostics) {
      const place = placeInModel(study, span);
      if (place)
        found.set(`${finding.code} ${place.start} ${place.end}`, {
          ...finding,
          span: place,
          fixes: fixes?.flatMap((fix) => fixInModel(study, fix)),
        });
    }
  return [...found.values(), ...namedTwice(tree)].sort((a, b) => a.span.start - b.span.start);
}

/** Where a scenario or a study with its lines begins and ends in the text. */
function wholePart({ span, lines }: ScenarioPart | StudyPart): Span {
  return { start: span.start, end: Math.max(span.end, lines.at(-1)?.span.end ?? 0) };
}

/** A model's text with a study written into it, at its end; studies and scenarios of the same names go. @param tree of the text */
export function withStudy(text: string, tree: SyntaxTree, study: string): string {
  const names = new Set(
    [...study.matchAll(/^\s*(study|scenario)[ \t]+([^#\n]*)/gim)].map(
      ([, is, name]) => `${is!.toLowerCase()} ${name!.trim().toLowerCase()}`,
    ),
  );
  const gone = [...partsOf(tree, 'scenario'), ...partsOf(tree, 'study')].filter(({ is, title }) =>
    names.has(`${is} ${title.toLowerCase()}`),
  );
  const edits = gone.map((part) => {
    const { start, end } = wholePart(part);
    const blank = /^\s*\n/.exec(text.slice(end))?.[0] ?? '';
    return { span: { start, end: end + blank.length }, text: '' };
  });
  return `${applyEdits(text, edits).trimEnd()}\n\n${study.trim()}\n`;
}

/** A model's text without its scenarios and studies: what of it runs. */
export function withoutStudies(text: string): string {
  let isInside = false;
  const kept = text.split('\n').filter((line) => {
    if (/^\S/.test(line)) isInside = /^(?:study|scenario)\b(?!\s*[=:.])/i.test(line);
    return !isInside;
  });
  return kept.join('\n').trimEnd();
}

function namedTwice(tree: SyntaxTree): Diagnostic[] {
  const names = new Set<string>();
  return partsOf(tree, 'study').flatMap(({ title, span }): Diagnostic[] => {
    const isTwice = title !== '' && names.has(title.toLowerCase());
    names.add(title.toLowerCase());
    return isTwice
      ? [
          {
            severity: 'error',
            code: 'study/twice',
            message: `There are two studies “${title}”.`,
            span,
            hint: 'Give one of them another name.',
          },
        ]
      : [];
  });
}
