import { useLiveQuery } from 'dexie-react-hooks';
import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { Manual } from '../manual/Manual.tsx';
import { Notices } from '../shell/Notices.tsx';
import { repository, storageProblem } from '../storage/repository.ts';
import type { ProjectRow } from '../storage/schema.ts';
import { interfaceActions, MANUAL_BEGINNING } from '../store/interface-slice.ts';
import { renameProject, saveNow } from '../session/session.ts';
import { useAppDispatch } from '../store/store.ts';
import { importFile } from './import-file.ts';
import { addDemo, addExample } from '../storage/demo.ts';
import { EXAMPLES } from './examples.ts';
import { NEW_MODEL } from '../storage/new-model.ts';

/** The projects as they are stored, also by other tabs, or why they cannot be read. */
async function readProjects(): Promise<{ readonly rows?: readonly ProjectRow[]; readonly problem?: string }> {
  try {
    return { rows: await repository.projects() };
  } catch (error) {
    return { problem: storageProblem(error) };
  }
}

/** All projects in this browser. */
export function ProjectsView() {
  const [failed, setFailed] = useState<string>();
  const navigate = useNavigate();
  const dispatch = useAppDispatch();
  const chooser = useRef<HTMLInputElement>(null);
  const found = useLiveQuery(readProjects, []);
  const rows = found?.rows;
  const problem = failed ?? found?.problem;
  useEffect(() => {
    void saveNow();
  }, []);

  const attempt = async (action: () => Promise<void>): Promise<void> => {
    try {
      await action();
      setFailed(undefined);
    } catch (error) {
      setFailed(error instanceof Error ? error.message : String(error));
    }
  };
  const open = (id: string): void => void navigate(`/project/${id}/build`);

  return (
    <main className="mx-auto h-full max-w-4xl overflow-auto px-6 py-10">
      <h1 className="mb-1 text-3xl">Vole Parade</h1>
      <p className="mb-6 text-faint">
        Projects in this browser. They stay on this machine; a bundle takes one elsewhere.
      </p>
      <div className="mb-6 flex gap-3">
        <button
          type="button"
          className="btn-strong"
          onClick={() => void attempt(async () => open((await repository.addProject('New model', NEW_MODEL)).id))}
        >
          New project
        </button>
        <button type="button" className="btn" onClick={() => dispatch(interfaceActions.manualOpened(MANUAL_BEGINNING))}>
          Manual
        </button>
        <button type="button" className="btn" onClick={() => void attempt(async () => open((await addDemo()).id))}>
          New copy of Meadow year
        </button>
        <button type="button" className="btn" onClick={() => chooser.current?.click()}>
          Open a bundle or model file
        </button>
        <input
          ref={chooser}
          type="file"
          aria-label="Bundle or model file"
          accept=".vole,.zip,.voleparade,.txt"
          className="hidden"
          onChange={(event) => {
            const file = event.target.files?.[0];
            event.target.value = '';
            if (file) void attempt(async () => open((await importFile(file)).id));
          }}
        />
      </div>
      <section className="mb-6" aria-label="Examples">
        <h2 className="mb-2 text-lg">Examples from Hollowmere</h2>
        <ul className="grid grid-cols-3 gap-3">
          {EXAMPLES.map((example) => (
            <li key={example.name}>
              <button
                type="button"
                className="btn h-full w-full flex-col items-start text-left whitespace-normal"
                onClick={() => void attempt(async () => open((await addExample(example)).id))}
              >
                <span className="block font-semibold">{example.name}</span>
                <span className="block text-sm font-normal text-faint">{example.about}</span>
              </button>
            </li>
          ))}
        </ul>
      </section>
      {problem && (
        <p role="alert" className="mb-4 rounded-md border border-problem bg-sheet p-3 text-problem">
          {problem}
        </p>
      )}
      {rows?.length === 0 && (
        <p className="text-faint">No project yet. A new one starts as a few lines that already move.</p>
      )}
      <ul aria-label="Your projects" className="flex flex-col gap-2">
        {rows?.map((row) => (
          <ProjectLine
            key={row.id}
            row={row}
            onRename={(name) => attempt(() => renameProject(row.id, name))}
            onDuplicate={() =>
              attempt(async () => void (await repository.duplicateProject(row.id, `${row.name}, copy`)))
            }
            onDelete={() =>
              attempt(async () => {
                await repository.putAway(row.id);
                dispatch(
                  interfaceActions.noticed({ text: `“${row.name}” is deleted.`, tone: 'plain', undoProject: row.id }),
                );
              })
            }
          />
        ))}
      </ul>
      <Notices />
      <Manual />
    </main>
  );
}

interface LineProps {
  readonly row: ProjectRow;
  readonly onRename: (name: string) => Promise<void>;
  readonly onDuplicate: () => Promise<void>;
  readonly onDelete: () => Promise<void>;
}

function ProjectLine({ row, onRename, onDuplicate, onDelete }: LineProps) {
  const [name, setName] = useState<string>();
  const finish = (): void => {
    if (name !== undefined && name.trim() && name !== row.name) void onRename(name.trim());
    setName(undefined);
  };
  return (
    <li className="card flex items-center gap-4 px-4 py-3">
      {name === undefined ? (
        <Link
          to={`/project/${row.id}/build`}
          className="min-w-0 flex-1 truncate font-title text-lg font-semibold hover:text-accent"
        >
          {row.name}
        </Link>
      ) : (
        <input
          autoFocus
          aria-label="New name"
          className="min-w-0 flex-1 rounded-sm border border-line bg-ground px-2 font-title text-lg"
          value={name}
          onChange={(event) => setName(event.target.value)}
          onBlur={finish}
          onKeyDown={(event) => {
            if (event.key === 'Enter') finish();
            if (event.key === 'Escape') setName(undefined);
          }}
        />
      )}
      <span className="text-sm text-faint">
        {new Date(row.changedAt).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })}
      </span>
      <button type="button" className="link" onClick={() => setName(row.name)}>
        rename
      </button>
      <button type="button" className="link" onClick={() => void onDuplicate()}>
        duplicate
      </button>
      <button type="button" className="link" onClick={() => void onDelete()}>
        delete
      </button>
    </li>
  );
}
