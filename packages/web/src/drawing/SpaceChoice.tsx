import { useLive } from '../simulation/live-handle.ts';
import { useAppDispatch } from '../store/store.ts';
import { watchActions } from '../store/watch-slice.ts';
import { useShownSpace } from './shown-space.ts';

/** Chooses the space on show, in models with several. */
export function SpaceChoice() {
  const plan = useLive((state) => state.plan);
  const shown = useShownSpace();
  const dispatch = useAppDispatch();
  if (!plan || plan.spaces.length < 2) return null;
  return (
    <select
      aria-label="Space on show"
      className="btn pointer-events-auto"
      value={shown}
      onChange={(event) => dispatch(watchActions.spaceShown(Number(event.target.value)))}
    >
      {plan.spaces.map((space, s) => (
        <option key={space.name} value={s}>
          {space.name}
        </option>
      ))}
    </select>
  );
}
