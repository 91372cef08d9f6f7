import type { Plan, RunKey } from '@vole/core';
import { otherFiles, quotedNames, textWithTimeline } from '@vole/core';
import type { StudyRow } from '../storage/schema.ts';
import { interfaceActions } from '../store/interface-slice.ts';
import { ownValue } from '../store/own-value.ts';
import { store } from '../store/store.ts';
import { watchActions } from '../store/watch-slice.ts';
import { live } from './live-handle.ts';

/**
 * Opens a run of a study, or of a check, in Watch: its seed, its values, at a step. A run of an earlier text is opened with that text.
 * @param timeline lines that its scenario lays over the text
 */
export function openRun(
  study: Pick<StudyRow, 'text' | 'parameters' | 'files'>,
  plan: Plan,
  { seed }: RunKey,
  step: number,
  values: Readonly<Record<string, number>> = study.parameters,
  timeline = '',
): void {
  const { text, files } = store.getState().project;
  const changed = Object.fromEntries(
    plan.parameters
      .filter((p) => (ownValue(values, p.name) ?? p.value) !== p.value)
      .map((p) => [p.name, values[p.name]!]),
  );
  store.dispatch(watchActions.seeded(seed));
  store.dispatch(watchActions.valuesSet(changed));
  store.dispatch(watchActions.scenarioShown(undefined));
  store.dispatch(watchActions.playing(false));
  if (study.text !== text || timeline !== '') {
    store.dispatch(
      interfaceActions.noticed({
        text:
          timeline === ''
            ? 'This run is of an earlier text; Watch shows that one until the text changes.'
            : 'This run has timeline lines of its scenario, which are not in the text; Watch shows it until the text changes.',
        tone: 'plain',
      }),
    );
  }
  const others = otherFiles(study, files);
  if (others.length > 0)
    store.dispatch(
      interfaceActions.noticed({
        text: `${quotedNames(others)} beside the model ${others.length === 1 ? 'has' : 'have'} changed since: this is the run of the same seed and values with what is there now, not the one of the study.`,
        tone: 'problem',
      }),
    );
  const wanted = textWithTimeline(study.text, timeline);
  // Watch may still have the timeline lines of another scenario.
  if (live.text === wanted) live.restart(seed, values, step);
  else live.load(wanted, seed, values, step);
}
