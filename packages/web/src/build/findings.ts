import type { Diagnostic } from '@vole/core';
import { useDeferredValue, useEffect, useMemo } from 'react';
import { interfaceActions } from '../store/interface-slice.ts';
import { store, useAppSelector } from '../store/store.ts';
import { modelActions } from '../store/model-slice.ts';
import type { EditorHelp } from './use-editor-help.ts';

/** All that is to mend or to look at in the text, in its order: of the model, and of the scenarios and studies in it. */
export function useFindings(): readonly Diagnostic[] {
  const ofModel = useAppSelector((state) => state.model.diagnostics);
  const ofStudies = useAppSelector((state) => state.model.studyFindings);
  return useMemo(
    () => (ofStudies.length === 0 ? ofModel : [...ofModel, ...ofStudies].sort((a, b) => a.span.start - b.span.start)),
    [ofModel, ofStudies],
  );
}

/** Reads the scenarios and studies of the text when there is time, once the model of it is right. */
export function useStudyCheck(help: EditorHelp | undefined): void {
  const text = useDeferredValue(useAppSelector((state) => state.project.text));
  const files = useAppSelector((state) => state.project.files);
  const runs = useAppSelector((state) => state.model.runs);
  useEffect(() => {
    let isCurrent = true;
    const show = (found: readonly Diagnostic[]): void => {
      if (!isCurrent || (found.length === 0 && store.getState().model.studyFindings.length === 0)) return;
      store.dispatch(modelActions.studiesChecked(found));
    };
    if (!help || !runs) show([]);
    else
      help.readText(text).then(
        ({ studyFindings }) => show(studyFindings),
        (error: Error) =>
          isCurrent && store.dispatch(interfaceActions.noticed({ text: error.message, tone: 'problem' })),
      );
    return () => {
      isCurrent = false;
    };
    // They are read with the files of now.
  }, [help, text, files, runs]);
}
