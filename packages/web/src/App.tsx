import { useEffect } from 'react';
import { createBrowserRouter, Navigate, RouterProvider, useParams } from 'react-router';
import { BuildView } from './build/BuildView.tsx';
import { MatchView } from './match/MatchView.tsx';
import { ProjectsView } from './projects/ProjectsView.tsx';
import { RepeatView } from './repeat/RepeatView.tsx';
import { OpeningView } from './projects/OpeningView.tsx';
import { ProblemView } from './shell/ProblemView.tsx';
import { Shell } from './shell/Shell.tsx';
import { storeLooks } from './store/interface-slice.ts';
import { useAppSelector } from './store/store.ts';
import type { ViewName } from './store/project-slice.ts';
import { VIEWS } from './store/project-slice.ts';
import { TellView } from './tell/TellView.tsx';
import { VaryView } from './vary/VaryView.tsx';
import { WatchView } from './watch/WatchView.tsx';

const PAGES: Record<ViewName, () => React.JSX.Element> = {
  build: BuildView,
  watch: WatchView,
  repeat: RepeatView,
  vary: VaryView,
  match: MatchView,
  tell: TellView,
};

function ProjectPage() {
  const { projectId, view } = useParams();
  if (!VIEWS.includes(view as ViewName)) return <Navigate to={`/project/${projectId}/build`} replace />;
  const Page = PAGES[view as ViewName];
  return (
    <Shell projectId={projectId!} view={view as ViewName}>
      <Page />
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
