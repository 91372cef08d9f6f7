import { useLive } from '../../simulation/live-handle.ts';
import { useAppDispatch, useAppSelector } from '../../store/store.ts';
import { watchActions } from '../../store/watch-slice.ts';

/** What an edit of the text does to the run on show, and what it last did. */
export function TextChanges() {
  const wentOn = useLive((state) => state.wentOn);
  const goesOn = useAppSelector((state) => state.watch.goesOn);
  const dispatch = useAppDispatch();
  return (
    <div className="border-t border-line pt-2">
      <label>
        When the text changes, the run{' '}
        <select
          aria-label="When the text changes"
          className="word"
          value={goesOn ? 'on' : 'anew'}
          onChange={(event) => dispatch(watchActions.goesOn(event.target.value === 'on'))}
        >
          <option value="anew">starts anew</option>
          <option value="on">goes on with who is there</option>
        </select>
      </label>
      {wentOn && (
        <p className="mt-1 text-faint" role="status" data-testid="went-on">
          From step {wentOn.step} on with this text. Carried over: {wentOn.carried.join(', ') || 'nothing'}.
          {wentOn.anew.length > 0 && ` Anew: ${wentOn.anew.join('; ')}.`}
        </p>
      )}
    </div>
  );
}
