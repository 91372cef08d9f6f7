import { expect, it } from 'vitest';
import { linesOf } from './wrapped.ts';

const aLetterEach = (text: string): number => text.length;

it('a text is parted between words where a line is full; a word that is too long has a line of its own', () => {
  expect(linesOf('median and bands of 40 runs', 12, aLetterEach)).toEqual(['median and', 'bands of 40', 'runs']);
  expect(linesOf('an unbelievably long word', 6, aLetterEach)).toEqual(['an', 'unbelievably', 'long', 'word']);
  expect(linesOf('  ', 6, aLetterEach)).toEqual([]);
});
