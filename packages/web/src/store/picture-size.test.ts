import { describe, expect, it } from 'vitest';
import { dotsOf, readMeasure, readSize, USUAL_SIZE } from './picture-size.ts';

describe('the size of saved figures', () => {
  it('its dots follow from width and resolution, and its height from the shape', () => {
    expect(dotsOf({ width: 640, height: 320 }, { width: 254, density: 300 })).toEqual([3000, 1500]);
    expect(dotsOf({ width: 300, height: 300 }, { width: 25.4, density: 96 })).toEqual([96, 96]);
  });

  it('what no browser draws is refused before it is tried, a tall figure by its height', () => {
    expect(() => dotsOf({ width: 100, height: 50 }, { width: 2000, density: 600 })).toThrow('47,244 dots to a side');
    expect(() => dotsOf({ width: 100, height: 900 }, { width: 200, density: 300 })).toThrow('21,260 dots to a side');
  });

  it('what is typed is a number within reach, or told', () => {
    expect(readMeasure('84.5', 'width')).toBe(84.5);
    expect(readMeasure(' 600 ', 'density')).toBe(600);
    for (const text of ['', '0', '-3', 'wide', 'NaN', 'Infinity', '1e9'])
      expect(readMeasure(text, 'width')).toEqual({
        problem: `A width in millimetres is a number from 5 to 2000, not “${text}”.`,
      });
  });

  it('what was kept is taken up, anything else is the usual size', () => {
    expect(readSize('{"width":84,"density":600}')).toEqual({ width: 84, density: 600 });
    for (const text of [null, '', '{', '[]', '{"width":0,"density":600}', '{"width":"84","density":600}'])
      expect(readSize(text)).toEqual(USUAL_SIZE);
  });
});
