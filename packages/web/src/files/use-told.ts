import { useCallback } from 'react';
import { interfaceActions } from '../store/interface-slice.ts';
import { useAppDispatch } from '../store/store.ts';

/** Does what may fail, and says so on the page if it does. */
export function useTold(): (work: () => Promise<void>) => Promise<void> {
  const dispatch = useAppDispatch();
  return useCallback(
    (work) =>
      work().catch((error: unknown) => {
        const text = error instanceof Error ? error.message : String(error);
        dispatch(interfaceActions.noticed({ text, tone: 'problem' }));
      }),
    [dispatch],
  );
}
