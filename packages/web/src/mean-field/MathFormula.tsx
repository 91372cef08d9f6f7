import type { Equation, Formula } from '@vole/core';
import type { ReactNode } from 'react';
import { createElement, Fragment } from 'react';

/** An equation set in type: the slope of a number over time, as a sum. */
export function MathEquation({ equation: { of, terms, stages } }: { readonly equation: Equation }) {
  return (
    <div className="overflow-x-auto py-1">
      {math(
        row(
          fraction(row(operator('d'), formula(of)), row(operator('d'), identifier('t'))),
          operator('='),
          sum(terms),
          stages &&
            row(
              text(', '),
              identifier('i'),
              operator('='),
              number(String(stages.from)),
              text(' to '),
              formula(stages.to),
            ),
        ),
      )}
    </div>
  );
}

const SUMS = new Set<Formula['is']>(['sum']);
const NARROW = new Set<Formula['is']>(['sum', 'product', 'fraction', 'power']);

function formula(of: Formula): ReactNode {
  switch (of.is) {
    case 'number':
      return number(of.text);
    case 'name':
      return of.stage === undefined
        ? identifier(of.text)
        : createElement('msub', null, identifier(of.text), text(of.stage));
    case 'mean':
      return row(text('mean '), identifier(of.text));
    case 'product':
      return row(
        ...of.factors.flatMap((factor, i) => [i > 0 && operator('·', `dot${i}`), keyed(bracketed(factor, SUMS), i)]),
      );
    case 'sum':
      return sum(of.terms);
    case 'fraction':
      return fraction(formula(of.top), formula(of.bottom));
    case 'power':
      return createElement('msup', null, bracketed(of.base, NARROW), formula(of.exponent));
    case 'function':
      return row(
        text(of.name),
        operator('('),
        ...of.args.flatMap((arg, i) => [i > 0 && operator(',', `comma${i}`), keyed(formula(arg), i)]),
        operator(')'),
      );
    case 'condition':
      return row(
        operator('['),
        ...of.words.map((part, i) => keyed(typeof part === 'string' ? text(part) : formula(part), i)),
        operator(']'),
      );
  }
}

function sum(terms: Equation['terms']): ReactNode {
  return row(
    ...terms.flatMap(({ isLess, of }, i) => [
      (isLess || i > 0) && operator(isLess ? '−' : '+', `sign${i}`),
      keyed(i > 0 || isLess ? bracketed(of, SUMS) : formula(of), i),
    ]),
  );
}

function bracketed(of: Formula, which: ReadonlySet<Formula['is']>): ReactNode {
  return which.has(of.is) ? row(operator('('), formula(of), operator(')')) : formula(of);
}

function keyed(node: ReactNode, key: number): ReactNode {
  return <Fragment key={key}>{node}</Fragment>;
}

function math(content: ReactNode): ReactNode {
  return createElement('math', { displaystyle: 'true', className: 'text-[15px]' }, content);
}

function row(...parts: ReactNode[]): ReactNode {
  return createElement('mrow', null, ...parts);
}

function fraction(top: ReactNode, bottom: ReactNode): ReactNode {
  return createElement('mfrac', null, top, bottom);
}

function identifier(name: string): ReactNode {
  return createElement('mi', null, name);
}

function number(digits: string): ReactNode {
  return createElement('mn', null, digits);
}

function text(words: string): ReactNode {
  // Spaces at the ends are dropped in formulas.
  return createElement('mtext', null, words.replace(/^ | $/g, '\u00a0'));
}

function operator(sign: string, key?: string): ReactNode {
  return createElement('mo', { stretchy: 'false', ...(key === undefined ? {} : { key }) }, sign);
}
