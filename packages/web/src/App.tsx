import type { ComponentType } from 'react';
import { lazy, Suspense, useEffect } from 'react';
import { ErrorBoundary } from 'react-error-boundary';
import { BrowserRouter, Navigate, Route, Routes, useLocation, useParams } from 'react-router';
import { OpeningView } from './projects/OpeningView.tsx';
import { ProblemView } from './shell/ProblemView.tsx';
import { Shell } from './shell/Shell.tsx';
import { storeLooks } from './store/interface-slice.ts';
import { useAppSelector } from './store/store.ts';
import type { ViewName } from './store/project-slice.ts';
import { VIEWS } from './store/project-slice.ts';
import { live } from './simulation/live-handle.ts';
import { whenIdle } from './session/when-idle.ts';

/** Where each view comes from; one that is not looked at is not loaded before the first has been. */
const SOURCES: Record<ViewName, () => Promise<{ default: ComponentType }>> = {
  build: () => import('./build/BuildView.tsx').then(({ BuildView }) => ({ default: BuildView })),
  watch: () => import('./watch/WatchView.tsx').then(({ WatchView }) => ({ default: WatchView })),
  repeat: () => import('./repeat/RepeatView.tsx').then(({ RepeatView }) => ({ default: RepeatView })),
  vary: () => import('./vary/VaryView.tsx').then(({ VaryView }) => ({ default: VaryView })),
  match: () => import('./match/MatchView.tsx').then(({ MatchView }) => ({ default: MatchView })),
  tell: () => import('./tell/TellView.tsx').then(({ TellView }) => ({ default: TellView })),
};

/** Asks for what the first view needs at once, while what is stored is still being opened. */
export function askForFirstView(path: string): void {
  if (path === '/projects') return;
  live.warmUp();
  SOURCES[VIEWS.find((view) => path.endsWith(`/${view}`)) ?? 'build']().catch(() => undefined);
}

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
  () => import('./build/RenameBar.tsx'),
  () => import('./build/VersionsDialog.tsx'),
  () => import('./shell/Help.tsx'),
  () => import('./ribbon/RibbonFiles.tsx'),
  () => import('./ribbon/run-to.ts'),
  () => import('./shell/ActionSearch.tsx'),
];

/** Loads the other views once the first is on show and has nothing more to do, so that going to them takes no time. */
function OtherViews() {
  useEffect(() => {
    void whenIdle().then(() => {
      for (const load of [...VIEWS.map((view) => SOURCES[view]), ...ASKED_FOR]) load().catch(() => undefined);
    });
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

function Pages() {
  const { pathname } = useLocation();
  return (
    <ErrorBoundary FallbackComponent={ProblemView} resetKeys={[pathname]}>
      <Routes>
        <Route path="/" element={<OpeningView />} />
        <Route
          path="/projects"
          element={
            <Suspense fallback={null}>
              <ProjectsView />
            </Suspense>
          }
        />
        <Route path="/project/:projectId/:view?" element={<ProjectPage />} />
        <Route path="*" element={<Navigate to="/" replace />} />
      </Routes>
    </ErrorBoundary>
  );
}

export function App() {
  const looks = useAppSelector((state) => state.interface);
  useEffect(() => {
    document.documentElement.dataset.theme = looks.theme;
    storeLooks(looks);
  }, [looks]);
  return (
    <BrowserRouter>
      <Pages />
    </BrowserRouter>
  );
}
