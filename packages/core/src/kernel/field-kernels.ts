import { FOUR } from '../forms/squares.ts';
import type * as P from '../plan/plan.ts';
import type { Column, F64, I32, KernelFunction, Local, PlainStatement, Statement, StreamStatement } from './kernel.ts';
import { column, f64, i32, lessThan, load, number, plus, product, set, store, sum, whole } from './kernel.ts';

/** How fields change by themselves, as kernel functions: growing, spreading, fading and keeping within bounds, cell by cell. */

type GivenNumber = Extract<P.Expr, { op: 'parameter' | 'variable' }>;

/** The kernel of a field's growth: its columns are the fields it reads, then where the values go; it is given how many cells there are, and these numbers. */
interface GrowthKernel {
  readonly name: string;
  readonly fields: readonly number[];
  readonly given: readonly GivenNumber[];
  /** Whether the bounds, which come last, are kept at once. */
  readonly keeps: boolean;
}

export interface FieldKernels {
  readonly functions: readonly KernelFunction[];
  /** Of each field, where its growth is one of a kernel. */
  readonly growth: readonly (GrowthKernel | undefined)[];
  /** Of each field, the name of the kernel that spreads it, with fading and bounds. */
  readonly spread: readonly (string | undefined)[];
  /** Of each field that fades without spreading, the name of the kernel. */
  readonly fade: readonly (string | undefined)[];
}

export function fieldKernels(plan: P.Plan): FieldKernels {
  const functions: KernelFunction[] = [];
  const add = (made: KernelFunction | undefined): string | undefined => {
    if (made) functions.push(made);
    return made?.name;
  };
  const growth = plan.fields.map((field, g) => {
    const made = growthOf(plan, field, g);
    add(made?.made);
    return made?.kernel;
  });
  const spread = plan.fields.map((field, g) => add(spreadOf(plan, field, g)));
  const fade = plan.fields.map((field, g) => add(field.fade && !field.spread ? fadeOf(field, g) : undefined));
  return { functions, growth, spread, fade };
}

const [LOW, HIGH, VALUE] = [f64('low'), f64('high'), f64('p')];

/** What has spread and faded is kept within bounds, unless what becomes of it is still to come. */
function keepsAtEnd({ bounds, becomes }: P.FieldPlan): boolean {
  return bounds !== undefined && becomes === undefined;
}

function kept(value: F64): PlainStatement[] {
  return [
    set(VALUE, value),
    set(VALUE, { is: 'at most', value: VALUE, bound: HIGH }),
    set(VALUE, { is: 'at least', value: VALUE, bound: LOW }),
  ];
}

// Growing

function growthOf(
  plan: P.Plan,
  field: P.FieldPlan,
  g: number,
): { readonly made: KernelFunction; readonly kernel: GrowthKernel } | undefined {
  if (!field.grow || field.grow.statements.length > 0) return undefined;
  const [cells, i] = [i32('cells'), i32('i')];
  const fields = [g];
  const given: GivenNumber[] = [];
  const columnOf = (read: number): Column => {
    if (!fields.includes(read)) fields.push(read);
    return column(`from${read}`);
  };
  const grown = ofCell(field.grow.value, {
    cell: (read) => load(columnOf(read), i),
    given: (e) => f64(`given${given.push(e) - 1}`),
  });
  if (!grown) return undefined;
  const keeps = field.bounds !== undefined && !field.spread && !field.fade && !field.becomes;
  const time = field.growPerTime ? plan.clock.stepLength : 1;
  const value = sum(load(columnOf(g), i), product(number(time), grown));
  const to = column('to');
  const name = `grow${g}`;
  const body: StreamStatement[] = [
    set(VALUE, value),
    { is: 'unless finite', value: VALUE },
    ...(keeps ? kept(VALUE).slice(1) : []),
    store(to, i, VALUE),
  ];
  return {
    kernel: { name, fields, given, keeps },
    made: {
      name,
      columns: [...fields.map((read) => column(`from${read}`)), to],
      given: [cells, ...given.map((_, at) => f64(`given${at}`)), LOW, HIGH],
      locals: [i, VALUE],
      body: [{ is: 'stream', index: i, from: whole(0), to: cells, body }],
    },
  };
}

interface CellReader {
  cell(field: number): F64;
  given(e: GivenNumber): F64;
}

/** An expression over the own cell, if it is made of nothing but cells, numbers of the run and arithmetic. */
function ofCell(e: P.Expr, read: CellReader): F64 | undefined {
  switch (e.op) {
    case 'number':
      return number(e.value);
    case 'cell':
      return read.cell(e.field);
    case 'parameter':
    case 'variable':
      return read.given(e);
    case 'minus': {
      const value = ofCell(e.value, read);
      return value && { is: 'minus', value };
    }
    case 'binary': {
      if (e.fn !== '+' && e.fn !== '-' && e.fn !== '*' && e.fn !== '/') return undefined;
      const [left, right] = [ofCell(e.left, read), ofCell(e.right, read)];
      return left && right && { is: 'f64 binary', fn: e.fn, left, right };
    }
    default:
      return undefined;
  }
}

// Fading

function fadeOf(field: P.FieldPlan, g: number): KernelFunction {
  const [from, to, cells, rest, i] = [column('from'), column('to'), i32('cells'), f64('rest'), i32('i')];
  const value = product(load(from, i), rest);
  return {
    name: `fade${g}`,
    columns: [from, to],
    given: [cells, rest, LOW, HIGH],
    locals: [i, VALUE],
    body: [
      {
        is: 'stream',
        index: i,
        from: whole(0),
        to: cells,
        body: [...(keepsAtEnd(field) ? kept(value) : [set(VALUE, value)]), store(to, i, VALUE)],
      },
    ],
  };
}

// Spreading

/** Cells around one, as `spreadInto` of engine/field-change.ts goes through them: the sum of doubles depends on their order. */
const DIAGONAL = [
  [-1, -1],
  [1, -1],
  [-1, 1],
  [1, 1],
] as const;

/** A field's spreading on squares, with fading and bounds where it has them; hexagons are left to `spreadInto`. */
function spreadOf(plan: P.Plan, field: P.FieldPlan, g: number): KernelFunction | undefined {
  const { form, neighbours, edge } = plan.spaces[field.space]!;
  if (!field.spread || form === 'hexagons' || form === 'map') return undefined;
  const steps = neighbours === 8 ? [...FOUR, ...DIAGONAL] : FOUR;
  const wraps = edge === 'wrapping';
  const [from, to] = [column('from'), column('to')];
  const [columns, rows] = [i32('columns'), i32('rows')];
  const [keep, part, rest] = [f64('keep'), f64('part'), f64('rest')];
  const [row, i, here, up, down, west, east] = ['row', 'i', 'here', 'up', 'down', 'west', 'east'].map(i32) as [
    Local<'i32'>,
    Local<'i32'>,
    Local<'i32'>,
    Local<'i32'>,
    Local<'i32'>,
    Local<'i32'>,
    Local<'i32'>,
  ];
  const own = f64('own');
  const end = (around: readonly F64[], at: I32): PlainStatement[] => {
    const spread = sum(product(own, keep), product(part, sum(...around)));
    const faded = field.fade ? product(spread, rest) : spread;
    return [...(keepsAtEnd(field) ? kept(faded) : [set(VALUE, faded)]), store(to, at, VALUE)];
  };
  const lineOf = (dy: number): Local<'i32'> => (dy < 0 ? down : dy > 0 ? up : here);
  // Where no edge is near, neighbours lie as far from here as the cell does.
  const inside: StreamStatement[] = [
    set(own, load(from, plus(here, i))),
    ...end(
      steps.map(([dx, dy]) => load(from, plus(plus(lineOf(dy), i), whole(dx)))),
      plus(here, i),
    ),
  ];
  const minusOne: I32 = whole(-1);
  const isNone = (line: I32): I32 => lessThan(line, whole(0));
  const atEdge: Statement[] = [
    { is: 'set', local: own, value: load(from, plus(here, i)) },
    {
      is: 'set i32',
      local: west,
      value: i32Choice(i, whole(0), wraps ? plus(columns, minusOne) : minusOne, plus(i, minusOne)),
    },
    {
      is: 'set i32',
      local: east,
      value: i32Choice(plus(i, whole(1)), columns, wraps ? whole(0) : minusOne, plus(i, whole(1))),
    },
    ...end(
      steps.map(([dx, dy]): F64 => {
        const [line, at] = [lineOf(dy), dx < 0 ? west : dx > 0 ? east : i];
        const value = load(from, plus(line, at));
        // At a wall the part stays with its cell.
        const walls = [...(dy === 0 ? [] : [line]), ...(dx === 0 ? [] : [at])].map(isNone);
        return wraps ? value : { is: 'choose', test: walls.reduce(either), then: own, else: value };
      }),
      plus(here, i),
    ),
  ];
  const last = plus(columns, minusOne);
  const edges = (fromColumn: I32, toColumn: I32): Statement => ({
    is: 'loop',
    index: i,
    from: fromColumn,
    to: toColumn,
    body: atEdge,
  });
  const lines: Statement[] = [
    { is: 'set i32', local: here, value: { is: 'i32 binary', fn: '*', left: row, right: columns } },
    {
      is: 'set i32',
      local: up,
      value: i32Choice(plus(row, whole(1)), rows, wraps ? whole(0) : minusOne, plus(here, columns)),
    },
    {
      is: 'set i32',
      local: down,
      value: i32Choice(
        row,
        whole(0),
        wraps ? { is: 'i32 binary', fn: '*', left: plus(rows, minusOne), right: columns } : minusOne,
        { is: 'i32 binary', fn: '-', left: here, right: columns },
      ),
    },
  ];
  const isAtEdge = either(either(isNone(up), isNone(down)), lessThan(columns, whole(2)));
  return {
    name: `spread${g}`,
    columns: [from, to],
    given: [columns, rows, keep, part, rest, LOW, HIGH],
    locals: [row, i, here, up, down, west, east, own, VALUE],
    body: [
      {
        is: 'loop',
        index: row,
        from: whole(0),
        to: rows,
        body: [
          ...lines,
          {
            is: 'if',
            test: isAtEdge,
            then: [edges(whole(0), columns)],
            else: [
              edges(whole(0), whole(1)),
              { is: 'stream', index: i, from: whole(1), to: last, body: inside },
              edges(last, columns),
            ],
          },
        ],
      },
    ],
  };
}

function either(left: I32, right: I32): I32 {
  return { is: 'i32 binary', fn: 'or', left, right };
}

/** One whole number where two are equal, else another. */
function i32Choice(left: I32, right: I32, then: I32, otherwise: I32): I32 {
  return { is: 'i32 choose', test: { is: 'i32 binary', fn: '==', left, right }, then, else: otherwise };
}
