// @vitest-environment happy-dom
import { expect, it } from 'vitest';
import { store } from '../store/store.ts';
import { tellUnforeseen } from './unforeseen.ts';

it('what went wrong where nobody waited is said on the page', () => {
  tellUnforeseen();
  for (const reason of [new Error('The disk is gone'), 'no room'])
    window.dispatchEvent(Object.assign(new Event('unhandledrejection'), { reason }));
  expect(store.getState().interface.notices.map(({ text, tone }) => [text, tone])).toEqual([
    ['Something did not work: The disk is gone. Your text is safe on this page.', 'problem'],
    ['Something did not work: no room. Your text is safe on this page.', 'problem'],
  ]);
});
