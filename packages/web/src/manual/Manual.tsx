import { lazy, Suspense } from 'react';
import { useAppSelector } from '../store/store.ts';

const ManualPanel = lazy(() => import('./ManualPanel.tsx').then((module) => ({ default: module.ManualPanel })));

/** The manual, while it is open; its pages are loaded when it is opened first. */
export function Manual() {
  const place = useAppSelector((state) => state.interface.manual);
  return (
    place && (
      <Suspense fallback={null}>
        <ManualPanel place={place} />
      </Suspense>
    )
  );
}
