import { Suspense, useState } from 'react';
import { askedPart } from '../session/asked-part.tsx';

const VersionsDialog = askedPart('The list of versions', () =>
  import('./VersionsDialog.tsx').then((m) => m.VersionsDialog),
);

/** Leads to earlier texts; what shows them is loaded when they are asked for. */
export function Versions() {
  const [open, setOpen] = useState(false);
  return (
    <>
      <button type="button" className="link" aria-haspopup="dialog" onClick={() => setOpen(true)}>
        versions
      </button>
      {open && (
        <Suspense fallback={null}>
          <VersionsDialog onClose={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  );
}
