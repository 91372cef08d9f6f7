import { lex, treeOf } from '@vole/core';
import type { AnyPart } from '@vole/core';

/** Names that a text declares, in lower case: of parts, attributes, states, behaviours, inputs and what rules give a name. */
function declaredNames(text: string): Set<string> {
  const names = new Set<string>();
  const add = (name: { readonly key: string } | undefined): void => void (name && names.add(name.key));
  const visit = (part: AnyPart): void => {
    if ('name' in part && part.name && typeof part.name === 'object') add(part.name);
    if (part.is === 'interaction') for (const role of part.roles) add(role.name);
    if (part.is !== 'agent') return;
    for (const line of [...part.has, ...part.derives, ...part.behaviours, ...part.defines, ...part.routines]) add(line.name);
    const states = (list: readonly { readonly name: { readonly key: string }; readonly states: readonly never[] | readonly unknown[] }[]): void => {
      for (const state of list) {
        add(state.name);
        states(state.states as typeof list);
      }
    };
    for (const machine of part.states) {
      add(machine.name);
      states(machine.states);
    }
  };
  for (const part of treeOf(text).parts) visit(part);
  for (const [, name] of text.matchAll(/^\s*(?:let|with|for each)\s+([\p{L}_][\p{L}\p{N}_]*)/gmu)) names.add(name!.toLowerCase());
  return names;
}

/** The declared name that stands at a place of the text, as it is written there. */
export function declaredNameAt(text: string, at: number): string | undefined {
  const token = lex(text).tokens.find(({ type, span }) => type === 'name' && span.start <= at && at <= span.end);
  if (!token || !declaredNames(text).has(token.word)) return undefined;
  return text.slice(token.span.start, token.span.end);
}
