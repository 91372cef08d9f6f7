import type { Cell } from '../../csv.ts';
import type { Plan } from '../../plan/plan.ts';
import { sensitivityOf } from '../answers/sensitivity.ts';
import type { Design } from '../design/design.ts';
import { pointAt, pointCount } from '../design/design.ts';
import { pairedDifference } from '../statistics/differences.ts';
import type { StudyResults } from './study-results.ts';
import { factorCell, factorHeadings } from './table.ts';

/** Tables of a study beside those of its runs: points, indices of its factors, differences of its scenarios. Headings carry units. */

/** Name of a point: that of its scenario, or nothing. */
export function nameOfPoint(design: Design, place: number): string | undefined {
  return design.is === 'listed' ? design.names?.[place] : undefined;
}

/** Points of a design: number from 1, name where they have one, a column a factor, timeline lines where some have them. */
export function pointsTable(plan: Plan, design: Design): Cell[][] {
  const isNamed = design.is === 'listed' && design.names !== undefined;
  const timelines = design.is === 'listed' ? design.timelines : undefined;
  const rows = Array.from({ length: pointCount(design) }, (_, place) => [
    place + 1,
    ...(isNamed ? [nameOfPoint(design, place)!] : []),
    ...pointAt(design, place).values.map((value, f) => factorCell(plan, design.factors[f]!.parameter, value)),
    ...(timelines ? [timelines[place]!.replaceAll('\n', '; ')] : []),
  ]);
  return [
    ['point', ...(isNamed ? ['scenario'] : []), ...factorHeadings(plan, design), ...(timelines ? ['timeline'] : [])],
    ...rows,
  ];
}

/** Indices of sensitivity, a row a summary, factor and index, with its 90 % interval; the share of luck stands at the end of each summary. */
export function indicesTable(plan: Plan, design: Design, results: StudyResults): Cell[][] {
  const rows = sensitivityOf(plan, design, results).flatMap(({ indices, luck }, s) => {
    const { name } = plan.summaries[s]!;
    return [
      ...indices.map(({ factor, index, value, low, high }): Cell[] => [factor, name, index, value, low, high]),
      ...(indices.length > 0 ? [['', name, 'share of luck', luck, NaN, NaN]] : []),
    ];
  });
  return [['factor', 'summary', 'index', 'value', 'low', 'high'], ...rows];
}

/** Paired differences of each summary between every two named points: b less a over shared seeds, with 90 % intervals. */
export function differencesTable(plan: Plan, design: Design, results: StudyResults): Cell[][] {
  const runs = results.inOrder(design);
  const rows: Cell[][] = [];
  plan.summaries.forEach(({ name }, s) => {
    const values = runs.map((all) => all.map((run) => run?.summaries[s]));
    for (let b = 1; b < runs.length; b++)
      for (let a = 0; a < b; a++) {
        const { difference, ahead } = pairedDifference(values[a]!, values[b]!);
        rows.push([
          name,
          nameOfPoint(design, a) ?? a + 1,
          nameOfPoint(design, b) ?? b + 1,
          difference.value,
          difference.low,
          difference.high,
          ahead.value,
          difference.runs,
        ]);
      }
  });
  return [['summary', 'a', 'b', 'difference', 'low', 'high', 'ahead', 'seeds'], ...rows];
}
