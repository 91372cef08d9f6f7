import type { Course, Plan } from '@vole/core';
import { seriesColour } from '@vole/core';
import type { NamedBands } from '../charts/BandsChart.tsx';
import { BandsChart } from '../charts/BandsChart.tsx';
import type { ChartLevel } from '../charts/level-lines.ts';
import { useAppSelector } from '../store/store.ts';
import { useAnswerList } from '../studies/use-answer.ts';
import { shownNumber } from '../words/numbers.ts';

/** By what runs are shown apart. */
export type SplitWish = { readonly condition: string } | { readonly summary: number; readonly below: number };

interface Props {
  readonly plan: Plan;
  readonly course: Course;
  readonly split: SplitWish;
  readonly levels: readonly ChartLevel[];
}

/** The courses of two kinds of runs, so that one that fizzled out is not averaged with one that took off. */
export function SplitCourses({ plan, course, split, levels }: Props) {
  const theme = useAppSelector((state) => state.interface.theme);
  const answers = useAnswerList(
    'repeat',
    [true, false].map((holds) => ({ is: 'fan' as const, course, lines: 0, where: { ...split, holds } })),
  );
  const groups = splitNames(plan, split).flatMap((name, i): NamedBands[] => {
    const bands = answers[i]?.bands;
    return bands ? [{ name: `${name}, ${bands.runs} runs`, colour: seriesColour(i, theme), bands }] : [];
  });
  return groups.length > 0 ? <BandsChart plan={plan} groups={groups} levels={levels} /> : null;
}

/** What both kinds of runs are called. */
function splitNames(plan: Plan, split: SplitWish): readonly [string, string] {
  if ('condition' in split) return [split.condition, `not ${split.condition}`];
  const { name } = plan.summaries[split.summary]!;
  const value = shownNumber(split.below);
  return [`${name} below ${value}`, `${name} from ${value} on`];
}
