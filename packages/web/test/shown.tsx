import type { UnknownAction } from '@reduxjs/toolkit';
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import type { ReactElement } from 'react';
import { Provider } from 'react-redux';
import { afterEach } from 'vitest';
import { store } from '../src/store/store.ts';

/** Parts of the page on their own, with the store of the page. What is shown is taken away after each test. */
export function shown(part: ReactElement): ReturnType<typeof render> {
  return render(part, { wrapper: ({ children }) => <Provider store={store}>{children}</Provider> });
}

/** Changes the store, and waits until what is shown has followed. */
export function dispatched(action: UnknownAction): void {
  act(() => {
    store.dispatch(action);
  });
}

/** Writes another word into a sentence, and leaves it. */
export function typed(label: string, text: string): void {
  const word = screen.getByRole('textbox', { name: label });
  fireEvent.change(word, { target: { value: text } });
  fireEvent.blur(word);
}

/** Chooses another word of a list. */
export function choose(label: string, value: string): void {
  fireEvent.change(screen.getByRole('combobox', { name: label }), { target: { value } });
}

afterEach(cleanup);
