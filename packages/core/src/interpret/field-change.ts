import { spreadInto } from '../engine/field-change.ts';
import { RandomStream, mix } from '../engine/random/stream.ts';
import type { CellValues, FieldGrid } from '../forms/space.ts';
import { heldValue } from '../forms/space.ts';
import { failShare } from '../plan/failures.ts';
import type * as P from '../plan/plan.ts';
import type { ReferenceRun } from './reference-run.ts';
import { cellValue } from './start.ts';
import { bodyValue } from './values.ts';
import { keptWithin } from './writing.ts';

export function changeFields(run: ReferenceRun, indices: readonly number[]): void {
  const next = indices.map((index) => nextField(run, index));
  indices.forEach((index, i) => run.fields[index]!.values.set(next[i]!));
}

function nextField(run: ReferenceRun, index: number): CellValues {
  const field = run.plan.fields[index]!;
  const grid: FieldGrid = run.fields[index]!;
  const times = field.growPerTime ? run.context.clock.stepLength : 1;
  const grown = grid.values.map((value, i) =>
    field.grow ? finite(run, field, value + times * cellValue(run, field.grow, i, RandomStream.of(0, 0, 0))) : value,
  );
  const spread = grown.slice();
  if (field.spread) spreadInto(spread, grown, grid, run.groundOf(index).space, shareOf(run, field.spread, field.site));
  const rest = field.fade ? 1 - shareOf(run, field.fade, field.site) : 1;
  const faded = spread.map((value) => (field.fade ? value * rest : value));
  if (!field.becomes) return faded.map((value, cell) => keptWithin(run, index, cell, value));
  // Its own lines are read from what has grown, spread and faded, all of it at once.
  const kept = grid.values.slice();
  grid.values.set(faded);
  const key = mix(index + 0x1f83d9ab);
  const next = faded.map((_, i) =>
    finite(run, field, cellValue(run, field.becomes!, i, RandomStream.of(run.context.seed, run.context.step, key, i))),
  );
  grid.values.set(kept);
  return next.map((value, cell) => keptWithin(run, index, cell, value));
}

/** A value as a cell will hold it, which has to be a finite number. */
function finite(run: ReferenceRun, { isSingle, site }: P.FieldPlan, value: number): number {
  return run.finite(heldValue(value, isSingle), site, undefined);
}

function shareOf(run: ReferenceRun, body: P.ValueBody, site: number): number {
  const share = bodyValue(run, body);
  return share >= 0 && share <= 1 ? share : failShare(run.plan.sites[site]!, run.context, share);
}
