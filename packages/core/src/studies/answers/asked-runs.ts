import { pointAt, pointCount } from '../design/design.ts';
import type { RunResult } from '../runner/simulate.ts';
import type { AskedStudy } from './answer.ts';

/** Runs that came to their end, in the order of the design, of all points or of one. */
export function runsOf({ design, results }: AskedStudy, point?: string): RunResult[] {
  const present = (result: RunResult | undefined): result is RunResult => result !== undefined;
  if (point === undefined) return results.inOrder(design).flat().filter(present);
  for (let place = 0; place < pointCount(design); place++)
    if (pointAt(design, place).id === point) return results.ofPoint(design, place).filter(present);
  return [];
}
