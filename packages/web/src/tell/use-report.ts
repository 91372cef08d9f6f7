import type { CheckOutcome, ModelOfNow, Quotable, Report, StudyTold } from '@vole/core';
import { projectReport, quotables, toldStudy } from '@vole/core';
import { startTransition, useDeferredValue, useEffect, useMemo, useState } from 'react';
import { areChecksOf, useChecksRun } from '../checks/checks-run.ts';
import { askStudy, finishedRuns, lookInto } from '../studies/answers.ts';
import { NewestOnly } from '../studies/newest-only.ts';
import { runsOfStudy } from '../studies/study-design.ts';
import { STUDY_KINDS } from '../studies/study-runner.ts';
import { readText } from '../simulation/read-texts.ts';
import { useTextRead } from '../studies/use-study-plan.ts';
import type { StudyRow } from '../storage/schema.ts';
import { interfaceActions } from '../store/interface-slice.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';

/** All studies of the project, stored or not, the oldest first. */
export function useStudies(): readonly StudyRow[] {
  const { list, ...shown } = useAppSelector((state) => state.studies);
  const unlisted = STUDY_KINDS.flatMap((kind) => {
    const { study } = shown[kind];
    return study && !list.some(({ id }) => id === study.id) ? [study] : [];
  });
  return [...list, ...unlisted];
}

interface ToldReport {
  readonly report: Report;
  /** Numbers of its studies that sentences can quote. */
  readonly quotable: readonly Quotable[];
  readonly isReading: boolean;
}

/** The report of the project as it stands: the model by the standard, then what came out of each study that is not left out. It is told anew as results come in; until they are read, `isReading`. */
export function useReport(): ToldReport {
  const { name, text, notes } = useAppSelector((state) => state.project);
  const tables = useAppSelector((state) => state.observed.tables);
  const read = useTextRead();
  const model = read?.loaded;
  const { studies, isReading } = useToldStudies();
  const said = useDeferredValue(notes);
  const checks = useChecks();
  const report = useMemo(
    () => projectReport({ name, text, model, notes: said, studies, observed: tables, checks }),
    [model, name, text, said, studies, tables, checks],
  );
  const quotable = useMemo(() => quotables(studies), [studies]);
  return { report, quotable, isReading: isReading || !read };
}

const NO_CHECKS: readonly CheckOutcome[] = [];

/** What came of the checks of the text as it stands, once all have been run. */
function useChecks(): readonly CheckOutcome[] {
  const { text, files } = useAppSelector((state) => state.project);
  const { state } = useChecksRun();
  return state && areChecksOf(state, text, files) && !state.isRunning && !state.problem ? state.outcomes : NO_CHECKS;
}

/** What a report tells of a study; nothing where its text cannot be read any more. */
async function told(
  study: StudyRow,
  now: ModelOfNow,
  drawn: readonly string[] | undefined,
): Promise<StudyTold | undefined> {
  const plan = (await readText(study.text, study.outcomes)).loaded?.plan;
  if (!plan) return undefined;
  const { id, kind, until } = study;
  return lookInto(study, () =>
    toldStudy(study, plan, now, drawn, {
      ask: (question) => askStudy(id, question),
      finished: async () => {
        const { seeds, failed } = await finishedRuns(id);
        return { done: seeds.length, failed };
      },
      planned: kind === 'match' || until ? undefined : runsOfStudy(study),
    }),
  );
}

const NOTHING_TOLD = { asked: '[]', studies: [] };

function useToldStudies(): { readonly studies: readonly StudyTold[]; readonly isReading: boolean } {
  const all = useStudies();
  const { leftOut, drawn } = useAppSelector((state) => state.project.report);
  const { text, files } = useAppSelector((state) => state.project);
  const versions = useAppSelector(({ studies }) => STUDY_KINDS.map((kind) => studies[kind].version).join(' '));
  const shown = useAppSelector(({ studies }) => STUDY_KINDS.map((kind) => studies[kind].study?.id).join(' '));
  const dispatch = useAppDispatch();
  const [asking] = useState(() => new NewestOnly());
  const [result, setResult] = useState<{ readonly asked: string; readonly studies: readonly StudyTold[] }>(
    NOTHING_TOLD,
  );
  const chosen = all.filter(({ id }) => !leftOut.includes(id));
  const asked = JSON.stringify(chosen.map(({ id, name, notes }) => [id, name, notes, drawn[id]]));
  useEffect(() => () => asking.clear(), [asking]);
  useEffect(() => {
    asking.do(async () => {
      const found: StudyTold[] = [];
      for (const study of chosen) {
        try {
          const each = await told(study, { text, files }, drawn[study.id]);
          if (each) found.push(each);
        } catch (error) {
          dispatch(interfaceActions.noticed({ text: `“${study.name}”: ${(error as Error).message}`, tone: 'problem' }));
        }
      }
      startTransition(() => setResult({ asked, studies: found }));
    });
    // `asked` stands for the studies that are chosen.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [asking, dispatch, asked, text, files, shown, versions]);
  return { studies: result.studies, isReading: result.asked !== asked };
}
