import type { CheckedModel } from '@vole/core';
import { FUNCTIONS } from '@vole/core';
import { referenceEntry } from './reference.ts';

export interface NameDescription {
  readonly name: string;
  /** What it is: its type, unit and whose it is. */
  readonly what: string;
  /** As it is declared, or how it is used. */
  readonly more?: string;
  /** The word of the language under which the reference explains it. */
  readonly entry?: string;
}

/** What a word of the text stands for in a model, if it is a name or a word of the language. */
export function describeName(model: CheckedModel | undefined, word: string, text: string): NameDescription | undefined {
  const key = word.toLowerCase();
  const lineOf = (span: { readonly start: number }): string => text.slice(span.start, (text.indexOf('\n', span.start) + 1 || text.length + 1) - 1).trim();
  const unit = (label: string): string => (label ? ` ${label.startsWith('per ') ? '' : 'in '}${label}` : '');
  for (const parameter of model?.parameters ?? []) {
    if (parameter.name.toLowerCase() === key) return { name: parameter.name, what: `parameter, ${parameter.type.is === 'number' ? `a number${unit(parameter.unit.label)}` : typeWords(parameter.type)}`, more: lineOf(parameter.part.span), entry: 'parameter' };
  }
  for (const kind of model?.kinds ?? []) {
    if (kind.name.toLowerCase() === key) return { name: kind.name, what: 'kind of agent', more: `${kind.attributes.length} attributes, ${kind.machines.length} state machines`, entry: 'agent' };
    for (const attribute of kind.attributes) if (attribute.name.toLowerCase() === key) return { name: attribute.name, what: `attribute of ${kind.name}, ${attribute.type.is === 'number' ? `a number${unit(attribute.unit.label)}` : typeWords(attribute.type)}`, more: lineOf(attribute.line.span), entry: 'has' };
    for (const derived of kind.derives) if (derived.name.toLowerCase() === key) return { name: derived.name, what: `derived, of ${kind.name}`, more: lineOf(derived.span), entry: 'derive' };
    for (const machine of kind.machines) {
      if (machine.name.toLowerCase() === key) return { name: machine.name, what: `state machine of ${kind.name}`, more: machine.states.map((state) => state.name).join(', '), entry: 'states' };
      for (const state of machine.states) if (state.name.toLowerCase() === key) return { name: state.name, what: `state of ${machine.name}, of ${kind.name}`, entry: 'states' };
    }
  }
  for (const [list, what] of [[model?.fields, 'field'], [model?.variables, 'variable'], [model?.measures, 'measure'], [model?.summaries, 'summary']] as const) {
    for (const symbol of list ?? []) if (symbol.name.toLowerCase() === key) return { name: symbol.name, what, more: lineOf(symbol.part.span), entry: what };
  }
  for (const [list, what] of [[model?.networks, 'network'], [model?.messages, 'message'], [model?.zones, 'zone']] as const) {
    for (const symbol of list ?? []) if (symbol.name.toLowerCase() === key) return { name: symbol.name, what, more: lineOf(symbol.part.span), entry: what };
  }
  const known = FUNCTIONS.get(key);
  if (known) return { name: key, what: known.draws ? 'distribution, draws' : 'function', more: `${key}(${known.names.join(', ')})`, entry: key };
  return referenceEntry(key) ? { name: key, what: 'word of the language', entry: key } : undefined;
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
