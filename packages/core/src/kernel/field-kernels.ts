import { areEven, stepsAround } from '../engine/cells.ts';
import type { CellStep } from '../forms/form.ts';
import { formOf } from '../forms/forms.ts';
import { drawsLuck } from '../plan/analysis.ts';
import type * as P from '../plan/plan.ts';
import { spaceOfRaster } from '../plan/plan.ts';
import { positionsIn } from '../plan/positions.ts';
import type { CellAround, CellMargin, CellRead } from './cell-rows.ts';
import { cellsAround, rowsOfCells } from './cell-rows.ts';
import type { CellSight, FieldsAround, GivenNumber } from './cell-names.ts';
import { cellValue, cellValueByBranches } from './cell-values.ts';
import type { DistanceSight } from './field-reaches.ts';
import { knownDistance } from './field-reaches.ts';
import type { F64, KernelFunction, Local, Numbers, Statement, StreamStatement } from './kernel.ts';
import { column, f64, i32, load, number, ofOne, product, set, store, sum } from './kernel.ts';
import { KEYS } from './luck.ts';
import { NeedsMore, unlessMore } from './needs-more.ts';
import { cellOf } from './turn-reads.ts';

/** How fields change by themselves, as kernel functions: growing, spreading, fading, becoming and keeping within bounds, cell by cell. */

/** A kernel over the cells of a field: its columns are the fields it reads, then where the values go; these numbers and the bounds come last of what it is given. */
export interface CellKernel {
  readonly name: string;
  /** How far cells look, of which there must be more than twice as many; then it is given columns and rows before the first row to go through and the one after the last, else the first cell and the one after the last. */
  readonly margin: CellMargin | undefined;
  readonly fields: readonly number[];
  readonly given: readonly GivenNumber[];
  /** Whether it keeps values within bounds. */
  readonly keeps: boolean;
  /** Whether it draws luck: then it is given the two keys of it after the sizes. */
  readonly draws: boolean;
  /** Whether it looks up numbers: then `TABLES` are its last column. */
  readonly hasTables: boolean;
}

export interface FieldKernels {
  readonly functions: readonly KernelFunction[];
  /** Of each field, where its growth is one of a kernel. */
  readonly growth: readonly (CellKernel | undefined)[];
  /** Of each field, where what it becomes is that of a kernel. */
  readonly becomes: readonly (CellKernel | undefined)[];
  /** Of each field, the name of the kernel that spreads it, with fading and bounds; it is given columns and rows, and which rows it is to go through. */
  readonly spread: readonly (string | undefined)[];
  /** Of each field that fades without spreading, the name of the kernel; it is given which cells it is to go through. */
  readonly fade: readonly (string | undefined)[];
}

/** @param parameters values for which kernels are made where reaches go by parameters; without them there are none for such fields */
export function fieldKernels(plan: P.Plan, parameters?: ArrayLike<number>): FieldKernels {
  const functions: KernelFunction[] = [];
  const add = <T>(made: { readonly function: KernelFunction; readonly kernel: T } | undefined): T | undefined => {
    if (made) functions.push(made.function);
    return made?.kernel;
  };
  const named = (made: KernelFunction | undefined): string | undefined =>
    add(made && { function: made, kernel: made.name });
  return {
    functions,
    growth: plan.fields.map((field, g) => add(growthOf(plan, field, g, parameters))),
    becomes: plan.fields.map((field, g) => add(becomingOf(plan, field, g, parameters))),
    spread: plan.fields.map((field, g) => named(spreadOf(plan, field, g))),
    fade: plan.fields.map((field, g) => named(field.fade && !field.spread ? fadeOf(field, g) : undefined)),
  };
}

const TABLES = column('tables');
const [LOW, HIGH, VALUE] = [f64('low'), f64('high'), f64('p')];

/** Where the values of a field go. */
function columnTo(field: P.FieldPlan): Numbers {
  return column('to', cellOf(field));
}

/** A value as a cell of the field holds it. */
function held(value: F64, { isSingle }: P.FieldPlan): F64 {
  return isSingle ? ofOne('single', value) : value;
}

/** What has spread and faded is kept within bounds, unless what becomes of it is still to come. */
function keepsAtEnd({ bounds, becomes }: P.FieldPlan): boolean {
  return bounds !== undefined && becomes === undefined;
}

/** Sets the value, brought within bounds if they are to be kept. */
function setValue(value: F64, keeps: boolean): StreamStatement[] {
  const bounded: StreamStatement[] = [
    set(VALUE, { is: 'at most', value: VALUE, bound: HIGH }),
    set(VALUE, { is: 'at least', value: VALUE, bound: LOW }),
  ];
  return [...(value === VALUE ? [] : [set(VALUE, value)]), ...(keeps ? bounded : [])];
}

/** What a kernel reads beside its own cell comes to light while its body is read. */
class Reads {
  readonly fields: number[] = [];
  readonly given: GivenNumber[] = [];

  constructor(
    private readonly plan: P.Plan,
    private readonly of: number,
    readonly distances: DistanceSight,
  ) {}

  /** On a grid all fields have its cells; on a plane those with cells of one size, as far as the text tells it. */
  hasSameCells(field: number): boolean {
    const [one, other] = [this.plan.fields[this.of]!, this.plan.fields[field]!];
    if (one.space !== other.space) return false;
    if (formOf(this.plan.spaces[one.space]!).isOfCells) return true;
    const [first, second] = [one.cell?.value, other.cell?.value];
    return first?.op === 'number' && second?.op === 'number' && first.value === second.value;
  }

  /** Whether cells of a raster are those of the field. */
  hasCells(raster: number): boolean {
    const { space } = this.plan.fields[this.of]!;
    if (raster === this.of) return true;
    return spaceOfRaster(this.plan, raster) === space && formOf(this.plan.spaces[space]!).isOfCells;
  }

  /** How far it looks beside its own cell, if it does. */
  margin: CellMargin | undefined;

  see(steps: readonly CellStep[]): void {
    const { aside, up } = this.margin ?? { aside: 0, up: 0 };
    const furthest = (axis: 0 | 1): number => steps.reduce((most, step) => Math.max(most, Math.abs(step[axis])), 0);
    this.margin = { aside: Math.max(aside, furthest(0)), up: Math.max(up, furthest(1)) };
  }

  column(field: number): Numbers {
    if (!this.fields.includes(field)) this.fields.push(field);
    return this.columnFrom(field);
  }

  number(e: GivenNumber): F64 {
    let at = this.given.findIndex(({ op, index }) => op === e.op && index === e.index);
    if (at < 0) at = this.given.push(e) - 1;
    return f64(`given${at}`);
  }

  hasTables = false;

  tables(): Numbers {
    this.hasTables = true;
    return TABLES;
  }

  get columns(): Numbers[] {
    const fields = this.fields.map((field) => this.columnFrom(field));
    return [...fields, columnTo(this.plan.fields[this.of]!), ...(this.hasTables ? [TABLES] : [])];
  }

  private columnFrom(field: number): Numbers {
    return column(`from${field}`, cellOf(this.plan.fields[field]!));
  }

  get numbers(): Local[] {
    return [...this.given.map((_, at) => f64(`given${at}`)), LOW, HIGH];
  }
}

interface MadeKernel {
  readonly function: KernelFunction;
  readonly kernel: CellKernel;
}

function growthOf(
  plan: P.Plan,
  field: P.FieldPlan,
  g: number,
  parameters: ArrayLike<number> | undefined,
): MadeKernel | undefined {
  const { grow, spread, fade } = field;
  const time = number(field.growPerTime ? plan.clock.stepLength : 1);
  const grown = (value: F64, sight: CellSight): F64 => sum(sight.own(g), product(time, value));
  const keeps = keepsAtEnd(field) && !spread && !fade;
  return grow && kernelOf(plan, g, { name: `grow${g}`, body: grow, keeps, parameters, becoming: grown });
}

function becomingOf(
  plan: P.Plan,
  { becomes, bounds }: P.FieldPlan,
  g: number,
  parameters: ArrayLike<number> | undefined,
): MadeKernel | undefined {
  const of = { name: `become${g}`, keeps: bounds !== undefined, parameters, becoming: (value: F64) => value };
  return becomes && kernelOf(plan, g, { ...of, body: becomes });
}

interface CellBody {
  readonly name: string;
  readonly body: P.ValueBody;
  readonly keeps: boolean;
  readonly parameters: ArrayLike<number> | undefined;
  /** What a cell becomes, given the value of the body. */
  becoming(value: F64, sight: CellSight): F64;
}

/** A kernel that gives each cell a value by a body: row by row where this looks at other cells. */
function kernelOf(
  plan: P.Plan,
  g: number,
  { name, body, keeps, parameters, becoming }: CellBody,
): MadeKernel | undefined {
  const field = plan.fields[g]!;
  const space = plan.spaces[field.space]!;
  const reads = new Reads(plan, g, { parameters, setOnce: positionsIn(body).setOnce });
  const draws = body.statements.some(drawsLuck);
  const trial = sightOf(space, field, ANYWHERE, reads);
  const inStream = draws ? undefined : cellValue(body, trial);
  const found = inStream ?? cellValueByBranches(body, trial);
  if (!found) return undefined;
  const isStream = inStream !== undefined;
  const locals = new Map<string, Local>();
  const cell = (around: CellAround, mayStream: boolean): readonly Statement[] => {
    const sight = sightOf(space, field, around, reads);
    const value = mayStream && isStream ? cellValue(body, sight) : cellValueByBranches(body, sight);
    if (!value) throw new NeedsMore();
    for (const local of value.locals) locals.set(local.name, local);
    return [
      ...value.sets,
      set(VALUE, held(becoming(value.value, sight), field)),
      { is: 'unless finite', value: VALUE, at: around.place },
      ...setValue(VALUE, keeps),
      store(columnTo(field), around.place, VALUE),
    ];
  };
  const { margin } = reads;
  const given = draws ? KEYS : [];
  const made = unlessMore(() =>
    margin
      ? rowsOfCells({ name, columns: [], given, locals: [], space, margin, isStream, cell })
      : allCells({ name, columns: [], given, locals: [], isStream, body: cell(ANYWHERE, true) }),
  );
  return (
    made && {
      kernel: { name, margin, fields: reads.fields, given: reads.given, keeps, draws, hasTables: reads.hasTables },
      function: {
        ...made,
        columns: reads.columns,
        given: [...made.given, ...reads.numbers],
        locals: [...made.locals, VALUE, ...locals.values()],
      },
    }
  );
}

const I = i32('i');
const OWN: CellRead = (from) => load(from, I);

/** A cell like any other, beside which the same is seen as there. */
const ANYWHERE: CellAround = {
  place: I,
  row: 0,
  own: OWN,
  at: (_step, _outside, value) => value(OWN),
  around: (steps) => cellsAround(steps, () => OWN, { each: (statements) => statements(OWN) }),
};

/** What a body sees from a cell. */
function sightOf(
  space: P.SpacePlan,
  field: P.FieldPlan,
  { place, row, own, around }: CellAround,
  reads: Reads,
): CellSight {
  return {
    place,
    hasSameCells: (read) => reads.hasSameCells(read),
    own: (read) => own(reads.column(read)),
    given: (e) => reads.number(e),
    tables: () => reads.tables(),
    around: (reach, raster) => {
      const steps = reads.hasCells(raster) ? stepsTo(space, field, row, reach, reads.distances) : undefined;
      if (!steps) return undefined;
      reads.see(steps);
      const at =
        (read: CellRead) =>
        (field: number): F64 => {
          if (!reads.hasSameCells(field)) throw new NeedsMore();
          return read(reads.column(field));
        };
      const found = around(steps);
      const each: FieldsAround['each'] = (statements) => found.each((read) => statements(at(read)));
      return found.reads ? { reads: found.reads.map(at), each } : { each };
    },
  };
}

/** How far cells may lie apart that a kernel looks at. */
const MOST_APART = 16;

/** The steps to a reach, where it is known how far it goes and how large cells are. */
function stepsTo(
  space: P.SpacePlan,
  field: P.FieldPlan,
  row: number,
  { is, distance }: P.SpaceReach,
  distances: DistanceSight,
): readonly CellStep[] | undefined {
  if (is === 'here') return undefined;
  if (is === 'next to') return stepsAround(space, 1, row, is, 0);
  const cell = formOf(space).isOfCells ? 1 : numberOf(field.cell);
  const far = knownDistance(distance, distances) ?? NaN;
  if (!cell || !(far >= 0 && far / cell <= MOST_APART)) return undefined;
  if (is === 'within' && !areMiddlesEven(space, cell)) return undefined;
  return stepsAround(space, cell, row, is, far);
}

/** Whether the same steps lead from all middles of cells to those in a circle, to the bit. */
function areMiddlesEven({ form, width, height }: P.SpacePlan, cell: number): boolean {
  if (form !== 'plane') return true;
  const sizes = [numberOf(width), numberOf(height)];
  return sizes.every((size) => size !== undefined && areEven(cell, Math.floor(size / cell), size));
}

function numberOf(body: P.AskedBody | undefined): number | undefined {
  return body?.value.op === 'number' && body.statements.length === 0 ? body.value.value : undefined;
}

interface AllCells {
  readonly name: string;
  readonly columns: readonly Numbers[];
  /** Numbers that are given after the first cell to go through and the one after the last. */
  readonly given: readonly Local[];
  readonly locals: readonly Local[];
  readonly isStream: boolean;
  readonly body: readonly Statement[];
}

/** Goes through cells of which none looks at another. */
function allCells({ name, columns, given, locals, isStream, body }: AllCells): KernelFunction {
  const [first, end] = [i32('first'), i32('end')];
  const loop = { index: I, from: first, to: end };
  return {
    name,
    columns,
    given: [first, end, ...given],
    locals: [I, ...locals],
    body: [
      isStream ? { is: 'stream', ...loop, body: body as readonly StreamStatement[] } : { is: 'loop', ...loop, body },
    ],
  };
}

function fadeOf(field: P.FieldPlan, g: number): KernelFunction {
  const [from, to] = [column('from', cellOf(field)), columnTo(field)];
  const rest = f64('rest');
  const faded = held(product(load(from, I), rest), field);
  return allCells({
    name: `fade${g}`,
    columns: [from, to],
    given: [rest, LOW, HIGH],
    locals: [VALUE],
    isStream: true,
    body: [...setValue(faded, keepsAtEnd(field)), store(to, I, VALUE)],
  });
}

/** A field's spreading, with fading and bounds where it has them. */
function spreadOf(plan: P.Plan, field: P.FieldPlan, g: number): KernelFunction | undefined {
  if (!field.spread) return undefined;
  const space = plan.spaces[field.space]!;
  const [from, to, own] = [column('from', cellOf(field)), columnTo(field), f64('own')];
  const [keep, part, rest] = [f64('keep'), f64('part'), f64('rest')];
  return rowsOfCells({
    name: `spread${g}`,
    columns: [from, to],
    given: [keep, part, rest, LOW, HIGH],
    locals: [own, VALUE],
    space,
    margin: { aside: 1, up: 1 },
    isStream: true,
    cell: (around) => {
      // At a wall the part stays with its cell.
      // In the order in which the interpreter takes them: the sum of doubles depends on it.
      const steps = formOf(space).neighbourSteps(space, around.row);
      const parts = steps.map((step) => around.at(step, own, (read) => read(from)));
      const spread = held(sum(product(own, keep), product(part, sum(...parts))), field);
      return [
        set(own, around.own(from)),
        ...setValue(field.fade ? held(product(spread, rest), field) : spread, keepsAtEnd(field)),
        store(to, around.place, VALUE),
      ];
    },
  });
}
