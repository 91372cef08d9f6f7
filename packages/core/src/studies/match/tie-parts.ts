import { withoutQuotes } from '../text/pieces.ts';
import type { ObservingError } from './observing.ts';
import type { Reading } from './ties.ts';

/** What the line of a tie says behind its column. */
export interface TieParts {
  readonly name?: string;
  readonly reading: Reading;
  readonly error: ObservingError;
  readonly errorColumn?: string;
  readonly where?: { readonly column: string; readonly is: string };
  readonly weight: number;
}

const bare = (text: string): string => withoutQuotes({ text, span: { start: 0, end: text.length } }).text;
const NUMBER = String.raw`(\d+(?:\.\d+)?)`;

/** How each part is written, and what it says. */
const PARTS: readonly (readonly [RegExp, (found: RegExpExecArray) => Partial<TieParts> | undefined])[] = [
  [/^at the time$/i, () => ({ reading: 'at' })],
  [/^(mean|total|last) (?:over|in|of) the interval$/i, ([, word]) => ({ reading: word!.toLowerCase() as Reading })],
  [/^(?:no error|error none)$/i, () => ({ error: { is: 'none' } })],
  [/^error poisson$/i, () => ({ error: { is: 'poisson' } })],
  [
    new RegExp(`^error negative binomial of ${NUMBER}$`, 'i'),
    ([, size]) => (Number(size) > 0 ? { error: { is: 'negative binomial', size: Number(size) } } : undefined),
  ],
  [
    new RegExp(`^error ${NUMBER} ?%$`, 'i'),
    ([, percent]) => ({ error: { is: 'percent', share: Number(percent) / 100 } }),
  ],
  [new RegExp(`^error ${NUMBER}$`, 'i'), ([, sd]) => ({ error: { is: 'normal', sd: Number(sd) } })],
  [/^error from column (.+)$/i, ([, column]) => ({ error: { is: 'column' }, errorColumn: bare(column!) })],
  [/^where (.+?) is (.+)$/i, ([, column, word]) => ({ where: { column: bare(column!), is: bare(word!) } })],
  [new RegExp(`^weight ${NUMBER}$`, 'i'), ([, weight]) => ({ weight: Number(weight) })],
  [/^called (.+)$/i, ([, name]) => ({ name: bare(name!) })],
];

/** What one part of a tie says; nothing where it is none. */
export function readPart(text: string): Partial<TieParts> | undefined {
  const plain = text.trim().replace(/\s+/g, ' ');
  for (const [pattern, says] of PARTS) {
    const found = pattern.exec(plain);
    if (found) return says(found);
  }
  return undefined;
}
