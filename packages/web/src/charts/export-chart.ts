import { withDescription } from './png-description.ts';

/** A chart as it stands on the page, as a file of its own. */

export function download(name: string, content: Blob): void {
  const url = URL.createObjectURL(content);
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

export function downloadText(name: string, text: string, type = 'text/plain'): void {
  download(name, new Blob([text], { type: `${type};charset=utf-8` }));
}

export function fileName(title: string, ending: string): string {
  return `${
    title
      .toLowerCase()
      .replace(/[^\p{L}\p{N}]+/gu, '-')
      .replace(/^-|-$/g, '') || 'vole-parade'
  }.${ending}`;
}

const COPIED = [
  'fill',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'opacity',
  'fill-opacity',
  'stroke-opacity',
  'font-size',
  'font-family',
  'font-weight',
  'text-anchor',
];

/** A figure as SVG, with its size and what it is of. */
export interface Figure {
  readonly text: string;
  readonly width: number;
  readonly height: number;
  readonly about: readonly string[];
}

const HEAD = 44;

/**
 * The drawings of a frame with their colours and type written out, on the ground of the sheet, the title above them; where there are several, each where it stands, below its heading.
 * @param about what it is of, kept inside as metadata
 */
export function svgOf(frame: HTMLElement, title: string, note: string, about: readonly string[] = []): Figure {
  const drawings = [...frame.querySelectorAll<SVGSVGElement>('svg.recharts-surface, svg[data-figure]')];
  if (drawings.length === 0) throw new Error('There is no chart to export yet.');
  const boxes = drawings.map((drawing) => drawing.getBoundingClientRect());
  const headings = [...frame.querySelectorAll<HTMLElement>('[data-figure-heading]')];
  const tops = [...boxes, ...headings.map((heading) => heading.getBoundingClientRect())].map(({ top }) => top);
  const [left, top] = [Math.min(...boxes.map((box) => box.left)), Math.min(...tops)];
  const width = Math.max(...boxes.map((box) => box.right)) - left;
  const height = Math.max(...boxes.map((box) => box.bottom)) - top;
  const style = getComputedStyle(frame);
  const colour = (name: string): string => style.getPropertyValue(name);
  const bodies = drawings.map((drawing, i) => {
    const copy = drawing.cloneNode(true) as SVGSVGElement;
    copyStyles(drawing, copy);
    copy.setAttribute('x', String(boxes[i]!.left - left));
    copy.setAttribute('y', String(boxes[i]!.top - top + HEAD));
    copy.setAttribute('width', String(boxes[i]!.width));
    copy.setAttribute('height', String(boxes[i]!.height));
    return new XMLSerializer().serializeToString(copy);
  });
  const words = headings.map((heading) => {
    const box = heading.getBoundingClientRect();
    return `<text x="${(box.left + box.right) / 2 - left}" y="${box.bottom - top + HEAD - 4}" font-size="13" font-weight="bold" text-anchor="middle" fill="${colour('--ink')}">${escaped(heading.textContent)}</text>`;
  });
  const text = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height + HEAD}" viewBox="0 0 ${width} ${height + HEAD}" font-family="sans-serif">
<title>${escaped(title)}</title>
<desc>${escaped([note, ...about].join('\n'))}</desc>
<rect width="100%" height="100%" fill="${colour('--sheet')}"/>
<text x="14" y="20" font-size="16" font-weight="bold" fill="${colour('--ink')}">${escaped(title)}</text>
<text x="14" y="37" font-size="12" fill="${colour('--faint')}">${escaped(note)}</text>
${[...bodies, ...words].join('\n')}
</svg>`;
  return { text, width, height: height + HEAD, about: [title, note, ...about] };
}

function copyStyles(from: Element, to: Element): void {
  const style = getComputedStyle(from);
  for (const name of COPIED) {
    const value = style.getPropertyValue(name);
    if (value) (to as SVGElement).style.setProperty(name, value);
  }
  for (const { name, value } of [...to.attributes])
    if (name !== 'style' && value.includes('var(')) to.removeAttribute(name);
  [...from.children].forEach((child, i) => copyStyles(child, to.children[i]!));
}

function escaped(text: string): string {
  return text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;');
}

/** At twice the size of the screen, for print; what it is of stands inside as its description. */
export async function pngOf(svg: Figure): Promise<Blob> {
  const url = URL.createObjectURL(new Blob([svg.text], { type: 'image/svg+xml' }));
  try {
    const image = new Image();
    image.src = url;
    await image.decode();
    const canvas = document.createElement('canvas');
    canvas.width = svg.width * 2;
    canvas.height = svg.height * 2;
    canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height);
    const blob = await new Promise<Blob>((resolve, reject) =>
      canvas.toBlob(
        (made) => (made ? resolve(made) : reject(new Error('The picture could not be made.'))),
        'image/png',
      ),
    );
    const bytes = withDescription(new Uint8Array(await blob.arrayBuffer()), svg.about.join('\n'));
    return new Blob([bytes], { type: 'image/png' });
  } finally {
    URL.revokeObjectURL(url);
  }
}
