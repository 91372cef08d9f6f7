import { useEffect } from 'react';
import { live } from '../simulation/live-handle.ts';
import { interfaceActions, MANUAL_BEGINNING } from '../store/interface-slice.ts';
import { store, useAppDispatch } from '../store/store.ts';

/** The keys that work everywhere. */
export function useKeys(): void {
  const dispatch = useAppDispatch();
  useEffect(() => {
    const press = (event: KeyboardEvent): void => {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
        event.preventDefault();
        dispatch(interfaceActions.searchOpened(!store.getState().interface.searchOpen));
        return;
      }
      if (event.key === 'F1') {
        event.preventDefault();
        dispatch(interfaceActions.manualOpened(MANUAL_BEGINNING));
        return;
      }
      const target = event.target as HTMLElement;
      if (
        event.ctrlKey ||
        event.metaKey ||
        event.altKey ||
        target.closest('input, textarea, select, button, [role=slider], [contenteditable=true], [role=dialog]')
      )
        return;
      if (event.key === ' ') live.play(!store.getState().watch.playing);
      else if (event.key === '.') live.oneStep();
      else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [dispatch]);
}
