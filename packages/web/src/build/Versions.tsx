import { lazy, Suspense, useState } from 'react';

const VersionsDialog = lazy(() => import('./VersionsDialog.tsx').then((m) => ({ default: m.VersionsDialog })));

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
