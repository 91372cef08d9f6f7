import extract from 'png-chunks-extract';
import { describe, expect, it } from 'vitest';
import { withFacts } from './png-facts.ts';

/** A PNG of one dot. */
const DOT = Uint8Array.from(
  atob('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=='),
  (letter) => letter.charCodeAt(0),
);

describe('what a PNG says of itself', () => {
  it('stands in it beside the picture, which stays as it is: of what it is, and how many dots make a metre', () => {
    const chunks = extract(withFacts(DOT, 'Made-up voles:\n40 runs, “größer”', 300));
    expect(chunks.map(({ name }) => name)).toEqual(['IHDR', 'pHYs', 'iTXt', 'IDAT', 'IEND']);
    expect(new TextDecoder().decode(chunks[2]!.data)).toBe('Description\0\0\0\0\0Made-up voles:\n40 runs, “größer”');
    expect(chunks[3]!.data).toEqual(extract(DOT)[1]!.data);
    // 300 dots per inch are 11,811 per metre.
    expect([...chunks[1]!.data]).toEqual([0, 0, 0x2e, 0x23, 0, 0, 0x2e, 0x23, 1]);
  });

  it('a resolution that stood there already is taken over, not written twice', () => {
    const chunks = extract(withFacts(withFacts(DOT, 'first', 96), 'second', 600));
    expect(chunks.filter(({ name }) => name === 'pHYs').map(({ data }) => [...data])).toEqual([
      [0, 0, 0x5c, 0x46, 0, 0, 0x5c, 0x46, 1],
    ]);
  });
});
