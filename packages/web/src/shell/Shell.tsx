import type { ReactNode } from 'react';
import { Suspense, useEffect, useState } from 'react';
import { Link } from 'react-router';
import { repository, storageProblem } from '../storage/repository.ts';
import { Manual } from '../manual/Manual.tsx';
import { askedPart } from '../session/asked-part.tsx';
import { openProject, visitView } from '../session/session.ts';
import type { ViewName } from '../store/project-slice.ts';
import { store, useAppSelector } from '../store/store.ts';
import { Banners } from './Banners.tsx';
import { Notices } from './Notices.tsx';
import { TopStrip } from './TopStrip.tsx';
import { useKeys } from './use-keys.ts';
import { useFileDrop } from './use-file-drop.ts';

const ActionSearch = askedPart('The search of actions', () => import('./ActionSearch.tsx').then((m) => m.ActionSearch));
const Help = askedPart('The help', () => import('./Help.tsx').then((m) => m.Help));

interface Props {
  readonly projectId: string;
  readonly view: ViewName;
  readonly children: ReactNode;
}

/** The frame round all views: strip on top, the view, what is said over it. */
export function Shell({ projectId, view, children }: Props) {
  const openId = useAppSelector((state) => state.project.id);
  const isSearching = useAppSelector((state) => state.interface.searchOpen);
  const isHelped = useAppSelector((state) => state.interface.helpOpen);
  const [problem, setProblem] = useState<string>();
  useKeys();
  useFileDrop();

  useEffect(() => {
    let isHere = true;
    void (async () => {
      if (store.getState().project.id === projectId) return;
      try {
        const row = await repository.project(projectId);
        if (!isHere) return;
        if (row && row.deletedAt === 0) await openProject(row);
        else setProblem('This project is not in this browser. It may have been deleted, or it is in another browser.');
      } catch (error) {
        if (isHere) setProblem(storageProblem(error));
      }
    })();
    return () => {
      isHere = false;
    };
  }, [projectId]);

  useEffect(() => {
    if (openId !== projectId) return;
    void visitView(view);
  }, [openId, projectId, view]);

  if (problem) {
    return (
      <main className="p-10">
        <p className="mb-4 text-lg">{problem}</p>
        <Link className="btn-strong" to="/projects">
          All projects
        </Link>
      </main>
    );
  }
  if (openId !== projectId) return <p className="p-8 text-lg">Opening ...</p>;
  return (
    <div className="flex h-full flex-col">
      <TopStrip view={view} />
      <Banners />
      <div className="min-h-0 flex-1">{children}</div>
      <Suspense fallback={null}>
        {isSearching && <ActionSearch />}
        {isHelped && <Help />}
      </Suspense>
      <Manual />
      <Notices />
    </div>
  );
}
