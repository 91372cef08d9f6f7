import type { AnyPart, Diagnostic } from '@vole/core';
import { treeOf } from '@vole/core';

export interface OutlineLine {
  readonly label: string;
  readonly depth: number;
  readonly start: number;
  /** Whether it is a part by itself, which can be moved. */
  readonly isPart: boolean;
  /** To the beginning of the next part. */
  readonly end: number;
  readonly problems: number;
}

/** The parts of a text in its order, with what stands inside kinds, and how many findings lie in each. */
export function outlineOf(text: string, diagnostics: readonly Diagnostic[]): OutlineLine[] {
  const { parts } = treeOf(text);
  const raw: { label: string; depth: number; start: number; isPart: boolean }[] = [];
  let lastGroup = '';
  for (const part of parts) {
    const grouped = groupOf(part, parts);
    if (grouped) {
      if (grouped !== lastGroup) raw.push({ label: grouped, depth: 0, start: part.span.start, isPart: false });
      lastGroup = grouped;
      continue;
    }
    lastGroup = '';
    raw.push({ label: labelOf(part), depth: 0, start: part.span.start, isPart: part.is !== 'model' });
    if (part.is !== 'agent') continue;
    for (const machine of part.states)
      raw.push({
        label: `${machine.name.text}: ${machine.states.map((s) => s.name.text).join(', ')}`,
        depth: 1,
        start: machine.span.start,
        isPart: false,
      });
    for (const behaviour of part.behaviours)
      raw.push({ label: behaviour.name.text, depth: 1, start: behaviour.span.start, isPart: false });
  }
  return raw.map((line, i) => {
    const end = raw[i + 1]?.start ?? text.length + 1;
    return {
      ...line,
      end,
      problems: diagnostics.filter((d) => d.span.start >= line.start && d.span.start < end).length,
    };
  });
}

function groupOf(part: AnyPart, parts: readonly AnyPart[]): string | undefined {
  const plural: Partial<Record<AnyPart['is'], string>> = {
    parameter: 'parameters',
    variable: 'variables',
    measure: 'measures',
    summary: 'summaries',
    chart: 'charts',
    show: 'shows',
    check: 'checks',
  };
  const word = plural[part.is];
  return word && `${word}, ${parts.filter((other) => other.is === part.is).length}`;
}

function labelOf(part: AnyPart): string {
  switch (part.is) {
    case 'model':
      return `Plan: ${part.title}`;
    case 'space':
      return `${part.name.text}, ${part.form}`;
    case 'field':
      return `${part.name.text}, field`;
    case 'agent':
      return part.name.text;
    case 'interaction':
      return `${part.name.text}, ${part.roles[0].kind.text} with ${part.roles[1].kind.text}`;
    case 'timeline':
      return `timeline, ${part.lines.length}`;
    case 'order':
      return `order, ${part.lines.length}`;
    case 'line':
    case 'network':
    case 'message':
    case 'behaviour':
    case 'define':
    case 'derive':
    case 'routine':
    case 'tally':
    case 'unit':
    case 'zone':
    case 'obstacle':
      return `${part.name.text}, ${part.is}`;
    case 'scenario':
    case 'study':
      return part.title ? `${part.title}, ${part.is}` : part.is;
    case 'record':
      return `record of ${part.name.text}`;
    default:
      return part.is;
  }
}
