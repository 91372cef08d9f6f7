import type { ComponentType } from 'react';
import { lazy, Suspense, useEffect } from 'react';
import { createBrowserRouter, Navigate, RouterProvider, useParams } from 'react-router';
import { ProjectsView } from './projects/ProjectsView.tsx';
import { OpeningView } from './projects/OpeningView.tsx';
import { ProblemView } from './shell/ProblemView.tsx';
import { Shell } from './shell/Shell.tsx';
import { storeLooks } from './store/interface-slice.ts';
import { useAppSelector } from './store/store.ts';
import type { ViewName } from './store/project-slice.ts';
import { VIEWS } from './store/project-slice.ts';

/** Where each view comes from; one that is not looked at is not loaded before the first has been. */
const SOURCES: Record<ViewName, () => Promise<{ default: ComponentType }>> = {
  build: () => import('./build/BuildView.tsx').then(({ BuildView }) => ({ default: BuildView })),
  watch: () => import('./watch/WatchView.tsx').then(({ WatchView }) => ({ default: WatchView })),
  repeat: () => import('./repeat/RepeatView.tsx').then(({ RepeatView }) => ({ default: RepeatView })),
  vary: () => import('./vary/VaryView.tsx').then(({ VaryView }) => ({ default: VaryView })),
  match: () => import('./match/MatchView.tsx').then(({ MatchView }) => ({ default: MatchView })),
  tell: () => import('./tell/TellView.tsx').then(({ TellView }) => ({ default: TellView })),
};
const PAGES: Record<ViewName, ComponentType> = {
  build: lazy(SOURCES.build),
  watch: lazy(SOURCES.watch),
  repeat: lazy(SOURCES.repeat),
  vary: lazy(SOURCES.vary),
  match: lazy(SOURCES.match),
  tell: lazy(SOURCES.tell),
};

/** Loads the other views once the first is on show, so that going to them takes no time. */
function OtherViews() {
  useEffect(() => {
    for (const view of VIEWS) SOURCES[view]().catch(() => undefined);
  }, []);
  return null;
}

function ProjectPage() {
  const { projectId, view } = useParams();
  if (!VIEWS.includes(view as ViewName)) return <Navigate to={`/project/${projectId}/build`} replace />;
  const Page = PAGES[view as ViewName];
  return (
    <Shell projectId={projectId!} view={view as ViewName}>
      <Suspense fallback={null}>
        <Page />
        <OtherViews />
      </Suspense>
    </Shell>
  );
}

const router = createBrowserRouter([
  { path: '/', element: <OpeningView />, errorElement: <ProblemView /> },
  { path: '/projects', element: <ProjectsView />, errorElement: <ProblemView /> },
  { path: '/project/:projectId/:view?', element: <ProjectPage />, errorElement: <ProblemView /> },
  { path: '*', element: <Navigate to="/" replace /> },
]);

export function App() {
  const looks = useAppSelector((state) => state.interface);
  useEffect(() => {
    document.documentElement.dataset.theme = looks.theme;
    storeLooks(looks);
  }, [looks]);
  return <RouterProvider router={router} />;
}
