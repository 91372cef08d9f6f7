import type { Span } from '../diagnostics.ts';
import type { AttributeSymbol, CheckedModel, DisplayUnit, RuleSymbol } from '../language/checked.ts';
import { joined } from '../language/format.ts';
import type { Type } from '../language/types.ts';
import { sayType } from '../language/types.ts';

/** A piece of a model's text in its usual layout, on one line, without remarks. */
export function wording({ lexed, uses }: CheckedModel, { start, end }: Span): string {
  const own = lexed.tokens.filter(
    ({ span, type }) =>
      span.start >= start &&
      span.end <= end &&
      type !== 'newline' &&
      type !== 'indent' &&
      type !== 'dedent' &&
      type !== 'end',
  );
  return joined(own, uses);
}

/** The lines of a part as they stand in the text, with those that belong to it, brought to the left. */
export function listing(text: string, { start }: Span): string {
  const [first = '', ...rest] = text.slice(text.lastIndexOf('\n', start - 1) + 1).split('\n');
  const depth = indentOf(first);
  const beyond = rest.findIndex((line) => line.trim() !== '' && indentOf(line) <= depth);
  const lines = [first, ...rest.slice(0, beyond < 0 ? rest.length : beyond)];
  return lines
    .map((line) => line.slice(Math.min(depth, indentOf(line))).trimEnd())
    .join('\n')
    .trimEnd();
}

function indentOf(line: string): number {
  return /^\s*/.exec(line)![0].length;
}

/** A type with the unit in which its values are told. */
export function typeWords(type: Type, unit?: DisplayUnit): string {
  if (type.is === 'number') return unit?.label ? unit.label : type.whole ? 'whole number' : 'number';
  if (type.is === 'choice') return `one of ${type.options.join(', ')}`;
  return sayType(type);
}

/** What a sentence in the text says of something, or nothing. */
export function about({ about: words }: Pick<AttributeSymbol, 'about'>): string {
  return words ?? '';
}

/** A rule with those who act by it. */
export function ruleActors(rule: RuleSymbol): string {
  switch (rule.is) {
    case 'behaviour':
    case 'line':
    case 'machine':
      return rule.kind.name;
    case 'interaction':
      return listedKinds(rule.part.roles.map(({ kind }) => kind.text));
    case 'surroundings':
      return 'the surroundings';
    case 'field':
      return 'every cell';
  }
}

function listedKinds([first, second]: readonly string[]): string {
  return first === second ? `two of ${first!}` : `${first!} and ${second!}`;
}
