import * as P from '../plan/plan.ts';
import { CELL_TRIES } from '../plan/values.ts';
import type { Place } from './grid-cells.ts';
import type { Statement, Test } from './kernel.ts';
import { compareWhole, loadWhole, plus, put, set, whole } from './kernel.ts';
import { sortList } from './lists.ts';
import { isSet, maskOf } from './masks.ts';
import { NeedsMore } from './needs-more.ts';
import type { Around } from './turn-queries.ts';
import type { TurnValues } from './turn-values.ts';

/** Cells that agents ask for in their turns, in kernel form, on square grids. */

type Pick = Extract<P.Statement, { op: 'pick' }>;

/** Draws a cell of a grid, an empty one where a cell holds one agent, and none of an obstacle. */
export function writeCellDraw(values: TurnValues, around: Around, s: Extract<P.Statement, { op: 'draw cell' }>): void {
  const { sheet, sight } = values;
  const space = sight.plan.spaces[s.space]!;
  const cells = values.cells(s.space);
  const cell = sheet.i32();
  const draw = (): void => sheet.add(put(cell, around.below({ is: 'of i32', value: cells.all })));
  const tests: Test[] = [];
  if (space.oneAgentACell) tests.push({ is: 'not', test: cells.isFree(cell) });
  if (P.hasObstacles(sight.plan, s.space))
    tests.push(isSet(maskOf(values, { is: 'obstacles', space: s.space }).inside, cell));
  const isFull = tests.length > 0 && tests.reduce((left, right): Test => ({ is: 'or else', left, right }));
  if (isFull) {
    const [tries, next] = [sheet.i32(), sheet.i32()];
    const name = `draws${tries.name}`;
    const leave = (): void => sheet.add({ is: 'leave', block: name });
    const draws = sheet.apart(() => {
      draw();
      sheet.when({ is: 'not', test: isFull }, leave);
    });
    const after = sheet.apart(() => {
      sheet.when({ is: 'not', test: isFull }, leave);
      sheet.add(put(cell, plus(cell, whole(1))));
      sheet.when(compareWhole(cell, '==', cells.all), () => sheet.add(put(cell, whole(0))));
    });
    const loops: Statement[] = [
      { is: 'loop', index: tries, from: whole(0), to: whole(CELL_TRIES), body: draws.list },
      { is: 'loop', index: next, from: whole(0), to: cells.all, body: after.list },
    ];
    sheet.add({ is: 'block', name, body: loops });
  } else draw();
  const { x, y } = cells.coordinates({ is: 'of i32', value: cell });
  sheet.add(set(values.held(s.y), y), set(values.held(s.x), x));
}

/** A random cell of a reach: one of those that steps drawn from here lead to, while that finds one soon, else of all that fit. */
export function writeCellPick(
  values: TurnValues,
  around: Around,
  s: Pick,
  { raster, empty }: Extract<P.Query['over'], { is: 'cells' }>,
): void {
  const { sheet, sight } = values;
  const { reach, candidate, where } = s.query;
  if (s.how !== 'random' || s.weight || reach.is === 'all' || reach.is === 'tied') throw new NeedsMore();
  const cells = values.cells(P.spaceOfRaster(sight.plan, raster));
  const place = values.cellPlace(cells, reach.x, reach.y);
  const { many, to } = cells.stepsAround(values.fixedReach(reach));
  const [found, tries, step, listed] = [sheet.i32(), sheet.i32(), sheet.i32(), sheet.i32()];
  const name = `tries${tries.name}`;
  const fitting = (cell: Place, take: () => void): void => {
    const at = sheet.keptWhole(cells.cellOf(cell));
    const ask = (): void => {
      if (!where) return take();
      sheet.add(set(values.held(candidate), { is: 'of i32', value: at }));
      around.block(where.statements);
      sheet.when(values.test(where.value), take);
    };
    if (empty) sheet.when(cells.isFree(at), ask);
    else ask();
  };
  const draws = sheet.apart(() => {
    to(around.below({ is: 'of i32', value: many }), place, (cell) =>
      fitting(cell, () => sheet.add(put(found, cells.cellOf(cell)), { is: 'leave', block: name })),
    );
  });
  const loop: Statement = { is: 'loop', index: tries, from: whole(0), to: whole(CELL_TRIES), body: draws.list };
  sheet.add(put(found, whole(-1)), { is: 'block', name, body: [loop] });
  sheet.when(compareWhole(found, '<', whole(0)), () => {
    const column = cells.found;
    const listing = sheet.apart(() =>
      to(step, place, (cell) =>
        fitting(cell, () => {
          sheet.add({ is: 'store i32', column, at: listed, value: cells.scanPlace(cell) });
          sheet.add(put(listed, plus(listed, whole(1))));
        }),
      ),
    );
    sheet.add(put(listed, whole(0)));
    sheet.add({ is: 'loop', index: step, from: whole(0), to: many, body: listing.list });
    sortList(sheet, column, listed);
    sheet.when(compareWhole(listed, '>', whole(0)), () => {
      const drawn = loadWhole(column, around.below({ is: 'of i32', value: listed }));
      sheet.add(put(found, cells.cellScanned(drawn)));
    });
  });
  sheet.when(
    compareWhole(found, '>=', whole(0)),
    () => values.withCell(s.local, cells, found, () => around.block(s.found)),
    () => around.block(s.nobody),
  );
}
