import { useNavigate } from 'react-router';
import { checkNow, keepMineAsCopy, saveSoon } from '../session/session.ts';
import { projectActions } from '../store/project-slice.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { clockTime } from '../words/numbers.ts';

/** What must not be overlooked: storage that fails, another tab that wrote the same project. */
export function Banners() {
  const { problem, conflict } = useAppSelector((state) => state.project);
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  return (
    <>
      {problem && (
        <div role="alert" className="border-b border-problem bg-sheet px-4 py-2 text-problem">
          {problem}
        </div>
      )}
      {conflict && (
        <div role="alert" className="flex flex-wrap items-center gap-3 border-b border-doubt bg-sheet px-4 py-2">
          <span>
            Another tab saved this project at {clockTime(conflict.changedAt)}. Both texts are safe; nothing is saved
            here until you choose.
          </span>
          <button
            type="button"
            className="btn-strong"
            onClick={() => void keepMineAsCopy().then((copy) => navigate(`/project/${copy.id}/build`))}
          >
            Keep mine as a copy
          </button>
          <button
            type="button"
            className="btn"
            onClick={() => {
              dispatch(projectActions.theirsTaken());
              checkNow();
            }}
          >
            Take the other one
          </button>
          <button
            type="button"
            className="btn"
            onClick={() => {
              dispatch(projectActions.mineKept());
              saveSoon();
            }}
          >
            Save mine over it
          </button>
        </div>
      )}
    </>
  );
}
