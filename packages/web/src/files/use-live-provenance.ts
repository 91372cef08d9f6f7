import { useMemo } from 'react';
import { filesOfText } from '../simulation/files-of-text.ts';
import { useLive } from '../simulation/live-handle.ts';
import { useAppSelector } from '../store/store.ts';
import type { Provenance } from '@vole/core';
import { provenanceOfRun } from '@vole/core';

/** What the run on show is of. */
export function useLiveProvenance(): Provenance | undefined {
  const plan = useLive((state) => state.plan);
  const text = useLive((state) => state.text);
  const seed = useLive((state) => state.seed);
  const acts = useLive((state) => state.acts.length);
  const wentOnAt = useLive((state) => state.wentOn?.step);
  const files = useAppSelector((state) => state.project.files);
  const values = useAppSelector((state) => state.watch.values);
  return useMemo(
    () => plan && provenanceOfRun({ plan, text, files: filesOfText(text, files), values, seed, acts, wentOnAt }),
    [plan, text, files, values, seed, acts, wentOnAt],
  );
}
