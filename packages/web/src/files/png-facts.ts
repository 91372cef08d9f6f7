import encode from 'png-chunks-encode';
import extract from 'png-chunks-extract';

const MILLIMETRES_AN_INCH = 25.4;

/**
 * A PNG that says what it is of, as international text, and how large it is meant to be (W3C, Portable Network Graphics, 11.3.3.4 and 11.3.4.3).
 * @param density dots per inch
 */
export function withFacts(png: Uint8Array, description: string, density: number): Uint8Array<ArrayBuffer> {
  const [head, ...rest] = extract(png);
  const writer = new TextEncoder();
  // Keyword, then: not compressed, no language, no translated keyword.
  const words = Uint8Array.of(...writer.encode('Description'), 0, 0, 0, 0, 0, ...writer.encode(description));
  const size = new Uint8Array(9);
  const view = new DataView(size.buffer);
  const aMetre = Math.round((density * 1000) / MILLIMETRES_AN_INCH);
  view.setUint32(0, aMetre);
  view.setUint32(4, aMetre);
  view.setUint8(8, 1);
  return new Uint8Array(
    encode([
      head!,
      { name: 'pHYs', data: size },
      { name: 'iTXt', data: words },
      ...rest.filter(({ name }) => name !== 'pHYs'),
    ]),
  );
}
