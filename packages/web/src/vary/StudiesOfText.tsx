import type { LoadedModel } from '@vole/core';
import { withStudy } from '@vole/core';
import { useMemo } from 'react';
import { addWhileRunning, draftStudy } from '../session/session.ts';
import { useAppSelector } from '../store/store.ts';
import { studiesOfText } from '../studies/studies-of-text.ts';

interface Props {
  readonly model: LoadedModel;
  /** The study that is written here, if it is right and can go into the text. */
  readonly written?: string;
  readonly onTake?: () => void;
}

/** The studies that stand in the text of the model, to be taken up here, and the way of one from here into it. */
export function StudiesOfText({ model, written, onTake }: Props) {
  const text = useAppSelector((state) => state.project.text);
  const draft = useAppSelector((state) => state.project.studyDraft);
  const studies = useMemo(() => studiesOfText(text, model), [text, model]);
  const others = studies.filter((study) => study.text.trim() !== draft.trim());
  const goesIn = written !== undefined && studies.every((study) => study.text.trim() !== written.trim());
  if (others.length === 0 && !goesIn) return null;
  return (
    <p className="mt-1 text-sm text-faint">
      {others.length > 0 && 'in the text of the model: '}
      {others.map((study, i) => (
        <span key={i}>
          {i > 0 && ', '}
          <button
            type="button"
            className="link"
            onClick={() => {
              draftStudy(study.text);
              onTake?.();
            }}
          >
            {study.name || 'without a name'}
          </button>
        </span>
      ))}
      {others.length > 0 && goesIn && '; '}
      {goesIn && (
        <button
          type="button"
          className="link"
          onClick={() => addWhileRunning(withStudy(text, model.checked.tree, written))}
        >
          write this one into the text of the model
        </button>
      )}
    </p>
  );
}
