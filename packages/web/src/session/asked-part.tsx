import type { ComponentType } from 'react';
import { lazy } from 'react';
import { interfaceActions } from '../store/interface-slice.ts';
import { store } from '../store/store.ts';

interface Loaded<P> {
  readonly default: ComponentType<P>;
}

/**
 * A part that is loaded when it is asked for first. Where that fails nothing is shown and it is said; the view around it goes on.
 * @param name of it, as a sentence begins
 */
export function askedPart<P extends object>(name: string, load: () => Promise<ComponentType<P>>): ComponentType<P> {
  return lazy(() =>
    load().then(
      (part): Loaded<P> => ({ default: part }),
      (): Loaded<P> => {
        store.dispatch(
          interfaceActions.noticed({
            text: `${name} could not be loaded. Is the server running? Reload the page to try again; your text is safe.`,
            tone: 'problem',
          }),
        );
        return { default: () => null };
      },
    ),
  );
}
