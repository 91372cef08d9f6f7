import { expect, it } from 'vitest';
import { familiesIn, holdsAny } from './page-fonts.ts';

it('a face is needed where its range has a letter of the text', () => {
  const latin = 'U+0-FF, U+131, U+152-153, U+2BB-2BC';
  expect(holdsAny(latin, 'voles')).toBe(true);
  expect(holdsAny(latin, 'ж')).toBe(false);
  expect(holdsAny(latin, 'жœ')).toBe(true);
  expect(holdsAny('U+4??', 'ж')).toBe(true);
  expect(holdsAny('U+4??', 'v')).toBe(false);
  expect(holdsAny('', 'v')).toBe(true);
  expect(holdsAny('U+1F400-1F43F', '🐾')).toBe(true);
});

it('families are read with and without quotes', () => {
  expect(familiesIn('"Source Sans 3 Variable", \'Segoe UI\', sans-serif')).toEqual([
    'Source Sans 3 Variable',
    'Segoe UI',
    'sans-serif',
  ]);
});
