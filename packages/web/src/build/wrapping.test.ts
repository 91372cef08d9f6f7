import { describe, expect, it } from 'vitest';
import { formOfLine } from './wrapping.ts';

describe('the form of a line that may wrap', () => {
  it.each<[string, number, number | undefined]>([
    ['', 0, undefined],
    ['agent Vole', 0, undefined],
    ['    move by 2 m', 4, undefined],
    ['parameter strike = 0.2    "rate at which a vole is taken"', 0, 26],
    ['  has zeal = 1  “how much it cares”  ', 2, 16],
    ['start from "voles.csv"', 0, undefined],
    ['    log age, "old"', 4, undefined],
    ['"only a sentence"', 0, undefined],
  ])('of “%s”', (text, indent, sentenceAt) => expect(formOfLine(text)).toEqual({ indent, sentenceAt }));
});
