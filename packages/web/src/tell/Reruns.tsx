import { useAnswer } from '../studies/use-answer.ts';
import { useShownStudy } from '../studies/use-study-plan.ts';
import { continueStudy, STUDY_KINDS } from '../studies/study-runner.ts';
import type { StudyKind } from '../store/study-slice.ts';
import { useAppSelector } from '../store/store.ts';
import { KIND_WORDS } from './TakeAlong.tsx';

/** Studies that came with a bundle: run them here and hold the results against those of the sender. */
export function Reruns() {
  const studies = useAppSelector((state) => state.studies);
  const came = STUDY_KINDS.filter((kind) => studies[kind].study?.expectedDigest);
  if (came.length === 0) return null;
  return (
    <section aria-label="Rerun" className="card p-4">
      <h2 className="mb-2 text-[17px]">Does it rerun?</h2>
      {came.map((kind) => (
        <Rerun key={kind} kind={kind} />
      ))}
    </section>
  );
}

function Rerun({ kind }: { readonly kind: StudyKind }) {
  const { study, done, total, running } = useAppSelector((state) => state.studies[kind]);
  const { plan } = useShownStudy(kind);
  const isDone = done === total && total > 0;
  const digest = useAnswer(kind, isDone ? { is: 'digest', like: study?.expectedDigest } : undefined)?.answer;
  const same = isDone && digest ? digest === study?.expectedDigest : undefined;
  return (
    <p className="mb-2">
      {KIND_WORDS[kind]}: {done} of {total} runs.{' '}
      {same === undefined ? (
        <button
          type="button"
          className="btn"
          disabled={running || !plan}
          onClick={() => plan && continueStudy(kind, plan)}
        >
          Run it here
        </button>
      ) : (
        <b className={same ? 'text-moss' : 'text-problem'} data-testid={`rerun-${kind}`}>
          {same ? 'The same numbers as the sender’s, to the bit.' : 'Other numbers than the sender’s.'}
        </b>
      )}
    </p>
  );
}
