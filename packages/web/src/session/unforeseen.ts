import { interfaceActions } from '../store/interface-slice.ts';
import { store } from '../store/store.ts';

/** Says on the page what went wrong where nobody was waiting for it, so that nothing fails unseen. */
export function tellUnforeseen(): void {
  window.addEventListener('unhandledrejection', ({ reason }) => {
    const why = reason instanceof Error ? reason.message : String(reason);
    store.dispatch(
      interfaceActions.noticed({
        text: `Something did not work: ${why}. Your text is safe on this page.`,
        tone: 'problem',
      }),
    );
  });
}
