import type { CellsAsked } from './cells-asked.ts';
import { GridCells } from './grid-cells.ts';
import type { KernelFunction, Statement } from './kernel.ts';
import { compareWhole, i32, load, loadWhole, when, whole, words } from './kernel.ts';
import { Sheet } from './sheet.ts';
import type { TurnColumn } from './turn-reads.ts';
import { TurnReads } from './turn-reads.ts';
import type * as P from '../plan/plan.ts';

/** What has to be laid out of cells for a kernel, and the kernel that fills in who stands where; nothing where it asks for none. */
export function cellsAsked(
  plan: P.Plan,
  { line, space, classes, reaches, lists, bodies, isKeptUp }: GridCells,
): { readonly cells: CellsAsked; readonly filling: KernelFunction } | undefined {
  if (reaches.length === 0) return undefined;
  const { columns, kinds, filling } = fillingKernel(line, space, bodies, plan, isKeptUp);
  return {
    cells: { line, space, classes, tables: reaches, lists, filling: { name: filling.name, columns, kinds } },
    filling,
  };
}

/** Goes through all who are kept cell by cell, once no cell holds more than one. */
function fillingKernel(
  line: string,
  space: number,
  bodies: readonly P.Body[],
  plan: P.Plan,
  isKeptUp: boolean,
): { readonly filling: KernelFunction; readonly columns: readonly TurnColumn[]; readonly kinds: readonly number[] } {
  const [sheet, reads] = [new Sheet(), new TurnReads(plan)];
  const cells = new GridCells(line, space, bodies, sheet, reads, isKeptUp, true);
  const { kinds } = cells;
  const slots = kinds.map((kind) => i32(`slots${kind}`));
  const occupied = reads.wholesOf({ is: 'occupied', space });
  const { list } = sheet.apart(() => {
    const cell = sheet.i32();
    const isCrowded = compareWhole(loadWhole(occupied, cell), '>', whole(1));
    const check: Statement = when(isCrowded, [{ is: 'give', value: cell }]);
    if (kinds.length > 0) sheet.add({ is: 'loop', index: cell, from: whole(0), to: cells.all, body: [check] });
    kinds.forEach((kind, i) => {
      const slot = sheet.i32();
      const [x, y] = [load(reads.of({ is: 'x', kind }), slot), load(reads.of({ is: 'y', kind }), slot)];
      const isAlive = words('mask', loadWhole(reads.wholesOf({ is: 'alive', kind }), slot), whole(1));
      const body = sheet.apart(() =>
        sheet.when(compareWhole(isAlive, '!=', whole(0)), () => cells.mark(kind, slot, cells.placeOf(x, y), true)),
      );
      sheet.add({ is: 'loop', index: slot, from: whole(0), to: slots[i]!, body: body.list });
    });
  });
  return {
    filling: {
      name: `${line}cells${space}`,
      columns: reads.columns.map(({ column }) => column),
      given: slots,
      locals: [...sheet.locals.values()],
      body: [...cells.prologue, ...list],
    },
    columns: reads.columns.map(({ is }) => is),
    kinds,
  };
}
