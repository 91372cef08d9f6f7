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

/** The drawing with its colours and type written out, on the ground of the sheet, with the title above it. */
export function svgOf(
  frame: HTMLElement,
  title: string,
  note: string,
): { text: string; width: number; height: number } {
  const drawn = frame.querySelector<SVGSVGElement>('svg.recharts-surface');
  if (!drawn) throw new Error('There is no chart to export yet.');
  const { width, height } = drawn.getBoundingClientRect();
  const copy = drawn.cloneNode(true) as SVGSVGElement;
  copyStyles(drawn, copy);
  const head = 44;
  const style = getComputedStyle(frame);
  const ground = style.getPropertyValue('--sheet');
  const ink = style.getPropertyValue('--ink');
  const faint = style.getPropertyValue('--faint');
  copy.setAttribute('y', String(head));
  copy.setAttribute('width', String(width));
  copy.setAttribute('height', String(height));
  const body = new XMLSerializer().serializeToString(copy);
  const text = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height + head}" viewBox="0 0 ${width} ${height + head}" font-family="sans-serif">
<rect width="100%" height="100%" fill="${ground}"/>
<text x="14" y="20" font-size="16" font-weight="bold" fill="${ink}">${escaped(title)}</text>
<text x="14" y="37" font-size="12" fill="${faint}">${escaped(note)}</text>
${body}
</svg>`;
  return { text, width, height: height + head };
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

/** At twice the size of the screen, for print. */
export async function pngOf(svg: { text: string; width: number; height: number }): Promise<Blob> {
  const url = URL.createObjectURL(new Blob([svg.text], { type: 'image/svg+xml' }));
  try {
    const image = new Image();
    image.src = url;
    await image.decode();
    const canvas = document.createElement('canvas');
    canvas.width = svg.width * 2;
    canvas.height = svg.height * 2;
    canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height);
    return await new Promise((resolve, reject) =>
      canvas.toBlob(
        (blob) => (blob ? resolve(blob) : reject(new Error('The picture could not be made.'))),
        'image/png',
      ),
    );
  } finally {
    URL.revokeObjectURL(url);
  }
}
