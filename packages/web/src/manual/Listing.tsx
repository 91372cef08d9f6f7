import { useNavigate } from 'react-router';
import { addExample } from '../storage/demo.ts';
import { repository, storageProblem } from '../storage/repository.ts';
import { interfaceActions } from '../store/interface-slice.ts';
import { useAppDispatch } from '../store/store.ts';
import type { RunnableListing } from './pages.ts';

/** A piece of text from the manual; a whole model, or a study or match of one, opens as a project of its own. */
export function Listing({ text, runnable }: { readonly text: string; readonly runnable: RunnableListing | undefined }) {
  const navigate = useNavigate();
  const dispatch = useAppDispatch();
  const open = async ({ model, study, match }: RunnableListing): Promise<void> => {
    try {
      const row = await addExample({ name: titleOf(model), text: model, match });
      if (study) await repository.keepStudyDraft(row.id, study);
      void navigate(`/project/${row.id}/${study ? 'vary' : match ? 'match' : 'build'}`);
    } catch (error) {
      dispatch(interfaceActions.noticed({ text: storageProblem(error), tone: 'problem' }));
    }
  };
  return (
    <div className="my-2 rounded border border-line bg-ground">
      <pre className="overflow-x-auto px-3 py-2 font-model text-[13px]">{text}</pre>
      {runnable && (
        <p className="border-t border-line px-3 py-1 text-right text-sm">
          <button type="button" className="link" onClick={() => void open(runnable)}>
            {runnable.study ? 'open with its study' : runnable.match ? 'open with its table' : 'open as a project'}
          </button>
        </p>
      )}
    </div>
  );
}

function titleOf(model: string): string {
  return /^model (.+)/m.exec(model)?.[1] ?? 'From the manual';
}
