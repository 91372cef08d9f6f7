import { useState } from 'react';
import { runsOfStudy } from './study-design.ts';
import { bringStudyBack, deleteStudy, describeStudy, duplicateStudy, showStudy } from './study-runner.ts';
import type { StudyRow } from '../storage/schema.ts';
import type { StudyKind } from '../store/study-slice.ts';
import { useAppSelector } from '../store/store.ts';
import { clockTime } from '../words/numbers.ts';
import { EditableWord } from '../words/EditableWord.tsx';

interface Props {
  readonly kind: StudyKind;
  /** Lays another study beside the one on show. */
  readonly onBeside?: (study: StudyRow) => void;
}

/** The studies of a kind that the project has; a click shows another one. Only there once there is something to choose, or to bring back. */
export function StudyList({ kind, onBeside }: Props) {
  const list = useAppSelector((state) => state.studies.list).filter((study) => study.kind === kind);
  const shown = useAppSelector((state) => state.studies[kind].study);
  const [gone, setGone] = useState<StudyRow>();
  if (list.length === 0 && !gone) return null;
  return (
    <section aria-label="Studies" className="card p-4">
      <h2 className="mb-1 text-[16px]">{list.length === 1 ? 'This study' : `${list.length} studies`}</h2>
      <ul className="flex max-h-60 flex-col overflow-auto">
        {[...list].reverse().map((study) => (
          <li key={study.id} className={`border-t border-line py-1 ${study.id === shown?.id ? 'font-semibold' : ''}`}>
            <EditableWord
              label={`Name of ${study.name}`}
              value={study.name}
              onChange={(name) => name.trim() && void describeStudy(study, { name: name.trim() })}
            />
            <span className="flex flex-wrap gap-x-3 text-sm font-normal text-faint">
              {new Date(study.createdAt).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })},{' '}
              {clockTime(study.createdAt)}, {study.until && 'at most '}
              {runsOfStudy(study).toLocaleString('en-GB')} runs
              {study.id !== shown?.id && (
                <button type="button" className="link" onClick={() => void showStudy(study)}>
                  show
                </button>
              )}
              {study.id !== shown?.id && onBeside && (
                <button type="button" className="link" onClick={() => onBeside(study)}>
                  beside
                </button>
              )}
              <button type="button" className="link" onClick={() => void duplicateStudy(study)}>
                duplicate
              </button>
              <button type="button" className="link" onClick={() => void deleteStudy(study).then(() => setGone(study))}>
                delete
              </button>
            </span>
            {study.id === shown?.id && (
              <textarea
                key={study.id}
                aria-label={`Note on ${study.name}`}
                className="word mt-1 w-full resize-y text-sm font-normal"
                rows={study.notes ? 2 : 1}
                placeholder="a note"
                defaultValue={study.notes}
                onBlur={({ target }) =>
                  target.value !== (study.notes ?? '') && void describeStudy(study, { notes: target.value })
                }
              />
            )}
          </li>
        ))}
      </ul>
      {gone && (
        <p className="mt-1 text-sm">
          “{gone.name}” is deleted.{' '}
          <button
            type="button"
            className="link"
            onClick={() => void bringStudyBack(gone).then(() => setGone(undefined))}
          >
            Undo
          </button>
        </p>
      )}
    </section>
  );
}
