import type { Formula } from '../mean-field/formula.ts';
import type { Assignment } from './document.ts';

const SUMS = new Set<Formula['is']>(['sum']);
const NARROW = new Set<Formula['is']>(['sum', 'product', 'fraction', 'power']);

/** An assignment or definition in the mathematics of TeX, for Markdown. */
export function texOfAssignment({ left, sign, right }: Assignment): string {
  return `${tex(left)} ${sign === '←' ? '\\leftarrow' : '='} ${tex(right)}`;
}

function tex(of: Formula): string {
  switch (of.is) {
    case 'number':
      return words(of.text);
    case 'name':
      return `\\mathit{${plain(of.text)}}${of.stage === undefined ? '' : `_{${plain(of.stage)}}`}`;
    case 'mean':
      return `\\overline{\\mathit{${plain(of.text)}}}`;
    case 'product':
      return of.factors.map((factor) => bracketed(factor, SUMS)).join(' \\cdot ');
    case 'sum':
      return of.terms
        .map(({ isLess, of: term }, i) => {
          const sign = isLess ? '-' : i > 0 ? '+' : '';
          return `${sign}${i > 0 ? ' ' : ''}${i > 0 || isLess ? bracketed(term, SUMS) : tex(term)}`;
        })
        .join(' ');
    case 'fraction':
      return `\\frac{${tex(of.top)}}{${tex(of.bottom)}}`;
    case 'power':
      return `{${bracketed(of.base, NARROW)}}^{${tex(of.exponent)}}`;
    case 'function':
      return `\\operatorname{${plain(of.name)}}\\left(${of.args.map(tex).join(', ')}\\right)`;
    case 'condition':
      return `\\left[${of.words.map((part) => (typeof part === 'string' ? words(part) : tex(part))).join('')}\\right]`;
  }
}

function bracketed(of: Formula, which: ReadonlySet<Formula['is']>): string {
  return which.has(of.is) ? `\\left(${tex(of)}\\right)` : tex(of);
}

function words(text: string): string {
  return /^[\d.]+$/.test(text) ? text : `\\text{${plain(text)}}`;
}

/** Text with nothing in it that TeX takes for a sign of its own. */
function plain(text: string): string {
  return text.replace(/[\\{}$&#^_%~]/g, (sign) =>
    sign === '\\' ? '\\backslash ' : sign === '^' || sign === '~' ? `\\${sign}{}` : `\\${sign}`,
  );
}
