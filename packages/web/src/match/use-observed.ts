import { useEffect, useState } from 'react';
import { repository, storageProblem } from '../storage/repository.ts';
import type { ObservedRow } from '../storage/schema.ts';
import { projectActions } from '../store/project-slice.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';

/** The observed data of the open project, and the way to put others in their place. */
export function useObserved(): { observed: ObservedRow | undefined; set: (row: Omit<ObservedRow, 'id' | 'projectId'>) => void } {
  const projectId = useAppSelector((state) => state.project.id);
  const dispatch = useAppDispatch();
  const [observed, setObserved] = useState<ObservedRow>();
  useEffect(() => {
    let isHere = true;
    if (projectId) {
      repository.observed(projectId).then(
        (row) => isHere && setObserved(row),
        (error: unknown) => dispatch(projectActions.storageFailed(storageProblem(error))),
      );
    }
    return () => {
      isHere = false;
    };
  }, [projectId, dispatch]);
  const set = (row: Omit<ObservedRow, 'id' | 'projectId'>): void => {
    if (!projectId) return;
    setObserved({ ...row, id: 'unsaved', projectId });
    repository.setObserved({ ...row, projectId }).then(setObserved, (error: unknown) => dispatch(projectActions.storageFailed(storageProblem(error))));
  };
  return { observed, set };
}
