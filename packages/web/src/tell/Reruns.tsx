import { useAnswer } from '../studies/use-answer.ts';
import { useShownStudy } from '../studies/use-study-plan.ts';
import { continueStudy, runHere, STUDY_KINDS } from '../studies/study-runner.ts';
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
  const isOver = done === total && total > 0;
  // What came with the bundle says nothing of what comes out here.
  const question = isOver &&
    study &&
    !study.isReceived && { is: 'digest' as const, isOver: study.until !== undefined, like: study.expectedDigest };
  const digest = useAnswer(kind, question || undefined)?.answer;
  const same = digest ? digest === study?.expectedDigest : undefined;
  const run = (): void => {
    if (!plan || !study) return;
    if (study.isReceived) runHere(study, plan);
    else continueStudy(kind, plan);
  };
  return (
    <p className="mb-2">
      {KIND_WORDS[kind]}: {study?.isReceived ? `${done} runs came with the bundle` : `${done} of ${total} runs`}.{' '}
      {same === undefined ? (
        <button type="button" className="btn" disabled={running || !plan} onClick={run}>
          {study?.isReceived ? 'Run them here' : 'Run it here'}
        </button>
      ) : (
        <b className={same ? 'text-moss' : 'text-problem'} data-testid={`rerun-${kind}`}>
          {same ? 'The same numbers as the sender’s, to the bit.' : 'Other numbers than the sender’s.'}
        </b>
      )}
    </p>
  );
}
