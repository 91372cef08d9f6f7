import { Meaning } from '../manual/Meaning.tsx';
import type { Plan, PosteriorAnswer, SeriesAgreement } from '@vole/core';
import { ENGINE_VERSION, seriesFact, paperParagraph, PILOTS, posteriorSentences } from '@vole/core';
import { useContext, useState } from 'react';
import type { TableForm } from '../files/table-file.ts';
import { tableFile } from '../files/table-file.ts';
import { TakeFiles } from '../files/TakeFiles.tsx';
import { TakenOf } from '../files/taken-of.ts';
import { draftStudy } from '../session/session.ts';
import type { StudyRow } from '../storage/schema.ts';
import { interfaceActions } from '../store/interface-slice.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { askStudy } from '../studies/answers.ts';
import { linesLike } from './match-edits.ts';
import { takesScenarios } from '../studies/scenario-wording.ts';
import { SAVED_DRAWS, withDraws } from './save-scenarios.ts';
import { useOpenValues } from './use-open-values.ts';

interface Props {
  readonly plan: Plan;
  readonly study: StudyRow;
  /** The series that the search was held against. */
  readonly series: readonly SeriesAgreement[];
  readonly posterior: PosteriorAnswer;
  readonly found: NonNullable<PosteriorAnswer['found']>;
  readonly units: readonly string[];
}

/** What the data tell of the unknowns and what not, a paragraph for a paper, and ways to take the answer along. */
export function InWords({ plan, study, series, posterior, found, units }: Props) {
  const [asPaper, setAsPaper] = useState(false);
  const draft = useAppSelector((state) => state.project.studyDraft);
  const dispatch = useAppDispatch();
  const of = useContext(TakenOf);
  const open = useOpenValues(plan, study);
  const wording = study.wording ?? '';
  const finds = linesLike(wording, 'find');
  const say = (text: string): void => void dispatch(interfaceActions.noticed({ text, tone: 'plain' }));
  const save = (): void => {
    if (!takesScenarios(draft)) {
      dispatch(
        interfaceActions.noticed({
          text: 'Vary holds a study without scenarios; empty it there to keep these draws as scenarios.',
          tone: 'problem',
        }),
      );
      return;
    }
    draftStudy(withDraws(draft, plan, study.name, found.posterior));
    say(`The best point and ${SAVED_DRAWS} draws are scenarios now: choose one in Watch, or run them in Vary.`);
  };
  const matchTable =
    (what: 'scores' | 'predictive' | 'posterior') =>
    async (form: TableForm): Promise<Blob> => {
      const tables = await askStudy(study.id, { is: 'match tables', of: '' });
      return tableFile(form, tables?.[what] ?? [], of?.lines ?? []);
    };
  const held = linesLike(wording, 'hold out')[0]?.value.text;
  return (
    <section aria-label="In words" className="card p-4">
      <h2 className="mb-1 text-[16px]">
        In words <Meaning of={found.posterior.left === undefined ? 'posteriors' : 'what-is-not-ruled-out'} />
      </h2>
      {!posterior.isDone && <p className="text-sm text-faint">so far, while the search goes on</p>}
      {asPaper ? (
        <textarea
          readOnly
          aria-label="Paragraph for a paper"
          className="h-64 w-full rounded border border-line bg-ground p-2 text-sm"
          value={paperParagraph(found, {
            model: plan.title,
            engine: study.engine ?? ENGINE_VERSION,
            runs: posterior.runs,
            priors: finds.map(({ value }) => value.text),
            series: series.map(seriesFact),
            heldOut: held,
            units,
            pilots: PILOTS,
          })}
        />
      ) : (
        <ul className="flex flex-col gap-1" data-testid="in-words">
          {posteriorSentences(found, units, 'The observations').map(({ key, text }) => (
            <li key={key}>{text}</li>
          ))}
        </ul>
      )}
      <p className="mt-2 flex flex-wrap gap-x-3 text-sm">
        <button type="button" className="link" onClick={() => setAsPaper(!asPaper)}>
          {asPaper ? 'in short' : 'as a paragraph for a paper'}
        </button>
        <button type="button" className="link" onClick={save}>
          save as scenarios
        </button>
        <button type="button" className="link" onClick={() => open(found.posterior.parameters, found.posterior.best)}>
          best point in Watch
        </button>
      </p>
      {(['scores', 'predictive', 'posterior'] as const).map((what) => (
        <p key={what} className="flex gap-x-3 text-sm">
          {what}: <TakeFiles title={`${study.name} ${what}`} table={matchTable(what)} />
        </p>
      ))}
    </section>
  );
}
