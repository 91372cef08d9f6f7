import { escapedXml } from '@vole/core';
import { familiesIn, fontRules } from './page-fonts.ts';
import type { PictureSize } from '../store/picture-size.ts';
import { dotsOf } from '../store/picture-size.ts';
import { withFacts } from './png-facts.ts';
import { wrapped } from './wrapped.ts';

/** A figure as SVG, with its shape and what it is of. */
export interface Figure {
  readonly text: string;
  readonly width: number;
  readonly height: number;
  readonly about: readonly string[];
}

/** What a figure says of itself. */
export interface FigureWords {
  readonly title: string;
  readonly note: string;
  /** Of which text, values and seeds it is; kept inside. */
  readonly about: readonly string[];
}

/** What is drawn in a frame of the page, and words of it that belong to the figure. */
const DRAWINGS = 'svg.recharts-surface, svg[role="img"], svg[data-figure]';
const WORDS = '[data-figure-words]';

const PAINT = ['fill', 'stroke', 'stroke-width', 'stroke-dasharray', 'opacity', 'fill-opacity', 'stroke-opacity'];
const TYPE = ['font-size', 'font-family', 'font-weight', 'font-style', 'text-anchor'];

const EDGE = 14;
const TITLE_HEIGHT = 20;
const NOTE_HEIGHT = 16;

/**
 * The drawings of a frame and the words that belong to them as they stand on the page, with their colours and fonts, on the ground of the sheet, the title and the note above.
 * @param width in millimetres
 * @throws Error if nothing is drawn there
 */
export async function figureOf(frame: Element, { title, note, about }: FigureWords, width: number): Promise<Figure> {
  const drawings = [...frame.querySelectorAll<SVGSVGElement>(DRAWINGS)].filter(isSeen);
  if (drawings.length === 0) throw new Error('There is no figure to save yet.');
  const words = [...frame.querySelectorAll<HTMLElement>(WORDS)].filter(isSeen);
  const boxes = [...drawings, ...words].map((each) => each.getBoundingClientRect());
  const left = Math.min(...boxes.map((box) => box.left)) - EDGE;
  const top = Math.min(...boxes.map((box) => box.top));
  const across = Math.max(...boxes.map((box) => box.right)) - left + EDGE;
  const down = Math.max(...boxes.map((box) => box.bottom)) - top;
  const style = getComputedStyle(frame);
  const colour = (name: string): string => style.getPropertyValue(name).trim();
  const fonts = { title: colour('--font-title'), body: colour('--font-body') };
  const titles = wrapped(title, across - 2 * EDGE, `600 17px ${fonts.title}`);
  const notes = wrapped(note, across - 2 * EDGE, `12px ${fonts.body}`);
  const head = titles.length * TITLE_HEIGHT + notes.length * NOTE_HEIGHT + 12;
  const at = (box: DOMRect): { x: number; y: number } => ({ x: box.left - left, y: box.top - top + head });
  const families = new Set([...familiesIn(fonts.title), ...familiesIn(fonts.body)]);
  const bodies = drawings.map((drawing) => {
    const box = drawing.getBoundingClientRect();
    const copy = drawing.cloneNode(true) as SVGSVGElement;
    copyStyles(drawing, copy, families);
    for (const [name, value] of Object.entries({ ...at(box), width: box.width, height: box.height }))
      copy.setAttribute(name, String(value));
    return new XMLSerializer().serializeToString(copy);
  });
  const lines = [
    ...titles.map((line, i) =>
      textLine(
        line,
        EDGE,
        20 + i * TITLE_HEIGHT,
        `font-size="17" font-weight="600" font-family="${escapedXml(fonts.title)}" fill="${colour('--ink')}"`,
      ),
    ),
    ...notes.map((line, i) =>
      textLine(
        line,
        EDGE,
        titles.length * TITLE_HEIGHT + 16 + i * NOTE_HEIGHT,
        `font-size="12" fill="${colour('--faint')}"`,
      ),
    ),
    ...words.map((each) => wordsAt(each, at(each.getBoundingClientRect()))),
  ];
  const height = down + head + EDGE;
  const letters = [
    title,
    note,
    ...drawings.map((each) => each.textContent),
    ...words.map((each) => each.textContent),
  ].join('');
  const rules = await fontRules(families, letters);
  const text = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}mm" height="${(width * height) / across}mm" viewBox="0 0 ${across} ${height}" font-family="${escapedXml(fonts.body)}">
<title>${escapedXml(title)}</title>
<desc>${escapedXml([note, ...about].join('\n'))}</desc>
<style>${rules}</style>
<rect width="100%" height="100%" fill="${colour('--sheet')}"/>
${[...lines, ...bodies].join('\n')}
</svg>`;
  return { text, width: across, height, about: [title, note, ...about] };
}

function isSeen(element: Element): boolean {
  const { width, height } = element.getBoundingClientRect();
  return width > 0 && height > 0;
}

function textLine(text: string, x: number, y: number, looks: string): string {
  return `<text x="${x}" y="${y}" ${looks}>${escapedXml(text)}</text>`;
}

/** Words of the page where they stand, in their own colour and size. */
function wordsAt(element: HTMLElement, { x, y }: { readonly x: number; readonly y: number }): string {
  const style = getComputedStyle(element);
  const size = parseFloat(style.fontSize);
  const middle = y + element.getBoundingClientRect().height / 2 + size * 0.35;
  const looks = `font-size="${size}" font-weight="${style.fontWeight}" fill="${style.color}"`;
  return textLine(element.textContent.trim(), x, middle, looks);
}

function copyStyles(from: Element, to: Element, families: Set<string>): void {
  const style = getComputedStyle(from);
  const isText = from.localName === 'text' || from.localName === 'tspan';
  for (const name of isText ? [...PAINT, ...TYPE] : PAINT) {
    const value = style.getPropertyValue(name);
    if (value) (to as SVGElement).style.setProperty(name, value);
    if (name === 'font-family') for (const family of familiesIn(value)) families.add(family);
  }
  for (const { name, value } of [...to.attributes])
    if (name !== 'style' && (value.includes('var(') || name === 'class')) to.removeAttribute(name);
  [...from.children].forEach((child, i) => copyStyles(child, to.children[i]!, families));
}

/** A figure as PNG; what it is of and how large it is stand inside. */
export async function pngOf(figure: Figure, size: PictureSize): Promise<Blob> {
  const canvas = await drawnOn(figure.text, ...dotsOf(figure, size));
  return pngOfCanvas(canvas, figure.about, size.density);
}

/** An SVG drawn so many dots wide and high. */
export async function drawnOn(svg: string, width: number, height: number): Promise<HTMLCanvasElement> {
  const url = URL.createObjectURL(new Blob([svg], { type: 'image/svg+xml' }));
  try {
    const image = new Image();
    image.src = url;
    await image.decode();
    const canvas = document.createElement('canvas');
    Object.assign(canvas, { width, height });
    canvas.getContext('2d')!.drawImage(image, 0, 0, width, height);
    return canvas;
  } finally {
    URL.revokeObjectURL(url);
  }
}

/** What a canvas shows as PNG. @param density dots per inch at which it is meant to be seen */
export async function pngOfCanvas(canvas: HTMLCanvasElement, about: readonly string[], density: number): Promise<Blob> {
  const blob = await new Promise<Blob>((resolve, reject) =>
    canvas.toBlob((made) => (made ? resolve(made) : reject(new Error('The picture could not be made.'))), 'image/png'),
  );
  const bytes = withFacts(new Uint8Array(await blob.arrayBuffer()), about.join('\n'), density);
  return new Blob([bytes], { type: 'image/png' });
}
