import type { Course, Plan } from '@vole/core';
import { plainCourse } from '@vole/core';
import { useMemo } from 'react';
import type { ChartLevel } from './level-lines.ts';
import { levelsOf } from './CoursePicker.tsx';
import type { StudyKind } from '../store/study-slice.ts';
import { useAnswerList } from '../studies/use-answer.ts';

/** The levels that the text of a model draws with a course, as medians over the runs of a study. */
export function useLevels(kind: StudyKind, plan: Plan | undefined, course: Course): readonly ChartLevel[] {
  const answers = useAnswerList(
    kind,
    (plan ? levelsOf(plan, course) : []).map((level) => ({
      is: 'fan' as const,
      course: plainCourse(level),
      lines: 0,
    })),
  );
  return useMemo(() => {
    const levels = plan ? levelsOf(plan, course) : [];
    return answers.flatMap((answer, i): ChartLevel[] =>
      answer
        ? [
            {
              name: plan!.measures[levels[i]!]!.name,
              heights: [...answer.bands.median],
              steps: [...answer.bands.steps],
            },
          ]
        : [],
    );
  }, [answers, plan, course]);
}
