import type { Report, StudyTold } from '@vole/core';
import { ENGINE_VERSION, modelSections, notesOf, paragraph, repeatSection, studySection } from '@vole/core';
import { startTransition, useDeferredValue, useEffect, useMemo, useState } from 'react';
import { NewestOnly } from '../studies/newest-only.ts';
import { STUDY_KINDS } from '../studies/study-runner.ts';
import { useTextModel } from '../studies/use-study-plan.ts';
import type { StudyRow } from '../storage/schema.ts';
import { interfaceActions } from '../store/interface-slice.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { toldStudy } from './told-study.ts';

/** All studies of the project, stored or not, the oldest first. */
export function useStudies(): readonly StudyRow[] {
  const { list, ...shown } = useAppSelector((state) => state.studies);
  const unlisted = STUDY_KINDS.flatMap((kind) => {
    const { study } = shown[kind];
    return study && !list.some(({ id }) => id === study.id) ? [study] : [];
  });
  return [...list, ...unlisted];
}

/** The report of the project as it stands: the model by the standard, then what came out of each study that is not left out. It is told anew as results come in; until they are read, `isReading`. */
export function useReport(): { readonly report: Report; readonly isReading: boolean } {
  const { name, text, notes } = useAppSelector((state) => state.project);
  const tables = useAppSelector((state) => state.observed.tables);
  const model = useTextModel();
  const { studies, isReading } = useToldStudies();
  const told = useDeferredValue(notes);
  const report = useMemo(() => {
    const data = tables.map((table) =>
      paragraph({ is: 'strong', text: `${table.name}.` }, ` ${notesOf(table.csv).join(' ')}`),
    );
    return {
      title: model?.plan.title ?? name,
      sections: [
        ...(model ? modelSections(model, text) : []),
        ...(told.trim() || studies.length > 0
          ? [
              {
                id: 'results',
                title: 'What came out',
                blocks: told
                  .trim()
                  .split(/\n\s*\n/)
                  .filter(Boolean)
                  .map((part) => paragraph(part)),
              },
            ]
          : []),
        ...studies.map(studySection),
        ...(data.length > 0 ? [{ id: 'observed', title: 'Observed data', blocks: data }] : []),
        repeatSection(text, ENGINE_VERSION),
      ],
    };
  }, [model, name, text, told, studies, tables]);
  return { report, isReading };
}

const NOTHING_TOLD = { asked: '[]', studies: [] };

function useToldStudies(): { readonly studies: readonly StudyTold[]; readonly isReading: boolean } {
  const all = useStudies();
  const { leftOut, drawn } = useAppSelector((state) => state.project.report);
  const text = useAppSelector((state) => state.project.text);
  const versions = useAppSelector(({ studies }) => STUDY_KINDS.map((kind) => studies[kind].version).join(' '));
  const shown = useAppSelector(({ studies }) => STUDY_KINDS.map((kind) => studies[kind].study?.id).join(' '));
  const dispatch = useAppDispatch();
  const [asking] = useState(() => new NewestOnly());
  const [told, setTold] = useState<{ readonly asked: string; readonly studies: readonly StudyTold[] }>(NOTHING_TOLD);
  const chosen = all.filter(({ id }) => !leftOut.includes(id));
  const asked = JSON.stringify(chosen.map(({ id, name, notes }) => [id, name, notes, drawn[id]]));
  useEffect(() => () => asking.clear(), [asking]);
  useEffect(() => {
    asking.do(async () => {
      const found: StudyTold[] = [];
      for (const study of chosen) {
        try {
          const each = await toldStudy(study, text, drawn[study.id]);
          if (each) found.push(each);
        } catch (error) {
          dispatch(interfaceActions.noticed({ text: `“${study.name}”: ${(error as Error).message}`, tone: 'problem' }));
        }
      }
      startTransition(() => setTold({ asked, studies: found }));
    });
    // `asked` stands for the studies that are chosen.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [asking, dispatch, asked, text, shown, versions]);
  return { studies: told.studies, isReading: told.asked !== asked };
}
