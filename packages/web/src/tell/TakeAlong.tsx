import type { Plan, Report } from '@vole/core';
import { MOST_BUNDLE_BYTES, reportHtml, writeBundle } from '@vole/core';
import { useState } from 'react';
import { download, downloadText, fileName } from '../files/download.ts';
import { studyTableFile } from '../files/study-table.ts';
import { TakeFiles } from '../files/TakeFiles.tsx';
import { useShownStudy } from '../studies/use-study-plan.ts';
import { saveNow } from '../session/session.ts';
import type { StudyRow } from '../storage/schema.ts';
import { interfaceActions } from '../store/interface-slice.ts';
import type { StudyKind } from '../store/study-slice.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import type { MadeBundle } from './make-bundle.ts';
import { bundleOf, pageContents } from './make-bundle.ts';
import { REPORT_FACTS, REPORT_FORMS } from './report-files.ts';

export const KIND_WORDS: Readonly<Record<StudyKind, string>> = { repeat: 'Repeat', vary: 'Vary', match: 'Match' };

/** The report in its forms, the bundle, and the text and tables by themselves. */
export function TakeAlong({ report, isReading }: { readonly report: Report; readonly isReading: boolean }) {
  const { name, text } = useAppSelector((state) => state.project);
  const dispatch = useAppDispatch();
  const [made, setMade] = useState<MadeBundle>();
  const [writing, setWriting] = useState<string>();
  const refused = (error: unknown): void =>
    void dispatch(
      interfaceActions.noticed({ text: error instanceof Error ? error.message : String(error), tone: 'problem' }),
    );
  const write = (form: string): void => {
    setWriting(form);
    REPORT_FORMS[form]!(report, report.title)
      .then(({ name: file, content }) => download(file, content))
      .catch(refused)
      .finally(() => setWriting(undefined));
  };
  const makeBundle = async (): Promise<void> => {
    try {
      await saveNow();
      const made = await bundleOf(pageContents());
      const next = withReport(made, reportHtml(report, REPORT_FACTS));
      if (next.leftOut.length + next.unread > 0) setMade(next);
      else take(next);
    } catch (error) {
      refused(error);
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
        <p className="flex flex-wrap gap-x-3">
          {Object.keys(REPORT_FORMS).map((form) => (
            <button
              key={form}
              type="button"
              className="link"
              disabled={writing !== undefined || isReading}
              onClick={() => write(form)}
            >
              {form}
            </button>
          ))}
          <button type="button" className="link" onClick={() => window.print()}>
            print
          </button>
        </p>
        <button type="button" className="btn-strong" onClick={() => void makeBundle()}>
          Bundle
        </button>
        {made && (
          <div role="alert" className="text-doubt">
            {made.leftOut.length > 0 && (
              <p>
                The results of {made.leftOut.join(', ')} do not fit in a bundle, which has at most{' '}
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
          One file of at most {MOST_BUNDLE_BYTES / 1e6} MB with model, studies, results, observed data, report and a
          record of what was done. Opened elsewhere it shows the same, and reruns to the same numbers there or by{' '}
          <code>vole verify</code>.
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

/** A bundle with the report as a page to be read. */
function withReport({ bundle, ...rest }: MadeBundle, html: string): MadeBundle {
  return { ...rest, bundle: { ...bundle, tables: { ...bundle.tables, 'report.html': html } } };
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
  const { name, text, files } = useAppSelector((state) => state.project);
  return (['rows', 'summaries'] as const).map((what) => (
    <p key={what} className="flex gap-x-3">
      {KIND_WORDS[kind]}: {what}
      <TakeFiles
        title={`${name} ${kind} ${what}`}
        table={(form) => studyTableFile(study, plan, { text, files }, what, form)}
      />
    </p>
  ));
}
