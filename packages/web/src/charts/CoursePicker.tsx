import type { Course, CourseForm, Plan } from '@vole/core';
import { COURSE_FORMS } from '@vole/core';
import { ChoiceWord } from '../words/ChoiceWord.tsx';

interface Props {
  readonly plan: Plan;
  readonly course: Course;
  /** Steps from one kept row to the next. */
  readonly every: number;
  readonly onChange: (course: Course) => void;
}

const NOTHING = 'none';

/** Chooses which measure is looked at over time, in which form, and what is added up with it. */
export function CoursePicker({ plan, course, every, onChange }: Props) {
  const names = plan.measures.map(({ name }) => name);
  const [first = 0, ...more] = course.of;
  const left = names.filter((_, m) => !course.of.includes(m));
  const change = (of: readonly number[], form: CourseForm): void =>
    onChange(form === 'share' ? { of, form, whole: wholeOf(plan, of) } : { of, form });
  return (
    <span className="flex flex-wrap gap-x-6">
      <label>
        measure{' '}
        <ChoiceWord
          label="Measure"
          value={names[first]!}
          options={names}
          onChange={(name) => change([names.indexOf(name)], course.form)}
        />
      </label>
      <label>
        read{' '}
        <ChoiceWord
          label="Form"
          value={course.form}
          options={formsAt(every)}
          onChange={(form) => change(course.of, form as CourseForm)}
        />
      </label>
      {more.map((m) => (
        <button
          key={m}
          type="button"
          className="link"
          title={`leave out ${names[m]!}`}
          onClick={() =>
            change(
              course.of.filter((other) => other !== m),
              course.form,
            )
          }
        >
          + {names[m]}
        </button>
      ))}
      {left.length > 0 && names.length > 1 && (
        <label>
          added up with{' '}
          <ChoiceWord
            label="Added up with"
            value={NOTHING}
            options={[NOTHING, ...left]}
            onChange={(name) => name !== NOTHING && change([...course.of, names.indexOf(name)], course.form)}
          />
        </label>
      )}
    </span>
  );
}

/** Sums over time need every step; with some of them left out they would be told too small. */
function formsAt(every: number): readonly CourseForm[] {
  return every === 1 ? COURSE_FORMS : COURSE_FORMS.filter((form) => form !== 'summed up');
}

/** What a share is one of: the measures that the model's text draws in one chart with them, or all of them where it draws none. */
function wholeOf(plan: Plan, of: readonly number[]): readonly number[] {
  const chart = plan.charts.find(
    ({ measures }) => of.every((m) => measures.includes(m)) && measures.length > of.length,
  );
  return chart?.measures ?? [...new Set([...of, ...plan.measures.map((_, m) => m)])];
}

/** A course in words: `voles`, `voles + pups summed up`, `singing as a share of singing + silent`. */
export function courseWords(plan: Plan, { of, form, whole = [] }: Course): string {
  const added = (measures: readonly number[]): string => measures.map((m) => plan.measures[m]!.name).join(' + ');
  if (form === 'as measured') return added(of);
  return form === 'share' ? `${added(of)} as a share of ${added(whole)}` : `${added(of)}, ${form}`;
}

/** The levels that the text draws with a measure, which its course is held against. */
export function levelsOf(plan: Plan, { of, form }: Course): readonly number[] {
  if (form !== 'as measured') return [];
  return (
    plan.charts.find(({ measures, levels }) => levels.length > 0 && of.every((m) => measures.includes(m)))?.levels ?? []
  );
}
