import { expect, it } from 'vitest';
import { loadedModel } from './model-cache.ts';

const text = (i: number): string => `model M${i}\nagent A\n  start 1\nmeasure n = count A\n`;

it('a text that is in use is checked and lowered once; of many the latest are kept', () => {
  const first = loadedModel(text(0));
  expect(first.loaded!.plan.title).toBe('M0');
  for (let i = 1; i < 6; i++) loadedModel(text(i));
  expect(loadedModel(text(0))).toBe(first);
  for (let i = 10; i < 16; i++) loadedModel(text(i));
  const again = loadedModel(text(0));
  expect(again).not.toBe(first);
  expect(again.loaded!.plan).toEqual(first.loaded!.plan);
});

it('a text with errors gives what is wrong, the same each time', () => {
  const wrong = loadedModel('model Broken\nagent\n');
  expect([wrong.loaded, wrong.diagnostics.length > 0]).toEqual([undefined, true]);
  expect(loadedModel('model Broken\nagent\n')).toBe(wrong);
});
