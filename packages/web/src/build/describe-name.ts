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

type AttributeOfModel = CheckedModel['kinds'][number]['attributes'][number];

/**
 * What a word stands for in a model, if it is a name or a word of the language.
 * @param text the text of the model
 * @param at offset of the word in it, if it stands there: of several things of one name the one that is meant
 */
export function describeName(
  model: CheckedModel | undefined,
  word: string,
  text: string,
  at?: number,
): NameDescription | undefined {
  const key = word.toLowerCase();
  const declaredAt = at === undefined ? undefined : model?.uses.get(at)?.declaredAt;
  const isMeant = ({ name, span }: { readonly name: string; readonly span: { readonly start: number } }): boolean =>
    name.toLowerCase() === key && (!declaredAt || declaredAt.has(span.start));
  const lineOf = (span: { readonly start: number }): string =>
    text
      .slice(text.lastIndexOf('\n', span.start - 1) + 1, (text.indexOf('\n', span.start) + 1 || text.length + 1) - 1)
      .trim();
  const described = (
    symbol: { readonly name: string; readonly span: { readonly start: number } },
    what: string,
    entry: string,
    more = lineOf(symbol.span),
  ): NameDescription => ({ name: symbol.name, what, more, entry });
  const attributeOf = (list: readonly AttributeOfModel[], owner: string): NameDescription | undefined => {
    const attribute = list.find(isMeant);
    return (
      attribute &&
      described(attribute, `attribute of ${owner}, ${typeWords(attribute.type, attribute.unit.label)}`, 'has')
    );
  };
  if (model) {
    const parameter = model.parameters.find(isMeant);
    if (parameter)
      return described(parameter, `parameter, ${typeWords(parameter.type, parameter.unit.label)}`, 'parameter');
    for (const kind of model.kinds) {
      if (isMeant(kind))
        return described(
          kind,
          'kind of agent',
          'agent',
          `${kind.attributes.length} attributes, ${kind.machines.length} state machines`,
        );
      const attribute = attributeOf(kind.attributes, kind.name);
      if (attribute) return attribute;
      const derived = kind.derives.find(isMeant);
      if (derived) return described(derived, `derived, of ${kind.name}`, 'derive');
      for (const machine of kind.machines) {
        if (isMeant(machine))
          return described(
            machine,
            `state machine of ${kind.name}`,
            'states',
            machine.states.map((state) => state.name).join(', '),
          );
        const state = [...machine.states, ...machine.groups].find(isMeant);
        if (state) return described(state, `state of ${machine.name}, of ${kind.name}`, 'states');
      }
    }
    for (const { attributes, name } of model.networks) {
      const attribute = attributeOf(attributes, `a tie of ${name}`);
      if (attribute) return attribute;
    }
    for (const { attributes, name } of model.messages) {
      const attribute = attributeOf(attributes, `the message ${name}`);
      if (attribute) return attribute;
    }
    const { spaces, fields, derives, variables, measures, summaries, networks, lines, messages, zones, tallies } =
      model;
    for (const [list, what] of [
      [spaces, 'space'],
      [fields, 'field'],
      [derives, 'derived value'],
      [variables, 'variable'],
      [measures, 'measure'],
      [summaries, 'summary'],
      [networks, 'network'],
      [lines, 'line'],
      [messages, 'message'],
      [zones, 'zone'],
      [tallies, 'tally'],
    ] as const) {
      const symbol = (list as readonly { readonly name: string; readonly span: { readonly start: number } }[]).find(
        isMeant,
      );
      if (symbol) return described(symbol, what, what);
    }
    const [start] = declaredAt ?? [];
    if (start !== undefined) return described({ name: word, span: { start } }, 'a name given here:', '');
  }
  const known = FUNCTIONS.get(key);
  if (known)
    return {
      name: key,
      what: known.draws ? 'distribution, draws' : 'function',
      more: `${key}(${known.names.join(', ')})`,
      entry: key,
    };
  return referenceEntry(key) ? { name: key, what: 'word of the language', entry: key } : undefined;
}

function typeWords(type: AttributeOfModel['type'], unit: string): string {
  switch (type.is) {
    case 'number':
      return `a number${unit ? ` ${unit.startsWith('per ') ? '' : 'in '}${unit}` : ''}`;
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
