import { repository, storageProblem } from '../storage/repository.ts';
import type { ObservedRow } from '../storage/schema.ts';
import { observedActions } from '../store/observed-slice.ts';
import { projectActions } from '../store/project-slice.ts';
import { store, useAppSelector } from '../store/store.ts';

/** The observed data of the open project, and the way to put others in their place. */
export function useObserved(): {
  observed: ObservedRow | undefined;
  set: (row: Omit<ObservedRow, 'id' | 'projectId'>) => void;
} {
  return { observed: useAppSelector((state) => state.observed.row), set: setObserved };
}

function setObserved(row: Omit<ObservedRow, 'id' | 'projectId'>): void {
  const projectId = store.getState().project.id;
  if (!projectId) return;
  store.dispatch(observedActions.shown({ ...row, id: 'unsaved', projectId }));
  repository
    .setObserved({ ...row, projectId })
    .then(undefined, (error: unknown) => store.dispatch(projectActions.storageFailed(storageProblem(error))));
}
