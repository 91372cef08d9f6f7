/** Width of a text in pixels. */
type Measure = (text: string) => number;

/** A text in lines that fit a width, parted between words; none of an empty one. @param font as a canvas takes it */
export function wrapped(text: string, width: number, font: string): string[] {
  return linesOf(text, width, measureOf(font));
}

function measureOf(font: string): Measure {
  const context = document.createElement('canvas').getContext('2d');
  if (!context) return (text) => text.length * 7;
  context.font = font;
  return (text) => context.measureText(text).width;
}

export function linesOf(text: string, width: number, measure: Measure): string[] {
  const lines: string[] = [];
  for (const word of text.split(/\s+/).filter((each) => each !== '')) {
    const longer = lines.length > 0 ? `${lines.at(-1)!} ${word}` : word;
    if (lines.length > 0 && measure(longer) <= width) lines[lines.length - 1] = longer;
    else lines.push(word);
  }
  return lines;
}
