import { Dialog } from 'radix-ui';
import { lazy, Suspense } from 'react';
import { interfaceActions } from '../store/interface-slice.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';

const ManualText = lazy(() => import('./ManualText.tsx').then((module) => ({ default: module.ManualText })));

/** The manual beside whatever is on show, which goes on meanwhile; its pages are loaded when it is opened first. */
export function ManualPanel() {
  const place = useAppSelector((state) => state.interface.manual);
  const dispatch = useAppDispatch();
  return (
    <Dialog.Root
      modal={false}
      open={place !== undefined}
      onOpenChange={(open) => !open && dispatch(interfaceActions.manualClosed())}
    >
      <Dialog.Portal>
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed inset-y-0 right-0 z-40 flex w-[min(600px,92vw)] flex-col border-l border-line bg-sheet shadow-xl print:hidden"
          onInteractOutside={(event) => event.preventDefault()}
          onOpenAutoFocus={(event) => event.preventDefault()}
        >
          <header className="flex items-baseline justify-between px-5 pt-3">
            <Dialog.Title className="text-xl">Manual</Dialog.Title>
            <Dialog.Close className="btn">Close</Dialog.Close>
          </header>
          {place && (
            <Suspense fallback={<p className="p-5 text-faint">The manual is being opened.</p>}>
              <ManualText place={place} />
            </Suspense>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
