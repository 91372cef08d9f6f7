import { useEffect } from 'react';
import type { FallbackProps } from 'react-error-boundary';
import { Link } from 'react-router';
import { downloadText, fileName } from '../files/download.ts';
import { noteStopped } from '../storage/stopped.ts';
import { projectActions } from '../store/project-slice.ts';
import { saveNow, saveSoon } from '../session/session.ts';
import { store, useAppDispatch, useAppSelector } from '../store/store.ts';

/** When a view breaks: what happened, what is safe, what to do. The text is at hand in a plain editor, and as a file. */
export function ProblemView({ error }: FallbackProps) {
  const message = error instanceof Error ? error.message : String(error);
  const { id, name, text, problem } = useAppSelector((state) => state.project);
  const dispatch = useAppDispatch();
  useEffect(() => {
    void saveNow().then(() => {
      const { project } = store.getState();
      if (project.id) noteStopped(project.id, project.revision);
    });
  }, []);
  return (
    <main className="mx-auto flex h-full max-w-3xl flex-col overflow-auto p-10">
      <h1 className="mb-3 text-2xl">This view stopped</h1>
      <p className="mb-3">It met something it was not made for, which is our mistake: {message}</p>
      <p className="mb-4">
        {id
          ? `The text of “${name}” is below as it stands, and ${problem ? 'is on this page only, as it could not be stored' : 'is stored in this browser'}. Change what you wrote last, then open it again; or take it as a file.`
          : 'Your projects are stored in this browser up to the last pause in typing.'}
      </p>
      {id && (
        <textarea
          aria-label="Model text, in a plain editor"
          spellCheck={false}
          className="mb-4 min-h-72 flex-1 rounded-md border border-line bg-sheet p-3 font-mono text-sm"
          value={text}
          onChange={(event) => {
            dispatch(projectActions.textReplaced(event.target.value));
            saveSoon();
          }}
        />
      )}
      <p className="flex flex-wrap gap-3">
        {id && (
          <button
            type="button"
            className="btn-strong"
            onClick={() => void saveNow().then(() => location.assign(`/project/${id}/build`))}
          >
            Open it again
          </button>
        )}
        {id && (
          <button type="button" className="btn" onClick={() => downloadText(fileName(name, 'vole'), text)}>
            Text as a file
          </button>
        )}
        <Link className="btn" to="/projects">
          All projects
        </Link>
        {!id && (
          <button type="button" className="btn" onClick={() => location.reload()}>
            Reload
          </button>
        )}
      </p>
    </main>
  );
}
