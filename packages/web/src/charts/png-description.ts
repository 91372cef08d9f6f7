import encode from 'png-chunks-encode';
import extract from 'png-chunks-extract';

/** A PNG with a description inside, as international text (W3C, Portable Network Graphics, 11.3.3.4). */
export function withDescription(png: Uint8Array, description: string): Uint8Array<ArrayBuffer> {
  const [head, ...rest] = extract(png);
  const writer = new TextEncoder();
  // Keyword, then: not compressed, no language, no translated keyword.
  const data = Uint8Array.of(...writer.encode('Description'), 0, 0, 0, 0, 0, ...writer.encode(description));
  return new Uint8Array(encode([head!, { name: 'iTXt', data }, ...rest]));
}
