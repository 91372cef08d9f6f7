import { Dialog } from 'radix-ui';
import { useLiveQuery } from 'dexie-react-hooks';
import { useState } from 'react';
import { repository, storageProblem } from '../storage/repository.ts';
import { changeText } from '../session/session.ts';
import { store, useAppSelector } from '../store/store.ts';
import { Comparison } from './Comparison.tsx';

/** Earlier texts by time and by name, each beside the text as it is, to be restored as one step of undo. */
export function VersionsDialog({ onClose }: { readonly onClose: () => void }) {
  const projectId = useAppSelector((state) => state.project.id);
  const text = useAppSelector((state) => state.project.text);
  const [chosen, setChosen] = useState<string>();
  const [name, setName] = useState('');
  const [problem, setProblem] = useState<string>();
  const versions =
    useLiveQuery(
      async () =>
        projectId
          ? repository.versions(projectId).catch((error: unknown) => {
              setProblem(storageProblem(error));
              return [];
            })
          : [],
      [projectId],
    ) ?? [];
  const version = versions.find((other) => other.id === chosen) ?? versions[0];
  return (
    <Dialog.Root open onOpenChange={onClose}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/30" />
        <Dialog.Content className="card fixed inset-8 z-50 flex flex-col p-5">
          <Dialog.Title className="text-xl">Versions</Dialog.Title>
          <Dialog.Description className="text-faint">
            What was replaced is kept every five minutes of work. Left the version, right the text as it is.
          </Dialog.Description>
          {problem && (
            <p role="alert" className="text-problem">
              {problem}
            </p>
          )}
          <form
            className="mt-2 flex items-baseline gap-3"
            onSubmit={(event) => {
              event.preventDefault();
              if (!projectId || name.trim() === '') return;
              void repository.addVersion(projectId, store.getState().project.text, name.trim()).then(
                () => setName(''),
                (error: unknown) => setProblem(storageProblem(error)),
              );
            }}
          >
            <label>
              Keep the text as it is under the name{' '}
              <input className="word w-52" value={name} onChange={(event) => setName(event.target.value)} />
            </label>
            <button type="submit" className="btn" disabled={name.trim() === ''}>
              Keep it
            </button>
          </form>
          <div className="mt-3 flex min-h-0 flex-1 gap-4">
            <ul aria-label="Earlier versions" className="w-56 shrink-0 overflow-auto">
              {versions.map((row) => (
                <li key={row.id}>
                  <button
                    type="button"
                    aria-pressed={row.id === version?.id}
                    className={`w-full rounded-sm px-2 py-1 text-left ${row.id === version?.id ? 'bg-wash font-semibold' : 'hover:bg-wash'}`}
                    onClick={() => setChosen(row.id)}
                  >
                    {row.name ||
                      new Date(row.at).toLocaleString('en-GB', {
                        day: 'numeric',
                        month: 'long',
                        hour: '2-digit',
                        minute: '2-digit',
                      })}
                    {row.name && (
                      <span className="block text-sm font-normal text-faint">
                        {new Date(row.at).toLocaleString('en-GB', {
                          day: 'numeric',
                          month: 'long',
                          hour: '2-digit',
                          minute: '2-digit',
                        })}
                      </span>
                    )}
                  </button>
                </li>
              ))}
              {versions.length === 0 && <li className="text-faint">None yet.</li>}
            </ul>
            {version && <Comparison key={version.id} before={version.text} now={text} />}
          </div>
          <div className="mt-3 flex gap-3">
            {version && (
              <button
                type="button"
                className="btn-strong"
                disabled={version.text === text}
                onClick={() => {
                  changeText(version.text);
                  onClose();
                }}
              >
                Restore this version
              </button>
            )}
            <Dialog.Close className="btn">Close</Dialog.Close>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
