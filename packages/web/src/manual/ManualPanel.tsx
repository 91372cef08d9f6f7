import { Dialog } from 'radix-ui';
import type { ManualPlace } from '../store/interface-slice.ts';
import { interfaceActions } from '../store/interface-slice.ts';
import { useAppDispatch } from '../store/store.ts';
import { ManualText } from './ManualText.tsx';

/** The manual beside whatever is on show, which goes on meanwhile. */
export function ManualPanel({ place }: { readonly place: ManualPlace }) {
  const dispatch = useAppDispatch();
  return (
    <Dialog.Root modal={false} open onOpenChange={() => dispatch(interfaceActions.manualClosed())}>
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
          <ManualText place={place} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
