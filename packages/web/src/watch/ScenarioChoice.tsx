import type { LoadedModel, StudyDefinition } from '@vole/core';
import { pointAt, readStudy, scenariosInText, textWithTimeline } from '@vole/core';
import { filesBeside } from '../simulation/beside.ts';
import { useDeferredValue, useMemo, useState } from 'react';
import { draftStudy } from '../session/session.ts';
import { live } from '../simulation/live-handle.ts';
import { store, useAppSelector } from '../store/store.ts';
import { watchActions } from '../store/watch-slice.ts';
import { useWatchValues } from '../studies/StudyValues.tsx';
import { useTextModel } from '../studies/use-study-plan.ts';
import { hasScenarios, SCENARIOS_BEGIN, withScenario } from '../studies/scenario-wording.ts';
import { ChoiceWord } from '../words/ChoiceWord.tsx';

const PLAIN = 'as in the text';
/** Values that are those of no scenario. */
const BY_HAND = 'set by hand';
const OWN_WORDS: readonly string[] = [PLAIN, BY_HAND];

/** Switches the run on show to a scenario of the study that is written in Vary, or of the text itself, and keeps the values on show as a further one. */
export function ScenarioChoice() {
  const model = useTextModel();
  return model && model.plan.parameters.length > 0 ? <Choice model={model} /> : null;
}

function Choice({ model }: { readonly model: LoadedModel }) {
  const { text, studyDraft } = useAppSelector((state) => state.project);
  const settled = useDeferredValue(studyDraft);
  const study = useMemo(
    () => scenariosIn(settled, text, model) ?? scenariosIn(scenarioText(text, model), text, model),
    [settled, text, model],
  );
  const values = useWatchValues(model.plan);
  const wanted = useAppSelector(({ watch: { scenario } }) => (scenario?.text === text ? scenario.name : ''));
  const [name, setName] = useState('');
  const names = study?.names ?? [];
  const isOther = studyDraft.trim() !== '' && !(hasScenarios(studyDraft) && names.length > 0);
  const take = (chosen: string): void => {
    const place = names.indexOf(chosen);
    store.dispatch(watchActions.scenarioShown(place < 0 ? undefined : { name: chosen, text }));
    const { seed } = store.getState().watch;
    const { changed, timeline } = place < 0 || !study ? { changed: {}, timeline: '' } : valuesOf(model, study, place);
    store.dispatch(watchActions.valuesSet(changed));
    // A text that means the same as before would go on as it was: the run begins anew in any case.
    live.load(textWithTimeline(text, timeline), seed, changed, 0);
    live.restart(seed, changed);
  };
  const keep = (): void => {
    const called = name.trim() || `Scenario ${names.length + 1}`;
    const begun = hasScenarios(studyDraft)
      ? studyDraft
      : names.length > 0
        ? scenarioText(text, model)
        : SCENARIOS_BEGIN;
    draftStudy(withScenario(begun, model.plan, called, values));
    setName('');
  };
  const has = Object.keys(values).length > 0;
  const at = names.indexOf(wanted);
  const isWanted = study !== undefined && at >= 0 && isSame(values, valuesOf(model, study, at).changed);
  const shown = isWanted ? wanted : has ? BY_HAND : PLAIN;
  if (names.length === 0 && !has) return null;
  return (
    <div className="mt-2 border-t border-line pt-2 text-sm">
      {names.length > 0 && (
        <label>
          scenario{' '}
          <ChoiceWord
            label="Scenario"
            value={shown}
            options={[
              ...(shown === BY_HAND ? [BY_HAND] : []),
              PLAIN,
              ...names.filter((other) => !OWN_WORDS.includes(other)),
            ]}
            onChange={(chosen) => chosen !== BY_HAND && take(chosen)}
          />
        </label>
      )}
      {has && !isOther && (
        <form
          className="mt-1 flex items-baseline gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            keep();
          }}
        >
          <input
            aria-label="Name of the scenario"
            className="word min-w-0 flex-1"
            placeholder="its name"
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <button type="submit" className="link whitespace-nowrap">
            keep these values as a scenario
          </button>
        </form>
      )}
      {has && isOther && (
        <p className="text-faint">
          {hasScenarios(studyDraft)
            ? 'The study with scenarios that is written in Vary has errors; mend them there to keep these values as one more.'
            : 'Vary holds a study without scenarios; empty it there to keep these values as one.'}
        </p>
      )}
    </div>
  );
}

/** Scenarios of a study, if it has some and is right. */
type Scenarios = StudyDefinition & { readonly names: readonly string[] };

/** The scenarios that stand in the text itself, as a study. */
function scenarioText(text: string, { checked: { tree } }: LoadedModel): string {
  return scenariosInText(text, tree)?.text ?? '';
}

function scenariosIn(draft: string, text: string, model: LoadedModel): Scenarios | undefined {
  if (!hasScenarios(draft)) return undefined;
  const { study } = readStudy(draft, { text, files: filesBeside(), loaded: model });
  const design = study?.setting.design;
  return study && design?.is === 'listed' && design.names ? { ...study, names: design.names } : undefined;
}

/** Values of a scenario that differ from those of the text, in base units, and its timeline lines. */
function valuesOf(
  { plan }: LoadedModel,
  { setting: { design, parameters } }: Scenarios,
  place: number,
): { readonly changed: Readonly<Record<string, number>>; readonly timeline: string } {
  const point = pointAt(design, place);
  const changed = plan.parameters.flatMap(({ name, value, unitFactor }): [string, number][] => {
    const factor = design.factors.findIndex(({ parameter }) => parameter === name);
    const wanted =
      factor >= 0 ? point.values[factor]! * unitFactor : Object.hasOwn(parameters, name) ? parameters[name]! : value;
    return wanted === value ? [] : [[name, wanted]];
  });
  return { changed: Object.fromEntries(changed), timeline: point.timeline ?? '' };
}

function isSame(a: Readonly<Record<string, number>>, b: Readonly<Record<string, number>>): boolean {
  const names = Object.keys(a);
  return names.length === Object.keys(b).length && names.every((name) => Object.hasOwn(b, name) && a[name] === b[name]);
}
