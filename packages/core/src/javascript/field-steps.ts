import { spreadInto } from '../engine/field-change.ts';
import { mix, ruleKey0, ruleKey1 } from '../engine/random/stream.ts';
import * as math from '../math.ts';
import { visitExpr } from '../plan/visit.ts';
import { failShare } from '../plan/failures.ts';
import type * as P from '../plan/plan.ts';
import { rasterValue } from '../plan/start-space.ts';
import type { RunState } from '../state/run-state.ts';
import { keepWithin } from './engine-functions.ts';
import type { Bound } from './generated-state.ts';

/** What the change of fields needs of the code that is bound to the run. */
export interface FieldCode {
  readonly code: Pick<Bound, 'fieldStarts' | 'fieldGrows' | 'fieldBecomes' | 'fieldKeeps'>;
  valueOf(body: P.AskedBody): number;
}

/** First and next values of fields (S25). */
export class FieldSteps {
  private readonly kept: Float64Array[] = [];
  private scratch: Float64Array[] = [];
  /** Of each field, whether a cell's next value depends on nothing but the cell itself, so that it can be written at once. */
  private readonly inPlace: readonly boolean[];

  constructor(
    private readonly state: RunState,
    private readonly bound: FieldCode,
  ) {
    this.inPlace = state.plan.fields.map(
      ({ grow, spread, becomes, kept }) => !spread && !becomes && !kept && (!grow || isOfOwnCell(grow)),
    );
  }

  startAll(): void {
    this.scratch = this.state.fields.map((field) => new Float64Array(field.values.length));
    this.state.plan.fields.forEach((field, i) => this.start(field, i));
    this.state.fields.forEach(({ values }, i) => this.keepByCell(i, values));
  }

  /** Brings values within bounds that look at each cell. */
  private keepByCell(index: number, values: Float64Array): void {
    const keep = this.bound.code.fieldKeeps[index];
    if (keep) for (let cell = 0; cell < values.length; cell++) values[cell] = keep(values[cell]!, cell);
  }

  private start(field: P.FieldPlan, i: number): void {
    const { context } = this.state;
    const grid = this.state.fields[i]!;
    if (field.raster) {
      const low = field.bounds ? this.bound.valueOf(field.bounds.min) : -Infinity;
      const high = field.bounds ? this.bound.valueOf(field.bounds.max) : Infinity;
      for (let cell = 0; cell < grid.values.length; cell++)
        grid.values[cell] = math.clip(rasterValue(field.raster, grid, cell), low, high);
      return;
    }
    const key = mix(i + 0x6b43a9b5);
    this.bound.code.fieldStarts[i]?.(grid.values, ruleKey0(context.seed, 0, key), ruleKey1(context.seed, 0, key));
    if (!field.start && field.bounds)
      keepWithin(grid.values, this.bound.valueOf(field.bounds.min), this.bound.valueOf(field.bounds.max));
  }

  /** A copy of a field's values, for those who read them as they were before a rule. */
  hold(field: number): Float64Array {
    const { values } = this.state.fields[field]!;
    let kept = this.kept[field];
    if (!kept || kept.length !== values.length) this.kept[field] = kept = new Float64Array(values.length);
    kept.set(values);
    return kept;
  }

  change(indices: readonly number[]): void {
    const changing = indices.filter((index) => mayChange(this.state.plan.fields[index]!));
    const [only] = changing;
    if (changing.length === 1 && this.inPlace[only!]) return this.changeOne(only!, this.state.fields[only!]!.values);
    for (const index of changing) this.changeOne(index, this.scratch[index]!);
    for (const index of changing) this.state.fields[index]!.values.set(this.scratch[index]!);
  }

  /** The next values of a field: grown, spread, faded, become others, kept within its bounds (S25). */
  private changeOne(index: number, out: Float64Array): void {
    const { grow, spread, fade, becomes, bounds, site } = this.state.plan.fields[index]!;
    const grid = this.state.fields[index]!;
    if (grow) this.bound.code.fieldGrows[index]!(out, 0, 0);
    else out.set(grid.values);
    if (spread)
      spreadInto(
        out,
        out.slice(),
        grid,
        this.state.grounds[this.state.plan.fields[index]!.space]!.space,
        this.share(spread, site),
      );
    if (fade) {
      const rest = 1 - this.share(fade, site);
      for (let i = 0; i < out.length; i++) out[i]! *= rest;
    }
    if (becomes) this.become(index, out);
    else if (bounds && (!grow || spread || fade))
      keepWithin(out, this.bound.valueOf(bounds.min), this.bound.valueOf(bounds.max));
    this.keepByCell(index, out);
  }

  /** Its own lines are read from what has grown, spread and faded, all of it at once. */
  private become(index: number, out: Float64Array): void {
    const { context } = this.state;
    const { values } = this.state.fields[index]!;
    const { grow, spread, fade } = this.state.plan.fields[index]!;
    const changed = grow ?? spread ?? fade;
    const kept = changed && values.slice();
    if (changed) values.set(out);
    const key = mix(index + 0x1f83d9ab);
    this.bound.code.fieldBecomes[index]!(
      out,
      ruleKey0(context.seed, context.step, key),
      ruleKey1(context.seed, context.step, key),
    );
    if (kept) values.set(kept);
  }

  private share(body: P.AskedBody, site: number): number {
    const share = this.bound.valueOf(body);
    return share >= 0 && share <= 1 ? share : failShare(this.state.plan.sites[site]!, this.state.context, share);
  }
}

/** Whether a field may change by itself; bounds that may move take it along. */
function mayChange({ grow, spread, fade, becomes, bounds, kept }: P.FieldPlan): boolean {
  const doMove = bounds && !(bounds.min.value.op === 'number' && bounds.max.value.op === 'number');
  return [grow, spread, fade, becomes, kept].some((line) => line !== undefined) || doMove === true;
}

/** Whether the value for a cell of a field reads no field but in that cell. */
function isOfOwnCell({ statements, value }: P.ValueBody): boolean {
  let isOwn = statements.length === 0;
  visitExpr(value, {
    expr: (e) => {
      if (e.op === 'field' || e.op === 'field cell' || e.op === 'field mean') isOwn = false;
    },
  });
  return isOwn;
}
