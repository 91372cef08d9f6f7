import type { Equation } from '../mean-field/equations.ts';
import type { Formula } from '../mean-field/formula.ts';
import type { Assignment } from './document.ts';

/** An element of MathML with what is in it. */
export interface MathNode {
  readonly tag: 'mrow' | 'mi' | 'mn' | 'mo' | 'mtext' | 'mfrac' | 'msup' | 'msub';
  readonly children: readonly (MathNode | string)[];
}

/** An assignment or definition in MathML. */
export function mathOfAssignment({ left, sign, right }: Assignment): MathNode {
  return row(formula(left), operator(sign), formula(right));
}

/** An equation in MathML: the slope of a number over time, as a sum. */
export function mathOfEquation({ of, terms, stages }: Equation): MathNode {
  return row(
    fraction(row(operator('d'), formula(of)), row(operator('d'), identifier('t'))),
    operator('='),
    sum(terms),
    ...(stages
      ? [row(text(', '), identifier('i'), operator('='), number(String(stages.from)), text(' to '), formula(stages.to))]
      : []),
  );
}

const SUMS = new Set<Formula['is']>(['sum']);
const NARROW = new Set<Formula['is']>(['sum', 'product', 'fraction', 'power']);

function formula(of: Formula): MathNode {
  switch (of.is) {
    case 'number':
      return number(of.text);
    case 'name':
      return of.stage === undefined ? identifier(of.text) : node('msub', identifier(of.text), text(of.stage));
    case 'mean':
      return row(text('mean '), identifier(of.text));
    case 'product':
      return row(...of.factors.flatMap((factor, i) => [...(i > 0 ? [operator('·')] : []), bracketed(factor, SUMS)]));
    case 'sum':
      return sum(of.terms);
    case 'fraction':
      return fraction(formula(of.top), formula(of.bottom));
    case 'power':
      return node('msup', bracketed(of.base, NARROW), formula(of.exponent));
    case 'function':
      return row(
        text(of.name),
        operator('('),
        ...of.args.flatMap((arg, i) => [...(i > 0 ? [operator(',')] : []), formula(arg)]),
        operator(')'),
      );
    case 'condition':
      return row(
        operator('['),
        ...of.words.map((part) => (typeof part === 'string' ? text(part) : formula(part))),
        operator(']'),
      );
  }
}

function sum(terms: Equation['terms']): MathNode {
  return row(
    ...terms.flatMap(({ isLess, of }, i) => [
      ...(isLess || i > 0 ? [operator(isLess ? '−' : '+')] : []),
      i > 0 || isLess ? bracketed(of, SUMS) : formula(of),
    ]),
  );
}

function bracketed(of: Formula, which: ReadonlySet<Formula['is']>): MathNode {
  return which.has(of.is) ? row(operator('('), formula(of), operator(')')) : formula(of);
}

function node(tag: MathNode['tag'], ...children: (MathNode | string)[]): MathNode {
  return { tag, children };
}
function row(...children: MathNode[]): MathNode {
  return node('mrow', ...children);
}
function fraction(top: MathNode, bottom: MathNode): MathNode {
  return node('mfrac', top, bottom);
}
function identifier(name: string): MathNode {
  return node('mi', name);
}
function number(value: string): MathNode {
  return node('mn', value);
}
function operator(sign: string): MathNode {
  return node('mo', sign);
}
function text(words: string): MathNode {
  // Spaces at the ends are dropped in formulas.
  return node('mtext', words.replace(/^ | $/g, '\u00a0'));
}
