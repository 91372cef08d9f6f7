import type { Environment } from './environment.ts';
import type * as Ast from './syntax.ts';
import { partsOf } from './syntax.ts';

const NAME = /[\p{L}_][\p{L}\p{N}_]*/gu;

/** Where the scenarios and studies of a text name what the model declares, so that a new name reaches them. What they say is read by the studies themselves. */
export function namesInStudies(env: Environment, tree: Ast.SyntaxTree): void {
  for (const part of [...partsOf(tree, 'scenario'), ...partsOf(tree, 'study')])
    for (const { text, span } of part.lines) {
      if (/^(?:note|study|scenario)\b/i.test(text)) continue;
      const said = text.replace(/"[^"]*"/g, (quoted) => ' '.repeat(quoted.length)).replace(/#.*$/, '');
      for (const { 0: word, index } of said.matchAll(NAME)) {
        const key = word.toLowerCase();
        const named =
          env.parameters.get(key) ?? env.variables.get(key) ?? env.measures.get(key) ?? env.summaries.get(key);
        const start = span.start + index;
        if (named) env.stands({ text: word, key, span: { start, end: start + word.length } }, named);
      }
    }
}
