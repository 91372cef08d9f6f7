import { usualMeasures } from '@vole/core';
import { useChecksRun } from '../checks/checks-run.ts';
import { chooseReport } from '../session/session.ts';
import { useStudyPlan } from '../studies/use-study-plan.ts';
import type { StudyRow } from '../storage/schema.ts';
import { useAppSelector } from '../store/store.ts';
import { KIND_WORDS } from './TakeAlong.tsx';
import { useStudies } from './use-report.ts';

/** Which studies the report tells of, and which measures it draws of each; and whether the checks of the model are run for it. */
export function PutIn() {
  const studies = useStudies();
  const { id, text } = useAppSelector((state) => state.project);
  const { state, run } = useChecksRun();
  const isRunning = state?.isRunning === true;
  return (
    <section aria-label="Put in" className="card p-4">
      <h2 className="mb-2 text-[17px]">Put in</h2>
      {studies.length === 0 ? (
        <p className="text-sm text-faint">Studies of Repeat, Vary and Match are told of here once they are run.</p>
      ) : (
        <ul className="flex flex-col gap-2">
          {studies.map((study) => (
            <StudyIn key={study.id} study={study} />
          ))}
        </ul>
      )}
      <p className="mt-3">
        <button
          type="button"
          className="btn"
          disabled={isRunning || id === undefined}
          onClick={() => id !== undefined && run.start(id, text)}
        >
          {isRunning ? 'The checks are running ...' : 'Run the checks'}
        </button>
        <span className="mt-1 block text-sm text-faint">
          What comes of them is told as long as the text is this one.
        </span>
      </p>
    </section>
  );
}

function StudyIn({ study }: { readonly study: StudyRow }) {
  const choice = useAppSelector((state) => state.project.report);
  const { id, name, kind } = study;
  const isIn = !choice.leftOut.includes(id);
  const plan = useStudyPlan(study);
  const drawn = choice.drawn[id] ?? (plan ? usualMeasures(plan) : []);
  const choose = (leftOut: readonly string[], measures: readonly string[] | undefined): void =>
    void chooseReport({
      ...choice,
      leftOut: [...leftOut],
      drawn: measures ? { ...choice.drawn, [id]: [...measures] } : choice.drawn,
    });
  return (
    <li>
      <label className="flex items-baseline gap-2">
        <input
          type="checkbox"
          className="accent-moss"
          checked={isIn}
          onChange={() =>
            choose(isIn ? [...choice.leftOut, id] : choice.leftOut.filter((other) => other !== id), undefined)
          }
        />
        <span>
          {name} <span className="text-sm text-faint">{KIND_WORDS[kind]}</span>
        </span>
      </label>
      {isIn && plan && kind !== 'match' && (
        <ul aria-label={`Figures of ${name}`} className="mt-1 ml-6 flex flex-wrap gap-x-3 text-sm">
          {plan.measures.map((measure) => (
            <li key={measure.name}>
              <label className="flex items-baseline gap-1">
                <input
                  type="checkbox"
                  className="accent-moss"
                  checked={drawn.includes(measure.name)}
                  onChange={() =>
                    choose(
                      choice.leftOut,
                      plan.measures.flatMap((each) =>
                        (each.name === measure.name) !== drawn.includes(each.name) ? each.name : [],
                      ),
                    )
                  }
                />
                {measure.name}
              </label>
            </li>
          ))}
        </ul>
      )}
    </li>
  );
}
