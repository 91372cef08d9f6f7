import type { CheckedModel } from '@vole/core';
import { FUNCTIONS } from '@vole/core';

export interface NameDescription {
  readonly name: string;
  /** What it is: its type, unit and whose it is. */
  readonly what: string;
  /** As it is declared, or how it is used. */
  readonly more?: string;
}

/** Words of the language with what they do, as the reference says it. */
const WORDS: Readonly<Record<string, string>> = {
  after: 'moves on when the time drawn on entering the state is over',
  rate: 'moves on with so many changes per time, on average',
  chance: 'holds with this probability, drawn anew each time',
  when: 'holds whenever the condition does',
  mixing: 'so many meetings a step, each with a partner drawn anew',
  it: 'the candidate of the query, in its condition',
  self: 'the acting agent',
  here: 'the place where the acting agent stands',
  somewhere: 'a place drawn evenly from the whole space',
  nearest: 'the one at the least distance; of equals a drawn one',
  weighted: 'drawn in proportion to a value',
  keep: 'every change of the field is clipped to these bounds',
  grow: 'what is added to each cell, per time or step',
  spread: 'the share that goes to the neighbouring cells',
  fade: 'the share that is lost',
  derive: 'computed whenever it is read',
  define: 'a formula; it draws nothing',
  order: 'the rules in the order in which they run, each with its mode',
  timeline: 'what happens at a time, over a time, or when a condition comes true',
  turn: 'changes the direction: 0 deg is up, to the right is positive',
  create: 'makes agents; lines under it set what they begin with',
  remove: 'takes an agent out for good',
  summary: 'one number of a whole run',
  check: 'runs over many seeds that must come out as expected',
};

/** What a word of the text stands for in a model, if it is a name or a word of the language. */
export function describeName(model: CheckedModel | undefined, word: string, text: string): NameDescription | undefined {
  const key = word.toLowerCase();
  const lineOf = (span: { readonly start: number }): string => text.slice(span.start, (text.indexOf('\n', span.start) + 1 || text.length + 1) - 1).trim();
  const unit = (label: string): string => (label ? ` ${label.startsWith('per ') ? '' : 'in '}${label}` : '');
  for (const parameter of model?.parameters ?? []) {
    if (parameter.name.toLowerCase() === key) return { name: parameter.name, what: `parameter, ${parameter.type.is === 'number' ? `a number${unit(parameter.unit.label)}` : typeWords(parameter.type)}`, more: lineOf(parameter.part.span) };
  }
  for (const kind of model?.kinds ?? []) {
    if (kind.name.toLowerCase() === key) return { name: kind.name, what: 'kind of agent', more: `${kind.attributes.length} attributes, ${kind.machines.length} state machines` };
    for (const attribute of kind.attributes) if (attribute.name.toLowerCase() === key) return { name: attribute.name, what: `attribute of ${kind.name}, ${attribute.type.is === 'number' ? `a number${unit(attribute.unit.label)}` : typeWords(attribute.type)}`, more: lineOf(attribute.line.span) };
    for (const derived of kind.derives) if (derived.name.toLowerCase() === key) return { name: derived.name, what: `derived, of ${kind.name}`, more: lineOf(derived.span) };
    for (const machine of kind.machines) {
      if (machine.name.toLowerCase() === key) return { name: machine.name, what: `state machine of ${kind.name}`, more: machine.states.map((state) => state.name).join(', ') };
      for (const state of machine.states) if (state.name.toLowerCase() === key) return { name: state.name, what: `state of ${machine.name}, of ${kind.name}` };
    }
  }
  for (const [list, what] of [[model?.fields, 'field'], [model?.variables, 'variable'], [model?.measures, 'measure'], [model?.summaries, 'summary']] as const) {
    for (const symbol of list ?? []) if (symbol.name.toLowerCase() === key) return { name: symbol.name, what, more: lineOf(symbol.part.span) };
  }
  for (const [list, what] of [[model?.networks, 'network'], [model?.messages, 'message'], [model?.zones, 'zone']] as const) {
    for (const symbol of list ?? []) if (symbol.name.toLowerCase() === key) return { name: symbol.name, what, more: lineOf(symbol.part.span) };
  }
  const known = FUNCTIONS.get(key);
  if (known) return { name: key, what: known.draws ? 'distribution, draws' : 'function', more: `${key}(${known.names.join(', ')})` };
  return WORDS[key] ? { name: key, what: 'word of the language', more: WORDS[key] } : undefined;
}

function typeWords(type: CheckedModel['parameters'][number]['type']): string {
  switch (type.is) {
    case 'yesno':
      return 'yes or no';
    case 'choice':
      return 'a choice';
    case 'agent':
      return `points at a ${type.kind}${type.maybe ? ', or nobody' : ''}`;
    case 'list':
      return `a list of ${type.of}`;
    default:
      return type.is;
  }
}
