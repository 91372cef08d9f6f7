import type { KernelFunction } from './kernel.ts';
import { column, i32, loadWhole, minus, plus, put, storeWhole, whole } from './kernel.ts';
import { beginLuck, drawnBelow, drawWord, KEYS, LUCK_LOCALS } from './luck.ts';
import { Sheet } from './sheet.ts';
import { SHUFFLING } from './turn-ends.ts';

const ITEMS = column('items', 'i32');
const [MANY, DONE, LAST, HELD] = [i32('many'), i32('done'), i32('last'), i32('held')];

/** Puts so many items in an order drawn from the luck of two keys, as `shuffleInPlace` of engine/random/stream.ts does, to the bit. */
export function shuffleKernel(): KernelFunction {
  const sheet = new Sheet();
  sheet.use(...LUCK_LOCALS, DONE, LAST, HELD);
  const { list } = sheet.apart(() => {
    sheet.add(put(LAST, minus(MANY, DONE)));
    const { statements, word } = drawWord();
    sheet.add(...statements);
    const drawn = drawnBelow(sheet, word, plus(LAST, whole(1)));
    sheet.add(
      put(HELD, loadWhole(ITEMS, LAST)),
      storeWhole(ITEMS, LAST, loadWhole(ITEMS, drawn)),
      storeWhole(ITEMS, drawn, HELD),
    );
  });
  return {
    name: SHUFFLING,
    columns: [ITEMS],
    given: [MANY, ...KEYS],
    locals: [...sheet.locals.values()],
    body: [...beginLuck(whole(0)), { is: 'loop', index: DONE, from: whole(1), to: MANY, body: list }],
  };
}
