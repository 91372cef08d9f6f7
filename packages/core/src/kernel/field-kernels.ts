import { drawsLuck } from '../plan/analysis.ts';
import type * as P from '../plan/plan.ts';
import type { CellAround } from './cell-rows.ts';
import { rowsOfCells } from './cell-rows.ts';
import type { CellSight, CellValue, GivenNumber } from './cell-values.ts';
import { cellValue, cellValueByBranches } from './cell-values.ts';
import type { F64, KernelFunction, Local, Numbers, StreamStatement } from './kernel.ts';
import { column, f64, i32, load, number, ofOne, product, select, set, store, sum, whole } from './kernel.ts';
import { KEYS } from './luck.ts';
import { cellOf } from './turn-reads.ts';

/** How fields change by themselves, as kernel functions: growing, spreading, fading, becoming and keeping within bounds, cell by cell. */

/** A kernel over the cells of a field: its columns are the fields it reads, then where the values go; these numbers and the bounds come last of what it is given. */
export interface CellKernel {
  readonly name: string;
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
  /** Of each field, where its growth is one of a kernel; it is given how many cells there are. */
  readonly growth: readonly (CellKernel | undefined)[];
  /** Of each field, where what it becomes is that of a kernel; it is given columns and rows, of which there must be three at least, and which rows it is to go through. */
  readonly becomes: readonly (CellKernel | undefined)[];
  /** Of each field, the name of the kernel that spreads it, with fading and bounds; it is given columns and rows, and which rows it is to go through. */
  readonly spread: readonly (string | undefined)[];
  /** Of each field that fades without spreading, the name of the kernel. */
  readonly fade: readonly (string | undefined)[];
}

export function fieldKernels(plan: P.Plan): FieldKernels {
  const functions: KernelFunction[] = [];
  const add = <T>(made: { readonly function: KernelFunction; readonly kernel: T } | undefined): T | undefined => {
    if (made) functions.push(made.function);
    return made?.kernel;
  };
  const named = (made: KernelFunction | undefined): string | undefined =>
    add(made && { function: made, kernel: made.name });
  return {
    functions,
    growth: plan.fields.map((field, g) => add(growthOf(plan, field, g))),
    becomes: plan.fields.map((field, g) => add(becomingOf(plan, field, g))),
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
  ) {}

  /** On a grid all fields have its cells; on a plane those with cells of one size, as far as the text tells it. */
  hasSameCells(field: number): boolean {
    const [one, other] = [this.plan.fields[this.of]!, this.plan.fields[field]!];
    if (one.space !== other.space) return false;
    const { form } = this.plan.spaces[one.space]!;
    if (form === 'grid' || form === 'hexagons') return true;
    const [first, second] = [one.cell?.value, other.cell?.value];
    return first?.op === 'number' && second?.op === 'number' && first.value === second.value;
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

function growthOf(plan: P.Plan, field: P.FieldPlan, g: number): MadeKernel | undefined {
  const reads = new Reads(plan, g);
  const [cells, i] = [i32('cells'), i32('i')];
  const sight: CellSight = {
    place: i,
    hasSameCells: (read) => reads.hasSameCells(read),
    own: (read) => load(reads.column(read), i),
    given: (e) => reads.number(e),
    tables: () => reads.tables(),
  };
  if (!field.grow) return undefined;
  const inStream = cellValue(field.grow, sight);
  const grown = inStream ?? cellValueByBranches(field.grow, sight);
  if (!grown) return undefined;
  const keeps = keepsAtEnd(field) && !field.spread && !field.fade;
  const time = field.growPerTime ? plan.clock.stepLength : 1;
  const after: StreamStatement[] = [
    set(VALUE, held(sum(sight.own(g), product(number(time), grown.value)), field)),
    { is: 'unless finite', value: VALUE, at: i },
    ...setValue(VALUE, keeps),
    store(columnTo(field), i, VALUE),
  ];
  const name = `grow${g}`;
  const loop = { index: i, from: whole(0), to: cells };
  return {
    kernel: { name, fields: reads.fields, given: reads.given, keeps, draws: false, hasTables: reads.hasTables },
    function: {
      name,
      columns: reads.columns,
      given: [cells, ...reads.numbers],
      locals: [i, VALUE, ...grown.locals],
      body: [
        inStream
          ? { is: 'stream', ...loop, body: [...inStream.sets, ...after] }
          : { is: 'loop', ...loop, body: [...grown.sets, ...after] },
      ],
    },
  };
}

function becomingOf(plan: P.Plan, field: P.FieldPlan, g: number): MadeKernel | undefined {
  const space = plan.spaces[field.space]!;
  const { becomes } = field;
  if (!becomes) return undefined;
  const reads = new Reads(plan, g);
  const keeps = field.bounds !== undefined;
  const draws = becomes.statements.some(drawsLuck);
  const isStream = !draws && cellValue(becomes, sightOf(space, ANYWHERE, reads)) !== undefined;
  let value: CellValue | undefined;
  const name = `become${g}`;
  const made = rowsOfCells({
    name,
    columns: [],
    given: draws ? KEYS : [],
    locals: [],
    space,
    isStream,
    cell: (around) => {
      const sight = sightOf(space, around, reads);
      value = isStream ? cellValue(becomes, sight) : cellValueByBranches(becomes, sight);
      if (!value) return [];
      return [
        ...value.sets,
        set(VALUE, held(value.value, field)),
        { is: 'unless finite', value: VALUE, at: around.place },
        ...setValue(VALUE, keeps),
        store(columnTo(field), around.place, VALUE),
      ];
    },
  });
  if (!value) return undefined;
  return {
    kernel: { name, fields: reads.fields, given: reads.given, keeps, draws, hasTables: reads.hasTables },
    function: {
      ...made,
      columns: reads.columns,
      given: [...made.given, ...reads.numbers],
      locals: [...made.locals, VALUE, ...value.locals],
    },
  };
}

/** A cell like any other, to see what a body asks for. */
const ANYWHERE: CellAround = {
  place: i32('i'),
  own: (from) => load(from, i32('i')),
  steps: [[1, 0]],
  at: (_step, _outside, value) => value((from) => load(from, i32('i'))),
};

/** What a body sees from a cell. Cells around it are those of the space, which on grids all fields have. */
function sightOf({ form }: P.SpacePlan, { place, own, steps, at }: CellAround, reads: Reads): CellSight {
  return {
    place,
    hasSameCells: (read) => reads.hasSameCells(read),
    own: (read) => own(reads.column(read)),
    given: (e) => reads.number(e),
    tables: () => reads.tables(),
    ...(form !== 'plane' && {
      around: (holds) =>
        sum(
          ...steps.map((step) =>
            at(step, number(0), (read) => {
              const isSo = holds((asked) => read(reads.column(asked)));
              return select(isSo, number(1), number(0));
            }),
          ),
        ),
    }),
  };
}

function fadeOf(field: P.FieldPlan, g: number): KernelFunction {
  const [from, to] = [column('from', cellOf(field)), columnTo(field)];
  const [cells, rest, i] = [i32('cells'), f64('rest'), i32('i')];
  const faded = held(product(load(from, i), rest), field);
  const body = [...setValue(faded, keepsAtEnd(field)), store(to, i, VALUE)];
  return {
    name: `fade${g}`,
    columns: [from, to],
    given: [cells, rest, LOW, HIGH],
    locals: [i, VALUE],
    body: [{ is: 'stream', index: i, from: whole(0), to: cells, body }],
  };
}

/** A field's spreading, with fading and bounds where it has them. */
function spreadOf(plan: P.Plan, field: P.FieldPlan, g: number): KernelFunction | undefined {
  if (!field.spread) return undefined;
  const [from, to, own] = [column('from', cellOf(field)), columnTo(field), f64('own')];
  const [keep, part, rest] = [f64('keep'), f64('part'), f64('rest')];
  return rowsOfCells({
    name: `spread${g}`,
    columns: [from, to],
    given: [keep, part, rest, LOW, HIGH],
    locals: [own, VALUE],
    space: plan.spaces[field.space]!,
    isStream: true,
    cell: (around) => {
      // At a wall the part stays with its cell.
      const parts = around.steps.map((step) => around.at(step, own, (read) => read(from)));
      const spread = held(sum(product(own, keep), product(part, sum(...parts))), field);
      return [
        set(own, around.own(from)),
        ...setValue(field.fade ? held(product(spread, rest), field) : spread, keepsAtEnd(field)),
        store(to, around.place, VALUE),
      ];
    },
  });
}
