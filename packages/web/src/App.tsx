import type { ComponentType } from 'react';
import { lazy, Suspense, useEffect } from 'react';
import { createBrowserRouter, Navigate, RouterProvider, useParams } from 'react-router';
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
const ProjectsView = lazy(() => import('./projects/ProjectsView.tsx').then((m) => ({ default: m.ProjectsView })));
const PAGES: Record<ViewName, ComponentType> = {
  build: lazy(SOURCES.build),
  watch: lazy(SOURCES.watch),
  repeat: lazy(SOURCES.repeat),
  vary: lazy(SOURCES.vary),
  match: lazy(SOURCES.match),
  tell: lazy(SOURCES.tell),
};

/** What is opened over a view when it is asked for; it is there then also if the server has gone. */
const ASKED_FOR: readonly (() => Promise<unknown>)[] = [
  () => import('./manual/ManualPanel.tsx'),
  () => import('./build/name-help.ts'),
  () => import('./build/VersionsDialog.tsx'),
  () => import('./shell/Help.tsx'),
];

/** A run that goes on leaves the page little idle; after so long the other views are loaded anyway. */
const LONGEST_WAIT = 2000;

/** Loads the other views once the first is on show and has nothing more to do, so that going to them takes no time. */
function OtherViews() {
  useEffect(() => {
    const waiting = requestIdleCallback(
      () => {
        for (const load of [...VIEWS.map((view) => SOURCES[view]), ...ASKED_FOR]) load().catch(() => undefined);
      },
      { timeout: LONGEST_WAIT },
    );
    return () => cancelIdleCallback(waiting);
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
  {
    path: '/projects',
    element: (
      <Suspense fallback={null}>
        <ProjectsView />
      </Suspense>
    ),
    errorElement: <ProblemView />,
  },
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
