import { lazy, Suspense, useEffect, useState } from 'react';
import { useAppSelector } from '../../store/store.ts';
import { KeyTable } from '../../live/KeyTable.tsx';
import { ValueList } from '../../live/ValueList.tsx';
import { TextChanges } from './TextChanges.tsx';

// Pages that are not on show at first are loaded when they are.
const PlanPanel = lazy(() => import('./PlanPanel.tsx').then((m) => ({ default: m.PlanPanel })));
const StatesPanel = lazy(() => import('./StatesPanel.tsx').then((m) => ({ default: m.StatesPanel })));
const FormulaPanel = lazy(() => import('./FormulaPanel.tsx').then((m) => ({ default: m.FormulaPanel })));
const DrawsPanel = lazy(() => import('./DrawsPanel.tsx').then((m) => ({ default: m.DrawsPanel })));
const NetworksPanel = lazy(() => import('./NetworksPanel.tsx').then((m) => ({ default: m.NetworksPanel })));
const ChecksPanel = lazy(() => import('../../checks/ChecksPanel.tsx').then((m) => ({ default: m.ChecksPanel })));
const ShelfPanel = lazy(() => import('../shelf/ShelfPanel.tsx').then((m) => ({ default: m.ShelfPanel })));

const PAGES = {
  run: 'The run',
  plan: 'Plan',
  states: 'States',
  formula: 'Formula',
  draws: 'Draws',
  networks: 'Networks',
  checks: 'Checks',
  shelf: 'Shelf',
} as const;
export type PanelPage = keyof typeof PAGES;

interface Props {
  readonly cursor: number;
  /** Whether it takes the whole side, without the small run above it. */
  readonly isWhole: boolean;
  readonly onWhole: (isWhole: boolean) => void;
  readonly onGo: (offset: number) => void;
  readonly children: React.ReactNode;
}

/** What stands under the small run: its key and values, or what helps with the line under the cursor. */
export function BuildPanel({ cursor, isWhole, onWhole, onGo, children }: Props) {
  const text = useAppSelector((state) => state.project.text);
  const [page, setPage] = useState<PanelPage>('run');
  const wanted = pageOfLine(text, cursor);
  const [followed, setFollowed] = useState<PanelPage>();
  // The panel follows the cursor from line to line; what was chosen by hand stays until the cursor comes to a line of another page.
  useEffect(() => {
    if (wanted === followed) return;
    setFollowed(wanted);
    if (wanted && page !== 'shelf') setPage(wanted);
  }, [wanted, followed, page]);
  return (
    <div className={`flex min-h-0 flex-col bg-sheet ${isWhole ? 'flex-1' : 'max-h-[58%]'}`}>
      <div
        role="tablist"
        aria-label="Beside the text"
        className="flex shrink-0 flex-wrap justify-between gap-x-2 border-y border-line px-4 pt-1.5 text-[14px]"
      >
        {(Object.keys(PAGES) as PanelPage[]).map((name) => (
          <button
            key={name}
            type="button"
            role="tab"
            id={`panel-${name}`}
            aria-controls="panel-page"
            aria-selected={name === page}
            className={`border-b-2 pb-0.5 font-title ${name === page ? 'border-accent font-semibold' : 'border-transparent text-faint hover:text-ink'}`}
            onClick={() => setPage(name)}
          >
            {PAGES[name]}
          </button>
        ))}
      </div>
      <div className="flex shrink-0 justify-end px-4 pt-1 text-sm">
        <button type="button" className="link" aria-pressed={isWhole} onClick={() => onWhole(!isWhole)}>
          {isWhole ? 'with the run' : 'whole side'}
        </button>
      </div>
      <div
        role="tabpanel"
        id="panel-page"
        aria-labelledby={`panel-${page}`}
        tabIndex={0}
        className="min-h-0 flex-1 overflow-auto p-4 pt-0.5"
      >
        {page === 'run' && (
          <div className="grid grid-cols-1 gap-4">
            {children}
            <ValueList />
            <KeyTable />
            <TextChanges />
          </div>
        )}
        <Suspense fallback={null}>
          {page === 'plan' && <PlanPanel />}
          {page === 'states' && <StatesPanel cursor={cursor} onGo={onGo} />}
          {page === 'formula' && <FormulaPanel key={lineAt(text, cursor)} cursor={cursor} />}
          {page === 'draws' && <DrawsPanel key={lineAt(text, cursor)} cursor={cursor} />}
          {page === 'networks' && <NetworksPanel />}
          {page === 'checks' && <ChecksPanel />}
          {page === 'shelf' && <ShelfPanel onInserted={onGo} />}
        </Suspense>
      </div>
    </div>
  );
}

function lineAt(text: string, cursor: number): number {
  return text.slice(0, cursor).split('\n').length;
}

/** The page that helps with the line under the cursor, if there is one. */
function pageOfLine(text: string, cursor: number): PanelPage | undefined {
  const start = text.lastIndexOf('\n', cursor - 1) + 1;
  const line = text.slice(start, (text.indexOf('\n', start) + 1 || text.length + 1) - 1).trim();
  if (/^network\s/.test(line)) return 'networks';
  if (/^(check|expect)\s/.test(line)) return 'checks';
  if (/^(define|derive)\s/.test(line)) return 'formula';
  if (/^has\s.*=\s*[a-z]+\(/.test(line)) return 'draws';
  if (/^(states|after|rate|chance|enter|leave)\b/.test(line)) return 'states';
  return undefined;
}
