import { Link, useNavigate } from 'react-router';
import { interfaceActions } from '../store/interface-slice.ts';
import type { ViewName } from '../store/project-slice.ts';
import { projectActions, VIEWS } from '../store/project-slice.ts';
import { saveSoon } from '../session/session.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { clockTime } from '../words/numbers.ts';

export const VIEW_TITLES: Record<ViewName, string> = {
  build: 'Build',
  watch: 'Watch',
  repeat: 'Repeat',
  vary: 'Vary',
  match: 'Match',
  tell: 'Tell',
};

/** Project, saved state, the path of six views, search and help. */
export function TopStrip({ view }: { readonly view: ViewName }) {
  const { id, name, savedAt, dirty, problem } = useAppSelector((state) => state.project);
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const saved = problem ? 'not stored' : dirty ? 'saving ...' : savedAt ? `saved ${clockTime(savedAt)}` : '';
  return (
    <header className="flex h-12 shrink-0 items-center gap-4 border-b border-line bg-sheet px-4">
      <div className="flex min-w-0 flex-1 items-center gap-3 max-[1150px]:flex-[1.4]">
        <input
          aria-label="Name of the project"
          className="min-w-0 max-w-56 truncate rounded-sm bg-transparent font-title text-[17px] font-semibold hover:bg-wash"
          size={Math.max(6, Math.min(name.length + 1, 24))}
          value={name}
          onChange={(event) => {
            dispatch(projectActions.renamed(event.target.value));
            saveSoon();
          }}
        />
        <span role="status" className={`shrink-0 text-sm ${problem ? 'font-semibold text-problem' : 'text-faint'}`}>
          {saved}
        </span>
        <Link to="/projects" className="link shrink-0 text-sm">
          all projects
        </Link>
      </div>
      <Path view={view} onGo={(next) => void navigate(`/project/${id}/${next}`)} />
      <div className="flex flex-1 items-center justify-end gap-3">
        <button
          type="button"
          className="flex items-center gap-2 rounded-[5px] border border-line bg-wash px-3 py-1 text-faint hover:text-ink"
          onClick={() => dispatch(interfaceActions.searchOpened(true))}
        >
          Find anything <kbd className="max-[1150px]:hidden font-body text-[13px] font-semibold text-ink">Ctrl K</kbd>
        </button>
        <button
          type="button"
          aria-label="Help"
          className="h-7 w-7 rounded-full border border-line bg-wash font-semibold"
          onClick={() => dispatch(interfaceActions.helpOpened(true))}
        >
          ?
        </button>
      </div>
    </header>
  );
}

function Path({ view, onGo }: { readonly view: ViewName; readonly onGo: (view: ViewName) => void }) {
  const visited = useAppSelector((state) => state.project.visited);
  return (
    <nav aria-label="The six views" className="flex items-center">
      {VIEWS.map((name, i) => (
        <span key={name} className="flex items-center">
          {i > 0 && (
            <span
              aria-hidden
              className="mx-2 w-4 border-t-2 max-[1150px]:mx-1 max-[1150px]:w-1.5 border-dotted border-line"
            />
          )}
          <button
            type="button"
            aria-current={name === view ? 'page' : undefined}
            className={`flex items-center gap-1.5 font-title text-[16px] ${name === view ? 'text-ink' : 'text-faint hover:text-ink'}`}
            onClick={() => onGo(name)}
          >
            <Footstep filled={name === view || visited.includes(name)} current={name === view} />
            <span className={name === view ? 'border-b-2 border-accent' : 'border-b-2 border-transparent'}>
              {VIEW_TITLES[name]}
            </span>
          </button>
        </span>
      ))}
    </nav>
  );
}

function Footstep({ filled, current }: { readonly filled: boolean; readonly current: boolean }) {
  const colour = current ? 'var(--accent)' : 'var(--faint)';
  return (
    <svg width="11" height="14" viewBox="0 0 11 14" aria-hidden>
      <ellipse
        cx="5.5"
        cy="7.5"
        rx="3.8"
        ry="5.2"
        transform="rotate(12 5.5 7.5)"
        fill={filled ? colour : 'none'}
        stroke={colour}
        strokeWidth="1.3"
      />
    </svg>
  );
}
