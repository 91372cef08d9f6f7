import type * as P from '../plan/plan.ts';
import type { CellsOf } from './places.ts';
import { broughtIn, cellInside } from './places.ts';
import { formOf } from '../forms/forms.ts';
import type { Box } from './buckets.ts';
import type { Column, F64, I32, Test } from './kernel.ts';
import { both, compare, compareWhole, loadWhole, number, product, put, sum, whole } from './kernel.ts';
import type { MaskOf } from './turn-reads.ts';
import type { TurnValues } from './turn-values.ts';

/** Zones in kernel form: cells that are inside, 1, or not. */

export interface MaskedCells {
  readonly inside: Column<'i32' | 'u8'>;
  readonly cells: CellsOf;
}

/** The mask of a zone, or of what obstacles take of a space. */
export function maskOf({ reads, sight }: TurnValues, of: MaskOf): MaskedCells {
  const space = of.is === 'zone' ? sight.plan.zones[of.zone]!.space : of.space;
  const { form, edge } = sight.plan.spaces[space]!;
  const part = (which: 'columns' | 'rows' | 'cell'): F64 => reads.number({ op: 'mask', of, part: which });
  return {
    inside: reads.wholesOf({ is: 'mask', of }),
    cells: {
      form,
      edge,
      width: reads.size(space, 'x'),
      height: reads.size(space, 'y'),
      columns: part('columns'),
      rows: part('rows'),
      cell: part('cell'),
      isFull: false,
    },
  };
}

/** What a zone lies within, in coordinates: of a plane a cell more to each side, whatever is rounded. */
export function zoneExtent({ reads, sight }: TurnValues, zone: number): Box {
  const { isOfCells } = formOf(sight.plan.spaces[sight.plan.zones[zone]!.space]!);
  const at = (part: keyof Box, more: number): F64 => {
    const index = reads.number({ op: 'extent', zone, part });
    if (isOfCells) return index;
    return product(sum(index, number(more)), reads.number({ op: 'mask', of: { is: 'zone', zone }, part: 'cell' }));
  };
  return { left: at('left', -1), right: at('right', 2), bottom: at('bottom', -1), top: at('top', 2) };
}

/** Whether a place inside the space is one of a mask. */
export function isMasked({ sheet }: TurnValues, { inside, cells }: MaskedCells, x: F64, y: F64): Test {
  return isSet(inside, cellInside(sheet, cells, x, y));
}

export function isSet(inside: Column<'i32' | 'u8'>, cell: I32): Test {
  return compareWhole(loadWhole(inside, cell), '!=', whole(0));
}

/** Whether a place, which may lie anywhere or be none, is in a zone. */
export function isInZone(values: TurnValues, { zone, x, y }: Extract<P.Expr, { op: 'in zone' }>): Test {
  const { sheet, sight } = values;
  values.demandNoLanes(sight.plan.zones[zone]!.space);
  const mask = maskOf(values, { is: 'zone', zone });
  const { form, edge, width, height } = mask.cells;
  const [px, py] = [sheet.kept(values.value(x)), sheet.kept(values.value(y))];
  const found = sheet.i32();
  sheet.add(put(found, whole(0)));
  sheet.when(both(compare(px, '==', px), compare(py, '==', py)), () => {
    const [inX, inY] = [broughtIn(sheet, px, width, form, edge), broughtIn(sheet, py, height, form, edge)];
    sheet.add(put(found, { is: 'holds', test: isMasked(values, mask, inX, inY) }));
  });
  return compareWhole(found, '!=', whole(0));
}
