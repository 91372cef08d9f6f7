import { loadModel } from '@vole/core';
import { describe, expect, it } from 'vitest';
import { readRunTo } from './run-to.ts';

const planWith = (step: string) =>
  loadModel(`model M\nclock\n  step ${step}\n  end after 60 steps\nagent A\n  start 1\nmeasure n = count A\n`).loaded!
    .plan;
const [dated, plain] = [planWith('12 h from 2031-03-01'), planWith('1 day')];

describe('run to', () => {
  it.each([
    ['', undefined],
    ['  ', undefined],
    ['7', { step: 7 }],
    ['0', { step: 0 }],
    [' 60 ', { step: 60 }],
    ['2031-03-01', { step: 0 }],
    ['2031-03-04', { step: 6 }],
    ['1,0', { step: 10 }],
    ['0x10', { condition: '0x10' }],
    ['count A > 3', { condition: 'count A > 3' }],
  ])('“%s”', (text, wish) => {
    expect(readRunTo(text, dated, 60)).toEqual(wish);
  });

  it.each([
    ['61', /from 0 to 60/],
    ['-1', /from 0 to 60/],
    ['1.5', /whole/],
    ['1e400', /whole/],
    ['2031-13-40', /is no date/],
    ['2031-2-3', /not within the run/],
    ['2032-03-01', /not within the run/],
    ['2031-02-28', /not within the run/],
  ])('“%s” is no place to run to', (text, said) => {
    expect(readRunTo(text, dated, 60)).toEqual({ problem: expect.stringMatching(said) as string });
  });

  it('knows no dates without a calendar', () => {
    expect(readRunTo('2031-03-04', plain, 60)).toEqual({ problem: expect.stringContaining('no calendar') as string });
  });
});
