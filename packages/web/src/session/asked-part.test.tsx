// @vitest-environment happy-dom
import { screen } from '@testing-library/react';
import { Suspense } from 'react';
import { expect, it, vi } from 'vitest';
import { eventually } from '../../test/patience.ts';
import { shown } from '../../test/shown.tsx';
import { store } from '../store/store.ts';
import { askedPart } from './asked-part.tsx';

vi.stubGlobal(
  'BroadcastChannel',
  class {
    postMessage(): void {
      // Nobody listens here.
    }
  },
);

it('a part that is asked for is shown once it is there', async () => {
  const Part = askedPart('The list', () => Promise.resolve(({ words }: { readonly words: string }) => <p>{words}</p>));
  shown(
    <Suspense fallback="on its way">
      <Part words="here" />
    </Suspense>,
  );
  expect(await screen.findByText('here')).toBeDefined();
});

it('a part that cannot be loaded is said to be so, and the view around it stays', async () => {
  const Part = askedPart('The list', () => Promise.reject(new TypeError('Failed to fetch')));
  shown(
    <main>
      <p>around it</p>
      <Suspense fallback="on its way">
        <Part />
      </Suspense>
    </main>,
  );
  await eventually(() => expect(screen.queryByText('on its way')).toBeNull());
  expect(screen.getByText('around it')).toBeDefined();
  expect(store.getState().interface.notices.at(-1)?.text).toMatch(/^The list could not be loaded\..*your text is safe/);
});
