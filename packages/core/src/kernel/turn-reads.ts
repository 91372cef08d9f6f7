import { columnKey } from '../plan/analysis.ts';
import { knownRaster, knownSize } from '../plan/known-sizes.ts';
import type * as P from '../plan/plan.ts';
import type { Column, F64, Local, Numbers } from './kernel.ts';
import { column, f64, number } from './kernel.ts';
import type { CellsOf } from './places.ts';

type ColumnOfNumbers =
  | { readonly is: 'x' | 'y' | 'direction' | 'sine' | 'cosine'; readonly kind: number }
  | { readonly is: 'attribute' | 'due'; readonly kind: number; readonly column: number }
  | { readonly is: 'field'; readonly field: number }
  | { readonly is: 'entered' | 'left' | 'in state' | 'trouble' };

type ColumnOfWholes =
  | { readonly is: 'alive' | 'number'; readonly kind: number }
  | { readonly is: 'state'; readonly kind: number; readonly column: number };

/** A column of the state of a run that a kernel is given. */
export type TurnColumn = ColumnOfNumbers | ColumnOfWholes;

/** A number that a kernel is given, which stays the same while its rule acts: a value of the plan, or one of what its spaces have become. */
export type TurnNumber =
  | P.Expr
  | { readonly op: 'raster'; readonly field: number; readonly part: 'columns' | 'rows' | 'cell' }
  | { readonly op: 'bound'; readonly field: number; readonly which: 'low' | 'high' };

/** What a kernel reads, as it comes to light while its body is written. */
export class TurnReads {
  private readonly columnsByName = new Map<string, { readonly column: Column; readonly is: TurnColumn }>();
  private readonly numbersByName = new Map<string, { readonly local: Local<'f64'>; readonly is: TurnNumber }>();

  constructor(readonly plan: P.Plan) {}

  get columns(): readonly { readonly column: Column; readonly is: TurnColumn }[] {
    return [...this.columnsByName.values()];
  }

  get numbers(): readonly { readonly local: Local<'f64'>; readonly is: TurnNumber }[] {
    return [...this.numbersByName.values()];
  }

  /** A column of numbers. */
  of(is: ColumnOfNumbers): Numbers {
    return this.column(is, 'f64') as Numbers;
  }

  /** A column of whole numbers. */
  wholesOf(is: ColumnOfWholes): Column<'i32' | 'u8'> {
    return this.column(is, is.is === 'number' ? 'i32' : 'u8') as Column<'i32' | 'u8'>;
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

  cellsOf(field: number): CellsOf {
    const s = this.plan.fields[field]!.space;
    const { form, edge } = this.plan.spaces[s]!;
    const [width, height] = [this.size(s, 'x'), this.size(s, 'y')];
    const known = knownRaster(this.plan, field);
    if (form === 'grid')
      return { form, edge, width, height, columns: width, rows: height, cell: number(1), isFull: false };
    const part = (which: 'columns' | 'rows' | 'cell'): F64 =>
      known ? number(known[which]) : this.number({ op: 'raster', field, part: which });
    const [columns, rows, cell] = [part('columns'), part('rows'), part('cell')];
    return { form, edge, width, height, columns, rows, cell, isFull: known?.isFull ?? false };
  }
}

function nameOf(is: TurnColumn): string {
  switch (is.is) {
    case 'attribute':
    case 'state':
    case 'due':
      return `${is.is}${columnKey(is.kind, is.column).replace(':', '_')}`;
    case 'field':
      return `field${is.field}`;
    case 'entered':
    case 'left':
    case 'trouble':
      return is.is;
    case 'in state':
      return 'inState';
    default:
      return `${is.is}${is.kind}`;
  }
}
