import { formOf } from '../forms/forms.ts';
import type * as P from '../plan/plan.ts';
import { spaceOfRaster } from '../plan/plan.ts';
import type { Place } from './asked-cells.ts';
import type { GridCells } from './grid-cells.ts';
import type { I32 } from './kernel.ts';
import { NeedsMore } from './needs-more.ts';
import { cellAnywhere, cellInside } from './places.ts';
import type { TurnValues } from './turn-values.ts';

/** Which cell expressions of a place tell, in kernel form. */

/** The cell of a grid that two expressions tell, which are where somebody stands. */
export function cellPlace(values: TurnValues, cells: GridCells, x: P.Expr, y: P.Expr): Place {
  if (![x, y].every((e) => isOnCell(values, cells, e))) throw new NeedsMore();
  return cells.placeOf(values.value(x), values.value(y));
}

/** Whether a coordinate is that of a cell for sure. */
function isOnCell({ sight: { plan }, positions }: TurnValues, { space }: GridCells, e: P.Expr): boolean {
  const found = e.op === 'local' ? positions.setOnce.get(e.local) : e;
  if (found?.op === 'cell x' || found?.op === 'cell y') return spaceOfRaster(plan, found.raster) === space;
  if (found?.op !== 'position') return false;
  const kind = plan.kinds[found.kind]!;
  return kind.space === space && !kind.mayBeNowhere;
}

/** The cell of a field in which an agent is, who is somewhere for sure, or that a local holds. */
export function cellAt(values: TurnValues, field: number, x: P.Expr, y: P.Expr): I32 | undefined {
  const { sheet, reads, sight } = values;
  const { plan } = sight;
  const { space } = plan.fields[field]!;
  if (x.op === 'cell x' && y.op === 'cell y' && x.cell.op === 'local' && y.cell.op === 'local') {
    const isOwn = x.cell.local === y.cell.local && spaceOfRaster(plan, x.raster) === space;
    if (!isOwn || !formOf(plan.spaces[space]!).isOfCells) return undefined;
    return sheet.keptWhole({ is: 'truncated', value: values.value(x.cell) });
  }
  if (x.op !== 'position' || y.op !== 'position') return undefined;
  if ([x, y].some(({ kind }) => plan.kinds[kind]!.mayBeNowhere)) return undefined;
  values.demandNoLanes(space);
  const at = [x, y].map((e) => sheet.kept(values.value(e)));
  return sheet.keptWhole(cellInside(sheet, reads.cellsOf(field), at[0]!, at[1]!));
}

/** The cell of a field at a place anywhere, or -1. */
export function anyCell(values: TurnValues, field: number, x: P.Expr, y: P.Expr): I32 {
  values.demandNoLanes(values.sight.plan.fields[field]!.space);
  return cellAnywhere(values.sheet, values.reads.cellsOf(field), values.value(x), values.value(y));
}
