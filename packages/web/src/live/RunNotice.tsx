import { orderLineName } from '../simulation/act-words.ts';
import { live, useLive } from '../simulation/live-handle.ts';
import { useAppSelector } from '../store/store.ts';
import { clockTime } from '../words/numbers.ts';

/** Says when what is on show is not the text as it stands, when the run has stopped, and when it does not come to an end. */
export function RunNotice({ className }: { readonly className: string }) {
  const { runs, failure, until, stuck, diagnostics, goodAt, hasPlan } = useAppSelector((state) => state.model);
  const plan = useLive((state) => state.plan);
  const hasErrors = diagnostics.some(({ severity }) => severity === 'error');
  if (stuck) {
    const rule =
      plan && stuck.entry >= 0 && stuck.entry < plan.schedule.length
        ? `, at “${orderLineName(plan, stuck.entry)}”`
        : '';
    return (
      <p role="alert" className={className}>
        {stuck.entry === -2 ? 'The start of the run' : `Step ${stuck.step}${rule}`} has taken {stuck.seconds} s so far
        and may not come to an end. Your text is safe.{' '}
        <button type="button" className="link" onClick={() => live.abandon()}>
          Stop it
        </button>
      </p>
    );
  }
  const said = failure
    ? `The run stopped in ${failure.step === 0 ? 'its start' : `step ${failure.step}`}. ${failure.message} ${failure.hint ?? ''}`
    : until !== undefined
      ? `The text as it was before step ${until}; from there on the run goes on with the newer one.`
      : hasErrors && !runs
        ? hasPlan
          ? `The text has errors; this is the last one that was right${goodAt ? `, of ${clockTime(goodAt)}` : ''}.`
          : 'The text has errors. Build says where, and how to mend them.'
        : undefined;
  return said ? (
    <p role="alert" className={className}>
      {said}
    </p>
  ) : null;
}
