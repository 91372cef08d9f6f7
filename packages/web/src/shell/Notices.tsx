import { useEffect } from 'react';
import { repository, storageProblem } from '../storage/repository.ts';
import type { Notice } from '../store/interface-slice.ts';
import { interfaceActions } from '../store/interface-slice.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';

const SHOWN_FOR = 8000;

/** Short words at the foot of the page, some with a way back. */
export function Notices() {
  const notices = useAppSelector((state) => state.interface.notices);
  return (
    <div
      className="pointer-events-none fixed bottom-36 left-1/2 z-50 flex -translate-x-1/2 flex-col gap-2"
      role="status"
    >
      {notices.map((notice) => (
        <NoticeLine key={notice.id} notice={notice} />
      ))}
    </div>
  );
}

function NoticeLine({ notice }: { readonly notice: Notice }) {
  const dispatch = useAppDispatch();
  useEffect(() => {
    const timer = setTimeout(() => dispatch(interfaceActions.noticeClosed(notice.id)), SHOWN_FOR);
    return () => clearTimeout(timer);
  }, [dispatch, notice.id]);
  return (
    <div
      className={`pointer-events-auto flex items-center gap-4 rounded-md bg-strong px-4 py-2 text-on-strong shadow-lg ${notice.tone === 'problem' ? 'border-l-4 border-problem' : ''}`}
    >
      <span>{notice.text}</span>
      {notice.undoProject && (
        <button
          type="button"
          className="font-semibold underline"
          onClick={() => {
            repository
              .bringBack(notice.undoProject!)
              .catch((error: unknown) =>
                dispatch(interfaceActions.noticed({ text: storageProblem(error), tone: 'problem' })),
              );
            dispatch(interfaceActions.noticeClosed(notice.id));
          }}
        >
          Undo
        </button>
      )}
    </div>
  );
}
