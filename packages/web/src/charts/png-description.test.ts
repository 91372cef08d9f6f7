import extract from 'png-chunks-extract';
import { describe, expect, it } from 'vitest';
import { withDescription } from './png-description.ts';

/** A PNG of one dot. */
const DOT = Uint8Array.from(
  atob('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=='),
  (letter) => letter.charCodeAt(0),
);

describe('the description of a PNG', () => {
  it('stands in it as text beside the picture, which stays as it is', () => {
    const chunks = extract(withDescription(DOT, 'Made-up voles:\n40 runs, “größer”'));
    expect(chunks.map(({ name }) => name)).toEqual(['IHDR', 'iTXt', 'IDAT', 'IEND']);
    expect(new TextDecoder().decode(chunks[1]!.data)).toBe('Description\0\0\0\0\0Made-up voles:\n40 runs, “größer”');
    expect(chunks[2]!.data).toEqual(extract(DOT)[1]!.data);
  });
});
