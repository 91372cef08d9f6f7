import type { PosteriorAnswer } from '../studies/answers/questions.ts';
import { escapedXml } from '../xml.ts';
import type { Block, Line } from './document.ts';
import { shownNumber } from './numbers.ts';

type Found = NonNullable<PosteriorAnswer['found']>;

/** How a picture of a posterior is painted: colours as SVG takes them. */
export interface PosteriorPaint {
  readonly draws: string;
  readonly ground: string;
  readonly line: string;
  readonly ink: string;
  readonly faint: string;
}

const PAPER_PAINT: Omit<PosteriorPaint, 'draws'> = {
  ground: '#f5f0e6',
  line: '#d9cfbd',
  ink: '#2a2522',
  faint: '#5d564e',
};

const ROOM = 480;
/** That of one unknown is no larger than those of two. */
const LARGEST = 240;
const GAP = 10;
const FOOT = 22;
/** Draws that are drawn of each pair; more hide one another. */
const MOST_DRAWS = 1500;

/** What the picture of a posterior shows beside its numbers. */
export interface PosteriorWords {
  readonly units: readonly string[];
  /** Words in place of numbers, of unknowns that have some. */
  readonly words: readonly (readonly string[] | undefined)[];
}

/** The picture for a report, with a caption. */
export function posteriorBlock(found: Found, words: PosteriorWords, caption: Line): Block {
  const names = found.findings.map(({ parameter }) => parameter).join(', ');
  const side = sideOf(found.findings.length);
  return {
    is: 'picture',
    width: side,
    height: side + FOOT,
    told: `Of ${names} the draws over what was thought possible, and of each pair of them together.`,
    caption,
    svg: posteriorPicture(found, words, { ...PAPER_PAINT, draws: '#5f7040' }),
  };
}

/** The length of the picture of so many unknowns. */
function sideOf(count: number): number {
  return Math.min(ROOM, LARGEST * count);
}

/** Posteriors over their priors on the diagonal, draws of each pair of unknowns below it; heavier draws are darker. */
export function posteriorPicture(found: Found, { units, words }: PosteriorWords, paint: PosteriorPaint): string {
  const { posterior, findings, bins, pairs } = found;
  const count = findings.length;
  const side = sideOf(count);
  const size = (side - GAP * (count - 1)) / count;
  const place = (i: number): string => digits(i * (size + GAP));
  const rangeOf = (unknown: number): [number, number] => [bins[unknown]!.edges[0]!, bins[unknown]!.edges.at(-1)!];
  const at = (unknown: number, value: number): number => {
    const [low, high] = rangeOf(unknown);
    return ((value - low) / (high - low)) * size;
  };
  const box = `<rect width="${digits(size)}" height="${digits(size)}" fill="${paint.ground}" stroke="${paint.line}"/>`;
  const most = Math.max(...posterior.weights);
  const draws = posterior.draws.slice(0, MOST_DRAWS);

  const diagonal = findings.map(({ parameter, median, low, high }, i) => {
    const { posterior: shares, prior } = bins[i]!;
    const top = Math.max(...shares, ...prior);
    const bar = size / shares.length;
    const head = Math.min(40, size / 3);
    const y = (share: number): number => size - (share / top) * (size - head);
    const word = (value: number): string => words[i]?.[Math.round(value)] ?? shownNumber(value);
    const bars = shares.map(
      (share, b) =>
        `<rect x="${digits(b * bar + 0.5)}" width="${digits(Math.max(0.5, bar - 1))}" y="${digits(y(share))}" height="${digits(size - y(share))}" fill="${paint.draws}" opacity="0.75"/>`,
    );
    const steps = prior.map(
      (share, b) =>
        `${b === 0 ? 'M' : 'L'}${digits(b * bar)} ${digits(y(share))}L${digits((b + 1) * bar)} ${digits(y(share))}`,
    );
    return `<g transform="translate(${place(i)} ${place(i)})" data-unknown="${escapedXml(parameter)}">${box}${bars.join('')}<path d="${steps.join('')}" fill="none" stroke="${paint.ink}" stroke-dasharray="4 3"/><text x="6" y="15" font-size="13" font-weight="700" fill="${paint.ink}">${escapedXml(parameter)}</text><text x="6" y="30" font-size="11.5" fill="${paint.faint}">${escapedXml(`${word(median)} (${word(low)} to ${word(high)})`)}</text></g>`;
  });
  const below = pairs.map(({ first, second, correlation }) => {
    const names = `${findings[first]!.parameter} and ${findings[second]!.parameter}`;
    const dots = draws.map(
      (draw, i) =>
        `<circle cx="${digits(at(first, draw[first]!))}" cy="${digits(size - at(second, draw[second]!))}" r="${digits(Math.max(1.2, size / 90))}" fill="${paint.draws}" opacity="${digits(0.12 + 0.6 * (posterior.weights[i]! / most))}"/>`,
    );
    return `<g transform="translate(${place(first)} ${place(second)})"><title>${escapedXml(`${names}: correlation ${shownNumber(correlation, 2)}`)}</title>${box}${dots.join('')}</g>`;
  });
  const foot = findings.map((_, i) => {
    const [low, high] = rangeOf(i);
    const end = digits(i * (size + GAP) + size);
    return `<g font-size="11" fill="${paint.faint}"><text x="${place(i)}" y="${side + 14}">${escapedXml(shownNumber(low))}</text><text x="${end}" y="${side + 14}" text-anchor="end">${escapedXml(`${shownNumber(high)} ${units[i] ?? ''}`.trim())}</text></g>`;
  });
  const label = `Posterior of ${findings.map(({ parameter }) => parameter).join(', ')}`;
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${side} ${side + FOOT}" width="${side}" height="${side + FOOT}" role="img" aria-label="${escapedXml(label)}" font-family="Source Sans 3 Variable, Source Sans 3, sans-serif">${[...diagonal, ...below, ...foot].join('')}</svg>`;
}

function digits(value: number): string {
  return String(Number(value.toFixed(2)));
}
