import type { Cell, ParameterPlan, Plan, PointAnswer } from '@vole/core';
import { categoriesOf, factorWords, heading, unitOfParameter } from '@vole/core';
import type { ResponseLine } from '../charts/ResponseChart.tsx';
import { sliderRange } from '../simulation/slider-range.ts';
import type { StudyRow } from '../storage/schema.ts';

/** What a study that varies parameters says: the words of its values, its response curves, and their table. */

/** A summary against the first factor, a line for each value of the second; points without runs are left out. @param s place of the summary */
export function responseLines(plan: Plan, study: StudyRow, points: readonly PointAnswer[], s: number): ResponseLine[] {
  const second = study.factors[1];
  const names = second
    ? second.values.map((value) => `${second.parameter} ${factorWords(plan, second.parameter, value)}`)
    : [study.factors[0]!.parameter];
  return names.map((name, i) => ({
    name,
    points: points.flatMap(({ values, runs, estimates }) => {
      if (second && values[1] !== second.values[i]) return [];
      return runs === 0 ? [] : [{ x: values[0]!, estimate: estimates[s]! }];
    }),
  }));
}

/** Points that differ from the first one in one factor at most: what that factor does alone. */
export function alonePoints(
  study: StudyRow,
  points: readonly PointAnswer[],
  parameter: string,
): { readonly x: number; readonly point: PointAnswer }[] {
  const f = study.factors.findIndex((factor) => factor.parameter === parameter);
  const middle = points[0]?.values ?? [];
  return points
    .filter(({ values, runs }) => runs > 0 && values.every((value, i) => i === f || value === middle[i]))
    .map((point) => ({ x: point.values[f]!, point }))
    .sort((a, b) => a.x - b.x);
}

/** Small charts that are drawn at most. */
const MOST_FACETS = 8;

/** Points apart by the values of the third factor and those after it, so that no line joins what stands apart. */
export function facetsOf(
  plan: Plan,
  study: StudyRow,
  points: readonly PointAnswer[],
): { readonly title: string; readonly points: { readonly x: number; readonly point: PointAnswer }[] }[] {
  const facets = new Map<string, { x: number; point: PointAnswer }[]>();
  for (const point of points) {
    const title = study.factors
      .slice(2)
      .map(({ parameter }, i) => `${parameter} ${factorWords(plan, parameter, point.values[i + 2]!, true)}`)
      .join(', ');
    const facet = facets.get(title) ?? [];
    facets.set(title, facet);
    facet.push({ x: point.values[0]!, point });
  }
  return [...facets].slice(0, MOST_FACETS).map(([title, inside]) => ({ title, points: inside }));
}

/** The same as a table, a row for each point; what has no end, as the interval of one run, is empty. */
export function responseTable(plan: Plan, study: StudyRow, points: readonly PointAnswer[], s: number): Cell[][] {
  const names = study.factors.map((factor) => factor.parameter);
  return [
    [
      ...names.map((name) => heading(name, unitOfParameter(plan, name))),
      ...[plan.summaries[s]!.name, 'low90', 'high90'].map((name) => heading(name, plan.summaries[s]!.unitLabel)),
      'runs',
      'never',
    ],
    ...points.map((point) => {
      const { value, low, high, runs, never } = point.estimates[s]!;
      return [
        ...point.values.map((number, f) => categoriesOf(plan, names[f]!)?.[number] ?? number),
        ...[value, low, high, runs, never].map((cell) => (Number.isFinite(cell) ? cell : NaN)),
      ];
    }),
  ];
}

/** Values of a parameter to begin with: around the one it has, within its bounds. */
export function usualValues(parameter: ParameterPlan): string {
  if (parameter.type !== 'number') return parameter.type === 'yes or no' ? 'no, yes' : parameter.options!.join(', ');
  const { min, max } = sliderRange(parameter);
  const usual = parameter.value / parameter.unitFactor;
  const top = Math.min(max, Math.max(usual * 2, min + (max - min) / 5));
  if (!parameter.whole) return `5 values from ${Number(min.toPrecision(4))} to ${Number(top.toPrecision(4))}`;
  const around = [Math.round(usual / 2), usual, usual === 0 ? 1 : usual * 2].map((n) =>
    Math.min(max, Math.max(min, n)),
  );
  return [...new Set(around)].sort((a, b) => a - b).join(', ');
}
