import { expect, it } from 'vitest';
import { readPercent } from './read-percent.ts';

it('reads a share with its sign, or says what is wrong', () => {
  expect(['5 %', '2.5', 'within 1%', '100 %'].map((text) => readPercent(text, 'x'))).toEqual([0.05, 0.025, 0.01, 1]);
  for (const text of ['', '0', '0 %', '101', '-3', 'few', '1e999', 'NaN', '5 % 5', '1,5'])
    expect(readPercent(text, 'How well')).toEqual({
      problem: `How well is a share above 0 and up to 100 %, not “${text}”.`,
    });
});
