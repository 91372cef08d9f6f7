import type { UnknownAction } from '@reduxjs/toolkit';
import { act, cleanup, render } from '@testing-library/react';
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

afterEach(cleanup);
