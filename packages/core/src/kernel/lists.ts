import type { Column, F64, I32, Local, Statement } from './kernel.ts';
import { compareWhole, loadWhole, minus, plus, put, whole } from './kernel.ts';
import type { Sheet } from './sheet.ts';

/** Lists of whole numbers in kernel form. */

const GAPS = [797161, 265720, 88573, 29524, 9841, 3280, 1093, 364, 121, 40, 13, 4, 1] as const;

/** By sinking in, with gaps that shrink to a third, so that long lists are sorted in little time as well (D. Shell, 1959; gaps of D. Knuth). */
export function sortList(sheet: Sheet, column: Column<'i32' | 'u8'>, many: Local<'i32'>): void {
  const [round, gap, i, step, j, held] = [sheet.i32(), sheet.i32(), sheet.i32(), sheet.i32(), sheet.i32(), sheet.i32()];
  const name = `sink${step.name}`;
  const before = minus(j, gap);
  const sink: Statement[] = [
    {
      is: 'when',
      test: compareWhole(before, '<', whole(0)),
      then: [{ is: 'leave', block: name }],
      else: [
        {
          is: 'when',
          test: compareWhole(loadWhole(column, before), '<', held),
          then: [{ is: 'leave', block: name }],
          else: [],
        },
      ],
    },
    { is: 'store i32', column, at: j, value: loadWhole(column, before) },
    put(j, before),
  ];
  const { list } = sheet.apart(() => {
    sheet.add(put(gap, whole(1)));
    GAPS.forEach((wide, at) =>
      sheet.when(compareWhole(round, '==', whole(at)), () => sheet.add(put(gap, whole(wide)))),
    );
    sheet.add({
      is: 'loop',
      index: i,
      from: gap,
      to: many,
      body: [
        put(held, loadWhole(column, i)),
        put(j, i),
        { is: 'block', name, body: [{ is: 'loop', index: step, from: whole(0), to: many, body: sink }] },
        { is: 'store i32', column, at: j, value: held },
      ],
    });
  });
  sheet.when(compareWhole(many, '>', whole(1)), () => {
    const first = sheet.i32();
    sheet.add(put(first, whole(GAPS.length - 1)));
    for (let at = GAPS.length - 2; at >= 0; at--)
      sheet.when(compareWhole(many, '>', whole(GAPS[at]! * 2)), () => sheet.add(put(first, whole(at))));
    sheet.add({ is: 'loop', index: round, from: first, to: whole(GAPS.length), body: list });
  });
}

/** In an order that is drawn (Fisher and Yates, in Durstenfeld's form). @param below draws a whole number from 0 below another */
export function shuffleList(
  sheet: Sheet,
  column: Column<'i32' | 'u8'>,
  many: Local<'i32'>,
  below: (many: F64) => I32,
): void {
  const [round, i, j, held] = [sheet.i32(), sheet.i32(), sheet.i32(), sheet.i32()];
  const { list } = sheet.apart(() => {
    sheet.add(put(i, minus(many, plus(round, whole(1)))));
    sheet.add(put(j, below({ is: 'of i32', value: plus(i, whole(1)) })));
    sheet.add(put(held, loadWhole(column, i)));
    sheet.add({ is: 'store i32', column, at: i, value: loadWhole(column, j) });
    sheet.add({ is: 'store i32', column, at: j, value: held });
  });
  sheet.add({ is: 'loop', index: round, from: whole(0), to: minus(many, whole(1)), body: list });
}
