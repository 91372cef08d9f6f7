import type { Bands, Plan } from '@vole/core';
import { ENGINE_VERSION, MOST_BUNDLE_BYTES, plainCourse, writeBundle } from '@vole/core';
import { useMemo, useState } from 'react';
import { ChartFrame } from '../charts/ChartFrame.tsx';
import { download, downloadText, fileName } from '../charts/export-chart.ts';
import { FanChart } from '../charts/FanChart.tsx';
import { FanRibbon } from '../ribbon/FanRibbon.tsx';
import { shownNumber } from '../words/numbers.ts';
import { notesOf } from '@vole/core';
import { useTakeTable } from '../charts/take-table.ts';
import { loadedModel } from '../simulation/model-cache.ts';
import { useAnswer } from '../studies/use-answer.ts';
import { useShownStudy, useTextPlan } from '../studies/use-study-plan.ts';
import type { Provenance } from '../studies/provenance.ts';
import { provenanceOf, seedsEach } from '../studies/provenance.ts';
import { continueStudy, STUDY_KINDS } from '../studies/study-runner.ts';
import { interfaceActions } from '../store/interface-slice.ts';
import { projectActions } from '../store/project-slice.ts';
import { saveNow, saveSoon } from '../session/session.ts';
import type { StudyRow } from '../storage/schema.ts';
import type { StudyKind } from '../store/study-slice.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { categoriesOf } from '../simulation/act-words.ts';
import type { MadeBundle } from './make-bundle.ts';
import { bundleOf, pageContents } from './make-bundle.ts';

const KIND_WORDS: Readonly<Record<StudyKind, string>> = { repeat: 'Repeat', vary: 'Vary', match: 'Match' };

/** The project as a sheet of paper, and ways to hand it over. */
export function TellView() {
  const plan = useTextPlan();
  const { plan: runPlan, runs } = useShownStudy('repeat');
  const bands = useFirstCourse(runPlan, runs);
  return (
    <div className="flex h-full flex-col">
      <main className="flex min-h-0 flex-1 gap-4 p-4">
        <div className="flex w-[300px] shrink-0 flex-col gap-4 overflow-auto">
          <TakeAlong />
          <Reruns />
        </div>
        <div className="min-w-0 flex-1 overflow-auto">
          <Sheet plan={plan} bands={bands} />
        </div>
      </main>
      {runPlan && (
        <FanRibbon
          plan={runPlan}
          bands={bands}
          measure={0}
          title={
            <b className="font-title">
              {runs} runs of {runPlan.title}
            </b>
          }
          note={`engine version ${ENGINE_VERSION} of Vole Parade`}
        />
      )}
    </div>
  );
}

/** The course of the first measure over the runs of Repeat. */
function useFirstCourse(plan: Plan | undefined, runs: number): Bands | undefined {
  const isAsked = plan !== undefined && plan.measures.length > 0 && runs > 0;
  return useAnswer('repeat', isAsked ? { is: 'fan', course: plainCourse(0), lines: 0 } : undefined)?.answer?.bands;
}

function TakeAlong() {
  const { name, text } = useAppSelector((state) => state.project);
  const dispatch = useAppDispatch();
  const [made, setMade] = useState<MadeBundle>();
  const makeBundle = async (): Promise<void> => {
    try {
      await saveNow();
      const next = await bundleOf(pageContents());
      if (next.leftOut.length + next.unread > 0) setMade(next);
      else take(next);
    } catch (error) {
      dispatch(
        interfaceActions.noticed({ text: error instanceof Error ? error.message : String(error), tone: 'problem' }),
      );
    }
  };
  const take = ({ bundle }: MadeBundle): void => {
    setMade(undefined);
    download(
      fileName(name, 'voleparade'),
      new Blob([writeBundle(bundle) as Uint8Array<ArrayBuffer>], { type: 'application/zip' }),
    );
  };
  return (
    <section aria-label="Take it along" className="card p-4">
      <h2 className="mb-2 text-[17px]">Take it along</h2>
      <div className="flex flex-col items-start gap-2">
        <button type="button" className="btn-strong" onClick={() => void makeBundle()}>
          Bundle
        </button>
        {made && (
          <div role="alert" className="text-doubt">
            {made.leftOut.length > 0 && (
              <p>
                The result tables of {made.leftOut.join(', ')} do not fit in a bundle, which has at most{' '}
                {MOST_BUNDLE_BYTES / 1e6} MB. Whoever opens it can make them again from the seeds.
              </p>
            )}
            {made.unread > 0 && (
              <p>
                Studies that are not on show could not be read from this browser’s storage; the bundle has the model and
                the studies on show.
              </p>
            )}
            <button type="button" className="btn mt-1" onClick={() => take(made)}>
              Take it without them
            </button>
          </div>
        )}
        <p className="text-sm text-faint">
          One file with model, studies, observed data and seeds. Opened elsewhere, it gives the same project and reruns
          to the same numbers.
        </p>
        <button type="button" className="link" onClick={() => downloadText(fileName(name, 'vole'), text)}>
          model text
        </button>
        <StudyTables kind="repeat" />
        <StudyTables kind="vary" />
      </div>
    </section>
  );
}

function StudyTables({ kind }: { readonly kind: StudyKind }) {
  const { plan } = useShownStudy(kind);
  const { study, done } = useAppSelector((state) => state.studies[kind]);
  return plan && study && done > 0 ? <TableLinks kind={kind} study={study} plan={plan} /> : null;
}

function TableLinks({
  kind,
  study,
  plan,
}: {
  readonly kind: StudyKind;
  readonly study: StudyRow;
  readonly plan: Plan;
}) {
  const name = useAppSelector((state) => state.project.name);
  const take = useTakeTable(study, plan);
  return (['rows', 'summaries'] as const).map((what) => (
    <button key={what} type="button" className="link" onClick={() => take(what, `${name} ${kind} ${what}`, 'csv')}>
      {KIND_WORDS[kind]}: {what} as CSV
    </button>
  ));
}

/** Studies that came with a bundle: run them here and hold the results against those of the sender. */
function Reruns() {
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

function Sheet({ plan, bands }: { readonly plan: Plan | undefined; readonly bands: Bands | undefined }) {
  const { name, notes } = useAppSelector((state) => state.project);
  const text = useAppSelector((state) => state.project.text);
  const dispatch = useAppDispatch();
  const { plan: runPlan, runs } = useShownStudy('repeat');
  const study = useAppSelector((state) => state.studies.repeat.study);
  const vary = useAppSelector((state) => state.studies.vary.study);
  const failed = useAppSelector((state) => state.studies.repeat.failed);
  const { plan: varyPlan } = useShownStudy('vary');
  const runOf = useMemo(() => study && runPlan && provenanceOf(study, runPlan, text), [study, runPlan, text]);
  const tables = useAppSelector((state) => state.observed.tables);
  const prose = useMemo(
    () => loadedModel(text).check.tree.parts.flatMap((part) => (part.is === 'model' ? part.prose : [])),
    [text],
  );
  return (
    <article className="printed card mx-auto max-w-3xl px-12 py-9">
      <h1 className="mb-2 text-3xl">{plan?.title ?? name}</h1>
      {prose.length > 0 && <p className="mb-4 text-[17px]">{prose.join(' ')}</p>}
      <label className="mb-5 block">
        <span className="sr-only">Notes</span>
        <textarea
          aria-label="Notes"
          rows={3}
          placeholder="Your notes: question, findings, what remains open ..."
          className="w-full rounded-sm border border-line bg-transparent p-2"
          value={notes}
          onChange={(event) => {
            dispatch(projectActions.notesTyped(event.target.value));
            saveSoon();
          }}
        />
      </label>
      {plan && plan.parameters.length > 0 && (
        <>
          <h2 className="mb-1 text-xl">Parameters</h2>
          <table className="mb-5 w-full">
            <tbody>
              {plan.parameters.map((p) => (
                <tr key={p.name} className="border-t border-line">
                  <td className="py-1 pr-4 font-semibold">{p.name}</td>
                  <td className="pr-4 whitespace-nowrap">
                    {p.type === 'yes or no'
                      ? p.value
                        ? 'yes'
                        : 'no'
                      : p.options
                        ? p.options[p.value]
                        : `${shownNumber(p.value / p.unitFactor)} ${p.unitLabel}`}
                  </td>
                  <td className="pr-4 text-sm whitespace-nowrap text-faint">
                    {p.min === undefined
                      ? ''
                      : `${shownNumber(p.min / p.unitFactor)} to ${shownNumber(p.max! / p.unitFactor)}`}
                  </td>
                  <td>{p.about}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
      {runPlan && bands && runOf && (
        <>
          <h2 className="mb-1 text-xl">Runs</h2>
          <p className="mb-2">
            {runs} runs{failed > 0 ? ` (${failed} more stopped before their end)` : ''}. {capital(runOf.words)}.
          </p>
          {runOf.stale && (
            <p className="mb-2 text-doubt">
              Mind: {runOf.stale}. The runs are of the model as it was, the parameters above are those of the text as it
              is.
            </p>
          )}
          <ReportFan plan={runPlan} bands={bands} of={runOf} />
        </>
      )}
      {vary && (
        <p className="mb-4">
          {vary.wording === undefined ? (
            <>
              Varied:{' '}
              {vary.factors
                .map(
                  (factor) =>
                    `${factor.parameter} over ${factor.values.map((v) => (varyPlan && categoriesOf(varyPlan, factor.parameter)?.[v]) ?? shownNumber(v)).join(', ')}`,
                )
                .join('; ')}
              , {seedsEach(vary)} seeds for each combination.
            </>
          ) : (
            `“${vary.name}”: ${vary.listed?.method ?? 'every combination'} of ${vary.factors.map(({ parameter }) => parameter).join(', ')}, ${seedsEach(vary)} seeds at each point.`
          )}
          {vary.text !== text && <span className="text-doubt"> These runs are of an earlier text.</span>}
        </p>
      )}
      {tables.length > 0 && <h2 className="mb-1 text-xl">Observed data</h2>}
      {tables.map((table) => (
        <p key={table.name} className="mb-4">
          {table.name}. {notesOf(table.csv).join(' ')}
        </p>
      ))}
    </article>
  );
}

function capital(words: string): string {
  return words.charAt(0).toUpperCase() + words.slice(1);
}

function ReportFan({ plan, bands, of }: { readonly plan: Plan; readonly bands: Bands; readonly of: Provenance }) {
  return (
    <ChartFrame
      className="mb-5 h-[360px]"
      title={`${plan.measures[0]!.name}`}
      note={`line: median; bands: 50 % and 90 % of ${bands.runs} runs`}
      of={of}
      table={() => [['step', 'median'], ...Array.from(bands.steps, (step, i) => [step, bands.median[i]!])]}
    >
      <FanChart plan={plan} bands={bands} lines={[]} measure={0} showRuns={false} />
    </ChartFrame>
  );
}
