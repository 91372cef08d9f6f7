import { spreadInto } from '../engine/field-change.ts';
import { mix, ruleKey0, ruleKey1 } from '../engine/random/stream.ts';
import type { Raster } from '../forms/form.ts';
import type { CellValues } from '../forms/space.ts';
import { partsOf } from '../kernel/crew.ts';
import type { KernelPart } from '../kernel/kernels.ts';
import type { CellKernel } from '../kernel/field-kernels.ts';
import type { CompiledKernels, KernelsOfReaches, PlanKernels } from '../kernel/plan-kernels.ts';
import * as math from '../math.ts';
import { mayChangeItself } from '../plan/analysis.ts';
import { visitExpr } from '../plan/visit.ts';
import { failShare } from '../plan/failures.ts';
import type * as P from '../plan/plan.ts';
import { rasterValue } from '../plan/start-space.ts';
import type { RunState } from '../state/run-state.ts';
import { keepWithin } from './engine-functions.ts';
import type { RunKernels } from './run-kernels.ts';
import type { Bound } from './generated-state.ts';

/** What the change of fields needs of the code that is bound to the run. */
export interface FieldCode {
  readonly code: Pick<Bound, 'fieldStarts' | 'fieldGrows' | 'fieldBecomes' | 'fieldKeeps'>;
  valueOf(body: P.AskedBody): number;
}

const NO_BOUNDS = [NaN, NaN] as const;

/** A kernel over the cells of a field. */
interface OverCells {
  readonly name: string;
  readonly columns: readonly CellValues[];
  readonly raster: Raster;
  /** Whether it looks at cells beside its own, row by row. */
  readonly isByRow: boolean;
  /** What it is given after the sizes. */
  readonly given: readonly number[];
}

/** A kernel over the cells of a field, if there is one, with what it is called by. */
interface ReadyKernel {
  readonly kernel: CellKernel | undefined;
  readonly ready: RunKernels;
}

/** So many cells take longer by code than kernels take to be made, which are so only for values of parameters that stay for longer. */
const WORTH_MAKING = 30_000;

/** First and next values of fields (S25). */
export class FieldSteps {
  /** Of each field, whether a cell's next value depends on nothing but the cell itself, so that it can be written at once. */
  private readonly inPlace: readonly boolean[];
  /** Kernels that met what is no finite number where nothing was wrong, as in a branch that is not taken: they would do so again. */
  private readonly givenUp = new Set<CellKernel>();

  constructor(
    private readonly state: RunState,
    private readonly bound: FieldCode,
    private readonly kernels: Pick<PlanKernels, 'fields' | 'byReach'>,
    private readonly ready: RunKernels,
    /** Makes kernels ready that were compiled for the run as it is now. */
    private readonly readyFor: (compiled: CompiledKernels) => RunKernels,
  ) {
    // Of a kernel that met no finite number the values it began with must still be there.
    this.inPlace = state.plan.fields.map(
      ({ grow, spread, fade, becomes, kept }, i) =>
        !spread && !fade && !becomes && !kept && !kernels.fields.growth[i] && (!grow || isOfOwnCell(grow)),
    );
  }

  startAll(): void {
    this.state.plan.fields.forEach((field, i) => this.start(field, i));
    this.state.fields.forEach(({ values }, i) => this.keepByCell(i, values));
  }

  /** Brings values within bounds that look at each cell. */
  private keepByCell(index: number, values: CellValues): void {
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
    if (!field.start) this.keepInBounds(i);
  }

  /** Brings all values of a field within its bounds, if it has any. */
  keepInBounds(field: number): void {
    const { bounds } = this.state.plan.fields[field]!;
    if (!bounds) return;
    const [low, high] = [bounds.min, bounds.max].map((bound) => this.bound.valueOf(bound)) as [number, number];
    keepWithin(this.state.fields[field]!.values, low, high);
  }

  /** A copy of a field's values, for those who read them as they were before a rule; it lasts until fields change. */
  hold(field: number): CellValues {
    const { values } = this.state.fields[field]!;
    const held = this.state.nextValues[field]!;
    held.set(values);
    return held;
  }

  change(indices: readonly number[]): void {
    const changing = indices.filter((index) => mayChangeItself(this.state.plan.fields[index]!));
    const [only] = changing;
    if (changing.length === 1 && this.inPlace[only!]) return this.changeOne(only!, this.state.fields[only!]!.values);
    for (const index of changing) this.changeOne(index, this.state.nextValues[index]!);
    for (const index of changing) this.state.fields[index]!.values.set(this.state.nextValues[index]!);
  }

  /** The next values of a field: grown, spread, faded, become others, kept within its bounds (S25). */
  private changeOne(index: number, out: CellValues): void {
    const { grow, spread, fade, becomes, bounds, site } = this.state.plan.fields[index]!;
    const { values } = this.state.fields[index]!;
    // What becomes of it is kept within bounds by itself.
    const [low, high] = becomes ? NO_BOUNDS : this.boundsOf(bounds);
    let from = values;
    if (grow) {
      from = spread || fade ? this.state.spareOf(index) : out;
      this.grow(index, from, low, high);
    }
    if (spread) {
      const share = this.share(spread, site);
      this.spread(index, from, out, share, fade ? 1 - this.share(fade, site) : 1, low, high);
    } else if (fade) this.fade(index, from, out, 1 - this.share(fade, site), low, high);
    else if (!grow) out.set(values);
    if (becomes) this.become(index, out);
    else if (bounds && !grow && !spread && !fade) keepWithin(out, low, high);
    this.keepByCell(index, out);
  }

  /** What a field grows by is added; unless more comes after it, it is kept within bounds. */
  private grow(index: number, to: CellValues, low: number, high: number): void {
    const { kernel, ready } = this.kernelOf('growth', index);
    const within = kernel?.keeps ? ([low, high] as const) : NO_BOUNDS;
    this.byKernel(
      index,
      kernel,
      (growth) => this.callOverCells(ready, growth, index, to, [], ...within),
      () => this.bound.code.fieldGrows[index]!(to, 0, 0),
    );
  }

  /** The kernel for a field, with what it is called by: one that is there for all values of parameters, or for those by which its reaches go now. */
  private kernelOf(of: 'growth' | 'becomes', index: number): ReadyKernel {
    const kernel = this.kernels.fields[of][index];
    if (kernel || !this.kernels.byReach) return { kernel, ready: this.ready };
    const { parameters, kernelsFor } = this.kernels.byReach;
    const now = this.state.context.parameters;
    if (parameters.some((at, i) => this.byReach.values[i] !== now[at]))
      this.byReach = { values: parameters.map((at) => now[at]!), cells: 0, made: undefined };
    const { byReach } = this;
    const { columns, rows } = this.state.fields[index]!;
    byReach.cells += columns * rows;
    if (!byReach.made && byReach.cells >= WORTH_MAKING) {
      const made = kernelsFor(now);
      byReach.made = { fields: made.fields, ready: this.readyFor(made) };
    }
    return { kernel: byReach.made?.fields[of][index], ready: byReach.made?.ready ?? this.ready };
  }

  /** The values of the parameters by which reaches go, how many cells have changed with them, and kernels for them. */
  private byReach: {
    readonly values: readonly number[];
    cells: number;
    made: (Pick<KernelsOfReaches, 'fields'> & { readonly ready: RunKernels }) | undefined;
  } = { values: [], cells: 0, made: undefined };

  /** By a kernel; where there is none, and where it has met what is no finite number, by the code that tells where and why, or finds nothing wrong. */
  private byKernel(
    index: number,
    kernel: CellKernel | undefined,
    call: (kernel: CellKernel) => number,
    byCode: () => void,
  ): void {
    const { columns, rows } = this.state.fields[index]!;
    const { aside, up } = kernel?.margin ?? { aside: 0, up: 0 };
    // Not where cells meet one another on two sides.
    const mayCall = kernel && !this.givenUp.has(kernel) && columns > 2 * aside && rows > 2 * up;
    if (mayCall && call(kernel) < 0) return;
    byCode();
    if (mayCall) this.givenUp.add(kernel);
  }

  /** Spreads, fades, and, unless it becomes something else, keeps within bounds. */
  private spread(
    index: number,
    from: CellValues,
    out: CellValues,
    share: number,
    rest: number,
    low: number,
    high: number,
  ): void {
    const raster = this.state.fields[index]!;
    const { space: s, fade, bounds, becomes } = this.state.plan.fields[index]!;
    const { space } = this.state.grounds[s]!;
    const name = this.kernels.fields.spread[index];
    if (name) {
      const given = [1 - share, share / space.neighbours, rest];
      this.call(this.ready, { name, columns: [from, out], raster, isByRow: true, given }, low, high);
      return;
    }
    spreadInto(out, from, raster, space, share);
    if (fade) for (let i = 0; i < out.length; i++) out[i]! *= rest;
    if (bounds && !becomes) keepWithin(out, low, high);
  }

  /** Fades, and, unless it becomes something else, keeps within bounds. */
  private fade(index: number, from: CellValues, out: CellValues, rest: number, low: number, high: number): void {
    const raster = this.state.fields[index]!;
    const name = this.kernels.fields.fade[index];
    if (name) {
      this.call(this.ready, { name, columns: [from, out], raster, isByRow: false, given: [rest] }, low, high);
      return;
    }
    for (let i = 0; i < out.length; i++) out[i] = from[i]! * rest;
    const { bounds, becomes } = this.state.plan.fields[index]!;
    if (bounds && !becomes) keepWithin(out, low, high);
  }

  /** Calls a kernel, whose last column is where values go and whose last numbers are the bounds. */
  private call(ready: RunKernels, of: OverCells, low: number, high: number): number {
    if (!(low > high)) return this.overCells(ready, { ...of, given: [...of.given, low, high] });
    // Bounds that have passed one another are met one after the other, the lower first.
    const met = this.overCells(ready, { ...of, given: [...of.given, -Infinity, Infinity] });
    if (met < 0) keepWithin(of.columns[of.columns.length - 1]!, low, high);
    return met;
  }

  /** A kernel over all cells, by as many as help with it. @returns -1, or more where a part met what is no finite number */
  private overCells(ready: RunKernels, { name, columns, raster, isByRow, given }: OverCells): number {
    const cells = raster.columns * raster.rows;
    const sizes = isByRow ? [raster.columns, raster.rows] : [];
    const part = (from: number, to: number): KernelPart => ({ columns, given: [...sizes, from, to, ...given] });
    const many = isByRow ? raster.rows : cells;
    const crew = ready.crewFor(cells);
    if (crew)
      return Math.max(
        ...ready.together(
          crew,
          name,
          partsOf(crew, many).map(([from, to]) => part(from, to)),
        ),
      );
    const all = part(0, many);
    return ready.named(name)(all.columns)(...all.given);
  }

  /** Its own lines are read from what has grown, spread and faded, all of it at once. */
  private become(index: number, out: CellValues): void {
    const { context } = this.state;
    const { values } = this.state.fields[index]!;
    const { grow, spread, fade } = this.state.plan.fields[index]!;
    const changed = grow ?? spread ?? fade;
    const kept = changed && values.slice();
    if (changed) values.set(out);
    const key = mix(index + 0x1f83d9ab);
    const keys = [ruleKey0(context.seed, context.step, key), ruleKey1(context.seed, context.step, key)] as const;
    const { kernel, ready } = this.kernelOf('becomes', index);
    this.byKernel(
      index,
      kernel,
      (becoming) => {
        const bounds = this.boundsOf(this.state.plan.fields[index]!.bounds);
        return this.callOverCells(ready, becoming, index, out, becoming.draws ? keys : [], ...bounds);
      },
      () => this.bound.code.fieldBecomes[index]!(out, ...keys),
    );
    if (kept) values.set(kept);
  }

  private boundsOf(bounds: P.FieldPlan['bounds']): readonly [number, number] {
    return bounds ? [this.bound.valueOf(bounds.min), this.bound.valueOf(bounds.max)] : NO_BOUNDS;
  }

  private callOverCells(
    ready: RunKernels,
    { name, fields, given, hasTables, margin }: CellKernel,
    index: number,
    to: CellValues,
    keys: readonly number[],
    low: number,
    high: number,
  ): number {
    const { context } = this.state;
    const columns = [...fields.map((field) => this.state.fields[field]!.values), to];
    if (hasTables) columns.push(this.state.tables);
    const numbers = given.map((e) => (e.op === 'parameter' ? context.parameters : context.variables)[e.index]!);
    const raster = this.state.fields[index]!;
    const isByRow = margin !== undefined;
    return this.call(ready, { name, columns, raster, isByRow, given: [...keys, ...numbers] }, low, high);
  }

  private share(body: P.AskedBody, site: number): number {
    const share = this.bound.valueOf(body);
    return share >= 0 && share <= 1 ? share : failShare(this.state.plan.sites[site]!, this.state.context, share);
  }
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
