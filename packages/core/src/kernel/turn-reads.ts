import { columnKey } from '../plan/analysis.ts';
import { formOf } from '../forms/forms.ts';
import { knownRaster, knownSize } from '../plan/known-sizes.ts';
import type * as P from '../plan/plan.ts';
import type { Column, F64, Local, Numbers } from './kernel.ts';
import { column, f64, number } from './kernel.ts';
import type { CellsOf } from './places.ts';

/** A zone, or what all obstacles of a space take. */
export type MaskOf =
  { readonly is: 'zone'; readonly zone: number } | { readonly is: 'obstacles'; readonly space: number };

interface AttributeBefore {
  readonly is: 'attribute before';
  readonly kind: number;
  readonly column: number;
}
interface StateBefore {
  readonly is: 'state before';
  readonly kind: number;
  readonly column: number;
}
interface PlaceBefore {
  readonly is: 'x before' | 'y before' | 'direction before' | 'sine before' | 'cosine before';
  readonly kind: number;
}
/** A column as it was before a rule that acts all at once. */
export type ColumnBefore = AttributeBefore | StateBefore | PlaceBefore;

/** What a list has room for: all agents of a kind, the items of a list that an agent keeps, or all cells of a raster. */
export type RoomOf =
  | { readonly is: 'agents'; readonly kind: number }
  | { readonly is: 'items' }
  | { readonly is: 'cells'; readonly raster: number };

/** What is called before is as it was before a rule that acts all at once. `memberX` and `memberY` are the places of agents that are sorted by bucket. */
type ColumnOfNumbers =
  | { readonly is: 'x' | 'y' | 'direction' | 'sine' | 'cosine' | 'memberX' | 'memberY'; readonly kind: number }
  | PlaceBefore
  /** `items` is all that lies side by side from an attribute on, column after column. */
  | { readonly is: 'attribute' | 'due' | 'items'; readonly kind: number; readonly column: number }
  | AttributeBefore
  | { readonly is: 'field' | 'field before'; readonly field: number }
  | { readonly is: 'tie value'; readonly network: number; readonly column: number }
  /** Room for as many weights as a list has for what it holds. */
  | { readonly is: 'weights'; readonly list: number; readonly of: RoomOf }
  | { readonly is: 'entered' | 'left' | 'in state' | 'trouble' | 'tables' | 'notes' | 'variables' };

/**
 * Of the cells that a kernel asks for (`cells-asked.ts`): their shape, who stands on each, the masks and steps of its reaches, lists that hold as many cells as there are
 * steps, and by its number where those of a class stand.
 */
interface CellColumn {
  readonly is: 'cells';
  readonly line: string;
  readonly space: number;
  readonly part: 'shape' | 'standing' | 'masks' | 'steps' | `list ${number}` | number;
}

/** `start` and `members` are of agents that are sorted by bucket, and `life` is of a kind that agents come to or leave: its slots in use, how many live, the number of the next, and how many slots there are. */
type ColumnOfWholes =
  | { readonly is: 'alive' | 'number' | 'life' | 'start' | 'members' | 'bucket'; readonly kind: number }
  /** How many live in each block of slots (`LIVING_BITS`). */
  | { readonly is: 'living'; readonly kind: number; readonly level: number }
  /** Of agents whose buckets are kept up: where they stand among the sorted, and lists of those who have come to a bucket. */
  | { readonly is: 'sortedAt' | 'head' | 'following' | 'preceding'; readonly kind: number }
  | { readonly is: 'list'; readonly list: number; readonly of: RoomOf }
  /** Of the ties of one side of a network: where the row of an agent begins, how long it is, who stands in it, and by which tie. */
  | {
      readonly is: 'tied start' | 'tied many' | 'tied other' | 'tied tie';
      readonly network: number;
      readonly side: number;
    }
  /** Of each tie who ties and who is tied to, and whether it is not cut. */
  | { readonly is: 'tie a' | 'tie b' | 'tie there'; readonly network: number }
  /** The slots of those who have a turn, in the order of their turns. */
  | { readonly is: 'order' }
  /** Where the columns of the kernel lie, once they lie elsewhere than when it was called. */
  | { readonly is: 'addresses' }
  /** How many stand on each cell of a space, obstacles counted as one. */
  | { readonly is: 'occupied'; readonly space: number }
  | CellColumn
  /** Which cells are inside: 1, or 0. */
  | { readonly is: 'mask'; readonly of: MaskOf }
  | { readonly is: 'state'; readonly kind: number; readonly column: number }
  /** Of each agent the state to which others have set a machine of it all at once, and one more; 0 where nobody has. */
  | { readonly is: 'wanted'; readonly kind: number; readonly column: number }
  | StateBefore;

/** A column of the state of a run that a kernel is given. */
export type TurnColumn = ColumnOfNumbers | ColumnOfWholes;

export function isBefore(column: TurnColumn): column is ColumnBefore {
  return column.is.endsWith(' before') && column.is !== 'field before';
}

/** A number that a kernel is given, which stays the same while its rule acts: a value of the plan, or one of what its spaces have become. */
export type TurnNumber =
  | P.Expr
  | { readonly op: 'raster'; readonly field: number; readonly part: 'columns' | 'rows' | 'cell' }
  /** Of the cells of a plane that has some of its own. */
  | { readonly op: 'raster of space'; readonly space: number; readonly part: 'columns' | 'rows' | 'cell' }
  | { readonly op: 'bound'; readonly field: number; readonly which: 'low' | 'high' }
  /** Of the buckets by which agents of a kind are sorted. */
  | { readonly op: 'index'; readonly kind: number; readonly part: 'columns' | 'rows' | 'perX' | 'perY' }
  | { readonly op: 'mask'; readonly of: MaskOf; readonly part: 'columns' | 'rows' | 'cell' }
  /** The first and last of the columns and rows in which a zone has cells. */
  | { readonly op: 'extent'; readonly zone: number; readonly part: 'left' | 'right' | 'bottom' | 'top' }
  /** How many are in one of some states, by their counters. */
  | { readonly op: 'in states'; readonly counters: readonly number[] }
  /** How many slots of a kind are in use, and for how many there is room. */
  | { readonly op: 'slots' | 'capacity'; readonly kind: number }
  /** How much one turn may note at most. */
  | { readonly op: 'most notes'; readonly fixed: number; readonly perAgent: readonly (readonly [number, number])[] }
  /** How many of some kinds there may be together, as there are so many of all others. */
  | { readonly op: 'most living'; readonly kinds: readonly number[] };

/** A circle of squares in which agents of a kind are asked for; its radius is a number of the text or goes by parameters. */
export interface CircleAsked {
  readonly kind: number;
  readonly distance: P.Expr;
  /** How many may be there on average: more are sooner counted by cell, outside. */
  readonly most: number;
}

/** What a kernel reads, as it comes to light while its body is written. */
export class TurnReads {
  readonly circles: CircleAsked[] = [];
  private readonly columnsByName = new Map<string, { readonly column: Column; readonly is: TurnColumn }>();
  private readonly numbersByName = new Map<string, { readonly local: Local<'f64'>; readonly is: TurnNumber }>();

  private lists = 0;

  constructor(readonly plan: P.Plan) {}

  /** The number of one more list of agents. */
  nextList(): number {
    return this.lists++;
  }

  get columns(): readonly { readonly column: Column; readonly is: TurnColumn }[] {
    return [...this.columnsByName.values()];
  }

  get numbers(): readonly { readonly local: Local<'f64'>; readonly is: TurnNumber }[] {
    return [...this.numbersByName.values()];
  }

  /** A column of numbers. */
  of(is: ColumnOfNumbers): Numbers {
    const isOfField = is.is === 'field' || is.is === 'field before';
    return this.column(is, isOfField ? cellOf(this.plan.fields[is.field]!) : 'f64') as Numbers;
  }

  /** A column of whole numbers. */
  wholesOf(is: ColumnOfWholes): Column<'i32' | 'u8'> {
    return this.column(is, isOfBytes(is) ? 'u8' : 'i32') as Column<'i32' | 'u8'>;
  }

  private column(is: TurnColumn, of: Column['of']): Column {
    const name = nameOf(is);
    let known = this.columnsByName.get(name);
    if (!known) this.columnsByName.set(name, (known = { column: column(name, of), is }));
    return known.column;
  }

  number(is: TurnNumber): F64 {
    const key = JSON.stringify(is);
    let known = this.numbersByName.get(key);
    if (!known) this.numbersByName.set(key, (known = { local: f64(`given${this.numbersByName.size}`), is }));
    return known.local;
  }

  size(space: number, axis: 'x' | 'y'): F64 {
    const known = knownSize(this.plan, space, axis);
    if (known !== undefined) return number(known);
    return this.number({ op: 'size', space, axis: axis === 'x' ? 'width' : 'height' });
  }

  /** What lists of what is asked for have room for: an agent has a tie to each of a kind at most. */
  roomFor({ over, kind }: P.Query): RoomOf {
    if (over.is === 'cells') return { is: 'cells', raster: over.raster };
    if (over.is !== 'ties') return kind < 0 ? { is: 'items' } : { is: 'agents', kind };
    const { from, to } = this.plan.networks[over.network]!;
    return { is: 'agents', kind: over.side === 0 ? to : from };
  }

  /** The cells of a plane that has some of its own. */
  cellsOfPlane(space: number): CellsOf {
    const { form, edge } = this.plan.spaces[space]!;
    const part = (which: 'columns' | 'rows' | 'cell'): F64 =>
      this.number({ op: 'raster of space', space, part: which });
    const [width, height] = [this.size(space, 'x'), this.size(space, 'y')];
    return {
      form,
      edge,
      width,
      height,
      columns: part('columns'),
      rows: part('rows'),
      cell: part('cell'),
      isFull: false,
    };
  }

  cellsOf(field: number): CellsOf {
    const s = this.plan.fields[field]!.space;
    const { form, edge } = this.plan.spaces[s]!;
    const [width, height] = [this.size(s, 'x'), this.size(s, 'y')];
    const known = knownRaster(this.plan, field);
    if (formOf({ form }).isOfCells)
      return { form, edge, width, height, columns: width, rows: height, cell: number(1), isFull: false };
    const part = (which: 'columns' | 'rows' | 'cell'): F64 =>
      known ? number(known[which]) : this.number({ op: 'raster', field, part: which });
    const [columns, rows, cell] = [part('columns'), part('rows'), part('cell')];
    return { form, edge, width, height, columns, rows, cell, isFull: known?.isFull ?? false };
  }
}

/** What a column of values of a field holds. */
export function cellOf({ isSingle }: P.FieldPlan): Numbers['of'] {
  return isSingle ? 'f32' : 'f64';
}

const OF_BYTES: ReadonlySet<TurnColumn['is']> = new Set([
  'alive',
  'tie there',
  'state',
  'state before',
  'wanted',
  'mask',
]);

function isOfBytes(is: ColumnOfWholes): boolean {
  if (is.is === 'cells') return is.part === 'masks' || typeof is.part === 'number';
  return OF_BYTES.has(is.is);
}

function nameOf(is: TurnColumn): string {
  switch (is.is) {
    case 'attribute':
    case 'attribute before':
    case 'state':
    case 'state before':
    case 'due':
    case 'items':
    case 'wanted':
      return `${is.is.replace(' b', 'B')}${columnKey(is.kind, is.column).replace(':', '_')}`;
    case 'field':
      return `field${is.field}`;
    case 'field before':
      return `before${is.field}`;
    case 'list':
    case 'weights':
      return `${is.is}${is.list}`;
    case 'living':
      return `living${is.kind}_${is.level}`;
    case 'tied start':
    case 'tied many':
    case 'tied other':
    case 'tied tie':
      return `${is.is.replace(' ', '_')}${is.network}_${is.side}`;
    case 'tie a':
    case 'tie b':
    case 'tie there':
      return `${is.is.replace(' ', '_')}${is.network}`;
    case 'tie value':
      return `tie_value${is.network}_${is.column}`;
    case 'occupied':
      return `occupied${is.space}`;
    case 'cells':
      return `${typeof is.part === 'number' ? `class${is.part}_` : is.part.replace(/ (.+)/, '$1_')}${is.space}`;
    case 'mask':
      return is.of.is === 'zone' ? `zone${is.of.zone}` : `obstacles${is.of.space}`;
    case 'entered':
    case 'left':
    case 'trouble':
    case 'tables':
    case 'notes':
    case 'variables':
    case 'order':
    case 'addresses':
      return is.is;
    case 'in state':
      return 'inState';
    default:
      return `${is.is.replace(' b', 'B')}${is.kind}`;
  }
}
