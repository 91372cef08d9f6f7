import { describe, expect, it } from 'vitest';
import { keptWidth, readWidths, widthsIn } from './build-widths.ts';

describe('the widths of Build', () => {
  it('leave room for the text in every window', () => {
    for (const room of [1024, 1280, 1920, 2560]) {
      for (const chosen of [{}, { outline: 400, aside: 1000 }, { outline: 1, aside: 1 }]) {
        const { outline, aside } = widthsIn(room, chosen);
        expect(outline).toBeGreaterThanOrEqual(120);
        expect(aside).toBeGreaterThanOrEqual(300);
        expect(room - outline - aside).toBeGreaterThanOrEqual(320);
      }
    }
    expect(widthsIn(1280, { aside: 500 }).aside).toBe(500);
  });
  it('stay within their bounds when dragged', () => {
    expect([keptWidth('outline', 20, 1280), keptWidth('outline', 250.4, 1280), keptWidth('aside', 5000, 1280)]).toEqual(
      [120, 250, 840],
    );
  });
  it('are read as they were stored, and nothing else', () => {
    expect(readWidths('{"outline":200,"aside":"wide","other":3}')).toEqual({ outline: 200 });
    for (const broken of [null, 'x', 'null', '[]']) expect(readWidths(broken)).toEqual({});
  });
});
